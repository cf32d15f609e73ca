"""The board: a plan as its page shows it, and what a hand does there.

- ``parameters``: what a page sends, read into values with the person's units.
- ``actions``: the table of actions, a row each; one more is one more row.
- ``view_models`` (numbers, rows, panels) · ``steps`` · ``rereading`` · ``context``: what a page is given.
- ``views``: preview, change, parts.
"""
