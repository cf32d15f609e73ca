"""What one line of an instrument says.

The pattern of a device's lines is a person's own regular expression, so it is matched by an engine that
takes time in proportion to the line whatever the pattern is: no look-around, no back-references.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Protocol

import re2

from kentrobar.core.quantities.errors import KentrobarError

LONGEST_PATTERN = 200
LONGEST_LINE = 200

# A number, its unit where one is sent, and the word that says that it has settled.
USUAL_PATTERN = r"(?P<value>[-+]?\d+(?:[.,]\d+)?)\s*(?P<unit>[a-zµ·²2]+)?.*?(?P<settled>settled)?$"


_QUIET = re2.Options()
_QUIET.log_errors = False


class Pattern(Protocol):
    """A compiled pattern."""

    def search(self, text: str) -> PatternMatch | None:
        """Where the pattern fits first."""


class PatternMatch(Protocol):
    """Where a pattern fits."""

    def groupdict(self) -> dict[str, str | None]:
        """What stands in the named groups."""


class InstrumentError(KentrobarError):
    """An instrument gave no reading; nothing is recorded. The message says what to do."""


@dataclass(frozen=True)
class DeviceLine:
    """One line: its number, its unit ("" where none is sent), whether it has settled.

    ``settled`` is None where the pattern has no group for it.
    """

    value: float
    unit: str
    settled: bool | None


def compile_pattern(pattern: str) -> Pattern:
    """The pattern of a device's lines.

    Raises:
        InstrumentError: no regular expression, too long, or without the group ``value``.
    """
    if len(pattern) > LONGEST_PATTERN:
        raise _bad_pattern(f"A line pattern has at most {LONGEST_PATTERN} characters.")
    try:
        compiled = re2.compile(pattern, _QUIET)
    except re2.error as error:
        reason = error.args[0].decode("utf-8", "replace")
        raise _bad_pattern(f"This is no line pattern ({reason}).") from None
    if "value" not in compiled.groupindex:
        raise _bad_pattern("A line pattern needs the group (?P<value>…) for the number.")
    checked: Pattern = compiled
    return checked


def read_line(line: bytes, pattern: Pattern) -> DeviceLine | None:
    """What the line says, or None where it does not fit the pattern."""
    text = line[:LONGEST_LINE].decode("utf-8", "replace").strip()
    match = pattern.search(text)
    if not match:
        return None
    groups = match.groupdict()
    try:
        value = float((groups["value"] or "").replace(",", ".").replace(" ", ""))
    except ValueError:
        return None
    if not math.isfinite(value):
        return None
    settled = bool(groups["settled"]) if "settled" in groups else None
    return DeviceLine(value, groups.get("unit") or "", settled)


def _bad_pattern(message: str) -> InstrumentError:
    return InstrumentError(message, code="bad_pattern", field="pattern")
