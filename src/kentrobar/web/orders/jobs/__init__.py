"""Jobs: what a client wants, to which frames, by when, for how much.

- ``services`` · ``forms`` · ``views`` · ``view_models`` · ``photos``
- ``state``: where jobs stand, told by what was done.
"""
