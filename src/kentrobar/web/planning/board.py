"""A plan as it lies on the board: the frame, the pieces, and what they make of it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, NamedTuple

from pydantic import TypeAdapter

from kentrobar.core.cautions import HEAVIER_HEAD_KGCM2, Hazard, cautions_for
from kentrobar.core.errors import KentrobarError, PieceError
from kentrobar.core.estimates import Estimate
from kentrobar.core.materials import MaterialKind
from kentrobar.core.objections import Laid, Objection, objections
from kentrobar.core.outline import Face, Outline
from kentrobar.core.pieces import Piece, RimStrip
from kentrobar.core.plans import PieceShare, Prediction, piece_shares, predict
from kentrobar.core.specs import MeasuredSpecs
from kentrobar.exchange import convert, models
from kentrobar.web.frames.models import Frame
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.models import Plan

_DOCUMENT: TypeAdapter[models.AnyPiece] = TypeAdapter(models.AnyPiece)
MOST_PIECES = 100


class LaidPiece(NamedTuple):
    """A piece with its number on this plan and the material it was cut from."""

    number: int
    material_id: int | None
    piece: Piece
    overruled: frozenset[str] = frozenset()  # codes of the rules set aside for it


Shelf = Mapping[int, Material]  # by id


def laid_of(piece: Piece, material: Material | None) -> Laid:
    """The rules' value of a piece cut from a material."""
    if material is None:
        return Laid(piece)
    return Laid(piece, MaterialKind(material.kind), material.facts)


class Standing(NamedTuple):
    """An objection to the piece of this number, and whether the person set it aside."""

    number: int
    objection: Objection
    is_overruled: bool


def read_pieces(stored: Iterable[dict[str, Any]]) -> tuple[LaidPiece, ...]:
    return tuple(
        LaidPiece(
            item["id"],
            item.get("material"),
            convert.piece(_DOCUMENT.validate_python(item["piece"])),
            frozenset(item.get("overruled", ())),
        )
        for item in stored
    )


def stored_pieces(pieces: Iterable[LaidPiece]) -> list[dict[str, Any]]:
    """What is kept in the database; the inverse of :func:`read_pieces`."""
    return [
        {
            "id": laid.number,
            "material": laid.material_id,
            "piece": convert.piece_document(laid.piece).model_dump(exclude_none=True),
        }
        | ({"overruled": sorted(laid.overruled)} if laid.overruled else {})
        for laid in pieces
    ]


