"""What workers do for sets; the queue lies in PostgreSQL."""

from __future__ import annotations

from procrastinate.contrib.django import app

from kentrobar.web.matching import searching


@app.task(queue="sets", queueing_lock=None)
def search(search_pk: int) -> None:
    """Do one search for the plan of a set."""
    searching.run(search_pk)


@app.periodic(cron="* * * * * */10")
@app.task(queue="sets", queueing_lock="take over searches", pass_context=False)
def take_over(timestamp: int) -> None:
    """Take over what a killed worker left."""
    searching.take_over_left()
