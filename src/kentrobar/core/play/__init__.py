"""Response map, and what suits them.

- ``felt``: from which gap on players feel a difference
- ``impact``: what a hit does at a point · ``sweet_zone``: where it goes well · ``maps``: over the face
- ``hits``: where a player hits · ``straightening``: a photo under the drawing
- ``zone_plans``: the sweet spot moved to where the hits lie
- ``common_claims``: what people say of weight, tried on a frame
- ``strokes``: how fast face and ball come, to start from
- ``trials``: which specs a player likes best, and which pair tells most
- ``trial_setups``: the plans that are tried · ``trial_design``: what is asked next, and when it is enough
- ``advice``: rules of thumb, with reason and limits · ``what_if``: weight at a place of the frame at hand
- may import ``solving`` and below; nothing of ``rounds`` beside it.
"""
