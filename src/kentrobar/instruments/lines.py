"""What one line of an instrument says."""

from __future__ import annotations

import re
from dataclasses import dataclass

from kentrobar.core.quantities.errors import KentrobarError

LONGEST_PATTERN = 200
LONGEST_LINE = 200

# A number, its unit where one is sent, and the word that says that it has settled.
USUAL_PATTERN = r"(?P<value>[-+]?\d+(?:[.,]\d+)?)\s*(?P<unit>[a-zµ·²2]+)?.*?(?P<settled>settled)?$"


class InstrumentError(KentrobarError):
    """An instrument gave no reading; nothing is recorded. The message says what to do."""


@dataclass(frozen=True)
class Said:
    """One line: its number, its unit ("" where none is sent), whether it has settled.

    ``settled`` is None where the pattern has no group for it.
    """

    value: float
    unit: str
    settled: bool | None


def compile_pattern(pattern: str) -> re.Pattern[str]:
    """The pattern of a device's lines.

    Raises:
        InstrumentError: no regular expression, too long, or without the group ``value``.
    """
    if len(pattern) > LONGEST_PATTERN:
        raise _bad_pattern(f"A line pattern has at most {LONGEST_PATTERN} characters.")
    try:
        compiled = re.compile(pattern)
    except re.error as error:
        raise _bad_pattern(f"This is no line pattern: {error}.") from None
    if "value" not in compiled.groupindex:
        raise _bad_pattern("A line pattern needs the group (?P<value>…) for the number.")
    return compiled


def read_line(line: bytes, pattern: re.Pattern[str]) -> Said | None:
    """What the line says, or None where it does not fit the pattern."""
    text = line[:LONGEST_LINE].decode("utf-8", "replace").strip()
    match = pattern.search(text)
    if not match:
        return None
    groups = match.groupdict()
    try:
        value = float(groups["value"].replace(",", ".").replace(" ", ""))
    except (ValueError, AttributeError):
        return None
    settled = bool(groups["settled"]) if "settled" in groups else None
    return Said(value, groups.get("unit") or "", settled)


def _bad_pattern(message: str) -> InstrumentError:
    return InstrumentError(message, code="bad_pattern", field="pattern")
