"""A plan at the bench: applied piece by piece, measured, trimmed, measured again.

- ``models`` · ``queries`` · ``services`` · ``forms`` · ``views`` · ``view_models`` · ``swinging`` · ``files``
- ``rounds``: a work's events replayed in order: what is on the frame, what it is now, what comes next
- ``evidence``: what works tell of rolls, of securing and of positions
- ``hooks`` (the job that a work is done for) · ``offered`` (what the board of a plan says of the bench)
"""
