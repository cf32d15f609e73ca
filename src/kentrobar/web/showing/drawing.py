"""The drawing of a board: the frame along the screen, butt left, at 1 unit a millimetre.

The frame's right side (3:00) lies below its long axis, its left side above.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache

from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.circumstances import Circumstances, keep_outs
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.rim import Face, RimPoint
from kentrobar.core.frame.silhouette import Path, silhouette_of, wall_between
from kentrobar.core.frame.sites import Site, sites_of
from kentrobar.core.quantities.estimates import Quantity
from kentrobar.core.quantities.units import CM_PER_IN, MM_PER_CM
from kentrobar.core.weight.pieces import Piece

MARGIN_MM = 28.0  # "0 cm" stands beside the rule
ABOVE_MM = 18.0
RULE_GAP_MM = 27.0  # the hour 3 stands between frame and rule
RULE_HEIGHT_MM = 15.0
FULCRUM_MM = 13.0
LEVER_ROW_MM = 13.0  # a line, and its text above it, clear of the line before
LEAST_HALF_WIDTH_MM = 62.0
AXIS_HALF_MM = 48.0
CLEAR_OF_RULE_MM = 11.0
LEAST_WIDTH_MM = 620.0  # keeps a paddle from filling more than the screen's height


@dataclass(frozen=True)
class Tick:
    x: float
    height: float
    label: str = ""


@dataclass(frozen=True)
class Label:
    """A faint label: a clock position or a site."""

    x: float
    y: float
    label: str
    key: str = ""


@dataclass(frozen=True)
class Backdrop:
    """All of the drawing that a change of pieces leaves as it is."""

    width: float
    middle: float
    rule_y: float
    body: list[str]
    opening: str
    handle: str
    strings: str
    centimetres: list[Tick]
    inches: list[Tick]
    clock: list[Label]
    sites: list[Label]
    rule_left: float
    rule_right: float

    @property
    def end(self) -> float:
        """Where the drawing could end: beside the tip, as far as it begins before the butt."""
        return round(self.rule_right + MARGIN_MM, 1)

    @property
    def fulcrum_y(self) -> float:
        return self.rule_y + RULE_HEIGHT_MM

    @property
    def levers_y(self) -> float:
        return self.fulcrum_y + FULCRUM_MM + 8

    @property
    def lever_y(self) -> float:
        """The one row of levers on a screen: that of the selected piece."""
        return round(self.levers_y + LEVER_ROW_MM / 2, 1)

    @property
    def screen_height(self) -> float:
        """The height on a screen, where one lever at a time is shown."""
        return self.height(1)

    def height(self, pieces: int) -> float:
        return round(self.levers_y + LEVER_ROW_MM * pieces + 4, 1)


def x_mm(y_cm: float) -> float:
    """Where a distance from the butt lies along the screen."""
    return round(MARGIN_MM + MM_PER_CM * y_cm, 2)


def _path(points: Path, middle: float, closed: bool) -> str:
    steps = " ".join(f"{x_mm(y):.1f} {middle + MM_PER_CM * x:.1f}" for x, y in points)
    return f"M{steps}{'Z' if closed else ''}"


def both_sides(shape: Path, middle: float) -> list[str]:
    """A closed shape of the right side and its mirror image; one path where it lies on the axis."""
    image = [RimPoint(-x, y) for x, y in shape]
    is_on_axis = abs(min(x for x, _ in shape) + max(x for x, _ in shape)) < 1e-9
    return [_path(each, middle, True) for each in ([shape] if is_on_axis else [shape, image])]


def middle_of(outline: Outline) -> float:
    rim = outline.rim(Face.OUTER)
    widest = max(point.x for point in rim.polyline(0.0, rim.half_length, 1.0))
    return round(ABOVE_MM + max(widest * MM_PER_CM, LEAST_HALF_WIDTH_MM), 1)


@lru_cache(maxsize=256)
def backdrop_of(outline: Outline) -> Backdrop:
    """The drawing of a frame without its pieces."""
    shapes = silhouette_of(outline)
    middle = middle_of(outline)
    rule_y = round(2 * middle - ABOVE_MM + RULE_GAP_MM, 1)
    return Backdrop(
        width=max(round(2 * MARGIN_MM + MM_PER_CM * outline.length_cm, 1), LEAST_WIDTH_MM),
        middle=middle,
        rule_y=rule_y,
        body=[_path(shape, middle, True) for shape in shapes.body],
        opening=_path(shapes.opening, middle, True) if shapes.opening else "",
        handle=_path(shapes.handle, middle, True),
        strings=" ".join(_path(line, middle, False) for line in shapes.strings),
        centimetres=_ticks(outline.length_cm, 1.0, 5, 10),
        inches=_ticks(outline.length_cm, CM_PER_IN, 1, 2),
        clock=_clock_labels(outline, middle),
        sites=[label for site in sites_of(outline) for label in _site_labels(site, middle)],
        rule_left=x_mm(0.0),
        rule_right=x_mm(outline.length_cm),
    )


def _ticks(length_cm: float, step_cm: float, longer: int, labelled: int) -> list[Tick]:
    ticks = []
    for count in range(int(length_cm / step_cm) + 1):
        label = str(count) if count % labelled == 0 else ""
        ticks.append(Tick(x_mm(count * step_cm), 4.0 if count % longer == 0 else 2.2, label))
    return ticks


def _clock_labels(outline: Outline, middle: float) -> list[Label]:
    """Hours round a hoop; a paddle shows its sites instead."""
    if outline.sport is not Sport.TENNIS:
        return []
    rim = outline.rim(Face.OUTER)
    labels = []
    for hour in range(12):
        point = rim.point(rim.at_clock(hour * 60.0))
        dx, dy = point.x, point.y - outline.centre_y_cm
        away = 1 + 1.25 / (dx**2 + dy**2) ** 0.5
        x, y = dx * away, outline.centre_y_cm + dy * away
        labels.append(Label(x_mm(y), round(middle + MM_PER_CM * x, 2), str(hour or 12)))
    return labels


def _site_labels(site: Site, middle: float) -> list[Label]:
    """One mark, or one on each side where the site is two places."""
    x, across = x_mm(site.y_cm), MM_PER_CM * site.x_cm
    sides = (1, -1) if site.mirrored else (1,)
    return [Label(x, round(middle + side * across, 2), site.label, site.key) for side in sides]


@dataclass(frozen=True)
class KeepOutShown:
    """A stretch of rim to keep clear, as a closed path, and why."""

    d: str
    reason: str


@lru_cache(maxsize=256)
def keep_outs_shown(outline: Outline, circumstances: Circumstances) -> list[KeepOutShown]:
    """Tie-off holes and the stringing machine's posts, where nothing should lie."""
    middle = backdrop_of(outline).middle
    return [
        KeepOutShown(_path(wall_between(outline, out.start, out.end), middle, True), out.name)
        for out in keep_outs(circumstances, outline, Face.INNER)
    ]


