"""Jobs and the bench: what comes next, a plan laid in rounds, hand-over, what the player says.

- ``models`` · ``queries`` · ``on_plans`` (what the board of a plan says of the bench)
- ``today``: the home page, the week, the calendar · ``orders``: the jobs · ``bench``: one plan in rounds
- ``handover``: sign-off, card, label · ``followup``: how it plays · ``learning``: what the rolls really weigh
"""