@dataclass(frozen=True)
class Board:
    """One state of a plan. Changing it makes a new board."""

    frame: Frame
    name: str
    axis_cm: float
    pieces: tuple[LaidPiece, ...]

    @classmethod
    def of(cls, plan: Plan) -> Board:
        return cls(plan.frame, plan.name, plan.axis_cm, read_pieces(plan.pieces))

    @cached_property
    def outline(self) -> Outline:
        return self.frame.outline

    @cached_property
    def measured(self) -> MeasuredSpecs:
        return self.frame.measured

    def require_fit(self, outline: Outline, measured: MeasuredSpecs) -> None:
        """Refuse a change of the frame that would leave a piece without its place.

        Raises:
            PieceError: it names this plan, and what would no longer fit.
        """
        try:
            predict(
                measured,
                [laid.piece for laid in self.pieces],
                length_cm=outline.length_cm,
                axis_cm=self.axis_cm,
                outline=outline,
            )
        except KentrobarError as error:
            raise PieceError(
                f"The plan “{self.name}” would no longer fit this frame: {error.message} Change "
                "the plan first, or take the frame in anew.",
                code="plan_misfits",
            ) from None

    @cached_property
    def prediction(self) -> Prediction:
        """Raises PieceError or OutlineError where a piece cannot lie where it is put."""
        return predict(
            self.measured,
            [laid.piece for laid in self.pieces],
            length_cm=self.frame.length_cm,
            axis_cm=self.axis_cm,
            outline=self.outline,
        )

    @cached_property
    def shares(self) -> list[PieceShare]:
        pieces = [laid.piece for laid in self.pieces]
        return piece_shares(pieces, axis_cm=self.axis_cm, outline=self.outline)

    def find(self, number: int) -> LaidPiece:
        """The piece of this number; raises PieceError where it is gone."""
        for laid in self.pieces:
            if laid.number == number:
                return laid
        raise PieceError(
            f"Piece {number} is no longer on this plan; it may have been removed in another tab.",
            code="piece_gone",
        )

    def added(self, piece: Piece, material_id: int | None) -> Board:
        if len(self.pieces) >= MOST_PIECES:
            raise PieceError(
                f"A plan holds at most {MOST_PIECES} pieces; join some of them.", code="too_many"
            )
        number = max((laid.number for laid in self.pieces), default=0) + 1
        return replace(self, pieces=(*self.pieces, LaidPiece(number, material_id, piece)))

    def changed(self, number: int, piece: Piece) -> Board:
        return self._with(number, lambda laid: laid._replace(piece=piece))

    def replaced(self, number: int, pieces: Sequence[Piece]) -> Board:
        """The board with other pieces in the place of one; the first keeps its number."""
        before, board = self.find(number), self
        for piece in pieces[1:]:
            board = board.added(piece, before.material_id)
        first = before._replace(piece=pieces[0])
        return board._with(number, lambda _: first)

    def overruling(self, number: int, code: str, is_overruled: bool) -> Board:
        """The board with one rule set aside for a piece, or heeded again."""
        codes = {code} if is_overruled else set()
        return self._with(
            number, lambda laid: laid._replace(overruled=(laid.overruled - {code}) | codes)
        )

    def objections(self, shelf: Shelf) -> list[Standing]:
        """What speaks against the pieces."""
        found = objections(self.laid(shelf), self.outline, self.frame.circumstances)
        return [
            Standing(
                self.pieces[each.position].number,
                each,
                each.code in self.pieces[each.position].overruled,
            )
            for each in found
        ]

    def _with(self, number: int, change: Callable[[LaidPiece], LaidPiece]) -> Board:
        self.find(number)
        return replace(
            self,
            pieces=tuple(change(laid) if laid.number == number else laid for laid in self.pieces),
        )

    def without(self, number: int) -> Board:
        self.find(number)
        return replace(self, pieces=tuple(p for p in self.pieces if p.number != number))

    def only(self, numbers: Iterable[int]) -> Board:
        """The board with these pieces alone."""
        wanted = set(numbers)
        return replace(self, pieces=tuple(p for p in self.pieces if p.number in wanted))

    def laid(self, shelf: Shelf) -> list[Laid]:
        """The pieces with what they were cut from."""
        return [laid_of(each.piece, shelf.get(each.material_id or 0)) for each in self.pieces]

    def hazards(self, lead: set[int], metal: set[int]) -> set[Hazard]:
        """What this plan asks care for; ``lead`` and ``metal`` are ids of such materials."""
        used = {laid.material_id for laid in self.pieces}
        strips = [laid.piece for laid in self.pieces if isinstance(laid.piece, RimStrip)]
        swing = self.prediction.change.swingweight_kgcm2
        found = {
            Hazard.LEAD: bool(used & lead),
            Hazard.SHARP_METAL: bool(used & metal),
            Hazard.HEAVIER_HEAD: isinstance(swing, Estimate) and swing.value >= HEAVIER_HEAD_KGCM2,
            Hazard.UNDER_BUMPER: any(strip.face is Face.BUMPER for strip in strips),
            Hazard.REMOVED_WEIGHT: any(laid.piece.removed for laid in self.pieces),
            Hazard.ADDED_WEIGHT: any(not laid.piece.removed for laid in self.pieces),
        }
        return {hazard for hazard, present in found.items() if present}

    def cautions(self, materials: Iterable[Any]) -> list[str]:
        """The sentences to show beside this plan."""
        materials = list(materials)
        lead = {material.pk for material in materials if material.facts.is_lead}
        metal = {material.pk for material in materials if material.facts.is_metal}
        return cautions_for(self.hazards(lead, metal))
