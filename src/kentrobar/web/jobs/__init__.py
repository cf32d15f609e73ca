"""Work at the bench: a plan laid piece by piece, read, trimmed, read again.

- ``models`` · ``services`` · ``queries`` · ``forms`` · ``views``
- ``rounds``: a work's events gone through in order: what lies, what the frame is now, what comes next.
- ``learning``: what ended works tell of the rolls they were cut from, and what is proposed.
- ``presenting``: texts of the pages. ``on_plans``: what the board of a plan says of it.
"""
