"""What the player will feel, and what suits them.

- ``felt``: from which gap on players feel a difference
- meant for ``impact`` · ``hits`` · ``trials`` · ``advice``
- may import ``solving`` and below; nothing of ``rounds`` beside it.
"""
