"""Typed reading of what a request brings: numbers that are numbers, keys that can be keys."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

Sent = Mapping[str, Any] | None  # what a form was sent, None where it is shown first

LARGEST_KEY = 2**63 - 1  # what a database column holds


def read_count(text: str, without: int = 0) -> int:
    """A whole number of ordinary digits that fits a database key; ``without`` where it is none."""
    plain = text.strip()
    if not (plain.isascii() and plain.isdigit() and len(plain) < 20):
        return without
    value = int(plain)
    return value if value <= LARGEST_KEY else without
