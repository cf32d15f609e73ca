"""Model fields for what the rules know as one value."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.core.exceptions import ValidationError
from django.db import models

from kentrobar.core.body.target import NOTHING_WANTED, Target

if TYPE_CHECKING:
    _JSONField = models.JSONField[Target, Target]
else:
    _JSONField = models.JSONField


class TargetField(_JSONField):
    """A :class:`Target`, stored by its codec; nothing is wanted where nobody said."""

    def __init__(self, *args: Any, **options: Any) -> None:
        options.setdefault("default", nothing_wanted)
        super().__init__(*args, **options)

    def from_db_value(self, value: Any, expression: Any, connection: Any) -> Target:
        return Target.decoded(super().from_db_value(value, expression, connection) or {})

    def get_db_prep_value(self, value: Any, connection: Any, prepared: bool = False) -> Any:
        stored = value.encoded() if isinstance(value, Target) else value
        return super().get_db_prep_value(stored, connection, prepared)

    def to_python(self, value: Any) -> Target:
        if not isinstance(value, Target):
            raise ValidationError("A target is needed.", code="no_target")
        return value


def nothing_wanted() -> Target:
    """What a target is before anybody said."""
    return NOTHING_WANTED
