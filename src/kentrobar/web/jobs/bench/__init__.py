"""A plan at the bench: laid piece by piece, read, trimmed, read again.

- ``services`` · ``forms`` · ``views`` · ``presenting``
- ``rounds``: a work's events gone through in order: what lies, what the frame is now, what comes next.
"""
