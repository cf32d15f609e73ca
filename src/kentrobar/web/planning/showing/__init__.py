"""A plan and a frame as pages show them: texts, drawings, what a gram does, plans side by side.

- ``context``: what every page, fragment and print of a plan is given.
- ``presenting`` (numbers, rows, panels) · ``wording`` · ``drawing`` · ``steps`` · ``compare`` · ``gram``
"""
