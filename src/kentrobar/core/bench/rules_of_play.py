"""What may be added, and where, is for the governing body and the event to say: when a shop looked last."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Final, NamedTuple

from kentrobar.core.body.sport import Sport

STALE_AFTER: Final = timedelta(days=365)
_FRAMES: Final = {Sport.TENNIS: "rackets", Sport.PICKLEBALL: "paddles"}


class RulesSeen(NamedTuple):
    """When a shop last looked at the rules of a sport, and what it noted; None: never."""

    seen_on: date | None = None
    note: str = ""

    def is_stale(self, today: date) -> bool:
        """Whether it is time to look again."""
        return self.seen_on is None or today - self.seen_on > STALE_AFTER


def _day(day: date) -> str:
    return f"{day.day} {day:%B %Y}"


def players_reminder(seen: RulesSeen, sport: Sport) -> str:
    """What stands on a player's card where weight was added; what the shop notes for itself does not."""
    text = "Weight was added: check before you compete that the rules of your event allow it."
    if seen.seen_on is None:
        return text
    return f"{text} The rules for {_FRAMES[sport]} were last looked at here on {_day(seen.seen_on)}."


def reminder(seen: RulesSeen, sport: Sport, today: date) -> str:
    """What stands beside a plan that adds weight, a sentence or two."""
    frames = _FRAMES[sport]
    if seen.seen_on is None:
        text = f"The rules for {frames} have not been checked here. Check them and enter the day."
    else:
        text = f"Rules for {frames} last looked at here on {_day(seen.seen_on)}"
        text += ", over a year ago: check again." if seen.is_stale(today) else "."
    return f"{text} {seen.note}".strip()
