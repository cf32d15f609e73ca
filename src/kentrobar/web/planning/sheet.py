"""What is printed: the bench sheet of a plan with its true-size strips, and the card of a gram."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any

from django.template.loader import render_to_string

from kentrobar.core.estimates import Estimate
from kentrobar.core.steps import ORDERS, OrderOfWork, Step, steps_of, tools_of
from kentrobar.web.kit.numbers import Units, shown_specs
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.board import Board, Shelf
from kentrobar.web.planning.cut_list import cut_groups
from kentrobar.web.planning.true_size import rim_rulers, templates

STATIC = Path(__file__).resolve().parents[1] / "static"
PAPERS = {"a4": "A4", "letter": "Letter"}


def sheet_pdf(context: dict[str, Any], files: Mapping[str, str]) -> bytes:
    """The PDF of a plan's bench sheet, with files inside it by name.

    ``context`` is that of the board with ``paper``.
    """
    return _pdf("planning/sheet.html", context, files)


def card_pdf(context: dict[str, Any]) -> bytes:
    """The PDF of what a gram does on one frame."""
    return _pdf("planning/gram_card.html", context)


def drawing_style() -> str:
    """The style that a drawing carries inside itself where no page gives it one."""
    return (STATIC / "css" / "sheet-drawing.css").read_text()


def _pdf(template: str, context: dict[str, Any], files: Mapping[str, str] | None = None) -> bytes:
    # Imported at the first sheet: it takes longer to load than all the rest of the application.
    from weasyprint import CSS, HTML, Attachment
    from weasyprint.text.fonts import FontConfiguration

    fonts = FontConfiguration()
    html = render_to_string(template, context | {"drawing_style": drawing_style()})
    size = CSS(string=f"@page {{ size: {PAPERS[context['paper']]} portrait }}", font_config=fonts)
    style = CSS(filename=STATIC / "css" / "sheet.css", font_config=fonts)
    return HTML(string=html, base_url=STATIC.as_uri()).write_pdf(
        stylesheets=[style, size],
        font_config=fonts,
        attachments=[Attachment(string=text, name=name) for name, text in (files or {}).items()],
    )


def sheet_parts(board: Board, context: Mapping[str, Any]) -> dict[str, Any]:
    """All of a bench sheet that the board's page does not have; ``context`` is that page's."""
    shelf = context["shelf"]
    return {
        "tools": tools_shown(board, {material.pk: material for material in shelf}),
        "cut_groups": cut_groups(board, shelf),
        "templates": templates(board, shelf),
        "rulers": rim_rulers(board, context["units"]),
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
            "expected": list(_expected(step, units)),
        })  # fmt: skip
    return shown


def _expected(step: Step, units: Units) -> Iterator[dict[str, str]]:
    """What to read after a step: the spec, or by how much it changed where it was never read."""
    for spec in shown_specs(units):
        if ("balance_cm" if spec.key == "points_headlight" else spec.key) not in step.read:
            continue
        name, quantity = spec.name.lower(), getattr(step.expected, spec.key)
        text = spec.value(quantity)
        if not isinstance(quantity, Estimate):
            name, quantity = f"change of {name}", getattr(step.change, spec.key)
            text = spec.change(quantity)
        if isinstance(quantity, Estimate):
            yield {"name": name, "unit": spec.unit, "value": text, "u": spec.spread(quantity)}


def order_shown(order: str) -> dict[str, str]:
    """The school of a plan in words."""
    school = ORDERS[OrderOfWork(order)]
    return {"label": school.label, "reason": school.reason}


def tools_shown(board: Board, shelf: Shelf) -> list[str]:
    """What must lie ready."""
    return tools_of(board.laid(shelf), board.outline) if board.pieces else []
