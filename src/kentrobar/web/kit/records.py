"""How rows are written: what was measured once for all, the rest by named fields."""

from __future__ import annotations

from typing import Any

from django.db import models, transaction
from django.forms import ModelForm

from kentrobar.core.quantities.errors import SpecError


class WrittenOnce(models.Model):
    """A record that is never overwritten."""

    class Meta:
        abstract = True

    def save(self, *args: Any, **kwargs: Any) -> None:
        if self.pk:
            noun = self._meta.verbose_name
            raise SpecError(f"A {noun} is never overwritten; make a new one.", code="read_only")
        super().save(*args, **kwargs)


@transaction.atomic
def write(row: models.Model, **values: Any) -> None:
    """Write these fields of a row and no other; whatever else was written meanwhile stays.

    ``row`` is brought up to date in these fields; the kept history tells the row as it then is.
    """
    kept = row._meta.model._base_manager.select_for_update().get(pk=row.pk)
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
