"""What the last reading taught, and what comes next.

- ``rereading``: a frame read again, beside what a plan on it predicted
- ``estimation``: all readings and all work so far, as one belief about frame, pieces and rolls
- ``growing``: how far strips can be made longer where they are
- ``trimming``: a small trim that makes the frame surely what it is to be
- ``evidence``: what many jobs together say of a roll
- may import ``editing``, ``reading``, ``solving`` and below; nothing of ``play`` beside it.
"""
