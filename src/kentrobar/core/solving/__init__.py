"""What the best plan is, and whether it is proven: what may be laid where, and the least of it.

- ``candidates`` · ``supply`` · ``programme`` (HiGHS) · ``matching`` (one frame) · ``sets``
- ``chance`` · ``surest``
- ``goals`` · ``proposals`` · ``reach``
- imports ``laying`` and below.
"""
