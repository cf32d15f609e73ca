"""What several apps show in the same way: drawings of a frame, pieces in words, specs of a prediction.

It knows frames and no app above them, has no views, and writes nothing.

- ``drawing`` · ``pieces`` · ``specs`` · ``strain``
"""
