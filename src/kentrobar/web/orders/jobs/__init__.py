"""Jobs: what a client wants, to which frames, by when, for how much.

- ``services`` · ``forms`` · ``views`` · ``presenting`` · ``photos``
- ``standing``: where jobs stand, told by what was done.
"""
