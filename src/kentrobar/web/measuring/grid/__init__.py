"""The reading grid: several readings a spec as typed, what they come to, what is odd about them.

- ``readings``: the form. ``presenting``: what is told beside each row. ``views``.
"""
