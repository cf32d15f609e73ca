"""Response map, and what suits them.

- ``impact/``: the map of a hit, beside the board and by itself · ``hits/``: where a player hits
- ``trials/``: what suits a player best · ``advice/``: rules of thumb
- ``models`` · ``queries`` · ``views`` (the home of all this)
"""
