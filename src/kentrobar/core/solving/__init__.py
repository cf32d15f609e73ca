"""What the best plan is, and whether it is proven: what may be laid where, and the least of it.

- ``goals`` · ``candidates`` · ``supply`` · ``matching`` · ``proposals`` · ``reach``
- imports ``laying`` and below.
"""
