"""What is printed: the bench sheet of a plan with its true-size strips, and the card of a gram."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path
from typing import Any, NamedTuple

from django.template.loader import render_to_string

from kentrobar.core.appraisal import amount_of
from kentrobar.core.cutting import Mark, SoldStrip, Wanted, cut_list, rim_marks
from kentrobar.core.errors import PieceError
from kentrobar.core.materials import Form
from kentrobar.core.pieces import RimStrip, count_of
from kentrobar.core.steps import ORDERS, OrderOfWork, steps_of, tools_of
from kentrobar.web.kit.numbers import Units, shown_specs
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.board import Board, Shelf
from kentrobar.web.planning.wording import face_words

STATIC = Path(__file__).resolve().parents[1] / "static"
PAPERS = {"a4": "A4", "letter": "Letter"}
SEGMENT_MM = 170.0  # of a true-size strip: fits both papers between their margins
USUAL_WIDTH_MM = 6.35
TICK_MM = 5
MARGIN_MM = 1.0  # round a template, for the thickness of its outline
SHORT_ROLL_CM = 60.0  # what is sold shorter than this is strips, not a roll


def sheet_pdf(context: dict[str, Any]) -> bytes:
    """The PDF of a plan's bench sheet; ``context`` is that of the board with ``paper``."""
    return _pdf("planning/sheet.html", context)


def card_pdf(context: dict[str, Any]) -> bytes:
    """The PDF of what a gram does on one frame."""
    return _pdf("planning/gram_card.html", context)


def drawing_style() -> str:
    """The style that a drawing carries inside itself where no page gives it one."""
    return (STATIC / "css" / "sheet-drawing.css").read_text()


def _pdf(template: str, context: dict[str, Any]) -> bytes:
    # Imported at the first sheet: it takes longer to load than all the rest of the application.
    from weasyprint import CSS, HTML
    from weasyprint.text.fonts import FontConfiguration

    fonts = FontConfiguration()
    html = render_to_string(template, context | {"drawing_style": drawing_style()})
    size = CSS(string=f"@page {{ size: {PAPERS[context['paper']]} portrait }}", font_config=fonts)
    style = CSS(filename=STATIC / "css" / "sheet.css", font_config=fonts)
    return HTML(string=html, base_url=STATIC.as_uri()).write_pdf(
        stylesheets=[style, size], font_config=fonts
    )


def sheet_parts(board: Board, context: Mapping[str, Any]) -> dict[str, Any]:
    """All of a bench sheet that the board's page does not have; ``context`` is that page's."""
    shelf = context["shelf"]
    return {
        "tools": tools_shown(board, {material.pk: material for material in shelf}),
        "cut_groups": cut_groups(board, shelf),
        "templates": templates(board, shelf),
        "rulers": rim_rulers(board),
        "paper_name": PAPERS[context["paper"]],
    }


# -- the order of work --------------------------------------------------------------------


def steps_shown(
    board: Board,
    order: str,
    units: Units,
    rows: Iterable[Mapping[str, Any]],
    shelf: Sequence[Material],
) -> list[dict[str, Any]]:
    """The plan as steps: pieces, cautions that were not said before, and what should be read then."""
    by_number = {row["number"]: row for row in rows}
    pieces = [laid.piece for laid in board.pieces]
    said: set[str] = set()
    shown = []
    for step in steps_of(
        board.measured, pieces, OrderOfWork(order), outline=board.outline, axis_cm=board.axis_cm
    ):
        numbers = [board.pieces[i].number for i in step.pieces]
        cautions = [c for c in board.only(numbers).cautions(shelf) if c not in said]
        said.update(cautions)
        shown.append({
            "title": step.title,
            "rows": [by_number[number] for number in numbers],
            "cautions": cautions,
            "expected": [
                {"name": spec.name, "unit": spec.unit, "value": spec.value(quantity),
                 "u": spec.spread(quantity)}
                for spec in shown_specs(units)
                if _spec_key(spec.key) in step.read
                for quantity in [getattr(step.expected, spec.key)]
            ],
        })  # fmt: skip
    return shown


def _spec_key(shown: str) -> str:
    """Balance may be shown in points."""
    return "balance_cm" if shown == "points_headlight" else shown


def order_shown(order: str) -> dict[str, str]:
    """The school of a plan in words."""
    school = ORDERS[OrderOfWork(order)]
    return {"label": school.label, "reason": school.reason}


def tools_shown(board: Board, shelf: Shelf) -> list[str]:
    """What must lie ready."""
    return tools_of(board.laid(shelf), board.outline) if board.pieces else []


# -- cut list -----------------------------------------------------------------------------


class CutGroup(NamedTuple):
    """All that is cut from one tape: the strips as sold with their cuts, and what is used and left."""

    material: Material
    strips: list[SoldStrip]
    used_cm: float
    strokes: int
    left_cm: float | None
    problem: str = ""


