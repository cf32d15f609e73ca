"""Find and take out: search over everything, every table as CSV and kentrobar/1, readings from CSV.

- ``search_form`` (what is searched for) · ``queries`` (what is found) · ``tables`` (every table of the shop)
- ``reading_in`` (readings from a table, with a preview) · ``files`` · ``views``
"""
