"""The map of a hit over the face, and what people say of weight.

- ``asking``: the stroke that a person looks with, from the form · ``setting``: what it does to a plan
- ``common_claims``: what people say, answered with this frame's numbers
- ``drawing``: the map's shapes · ``view_models``: its numbers and words · ``views``
"""
