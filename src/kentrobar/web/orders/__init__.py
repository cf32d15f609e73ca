"""What clients ordered: what comes next, their jobs, hand-over, what the player says, what jobs taught.

- ``models`` · ``queries`` · ``offered`` (the job that a work at the bench is done for)
- ``today``: the home page, the week, the calendar · ``jobs``: the jobs
- ``handover``: sign-off, card, label · ``followup``: how it plays · ``insights``: what the rolls really weigh
"""
