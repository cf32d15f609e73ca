"""What the last reading taught, and what comes next.

- ``rereading``: a frame read again, beside what a plan on it predicted. Meant to join it: ``estimation`` ·
  ``trimming`` · ``evidence``
- may import ``reading``, ``solving`` and below; nothing of ``court`` beside it.
"""
