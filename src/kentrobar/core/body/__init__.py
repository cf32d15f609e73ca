"""What a frame is to a physicist: five additive moments, and every spec that derives from them.

- ``moments`` · ``specs`` (the one table of them) · ``measured`` · ``target``
- ``sport`` · ``ranges`` (what is plausible and typical, by sport) · ``limits`` (what no body can have)
- imports ``quantities``.
"""
