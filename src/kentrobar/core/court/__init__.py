"""What the player will feel, and what suits them.

- ``felt``: from which gap on players feel a difference
- ``impact``: what a hit does at a point · ``sweet_zone``: where it goes well · ``maps``: over the face
- ``sayings``: what people say of weight, tried on a frame
- ``strokes``: how fast face and ball come, to start from
- meant for ``hits`` · ``trials`` · ``advice``
- may import ``solving`` and below; nothing of ``rounds`` beside it.
"""
