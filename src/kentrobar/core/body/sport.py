"""The sports whose frames are known here."""

from __future__ import annotations

from enum import StrEnum


class Sport(StrEnum):
    """What a frame is played with."""

    TENNIS = "tennis"
    PICKLEBALL = "pickleball"

    @property
    def noun(self) -> str:
        """One frame of it, with its article."""
        return "a racket" if self is Sport.TENNIS else "a paddle"
