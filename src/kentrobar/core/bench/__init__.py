"""In which order a plan is done, with what, and at what cost; what can hurt someone on the way.

- ``steps`` · ``cutting`` · ``cut_list`` · ``appraisal`` · ``cautions``
- imports ``rounds``, ``court`` and all below.
"""
