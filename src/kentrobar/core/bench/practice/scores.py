"""How well an exercise was done: points for each part of it, of a hundred together."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class ScorePart:
    """Points for one thing: how it is called, how many, of how many."""

    title: str
    points: float
    of: float


@dataclass(frozen=True)
class Score:
    """All parts of an exercise; their ``of`` add up to 100."""

    parts: tuple[ScorePart, ...]

    @property
    def points(self) -> int:
        """Of a hundred, rounded."""
        return round(sum(part.points for part in self.parts))


def within(missed: float, full: float, none: float) -> float:
    """1 for what is off by ``full`` at most, 0 from ``none`` on, a straight line between."""
    return min(max((none - abs(missed)) / (none - full), 0.0), 1.0)
