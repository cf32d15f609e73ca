"""What the player will feel, and what suits them. The room of the court; nothing stands in it yet.

- meant for ``impact`` · ``hits`` · ``trials`` · ``advice``
- may import ``solving`` and below; nothing of ``rounds`` beside it.
"""
