"""What a player says after some play.

- ``services`` · ``forms`` · ``views`` · ``view_models``
"""
