"""From what a player wants to plans that reach it, one school at a time, and what is possible at all.

- ``forms``: targets, tolerances, what there is to lay. ``view_models``: a proposal as its card.
- ``searching``: what a worker solves, and what is kept of it.
- ``signed_proposal``: a proposal's pieces on its card, signed, so that what is laid is what was shown.
- ``views`` · ``possible``
"""
