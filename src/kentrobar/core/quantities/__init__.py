"""What a number is here: errors, units and what a person types, estimates with their covariance.

- ``errors`` · ``units`` · ``estimates``
- imports no other room.
"""
