"""How a hand changes a plan: the immutable plan and every action on it, and what speaks against a piece.

- ``shelf`` · ``placing`` · ``plan`` · ``warnings`` · ``violation_handling`` · ``balancing`` · ``removal`` ·
  ``actions`` (all that a hand can do)
- imports ``weight``, ``reading`` and below.
"""
