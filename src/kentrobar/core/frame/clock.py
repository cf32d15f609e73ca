"""Clock positions round a head: 12:00 at the tip, 3:00 to the right."""

from __future__ import annotations

from typing import Final

from kentrobar.core.quantities.errors import OutlineError

CLOCK_MINUTES: Final = 720.0


def parse_clock(text: str) -> float:
    """Minutes of the 12-hour face, 0 to 720, from "3:00", "10:30" or "2:31.25".

    Raises:
        OutlineError: not a clock position.
    """
    hours, colon, minutes = text.strip().partition(":")
    try:
        hour, minute = int(hours), float(minutes or "0") if colon else 0.0
    except ValueError:
        hour, minute = -1, 0.0
    if not (0 <= hour <= 12 and 0 <= minute < 60):
        raise OutlineError(
            f"“{text[:20]}” is not a clock position; write it as 3:00 or 10:30.",
            code="not_a_clock",
            field="at",
        )
    return (hour % 12) * 60.0 + minute


def clock_text(minutes: float, decimals: int = 0) -> str:
    """A clock position as a person reads it: 12:00 at the tip, 3:00 to the right."""
    shown = round(minutes % CLOCK_MINUTES, decimals) % CLOCK_MINUTES
    hour, minute = divmod(shown, 60)
    width = 2 if decimals == 0 else decimals + 3
    return f"{int(hour) or 12}:{minute:0{width}.{decimals}f}"
