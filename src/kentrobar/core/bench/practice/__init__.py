"""Practice on a simulated bench: a hidden frame, readings that scatter, slips; an optimum beside each.

- ``hidden``: frames nobody knows, and the instruments they are read with · ``scores``
- ``reading_well`` · ``finding_slips`` · ``predicting``
- ``weighing``: two made alike, or one finished in rounds
- imports what the rest of ``bench`` may import.
"""
