"""Works off the queue: searches that no web process solves, and the upkeep that goes with them."""

from __future__ import annotations

from typing import Any

from django.core.management import BaseCommand
from procrastinate.contrib.django import app


class Command(BaseCommand):
    help = __doc__
    requires_system_checks = ()

    def handle(self, *args: Any, **options: Any) -> None:
        connector: Any = app.connector
        with app.replace_connector(connector.get_worker_connector()) as worker:
            worker.run_worker(
                concurrency=2,  # so that upkeep does not wait for a search
                delete_jobs="successful",
                shutdown_graceful_timeout=2,
                # A killed worker is known to be gone after ten seconds.
                update_heartbeat_interval=2,
                stalled_worker_timeout=10,
            )
