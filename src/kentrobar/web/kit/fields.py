"""Model fields for what the rules know as one value."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.core.exceptions import ValidationError
from django.db import models

from kentrobar.core.body.target import NOTHING_WANTED, Target
from kentrobar.core.solving.allowed import ANYWHERE_ALLOWED, Allowed

if TYPE_CHECKING:
    _TargetJson = models.JSONField[Target, Target]
    _AllowedJson = models.JSONField[Allowed, Allowed]
else:
    _TargetJson = _AllowedJson = models.JSONField


class _ByCodec:
    """A value of the rules, stored by its own codec: ``encoded``, and ``decoded``, which takes ``{}`` too."""

    kind: type[Target | Allowed]

    def from_db_value(self, value: Any, expression: Any, connection: Any) -> Target | Allowed:
        stored = super().from_db_value(value, expression, connection)  # type: ignore[misc]
        return self.kind.decoded(stored or {})

    def get_db_prep_value(self, value: Any, connection: Any, prepared: bool = False) -> Any:
        stored = value.encoded() if isinstance(value, self.kind) else value
        return super().get_db_prep_value(stored, connection, prepared)  # type: ignore[misc]

    def to_python(self, value: Any) -> Target | Allowed:
        if not isinstance(value, self.kind):
            raise ValidationError(f"{value} is no {self.kind.__name__.lower()}.", code="no_value")
        return value


class TargetField(_ByCodec, _TargetJson):
    """A :class:`Target`; nothing is wanted where nobody said."""

    kind = Target

    def __init__(self, *args: Any, **options: Any) -> None:
        options.setdefault("default", nothing_wanted)
        super().__init__(*args, **options)


class AllowedField(_ByCodec, _AllowedJson):
    """An :class:`Allowed`: where weight may lie; everywhere where nobody said."""

    kind = Allowed

    def __init__(self, *args: Any, **options: Any) -> None:
        options.setdefault("default", anywhere)
        super().__init__(*args, **options)


def nothing_wanted() -> Target:
    """What a target is before anybody said."""
    return NOTHING_WANTED


def anywhere() -> Allowed:
    """Where weight may lie before anybody said."""
    return ANYWHERE_ALLOWED
