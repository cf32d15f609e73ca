"""A balance board to build: what is cut, where pivot, stops and ruler go, and how it is checked with a plain rod.

The board rests on a pivot across its middle, so that empty it is level. The frame lies along it and is pushed until
both are level: then its balance point stands over the pivot, and the ruler tells how far that is from the butt.
The ruler's zero lies ``offset_cm`` from the pivot, so that it need not begin under it: a balance is the reading and
the offset together.
"""

from __future__ import annotations

from typing import Final, NamedTuple

from kentrobar.core.quantities.errors import SpecError

NEAREST_CM: Final = 20.0  # balance points of all frames lie between these, from the butt
FARTHEST_CM: Final = 42.0
MARGIN_CM: Final = 4.0  # of the board beyond the ruler
BOARD_WIDTH_CM: Final = 8.0
PIVOT_CM: Final = 0.6  # thickness of the dowel that it tips on
STOP_HEIGHT_CM: Final = 3.0
SHORTEST_ROD_CM: Final = 2 * NEAREST_CM
LONGEST_ROD_CM: Final = 2 * FARTHEST_CM
TURNED_U_CM: Final = 0.05  # by so little both readings of a rod may differ


class BoardPlan(NamedTuple):
    """A balance board, lengths in cm from its pivot: where the ruler begins and ends, how long the board is."""

    offset_cm: float
    ruler_end_cm: float
    half_length_cm: float

    @property
    def length_cm(self) -> float:
        """How long the board is cut."""
        return 2 * self.half_length_cm

    @property
    def ruler_cm(self) -> float:
        """How much of a ruler it takes."""
        return self.ruler_end_cm - self.offset_cm

    def rod_reading_cm(self, rod_cm: float) -> float:
        """What the ruler shows for a plain rod, whose balance point is its middle."""
        return rod_cm / 2 - self.offset_cm


class BoardCheck(NamedTuple):
    """What a rod tells of a board: its true offset, cm, and whether the pivot lies across it.

    ``turned_cm`` is by how much the reading changed when the rod was turned end for end.
    """

    offset_cm: float
    turned_cm: float

    @property
    def rod_is_even(self) -> bool:
        """Whether both readings agree, so that the rod's middle is its balance point."""
        return abs(self.turned_cm) <= 2 * TURNED_U_CM


def board_plan(offset_cm: float) -> BoardPlan:
    """The plan of a board whose ruler begins so far from the pivot.

    Raises:
        SpecError: the ruler would begin beyond the nearest balance point, or behind the pivot.
    """
    if not 0 <= offset_cm <= NEAREST_CM:
        raise SpecError(
            f"The ruler begins 0 to {NEAREST_CM:g} cm from the pivot: nearer than any balance point.",
            code="bad_offset",
            field="offset",
        )
    return BoardPlan(offset_cm, FARTHEST_CM, FARTHEST_CM + MARGIN_CM)


def check_board(rod_cm: float, reading_cm: float, turned_cm: float) -> BoardCheck:
    """What both readings of a plain rod, as it lies and turned end for end, tell of a board.

    A rod whose balance point is off its middle reads as much too high one way as too low the other, so that their
    mean tells the offset all the same.

    Raises:
        SpecError: the rod is too short or too long for the ruler.
    """
    if not SHORTEST_ROD_CM <= rod_cm <= LONGEST_ROD_CM:
        raise SpecError(
            f"Take a rod of {SHORTEST_ROD_CM:g} to {LONGEST_ROD_CM:g} cm, so that its middle lies over the ruler.",
            code="bad_rod",
            field="rod",
        )
    return BoardCheck(rod_cm / 2 - (reading_cm + turned_cm) / 2, turned_cm - reading_cm)
