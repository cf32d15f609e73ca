"""Records of what was measured: written once, corrected by a new one."""

from __future__ import annotations

from typing import Any

from django.db import models

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
