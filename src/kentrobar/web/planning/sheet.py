"""What is printed: the bench sheet of a plan, and the card of what a gram does."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.template.loader import render_to_string

STATIC = Path(__file__).resolve().parents[1] / "static"
PAPERS = {"a4": "A4", "letter": "Letter"}


def sheet_pdf(context: dict[str, Any]) -> bytes:
    """The PDF of a plan's bench sheet; ``context`` is that of the board with ``paper``."""
    return _pdf("planning/sheet.html", context)


def card_pdf(context: dict[str, Any]) -> bytes:
    """The PDF of what a gram does on one frame."""
    return _pdf("planning/gram_card.html", context)


def _pdf(template: str, context: dict[str, Any]) -> bytes:
    # Imported at the first sheet: it takes longer to load than all the rest of the application.
    from weasyprint import CSS, HTML
    from weasyprint.text.fonts import FontConfiguration

    fonts = FontConfiguration()
    drawing_style = (STATIC / "css" / "sheet-drawing.css").read_text()
    html = render_to_string(template, context | {"drawing_style": drawing_style})
    size = CSS(string=f"@page {{ size: {PAPERS[context['paper']]} portrait }}", font_config=fonts)
    style = CSS(filename=STATIC / "css" / "sheet.css", font_config=fonts)
    return HTML(string=html, base_url=STATIC.as_uri()).write_pdf(
        stylesheets=[style, size], font_config=fonts
    )
