"""One short text for whatever goes into a computation: the same for equal inputs, else another."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Mapping, Set
from dataclasses import fields, is_dataclass
from enum import Enum
from typing import Any

from kentrobar.core.frame.outline import Outline


def fingerprint(*values: Any) -> str:
    """A hash of values of the rules, of everything in them; raises TypeError for what it does not know."""
    return hashlib.sha256(_written(values).encode()).hexdigest()


def _written(value: Any) -> str:
    if isinstance(value, Enum):
        return f"{type(value).__name__}.{value.name}"
    if value is None or isinstance(value, bool | int | float | str):
        return repr(value)
    if isinstance(value, Outline):  # all else of it follows from these
        return _written((value.sport, value.dimensions))
    if is_dataclass(value) and not isinstance(value, type):
        return _named(value, [(each.name, getattr(value, each.name)) for each in fields(value)])
    if isinstance(value, tuple) and hasattr(value, "_fields"):
        return _named(value, zip(value._fields, value, strict=True))
    if isinstance(value, Mapping):
        pairs = sorted((_written(key), _written(each)) for key, each in value.items())
        return "{" + ",".join(f"{key}:{each}" for key, each in pairs) + "}"
    if isinstance(value, Set):
        return "{" + ",".join(sorted(map(_written, value))) + "}"
    if isinstance(value, Iterable):
        return "[" + ",".join(map(_written, value)) + "]"
    raise TypeError(f"A {type(value).__name__} has no fingerprint.")


def _named(value: Any, parts: Iterable[tuple[str, Any]]) -> str:
    return f"{type(value).__name__}(" + ",".join(f"{n}={_written(v)}" for n, v in parts) + ")"
