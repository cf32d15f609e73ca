"""Timing the swings of a frame: from taps, a gate or a recording to swing weight or twist weight.

- ``swing``: the form and what it comes to. ``views``.
"""
