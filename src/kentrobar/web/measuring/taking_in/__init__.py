"""Taking frames in with what was read of them: one by one, or several of one model at once.

- ``forms``: one frame. ``intake_forms``: what several share, and a table with a row a frame. ``views``.
"""
