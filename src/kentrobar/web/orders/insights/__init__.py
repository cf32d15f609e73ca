"""What ended works tell of the rolls they were cut from, and what is proposed.

- ``services`` · ``views`` · ``view_models``
"""