def drawn_paths(piece: Piece, outline: Outline) -> list[str]:
    """The piece's shapes as SVG paths, one a body."""
    middle = backdrop_of(outline).middle
    return [_path(shape, middle, not piece.is_line) for shape in piece.paths(outline)]


@dataclass(frozen=True)
class DrawnPiece:
    """A piece as a drawing shows it that nobody takes hold of."""

    removed: bool
    is_strip: bool
    paths: list[str]


def drawn(pieces: Iterable[Piece], outline: Outline) -> list[DrawnPiece]:
    """Pieces as they are drawn on a frame."""
    return [DrawnPiece(piece.removed, piece.is_line, drawn_paths(piece, outline)) for piece in pieces]


@dataclass(frozen=True)
class SmallDrawing:
    """A plan in small: the frame with its pieces over a line, and where it balances."""

    label: str
    backdrop: Backdrop
    height: float
    fulcrum: str
    pieces: list[DrawnPiece]


def small_drawing(
    pieces: Iterable[Piece], outline: Outline, balance_cm: Quantity, label: str
) -> SmallDrawing:
    """Pieces on a frame in small; no fulcrum where the balance is not known."""
    backdrop = backdrop_of(outline)
    x = fulcrum_x(balance_cm)
    return SmallDrawing(
        label=label,
        backdrop=backdrop,
        height=backdrop.fulcrum_y + FULCRUM_MM + 2,
        fulcrum="" if x is None else fulcrum_points(x, backdrop.fulcrum_y),
        pieces=drawn(pieces, outline),
    )


CLOSE_UP_MARGIN_MM = 22.0
LEAST_CLOSE_UP_MM = 110.0
CLOSE_UP_SHAPE = 0.5  # height to width


@dataclass(frozen=True)
class CloseUp:
    """A stretch of the frame round one piece: the part of the drawing that is shown, the piece, what is beside it."""

    label: str
    view_box: str
    backdrop: Backdrop
    keep_outs: list[KeepOutShown]
    piece: DrawnPiece
    others: list[DrawnPiece]


def close_up(
    piece: Piece, outline: Outline, circumstances: Circumstances, others: Iterable[Piece], label: str
) -> CloseUp:
    """The part of a frame's drawing round a piece; of a pair the one on the right."""
    middle = backdrop_of(outline).middle
    points = [(x_mm(y), middle + MM_PER_CM * x) for x, y in piece.paths(outline)[0]]
    (left, right), (top, bottom) = ((min(values), max(values)) for values in zip(*points, strict=True))
    width = max(right - left, (bottom - top) / CLOSE_UP_SHAPE) + 2 * CLOSE_UP_MARGIN_MM
    width = max(width, LEAST_CLOSE_UP_MM)
    height = CLOSE_UP_SHAPE * width
    start_x, start_y = (left + right - width) / 2, (top + bottom - height) / 2
    return CloseUp(
        label=label,
        view_box=f"{start_x:.1f} {start_y:.1f} {width:.1f} {height:.1f}",
        backdrop=backdrop_of(outline),
        keep_outs=keep_outs_shown(outline, circumstances),
        piece=drawn([piece], outline)[0],
        others=drawn(others, outline),
    )


def fulcrum_x(balance_cm: Quantity) -> float | None:
    return x_mm(balance_cm.value) if balance_cm else None


def fulcrum_points(x: float, y: float) -> str:
    """A triangle with its tip at (x, y)."""
    return f"{x} {y} {x + 7} {y + FULCRUM_MM} {x - 7} {y + FULCRUM_MM}"


def lever_rows(backdrop: Backdrop, count: int) -> Iterable[float]:
    """The height of each lever's row."""
    return (round(backdrop.levers_y + LEVER_ROW_MM * (i + 0.75), 1) for i in range(count))
