"""Find the slip among readings: which entry it is, and what went wrong; on some sheets nothing did."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Final, NamedTuple

from kentrobar.core.bench.practice.hidden import AXIS_CM, SPECS, Exercise, noise_of, reading_of, rng_of
from kentrobar.core.bench.practice.scores import Score, ScorePart
from kentrobar.core.body.moments import swingweight_at_axis
from kentrobar.core.body.specs import BALANCE, READ_BY_KEY, STATIC_WEIGHT, SWING_WEIGHT
from kentrobar.core.body.sport import Sport
from kentrobar.core.quantities.units import MM_PER_CM

ROWS: Final = 4
FOR_ENTRY: Final = 60.0
FOR_KIND: Final = 40.0
OTHER_AXIS_CM: Final = {Sport.TENNIS: 7.62, Sport.PICKLEBALL: 10.0}
SHOWS_FROM: Final = 8.0  # times the scatter of a reading: what is nearer cannot be told from it
NOTHING_WRONG_IN: Final = 5  # of so many sheets one is in order


class Slip(StrEnum):
    """What can go wrong with an entry."""

    NONE = "none"
    DIGITS = "digits"
    TIP = "tip"
    AXIS = "axis"
    FIELD = "field"


SLIP_NAMES: Final = {
    Slip.NONE: "nothing slipped",
    Slip.DIGITS: "two digits changed places",
    Slip.TIP: "the balance was read from the tip",
    Slip.AXIS: "the machine stood at another axis",
    Slip.FIELD: "the balance in millimetres was typed in this field",
}


# In which fields each can happen.
_KEYS: Final = {
    Slip.DIGITS: (STATIC_WEIGHT.key, SWING_WEIGHT.key),
    Slip.TIP: (BALANCE.key,),
    Slip.AXIS: (SWING_WEIGHT.key,),
    Slip.FIELD: (STATIC_WEIGHT.key, SWING_WEIGHT.key),
}


class SheetCell(NamedTuple):
    """One entry of the sheet: the row, from 0, and the spec's key."""

    row: int
    key: str


@dataclass(frozen=True)
class FindSlip(Exercise):
    """The exercise: a sheet of readings of one frame, four of each spec."""

    @property
    def truth(self) -> tuple[SheetCell, Slip]:
        """Where the slip is, and what; the first entry stands for none."""
        rng = rng_of(self.seed, "slip")
        if int(rng.integers(NOTHING_WRONG_IN)) == 0:
            return SheetCell(0, STATIC_WEIGHT.key), Slip.NONE
        slip = list(Slip)[1 + int(rng.integers(len(Slip) - 1))]
        row = int(rng.integers(ROWS))
        keys = tuple(key for key in _KEYS[slip] if self._shows(slip, SheetCell(row, key)))
        if not keys:  # it would not be seen
            slip, keys = Slip.TIP, _KEYS[Slip.TIP]
        return SheetCell(row, keys[int(rng.integers(len(keys)))]), slip

    def sheet(self) -> list[dict[str, float]]:
        """The readings row by row, by the keys of specs, in base units."""
        entry, slip = self.truth
        rows = [{spec.key: self._right(row, spec.key) for spec in SPECS} for row in range(ROWS)]
        if slip is not Slip.NONE:
            rows[entry.row][entry.key] = self._slipped(slip, entry, rows[entry.row])
        return rows

    def _right(self, row: int, key: str) -> float:
        """What was read, before anything slipped."""
        true = self.frame.true(READ_BY_KEY[key])
        return reading_of(true, key, self.level, rng_of(self.seed, key, row))

    def _slipped(self, slip: Slip, entry: SheetCell, read: dict[str, float]) -> float:
        """What was entered in place of a right reading."""
        right = read[entry.key]
        match slip:
            case Slip.TIP:
                return round(self.frame.outline.length_cm - right, 2)
            case Slip.AXIS:
                there = OTHER_AXIS_CM[self.sport]
                moved = swingweight_at_axis(
                    right, AXIS_CM[self.sport], read[STATIC_WEIGHT.key], read[BALANCE.key], there
                )
                return round(moved, 1)
            case Slip.FIELD:
                return round(MM_PER_CM * read[BALANCE.key], 1)
            case _:
                swaps = self._swaps(*entry)
                return swaps[int(rng_of(self.seed, "digits").integers(len(swaps)))]

    def _shows(self, slip: Slip, entry: SheetCell) -> bool:
        """Whether a slip changes an entry by more than readings scatter."""
        if slip is Slip.DIGITS:
            return bool(self._swaps(*entry))
        read = {spec.key: self._right(entry.row, spec.key) for spec in SPECS}
        off = abs(self._slipped(slip, entry, read) - read[entry.key])
        return off > SHOWS_FROM * noise_of(entry.key, self.level)

    def _swaps(self, row: int, key: str) -> list[float]:
        """A reading with two neighbouring digits in each other's place, where that shows."""
        right = self._right(row, key)
        text = f"{right:.{READ_BY_KEY[key].decimals}f}"
        swapped = [
            float(text[:i] + text[i + 1] + text[i] + text[i + 2 :])
            for i in range(len(text) - 1)
            if "." not in text[i : i + 2]
        ]
        shows = SHOWS_FROM * noise_of(key, self.level)
        return [value for value in swapped if abs(value - right) > shows]

    def score(self, entry: SheetCell | None, slip: Slip) -> Score:
        """Of the entry that was named, none for a sheet in order, and of what went wrong."""
        where, what = self.truth
        if what is Slip.NONE:
            is_right = entry is None and slip is Slip.NONE
            points = (FOR_ENTRY, FOR_KIND) if is_right else (0.0, 0.0)
        else:
            has_entry = entry == where
            points = FOR_ENTRY * has_entry, FOR_KIND * (has_entry and slip is what)
        return Score(
            (
                ScorePart("which entry", points[0], FOR_ENTRY),
                ScorePart("what went wrong", points[1], FOR_KIND),
            )
        )
