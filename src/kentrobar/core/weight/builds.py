"""Builds: what is fitted on a frame, and specs read in one build told for another.

A fitting is a body like any piece of weight, so going from one build to another is a plan: what is
fitted there and not here is laid, what is fitted here and not there is taken away.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from types import MappingProxyType
from typing import Any, Final, NamedTuple

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import Specs
from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.anatomy import (
    BUMPER_PART,
    CAP_LENGTH_CM,
    DAMPENER_CM,
    EARLIER_BELOW_TIP_CM,
    EDGE_TAPE_PART,
    FACTORY_TAPE_CM,
    FINISHING_TAPE_CM,
    GRIP_STARTS_CM,
    GROMMETS_PART,
    GUARD_PART,
    HEAD_TAPE_PART,
)
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.places import ClockPlace
from kentrobar.core.frame.rim import Face
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate, Quantity
from kentrobar.core.weight.grip import USUAL_MM
from kentrobar.core.weight.pieces import Piece, Plug, PointPiece, RimStrip, Sleeve, StringBed, effect_of
from kentrobar.core.weight.prediction import Prediction, as_measured, piece_changes, predict


class Build(StrEnum):
    """A named mix of fittings. ``MIX`` is any other one."""

    BARE = "bare"
    STRUNG = "strung"
    PLAYING = "playing"
    MIX = "mix"


class FittingKind(StrEnum):
    STRINGS = "strings"
    BUMPER = "bumper"
    GUARD = "bumper_guard"
    GROMMETS = "grommet_strip"
    BUTT_CAP = "butt_cap"
    GRIP = "grip"
    LEATHER = "leather"
    OVERGRIP = "overgrip"
    DAMPENER = "dampener"
    EDGE_TAPE = "edge_tape"
    HEAD_TAPE = "head_tape"
    FINISHING_TAPE = "finishing_tape"
    FILM = "film"
    FACTORY = "factory_tape"
    EARLIER = "earlier_weight"


class UsualFitting(NamedTuple):
    """Name, starting mass (g) with its ±, the sports that have it, and the builds it is part of."""

    label: str
    mass_g: float
    u_g: float
    sports: frozenset[Sport]
    builds: frozenset[Build]


_BOTH = frozenset(Sport)
_TENNIS, _PADDLE = frozenset({Sport.TENNIS}), frozenset({Sport.PICKLEBALL})
_ALWAYS = frozenset({Build.BARE, Build.STRUNG, Build.PLAYING})
_STRUNG = frozenset({Build.STRUNG, Build.PLAYING})
_PLAYING = frozenset({Build.PLAYING})

# Starting masses are the project's own rule of thumb; a shop weighs its own.
USUAL_FITTINGS: Final = MappingProxyType(
    {
        FittingKind.STRINGS: UsualFitting("strings", 16.5, 1.5, _TENNIS, _STRUNG),
        FittingKind.BUMPER: UsualFitting("bumper guard and grommets", 14.0, 3.0, _TENNIS, _ALWAYS),
        FittingKind.GUARD: UsualFitting("bumper guard alone", 8.0, 2.0, _TENNIS, _ALWAYS),
        FittingKind.GROMMETS: UsualFitting("grommet strip alone", 6.0, 2.0, _TENNIS, _ALWAYS),
        FittingKind.BUTT_CAP: UsualFitting("butt cap", 8.0, 2.0, _BOTH, _ALWAYS),
        FittingKind.GRIP: UsualFitting("replacement grip", 14.0, 3.0, _BOTH, _ALWAYS),
        FittingKind.LEATHER: UsualFitting("leather grip", 24.0, 3.0, _BOTH, _ALWAYS),
        FittingKind.OVERGRIP: UsualFitting("overgrip", 5.5, 1.0, _BOTH, _PLAYING),
        FittingKind.DAMPENER: UsualFitting("dampener", 2.0, 0.7, _TENNIS, _PLAYING),
        FittingKind.EDGE_TAPE: UsualFitting("protective edge tape", 3.5, 1.0, _PADDLE, _PLAYING),
        FittingKind.HEAD_TAPE: UsualFitting("head cover tape", 2.5, 0.8, _TENNIS, _PLAYING),
        FittingKind.FINISHING_TAPE: UsualFitting("finishing tape", 0.8, 0.3, _BOTH, _PLAYING),
        FittingKind.FILM: UsualFitting("plastic film", 1.5, 0.5, _BOTH, frozenset({Build.BARE})),
        FittingKind.FACTORY: UsualFitting("factory tape under the grip", 6.0, 2.0, _BOTH, _ALWAYS),
        FittingKind.EARLIER: UsualFitting("earlier weight", 5.0, 1.0, _BOTH, _ALWAYS),
    }
)


ROUND_HANDLE: Final = frozenset(
    {FittingKind.GRIP, FittingKind.LEATHER, FittingKind.OVERGRIP, FittingKind.FACTORY}
)


@dataclass(frozen=True, kw_only=True)
class Fitting:
    """One thing on a frame. Places left out are the usual ones for its kind.

    ``y_cm`` and ``x_cm`` place something compact, ``from_cm`` and ``to_cm`` something along the
    handle; ``mirrored`` has one on either side, ``mass_g`` being both together.
    """

    key: int
    kind: FittingKind
    label: str
    mass_g: Estimate
    y_cm: float | None = None
    x_cm: float = 0.0
    mirrored: bool = False
    from_cm: float | None = None
    to_cm: float | None = None
    mains: int = 0
    crosses: int = 0
    thickness_mm: Quantity = NOT_MEASURED

    @property
    def goes_round_handle(self) -> bool:
        """Whether it lies under the hand, so that its thickness counts."""
        return self.kind in ROUND_HANDLE

    @property
    def layer_mm(self) -> Estimate:
        """How thick it is round the handle, mm: as measured, else as usual of its kind."""
        if self.thickness_mm:
            return self.thickness_mm
        return USUAL_MM[self.kind]

    def body(self, outline: Outline) -> Piece:
        """The fitting as a piece on this frame. Raises PieceError where it cannot be on it."""
        if outline.sport not in USUAL_FITTINGS[self.kind].sports:
            raise PieceError(
                f"A {outline.sport.value} frame has no {USUAL_FITTINGS[self.kind].label}.",
                code="not_of_this_sport",
                field="kind",
            )
        if self.y_cm is not None:
            share = 2 if self.mirrored else 1
            # Two that err apart are together as sure as both were weighed.
            each = Estimate(self.mass_g.value / share, self.mass_g.u / math.sqrt(share))
            return PointPiece(
                label=self.label, mass_g=each, y_cm=self.y_cm, x_cm=self.x_cm, mirrored=self.mirrored
            )
        match self.kind:
            case FittingKind.STRINGS:
                return StringBed(label=self.label, mass_g=self.mass_g, mains=self.mains, crosses=self.crosses)
            case FittingKind.BUMPER:
                return self._strip(outline, BUMPER_PART, Face.BUMPER)
            case FittingKind.GUARD:
                return self._strip(outline, GUARD_PART, Face.BUMPER)
            case FittingKind.GROMMETS:
                return self._strip(outline, GROMMETS_PART, Face.BUMPER)
            case FittingKind.HEAD_TAPE:
                return self._strip(outline, HEAD_TAPE_PART, Face.BUMPER)
            case FittingKind.EDGE_TAPE:
                return self._strip(outline, EDGE_TAPE_PART, Face.OUTER)
            case FittingKind.DAMPENER:
                line = outline.rim(Face.INNER)
                return self._point(line.point(line.half_length).y + DAMPENER_CM)
            case FittingKind.BUTT_CAP:
                return Plug(label=self.label, mass_g=self.mass_g, from_cm=0, to_cm=CAP_LENGTH_CM)
            case FittingKind.FINISHING_TAPE:
                top = outline.handle_length_cm
                return self._sleeve(top - FINISHING_TAPE_CM, top)
            case FittingKind.FACTORY:
                top = outline.handle_length_cm
                return self._sleeve(*(top - below for below in FACTORY_TAPE_CM))
            case FittingKind.EARLIER:
                return self._point(outline.length_cm - EARLIER_BELOW_TIP_CM)
            case _:
                return self._sleeve(GRIP_STARTS_CM, outline.handle_length_cm)

    def _point(self, y_cm: float) -> PointPiece:
        return PointPiece(label=self.label, mass_g=self.mass_g, y_cm=y_cm)

    def _sleeve(self, from_cm: float, to_cm: float) -> Sleeve:
        start = from_cm if self.from_cm is None else self.from_cm
        end = to_cm if self.to_cm is None else self.to_cm
        return Sleeve(label=self.label, mass_g=self.mass_g, from_cm=start, to_cm=end)

    def _strip(self, outline: Outline, part_of_half_rim: float, face: Face) -> RimStrip:
        """A strip over the tip that covers this part of the rim to either side."""
        face = face if face in outline.faces else Face.OUTER
        length = 2 * part_of_half_rim * outline.rim(face).half_length
        return RimStrip(
            label=self.label,
            at=ClockPlace(0.0),
            length_cm=Estimate(length, 0.0),
            mass_g=self.mass_g,
            face=face,
        )


def full_edge_cm(outline: Outline) -> float:
    """How much tape goes round the full edge of a paddle, cm."""
    return 2 * EDGE_TAPE_PART * outline.rim(Face.OUTER).half_length


def fitted_in(build: Build, fittings: Iterable[Fitting]) -> tuple[Fitting, ...]:
    """Those of ``fittings`` that are on the frame in a named build."""
    return tuple(f for f in fittings if build in USUAL_FITTINGS[f.kind].builds)


class LedgerLine(NamedTuple):
    """One fitting put on or taken off: its mass, where it is, and what that alone changes."""

    fitting: Fitting
    removed: bool
    y_cm: float
    change: Specs


class BuildChange(NamedTuple):
    """Specs of a frame in another build: before as read, after as converted, with the ledger."""

    prediction: Prediction
    ledger: tuple[LedgerLine, ...]

    @property
    def measured(self) -> MeasuredSpecs:
        """The converted specs as if they had been read so."""
        return as_measured(self.prediction)


def change_build(
    measured: MeasuredSpecs,
    fitted: Sequence[Fitting],
    wanted: Sequence[Fitting],
    *,
    outline: Outline,
    axis_cm: float,
) -> BuildChange:
    """Convert specs read with ``fitted`` on into those with ``wanted`` on, with ±.

    Raises:
        PieceError, OutlineError: a fitting that cannot be on this frame.
    """
    here, there = {f.key for f in fitted}, {f.key for f in wanted}
    moves = [(f, True) for f in fitted if f.key not in there]
    moves += [(f, False) for f in wanted if f.key not in here]
    pieces = [replace(f.body(outline), removed=removed) for f, removed in moves]
    setting: Any = {"length_cm": outline.length_cm, "axis_cm": axis_cm, "outline": outline}
    changes = piece_changes(measured, pieces, **setting)
    prediction = predict(measured, pieces, **setting)
    lines = []
    for (fitting, removed), piece, change in zip(moves, pieces, changes, strict=True):
        centre_cm = effect_of(piece, outline).centre_cm
        lines.append(LedgerLine(fitting, removed, centre_cm, change))
    return BuildChange(prediction, tuple(lines))


_MOST_TIMES: Final = 4.0  # the usual weight of its kind; heavier, a unit or a digit slipped
_MOST_EARLIER_G: Final = 80.0  # of what others put on a frame before


def require_likely(kind: FittingKind, mass_g: float) -> None:
    """Refuse a weight, g, that no fitting of its kind has. Raises PieceError."""
    usual = USUAL_FITTINGS[kind]
    most_g = _MOST_EARLIER_G if kind is FittingKind.EARLIER else _MOST_TIMES * usual.mass_g
    if mass_g > most_g:
        raise PieceError(
            f"A {usual.label} weighs about {usual.mass_g:g} g; {mass_g:.4g} g is far more. Check the number and "
            "its unit.",
            code="too_heavy",
            field="mass_g",
        )


def weighed(values_g: Sequence[float], scale_u_g: float = 0.1) -> Estimate:
    """What one fitting of a kind weighs, g, from weighings of one or several of that kind.

    Several differ among themselves; the ± is that of one more of them, not of their mean.
    """
    if not values_g or min(values_g) <= 0:
        raise PieceError("Enter one weight or several, each above 0.", code="no_mass", field="mass_g")
    mean = sum(values_g) / len(values_g)
    if len(values_g) == 1:
        return Estimate(mean, scale_u_g)
    variance = sum((v - mean) ** 2 for v in values_g) / (len(values_g) - 1)
    return Estimate(mean, (variance * (1 + 1 / len(values_g)) + scale_u_g**2) ** 0.5)
