"""Brings database, static files and demo up to date; cheap where nothing is to be done."""

from __future__ import annotations

import hashlib
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import BaseCommand, CommandError, call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder

from kentrobar.web.bench.services import settle_older
from kentrobar.web.materials.services import stock_starting_accessories
from kentrobar.web.measuring.instruments.starting import point_to_simulated_bench, stock_starting_instruments
from kentrobar.web.shops.models import Shop, User
from kentrobar.web.shops.once import forget_old_submissions

TOO_OLD = (
    "This database was last used by a version of Kentrobar before 0.1.0. Start version 0.1.0 (26 Nov 2026) "
    "on it once, then this version; a backup from before can be restored there."
)


def is_too_old() -> bool:
    """Whether the database lacks steps that the baseline of 1.0.0 takes for done.

    A baseline stands for all the steps before it: those of version 0.1.0, or none.
    """
    recorded = MigrationRecorder(connection)
    applied = set(recorded.applied_migrations()) if recorded.has_table() else set()
    baselines = MigrationLoader(None).disk_migrations.values()
    replaced = {step for each in baselines for step in each.replaces}
    return not replaced.isdisjoint(applied) and not replaced <= applied


class Command(BaseCommand):
    help = __doc__
    requires_system_checks = ()  # they load every page; the tests run them

    def handle(self, *args: Any, **options: Any) -> None:
        self._migrate()
        self._collect_static_files()
        if settings.DEMO and not User.objects.exists():
            self.stdout.write("Loading the demo: the Saltmarsh Rackets Club.")
            from kentrobar.web.welcome.demo import load_demo
            from kentrobar.web.welcome.on_court import load_court
            from kentrobar.web.welcome.season import load_season

            technician = load_demo()
            load_season(technician)
            load_court(technician)
        self._stock_older_shops()
        settle_older()
        forget_old_submissions()
        if settings.SIMULATED_BENCH:
            point_to_simulated_bench(settings.SIMULATED_BENCH)

    def _stock_older_shops(self) -> None:
        """Shops from before fittings and instruments get the usual ones."""
        for shop in Shop.objects.filter(instruments=None):
            stock_starting_instruments(shop)
        for shop in Shop.objects.filter(accessories=None):
            stock_starting_accessories(shop)

    def _migrate(self) -> None:
        if is_too_old():
            raise CommandError(TOO_OLD)
        executor = MigrationExecutor(connection)
        if executor.migration_plan(executor.loader.graph.leaf_nodes()):
            self.stdout.write("Preparing the database.")
            call_command("migrate", verbosity=0)
            call_command("createcachetable", verbosity=0)

    def _collect_static_files(self) -> None:
        if not settings.COLLECTED_STATIC:
            return  # served from where they lie; a stamp of ours would say that they are collected
        digest = hashlib.sha256()
        for path in sorted(Path(settings.WEB / "static").rglob("*")):
            if path.is_file():
                digest.update(f"{path.name} {path.stat().st_size}".encode() + path.read_bytes())
        stamp = Path(settings.STATIC_ROOT) / "stamp"
        if stamp.exists() and stamp.read_text() == digest.hexdigest():
            return
        call_command("collectstatic", interactive=False, verbosity=0)
        stamp.write_text(digest.hexdigest())
