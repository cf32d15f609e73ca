"""A trainer for technicians on a simulated bench, scored against the optimum, with a record over time.

- ``exercises``: what there is, and the exercise of a run · ``services`` · ``queries``
- ``forms``: what is typed · ``view_models``: an exercise, its score, what would have been better · ``views``
"""
