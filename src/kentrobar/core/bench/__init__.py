"""In which order a plan is done, with what, and at what cost; what can hurt someone on the way.

- ``steps`` · ``cutting`` · ``cut_list`` · ``appraisal`` · ``cautions``
- ``easing``: small steps for who told of strain · ``rules_of_play``: when somebody looked at them last
- ``stages``: what comes next in a job · ``week``: a bench's days · ``handing_over``: what a player is told
- imports ``rounds``, ``play`` and all below.
"""
