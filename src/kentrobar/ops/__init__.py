"""Running Kentrobar on one machine: the private PostgreSQL cluster and the processes round it.

- ``cluster``: makes, starts and stops a private cluster on loopback.
- ``run``: runs one command beside a cluster, with ``DATABASE_URL`` set for it.
- ``server``: everything ``script/server`` does once the packages are there; starts again what is killed.
- ``restore``: a backup in place of all that is in the database.

Nothing here imports the application: it is started as a process of its own.
"""
