"""The web application: one Django app per stage of the work.

- ``shops``: people, their shop and the units they read in; sign-in.
- ``frames``: rackets and paddles, and the readings that were taken of them.
- ``materials``: what weight is made of.
- ``planning``: plans, the board they are laid on, the bench sheet.
- ``kit``: what the pages share: typed quantities, number formats, icons.

In every app: ``models`` holds data and constraints, ``services`` every write, ``queries`` the
reads, ``forms`` what a person types, ``views`` routes.
"""
