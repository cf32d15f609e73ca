"""What the best plan is, and whether it is proven: what may be laid where, and the least of it.

- ``candidates`` · ``supply`` · ``programme`` (HiGHS) · ``matching`` (one frame) · ``sets`` (many at once)
- ``chance`` · ``surest`` · ``set_plans`` · ``set_ways`` · ``set_targets`` · ``prospects`` · ``ways_out``
- ``goals`` · ``proposals`` · ``reach``
- imports ``laying`` and below.
"""
