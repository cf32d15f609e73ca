"""Jobs: what a client wants, to which frames, by when, for how much.

- ``services`` · ``forms`` · ``views`` · ``view_models`` · ``photos``
- ``standing``: where jobs stand, told by what was done.
"""
