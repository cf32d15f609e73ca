"""What the player will feel: the map of hits over the face of a frame, before and after a plan.

- ``asking``: the stroke that a person looks with, from the form · ``impact``: what it does to a plan
- ``sayings``: what people say of weight, answered with this frame's numbers
- ``drawing``: the map's shapes · ``presenting``: its numbers and words · ``views``
"""
