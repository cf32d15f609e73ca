"""Works off the queue: searches that no web process solves, and the upkeep that goes with them."""

from __future__ import annotations

from typing import Any

from django.core.management import BaseCommand
from procrastinate.contrib.django import app

from kentrobar.web.kit.searches import HEARTBEAT_S, SILENT_S


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
                update_heartbeat_interval=HEARTBEAT_S,
                stalled_worker_timeout=SILENT_S,
            )
