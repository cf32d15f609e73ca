"""Trials on court that find the specs which suit a player best.

- ``forms``: what to find, with what · ``state``: what the answers so far tell
- ``services`` · ``view_models`` · ``views``: for who fits the weights · ``playing``: the player's phone
"""
