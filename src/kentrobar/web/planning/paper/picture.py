"""A plan as one picture to send: the drawing, the numbers before and after, and what is applied."""

from __future__ import annotations

from typing import Final

from django.template.loader import render_to_string

from kentrobar.web.kit.requests import context_of
from kentrobar.web.planning.board.context import BoardView
from kentrobar.web.planning.paper import sheet
from kentrobar.web.showing.drawing import small_drawing
from kentrobar.web.showing.pieces import piece_text

WIDTH: Final = 1200  # as shown; a PNG has half as many pixels again
DENSITY: Final = 1.5
MOST_PIECES: Final = 7
MARGIN: Final = 48
DRAWING_TOP: Final = 96
ROW: Final = 40
LINE: Final = 30
PX_PER_PT: Final = 4 / 3


def as_svg(board: BoardView, *, is_named: bool) -> str:
    """The picture as an SVG; the frame's label and the client's name are in it only where ``is_named``."""
    return render_to_string("planning/picture.svg", _context(board, is_named))


def as_png(board: BoardView, *, is_named: bool) -> bytes:
    """The picture as a PNG."""
    context = _context(board, is_named)
    drawn = {**context, "svg": render_to_string("planning/picture.svg", context)}
    made = sheet.printed("planning/picture.html", "a4", drawn)
    return sheet.painted(made, DENSITY * PX_PER_PT)


def _context(board: BoardView, is_named: bool) -> dict[str, object]:
    frame = board.frame
    drawing = small_drawing(
        board.state.pieces,
        frame.outline,
        board.state.prediction.after.balance_cm,
        "The frame with its pieces",
    )
    scale = (WIDTH - 2 * MARGIN) / drawing.backdrop.width
    table_top = DRAWING_TOP + scale * drawing.height + ROW
    rows = [card.row for card in board.cards if card.row.cell.before.value]
    texts = [piece_text(piece, frame, board.units) for piece in board.state.pieces]
    more = len(texts) - MOST_PIECES
    lines = [*texts[:MOST_PIECES], *([f"and {more} more"] if more > 0 else [])]
    pieces_top = table_top + ROW * (len(rows) + 1)
    return context_of(
        board,
        d=drawing,
        title=_title(board, is_named),
        drawing_height=scale * drawing.height,
        rows=[(table_top + ROW * (i + 1), row) for i, row in enumerate(rows)],
        lines=[(pieces_top + LINE * (i + 1), text) for i, text in enumerate(lines)],
        table_top=table_top,
        width=WIDTH,
        drawn_height=round(pieces_top + LINE * (len(lines) + 1) + MARGIN),
        drawing_style=sheet.drawing_style(),
        palette=sheet.paper_palette(),
    )


def _title(board: BoardView, is_named: bool) -> str:
    frame = board.frame
    if not is_named:
        return "Racket, before and after" if frame.is_racket else "Paddle, before and after"
    return " · ".join(filter(None, [frame.label, str(frame.player or ""), "before and after"]))
