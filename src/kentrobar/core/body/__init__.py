"""What a frame is to a physicist: five additive moments, and every spec that derives from them.

- ``moments`` · ``specs`` (the one table of them) · ``measured`` · ``limits`` (what no body can have)
- imports ``quantities``; nothing of ``frame`` beside it.
"""
