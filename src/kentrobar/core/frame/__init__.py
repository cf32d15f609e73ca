"""Where what is on a frame, and what is in the way: its rim as a curve, places, sites, anatomy.

- ``curves`` · ``clock`` · ``rim`` · ``outline`` · ``places`` · ``sites`` · ``anatomy`` · ``silhouette``;
  what is in the way: ``blocked`` · ``circumstances``
- imports ``body`` and below.
"""
