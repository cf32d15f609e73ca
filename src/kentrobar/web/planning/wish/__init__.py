"""From what a player wants to plans that reach it, one school at a time, and what is possible at all.

- ``forms``: targets, tolerances, what there is to lay. ``presenting``: a proposal as its card.
- ``signed_proposal``: a proposal's pieces on its card, signed, so that what is laid is what was shown.
- ``views`` · ``possible``
"""
