"""Today: what comes next, the week at the bench, the calendar to subscribe to.

- ``views`` · ``view_models`` · ``week`` · ``calendar``
"""
