"""What is printed: the bench sheet of a plan with its true-size strips, and the card of a gram."""

from __future__ import annotations

import atexit
import re
from collections.abc import Mapping
from functools import cache
from pathlib import Path
from threading import Lock
from typing import TYPE_CHECKING, Any

from django.template.loader import render_to_string

from kentrobar.core.bench.cut_list import CutGroup, cut_groups
from kentrobar.core.bench.instructions import procedures_of
from kentrobar.core.bench.steps import tools_of
from kentrobar.core.quantities.estimates import NotMeasured
from kentrobar.web.planning.paper.true_size import rim_rulers, templates
from kentrobar.web.planning.showing.steps import told_in

if TYPE_CHECKING:
    from weasyprint import CSS
    from weasyprint.text.fonts import FontConfiguration

STATIC = Path(__file__).resolve().parents[2] / "static"
STYLES = STATIC / "css"
PAPERS = {"a4": "A4", "letter": "Letter"}


def sheet_pdf(context: dict[str, Any], files: Mapping[str, str]) -> bytes:
    """The PDF of a plan's bench sheet, with files inside it by name.

    ``context`` is that of the board with ``paper``.
    """
    return printed("planning/sheet.html", context, files)


def card_pdf(context: dict[str, Any]) -> bytes:
    """The PDF of what a gram does on one frame."""
    return printed("planning/gram_card.html", context)


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


def printed(template: str, context: dict[str, Any], files: Mapping[str, str] | None = None) -> bytes:
    """A template as a PDF on ``context["paper"]``, with files inside it by name."""
    drawn = {"drawing_style": drawing_style(), "palette": paper_palette()}
    html = render_to_string(template, context | drawn)
    return _typeset(html, PAPERS[context["paper"]], files or {})


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


def paper_of(query: Mapping[str, Any]) -> str:
    """The paper that is asked for: A4 unless it is Letter."""
    return "letter" if query.get("paper") == "letter" else "a4"


def sheet_parts(context: Mapping[str, Any]) -> dict[str, Any]:
    """All of a bench sheet that the board's page does not have; ``context`` is that page's."""
    plan, shelf = context["laid"], context["shelf"]
    return {
        "tools": tools_of(plan.cut_from(shelf), plan.outline) if plan.laid else [],
        "cut_groups": [group_shown(group) for group in cut_groups(plan, shelf)],
        "procedures": procedures_of(plan, shelf, told_in(context["units"])),
        "templates": templates(plan, shelf),
        "rulers": rim_rulers(plan, shelf, context["units"]),
        "paper_name": PAPERS[context["paper"]],
    }


def group_shown(group: CutGroup) -> dict[str, Any]:
    """A group of the cut list; what is left of the tape only where it was counted."""
    left = None if isinstance(group.left_cm, NotMeasured) else group.left_cm
    return group._asdict() | {"left_cm": left}
