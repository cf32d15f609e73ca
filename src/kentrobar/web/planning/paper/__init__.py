"""What a plan hands out: the bench sheet with its true-size strips, its drawing, its exchange file.

- ``sheet`` · ``true_size`` · ``files`` · ``views``
"""