def cut_groups(board: Board, shelf: Iterable[Material]) -> list[CutGroup]:
    """The cut list of a plan, a group a tape."""
    groups = []
    for material in shelf:
        wanted = [
            Wanted(laid.number, laid.piece.length_cm.value)
            for laid in board.pieces
            if laid.material_id == material.pk
            and isinstance(laid.piece, RimStrip)
            and not laid.piece.removed
            for _ in range(count_of(laid.piece))
        ]
        if wanted and material.form is Form.TAPE:
            groups.append(_cut_group(material, wanted))
    return groups


def _cut_group(material: Material, wanted: list[Wanted]) -> CutGroup:
    sold = material.sold_amount
    is_roll = sold is None or sold > SHORT_ROLL_CM
    used = sum(each.length_cm for each in wanted)
    left = None if material.left_amount is None else material.left_amount - used
    try:
        strips = cut_list(wanted, None if is_roll else sold)
    except PieceError as error:
        return CutGroup(material, [], used, 0, left, error.message)
    if not is_roll and sold is not None and material.left_amount is not None:
        left = material.left_amount - sold * len(strips)
    strokes = sum(strip.strokes for strip in strips)
    return CutGroup(material, strips, used, strokes, left)


def used_amounts(board: Board, shelf: Iterable[Material]) -> list[tuple[Material, float]]:
    """How much a plan takes from each material: whole strips where it is sold in strips."""
    shelf = list(shelf)
    found = []
    groups = {group.material.pk: group for group in cut_groups(board, shelf)}
    for material in shelf:
        group = groups.get(material.pk)
        if group and group.left_cm is not None and material.left_amount is not None:
            found.append((material, material.left_amount - group.left_cm))
            continue
        amount = sum(
            amount_of(laid.piece, material.form, material.g_per_cm or 0.0)
            for laid in board.pieces
            if laid.material_id == material.pk and not laid.piece.removed
        )
        if amount:
            found.append((material, amount))
    return found


# -- true size ------------------------------------------------------------------------------


class Template(NamedTuple):
    """One strip at its true size, in mm; a long one comes in several parts."""

    number: int
    count: int
    name: str
    width_mm: float
    parts_mm: list[float]

    @property
    def total(self) -> float:
        return sum(self.parts_mm)

    @property
    def boxes(self) -> list[tuple[float, float]]:
        """The length of each part, and that of its drawing with a margin for the outline."""
        return [(part, part + 2 * MARGIN_MM) for part in self.parts_mm]

    @property
    def height(self) -> float:
        return self.width_mm + 2 * MARGIN_MM


def templates(board: Board, shelf: Iterable[Material]) -> list[Template]:
    """The strips of a plan as they are cut."""
    widths = {material.pk: material.width_mm for material in shelf}
    found = []
    for laid in board.pieces:
        if isinstance(laid.piece, RimStrip) and not laid.piece.removed:
            length = 10 * laid.piece.length_cm.value
            whole, rest = divmod(length, SEGMENT_MM)
            parts = [SEGMENT_MM] * int(whole) + ([rest] if rest > 1e-6 else [])
            width = widths.get(laid.material_id or 0) or USUAL_WIDTH_MM
            name = laid.piece.material or laid.piece.label
            found.append(Template(laid.number, count_of(laid.piece), name, width, parts))
    return found


class RimSegment(NamedTuple):
    """A stretch of the paper strip along one face, from ``start_mm``; marks by mm from its start."""

    start_mm: float
    length_mm: float
    marks: list[tuple[float, Mark]]

    @property
    def ticks(self) -> list[dict[str, Any]]:
        """Every 5 mm, a number every 10 mm."""
        first = -(-int(self.start_mm) // TICK_MM) * TICK_MM
        last = int(self.start_mm + self.length_mm)
        return [
            {"x": at - self.start_mm, "label": f"{at}" if at % 10 == 0 else ""}
            for at in range(first, last + 1, TICK_MM)
        ]


class RimRuler(NamedTuple):
    face: str
    segments: list[RimSegment]


def rim_rulers(board: Board) -> list[RimRuler]:
    """A true-size strip for each face that carries tape, from the middle of the tip down one side."""
    strips = [
        (laid.number, laid.piece)
        for laid in board.pieces
        if isinstance(laid.piece, RimStrip) and not laid.piece.removed
    ]
    rulers = []
    for face in board.outline.faces:
        marks = rim_marks(strips, board.outline, face)
        if not marks:
            continue
        reach = 10 * max(mark.at_cm for mark in marks) + 5
        count = int(reach // SEGMENT_MM) + 1
        segments = [
            RimSegment(
                i * SEGMENT_MM,
                SEGMENT_MM if i < count - 1 else reach - i * SEGMENT_MM,
                [
                    (10 * mark.at_cm - i * SEGMENT_MM, mark)
                    for mark in marks
                    if i * SEGMENT_MM <= 10 * mark.at_cm < (i + 1) * SEGMENT_MM
                ],
            )
            for i in range(count)
        ]
        rulers.append(RimRuler(face_words(face, board.outline), segments))
    return rulers
