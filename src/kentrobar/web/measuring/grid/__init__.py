"""The reading grid: several readings a spec as typed, what they come to, what is odd about them.

- ``readings``: the form. ``view_models``: what is told beside each row. ``views``.
"""
