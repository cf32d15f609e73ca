"""First steps: opening a shop, the demo, bringing a file in, preparing the database.

- ``opening``: what a new shop starts with. ``forms``: signing up, a file. ``importing`` · ``views``
- ``demo`` · ``season`` (its half year of jobs) · ``on_court`` (its hits)
"""
