"""What a hand does on the board: reading it into values, carrying out the action of the rules.

- ``parameters``: what a page sends, read into values with the person's units.
- ``actions``: the table of actions, a row each; one more is one more row.
- ``views``: preview, change, parts.
"""
