"""What the last reading taught, and what comes next. The room of work in rounds; nothing stands in it yet.

- meant for ``estimation`` · ``trimming`` · ``evidence``
- may import ``solving`` and below; nothing of ``court`` beside it.
"""
