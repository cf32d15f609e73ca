"""One time line per frame: all that was read, fitted, planned, laid, signed off, handed over and said.

- ``queries``: the events, from all apps below, in one line
- ``applied``: what is on the frame now, since when
- ``expecting``: what to expect since its fittings changed · ``changes``: kept versions told field by field
- ``view_models`` · ``views``
"""
