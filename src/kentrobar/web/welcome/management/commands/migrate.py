"""Django's own migrate, for databases of earlier editions too."""

from __future__ import annotations

from typing import Any

from django.core.management.commands import migrate

from kentrobar.web.welcome.editions import bring_along, checking_at_once


class Command(migrate.Command):
    def handle(self, *args: Any, **options: Any) -> None:
        bring_along()
        with checking_at_once():
            super().handle(*args, **options)
