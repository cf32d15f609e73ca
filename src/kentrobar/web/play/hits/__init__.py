"""Where a player hits, marked on the drawing or over a photo, and plans that move the sweet spot there.

- ``forms``: a new map, hits as typed, what a plan may do · ``marking``: taps and pixels into places of a face
- ``services`` · ``view_models``: the drawing and what is told · ``proposing``: a plan as its card · ``views``
"""
