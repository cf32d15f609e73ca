"""Frames or builds side by side, with the gap to the first of them.

- ``table`` · ``views``
"""
