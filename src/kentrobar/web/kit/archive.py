"""Rows that are put out of sight, and brought back, rather than deleted."""

from __future__ import annotations

from typing import Final, TypeVar

from django.contrib import messages
from django.db import models
from django.http import HttpRequest
from django.utils import timezone

from kentrobar.web.kit.records import write


class Archivable(models.Model):
    """A row that can be archived: it is offered no more, and whatever refers to it keeps it."""

    archived_at = models.DateTimeField(null=True)

    class Meta:
        abstract = True

    @property
    def is_archived(self) -> bool:
        """Whether it is out of sight."""
        return self.archived_at is not None


IN_USE: Final = models.Q(archived_at=None)

_Row = TypeVar("_Row", bound=Archivable)


def set_archived(row: Archivable, is_archived: bool) -> None:
    """Put a row out of sight, or back; one that is archived keeps the day it was."""
    if row.is_archived != is_archived:
        write(row, archived_at=timezone.now() if is_archived else None)


def shows_archive(request: HttpRequest) -> bool:
    """Whether a page asks for the list of what is archived instead of what is in use."""
    return "archived" in request.GET


def in_use_or_archived(rows: models.QuerySet[_Row], *, is_archive: bool) -> models.QuerySet[_Row]:
    """The rows of one of the two lists."""
    return rows.exclude(IN_USE) if is_archive else rows.filter(IN_USE)


def archive_or_restore(request: HttpRequest, row: Archivable, name: str, kept: str) -> None:
    """Do what the button of ``kit/_archive.html`` says, and say so; sent twice, it is done once.

    ``kept`` says what becomes of that which refers to the row.
    """
    set_archived(row, request.POST.get("archived") != "0")
    done = f"is archived: {kept}" if row.is_archived else "is back"
    messages.success(request, f"{name} {done}.")
