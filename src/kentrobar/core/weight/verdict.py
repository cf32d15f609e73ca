"""What a change of specs means on court, in a few plain words."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from kentrobar.core.body.specs import SWING_WEIGHT, TWIST_WEIGHT, Specs

# A change of swing weight below this part of it is felt by few: about 5 of 310 kg·cm², a rule of thumb.
HARDLY_FELT: Final = 0.016
WORTH_A_WORD: Final = 0.005


def verdict(before: Specs, after: Specs) -> str:
    """How much steadier and how differently it swings: "12 % steadier, swings the same"; empty where unknown."""
    said = ", ".join(_parts(before, after))
    return said[:1].upper() + said[1:]


def _parts(before: Specs, after: Specs) -> Iterator[str]:
    twist = _part(before, after, TWIST_WEIGHT.key)
    swing = _part(before, after, SWING_WEIGHT.key)
    if twist is not None and abs(twist) >= WORTH_A_WORD:
        yield f"{abs(twist):.0%} {'steadier' if twist > 0 else 'less steady'} off centre".replace("%", " %")
    if swing is None:
        return
    if abs(swing) < HARDLY_FELT:
        yield "swings the same"
    else:
        yield f"{abs(swing):.0%} {'heavier' if swing > 0 else 'lighter'} to swing".replace("%", " %")


def _part(before: Specs, after: Specs, key: str) -> float | None:
    """By which part of itself a spec changes."""
    was, now = getattr(before, key), getattr(after, key)
    return (now.value - was.value) / was.value if was and now else None
