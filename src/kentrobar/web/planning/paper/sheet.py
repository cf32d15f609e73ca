"""What is printed: the bench sheet of a plan with its true-size strips, and how any page gets on paper."""

from __future__ import annotations

import atexit
import re
from collections.abc import Mapping
from contextlib import closing
from dataclasses import dataclass
from functools import cache
from io import BytesIO
from pathlib import Path
from threading import Lock
from typing import TYPE_CHECKING, Any

from django.template.loader import render_to_string

from kentrobar.core.bench.cut_list import CutGroup, cut_groups
from kentrobar.core.bench.instructions import procedures_of
from kentrobar.core.bench.procedures import WorkInstructions
from kentrobar.core.bench.steps import tools_of
from kentrobar.web.planning.board.context import BoardView
from kentrobar.web.planning.board.steps import number_writer
from kentrobar.web.planning.paper.rim_ruler import RimRuler, rim_rulers
from kentrobar.web.planning.paper.true_size import Template, templates
from kentrobar.web.shops.models import User

if TYPE_CHECKING:
    from weasyprint import CSS
    from weasyprint.text.fonts import FontConfiguration

STATIC = Path(__file__).resolve().parents[2] / "static"
STYLES = STATIC / "css"
PAPERS = {"a4": "A4", "letter": "Letter"}


@cache
def paper_palette() -> dict[str, str]:
    """The colours of the palette on paper, by name."""
    on_paper = (STYLES / "palette.css").read_text().partition("@media print")[2]
    return {name.replace("-", "_"): colour for name, colour in re.findall(r"--([\w-]+): (.+);", on_paper)}


@cache
def drawing_style() -> str:
    """The style that a drawing carries inside itself where no page gives it one, in colours of paper."""
    style = (STYLES / "sheet-drawing.css").read_text()
    colours = paper_palette()
    return re.sub(r"var\(--([\w-]+)\)", lambda m: colours[m[1].replace("-", "_")], style)


def printed(
    template: str, paper: str, context: Mapping[str, object], files: Mapping[str, str] | None = None
) -> bytes:
    """A template as a PDF on a paper, with files inside it by name."""
    drawn = {"drawing_style": drawing_style(), "palette": paper_palette(), "paper": paper}
    return _typeset(render_to_string(template, {**context, **drawn}), PAPERS[paper], files or {})


@cache
def _styles(paper: str) -> tuple[FontConfiguration, list[CSS]]:
    """Fonts and stylesheets of a paper: unpacked and read once a process, as that takes half a second."""
    from weasyprint import CSS
    from weasyprint.text.fonts import FontConfiguration

    atexit.register(_styles.cache_clear)  # fonts are given back while the library still stands
    fonts = FontConfiguration()
    size = CSS(string=f"@page {{ size: {paper} portrait }}", font_config=fonts)
    styles = [CSS(STYLES / name, font_config=fonts) for name in ("palette.css", "sheet.css")]
    return fonts, [*styles, size]


_TYPESETTING = Lock()  # fonts are shared, and one thread at a time is as fast as several


def _typeset(html: str, paper: str, files: Mapping[str, str]) -> bytes:
    # Imported late: it takes longer to load than all the rest of the application.
    from weasyprint import HTML, Attachment

    with _TYPESETTING:
        fonts, styles = _styles(paper)
        made: bytes = HTML(string=html, base_url=STATIC.as_uri()).write_pdf(
            stylesheets=styles,
            font_config=fonts,
            attachments=[Attachment(string=text, name=name) for name, text in files.items()],
        )
    return made


def painted(pdf: bytes, scale: float) -> bytes:
    """The first page of a PDF as a PNG, ``scale`` pixels to a point."""
    import pypdfium2

    # Its library is not made for several threads, so that the document is closed here too.
    with _TYPESETTING, closing(pypdfium2.PdfDocument(pdf)) as document:
        image = document[0].render(scale=scale).to_pil()
    into = BytesIO()
    image.save(into, "PNG", optimize=True)
    return into.getvalue()


def paper_of(query: Mapping[str, Any]) -> str:
    """The paper that is asked for: A4 unless it is Letter."""
    return "letter" if query.get("paper") == "letter" else "a4"


@dataclass(frozen=True, slots=True)
class SheetView:
    """All of a bench sheet that the board's page does not have."""

    paper: str
    paper_name: str
    made_by: User
    tools: list[str]
    cut_groups: list[CutGroup]
    procedures: list[WorkInstructions]
    templates: list[Template]
    rulers: list[RimRuler]


def sheet_view(board: BoardView, paper: str, by: User) -> SheetView:
    """What a bench sheet says of a plan beside what its board shows."""
    plan, shelf = board.state, board.shelf
    return SheetView(
        paper,
        PAPERS[paper],
        by,
        tools_of(plan.cut_from(shelf), plan.outline, plan.baseline.circumstances.handle)
        if plan.placed
        else [],
        cut_groups(plan, shelf),
        procedures_of(plan, shelf, number_writer(board.units)),
        templates(plan, shelf),
        rim_rulers(plan, shelf, board.units),
    )
