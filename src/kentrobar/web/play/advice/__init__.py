"""Rules of thumb, each editable by the shop, with what they do on the frame at hand.

- ``queries``: the house's rules with the shop's in their place · ``services`` · ``forms``
- ``view_models``: in a person's units, tried on a frame · ``views``
"""
