"""Verified, signed off, handed over: the sign-off, the player's card, the frame's label and its page.

- ``services`` · ``forms`` · ``views`` · ``view_models`` · ``paper``
"""
