"""How rows are written: what was measured once for all, the rest by named fields."""

from __future__ import annotations

from typing import Any, ClassVar, TypeVar, cast

from django.db import models, transaction
from django.forms import ModelForm

from kentrobar.core.quantities.errors import KentrobarError, SpecError

Json = dict[str, Any]  # what a column or a signed text holds by names, kept and read by one codec


class WrittenOnce(models.Model):
    """A record that is never overwritten."""

    class Meta:
        abstract = True

    def save(self, *args: Any, **kwargs: Any) -> None:
        if self.pk:
            noun = self._meta.verbose_name
            raise SpecError(f"A {noun} is never overwritten; make a new one.", code="read_only")
        super().save(*args, **kwargs)


class ChangeCounting(models.Model):
    """A row that counts its changes, so that a page that fell behind is told and overwrites nothing."""

    changed_text: ClassVar[str]  # what such a page is told

    class Meta:
        abstract = True

    @property
    def change_count(self) -> int:
        """How many changes it has seen; the page sends back the count that it was made at."""
        raise NotImplementedError


class ChangedError(KentrobarError):
    """A row was changed since the page was made that asks to change it."""

    def __init__(self, row: ChangeCounting) -> None:
        super().__init__(row.changed_text, code="conflict")


_Row = TypeVar("_Row", bound=models.Model)
_Counting = TypeVar("_Counting", bound=ChangeCounting)


def locked(row: _Row) -> _Row:
    """The row as it is now, which nobody else changes until the transaction ends."""
    return cast("_Row", row._meta.model._base_manager.select_for_update().get(pk=row.pk))


def locked_as_seen(row: _Counting, seen: int) -> _Counting:
    """The row as :func:`locked`. Raises ChangedError where it is no longer at change ``seen``."""
    kept = locked(row)
    if kept.change_count != seen:
        raise ChangedError(kept)
    return kept


@transaction.atomic
def write(row: models.Model, **values: Any) -> None:
    """Write these fields of a row and no other; whatever else was written meanwhile stays.

    ``row`` is brought up to date in these fields; the kept history tells the row as it then is.
    """
    kept = locked(row)
    for name, value in values.items():
        setattr(kept, name, value)
        setattr(row, name, value)
    changing = [field.name for field in kept._meta.fields if getattr(field, "auto_now", False)]
    kept.save(update_fields=[*values, *changing])


def save_form(form: ModelForm) -> None:
    """Save what was typed: a new row whole, of a known one only the fields of its form."""
    if form.instance.pk is None:
        form.save()
    else:
        write(form.instance, **{name: getattr(form.instance, name) for name in form.fields})
