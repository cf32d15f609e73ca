"""The shop's instruments: how finely they read, their devices, their calibrations.

- ``forms`` · ``views`` · ``starting``: what a new shop starts with.
"""
