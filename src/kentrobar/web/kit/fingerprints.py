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
    return hashlib.sha256(_Writer().written(values).encode()).hexdigest()


class _Writer:
    """Writes values out; what sixty frames share, such as a stock, once."""

    def __init__(self) -> None:
        self.known: dict[int, tuple[Any, str]] = {}  # with the value, so that its id stays its own
        self.names: dict[type, tuple[str, ...] | None] = {}

    def written(self, value: Any) -> str:
        if value is None or isinstance(value, bool | int | float | str):
            return _name(value) if isinstance(value, Enum) else repr(value)
        if isinstance(value, Enum):
            return _name(value)
        if isinstance(value, Outline):  # all else of it follows from these
            return self.written((value.sport, value.dimensions))
        names = self._field_names(type(value))
        if names is not None:
            return self._named(value, names)
        if isinstance(value, Mapping):
            pairs = sorted((self.written(key), self.written(each)) for key, each in value.items())
            return "{" + ",".join(f"{key}:{each}" for key, each in pairs) + "}"
        if isinstance(value, Set):
            return "{" + ",".join(sorted(map(self.written, value))) + "}"
        if isinstance(value, Iterable):
            return "[" + ",".join(map(self.written, value)) + "]"
        raise TypeError(f"A {type(value).__name__} has no fingerprint.")

    def _field_names(self, kind: type) -> tuple[str, ...] | None:
        """The fields of a dataclass or a named tuple; None for any other."""
        if kind not in self.names:
            is_class = is_dataclass(kind)
            of_class = tuple(each.name for each in fields(kind)) if is_class else None
            self.names[kind] = of_class or getattr(kind, "_fields", None)
        return self.names[kind]

    def _named(self, value: Any, names: tuple[str, ...]) -> str:
        if id(value) not in self.known:
            parts = ",".join(f"{name}={self.written(getattr(value, name))}" for name in names)
            self.known[id(value)] = value, f"{type(value).__name__}({parts})"
        return self.known[id(value)][1]


def _name(value: Enum) -> str:
    return f"{type(value).__name__}.{value.name}"
