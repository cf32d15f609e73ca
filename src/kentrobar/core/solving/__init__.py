"""What the best plan is, and whether it is proven: what may be laid where, and the least of it.

- ``candidates`` · ``supply`` · ``programme`` (HiGHS) · ``matching`` (one frame)
- ``sets`` over ``set_programme`` (many) · ``set_plans`` · ``set_ways`` · ``set_targets`` · ``concessions``
- ``chance`` · ``most_reliable`` · ``relaxation``
- ``goals`` · ``proposals`` · ``reach``
- imports ``laying`` and below.
"""
