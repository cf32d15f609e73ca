"""A plan as a page shows it: every number as text, every shape as a path.

``numbers`` and ``shapes`` are what moves while a hand drags; the page keeps the rest.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from types import MappingProxyType
from typing import Final, TypedDict

from kentrobar.core.body.specs import (
    BALANCE,
    POINTS,
    RECOIL_WEIGHT,
    STATIC_WEIGHT,
    SWING_WEIGHT,
    TWIST_WEIGHT,
    Specs,
)
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing import removal
from kentrobar.core.editing.balancing import hold_balance, without_counterweight
from kentrobar.core.editing.grip_size import grip_change_mm
from kentrobar.core.editing.plan import PlanPiece, PlanState, PlanWarning
from kentrobar.core.editing.shelf import Shelf, Stock
from kentrobar.core.frame.clock import clock_text
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.rim import RimLine, RimPoint
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.quantities.estimates import Quantity
from kentrobar.core.quantities.units import POINTS_UNIT
from kentrobar.core.solving.chance import chance_within
from kentrobar.core.weight.builds import Fitting, FittingKind
from kentrobar.core.weight.further import FurtherPrediction
from kentrobar.core.weight.grip import grip_size_text, sold_size_text
from kentrobar.core.weight.materials import Form
from kentrobar.core.weight.pieces import Piece, RimStrip
from kentrobar.core.weight.prediction import Prediction
from kentrobar.web.kit.numbers import (
    ShownSpec,
    Units,
    chance_text,
    further_specs,
    grip_change_text,
    shown_specs,
    written,
)
from kentrobar.web.kit.spec_rows import ReferenceStrip, SpecRow, TargetText, cell_of, row_of
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.showing import drawing
from kentrobar.web.showing.pieces import CutWords, cut_words, face_choices

STARTING_STRIP = {"cm": "10 cm", "mm": "100 mm", "in": "4 in"}
STARTING_PUTTY = {"g": "3 g", "oz": "0.1 oz"}
CUTTING_STEPS = {"cm": ("0.5", "cm"), "mm": ("5", "mm"), "in": ("0.25", "in")}
# An aim to type at a spec, by its unit: a change with its sign.
AIM_EXAMPLES: Final[Mapping[str, Mapping[str, str]]] = MappingProxyType(
    {
        STATIC_WEIGHT.key: {"g": "+3", "oz": "+0.1"},
        BALANCE.key: {"mm": "−2", "cm": "−0.2", "in": "−0.1"},
        POINTS.key: {POINTS_UNIT: "+1"},
        SWING_WEIGHT.key: {"kg·cm²": "+5", "oz·in²": "+25"},
        TWIST_WEIGHT.key: {"kg·cm²": "+0.5", "oz·in²": "+3"},
        RECOIL_WEIGHT.key: {"kg·cm²": "+3", "oz·in²": "+15"},
    }
)
TRIMMED: Final = (FittingKind.BUMPER, FittingKind.GUARD, FittingKind.GROMMETS)


def spec_rows(
    plan: PlanState, units: Units, strips: Mapping[str, ReferenceStrip] = MappingProxyType({})
) -> list[SpecRow]:
    """Each spec before, after and by how much it changes, its target, and where it comes to stand."""
    shown_of: Iterable[tuple[ShownSpec, Prediction | FurtherPrediction]] = (
        *((spec, plan.prediction) for spec in shown_specs(units)),
        *((spec, plan.further) for spec in further_specs(units)),
    )
    return [
        row_of(
            spec,
            cell_of(spec, of.before, of.after, of.change, units, strip=strips.get(spec.key)),
            axis=units.axis_text(plan.axis_cm),
            target=target_of(plan, spec, units),
            missing=_missing(getattr(of.after, spec.key), getattr(of.change, spec.key)),
        )
        for spec, of in shown_of
    ]


def target_of(plan: PlanState, spec: ShownSpec, units: Units) -> TargetText | None:
    """The band that a spec is to come to lie in, and whether it does; None where it is free."""
    band = plan.target.bands.get(spec.read_key)
    if band is None:
        return _change_wanted(plan, spec)
    low, high = band
    length, is_within, off = plan.outline.length_cm, *_held_against(band, plan.outcome.after, spec)
    if low <= 0:
        return TargetText(f"at most {spec.of_length(high, length)}", "", is_within, off)
    is_other = spec.key == SWING_WEIGHT.key and plan.target.axis_cm != plan.axis_cm
    about = f" about {units.axis_text(plan.target.axis_cm)}" if is_other else ""
    centre, half = spec.of_length((low + high) / 2, length), spec.width((high - low) / 2)
    return TargetText(centre, half, is_within, off, about)


def _held_against(band: tuple[float, float], specs: Specs, spec: ShownSpec) -> tuple[bool | None, str]:
    """Whether a spec lies in its band, None where it is not known, and by how much it does not."""
    low, high = band
    quantity = getattr(specs, spec.read_key)
    if not quantity:
        return None, ""
    missed = min(quantity.value - low, 0.0) + max(quantity.value - high, 0.0)
    return abs(missed) < 1e-6, spec.moved(missed) if missed else ""


def _change_wanted(plan: PlanState, spec: ShownSpec) -> TargetText | None:
    """How far a spec that nobody read is to move, and whether it does; None where it is free."""
    band = plan.target.changes.get(spec.read_key)
    if band is None:
        return None
    low, high = band
    is_within, off = _held_against(band, plan.outcome.change, spec)
    return TargetText(
        f"{spec.moved((low + high) / 2)} {spec.unit}", spec.width((high - low) / 2), is_within, off
    )


def chance_of(plan: PlanState) -> str:
    """The chance that all that is aimed at truly comes to lie within its band; empty without a target."""
    target = plan.target
    return chance_text(chance_within(plan.outcome, target.bands, target.changes)) if target else ""


def numbers(plan: PlanState, units: Units, moved: int = 0) -> dict[str, str]:
    """Every number of the board by the name of its place on the page.

    Where one piece alone has ``moved``, what stays as it was of the others is left out.
    """
    shown = piece_numbers(plan, units, moved)
    for row in spec_rows(plan, units):
        shown |= _by_place(row)
    chance = chance_of(plan)
    shown["ceiling"] = ceiling_text(plan, units)
    return shown | ({"chance": chance} if chance else {})


def piece_numbers(plan: PlanState, units: Units, moved: int = 0) -> dict[str, str]:
    """Those of the pieces alone."""
    shown: dict[str, str] = {}
    for placed, share in zip(plan.placed, plan.shares, strict=True):
        n = placed.number
        shown[f"percent-{n}"] = f"{100 * share.share:.0f} %"
        if moved in (0, n):
            shown[f"lever-{n}"] = units.lengths.text(share.lever_cm)
            shown[f"share-{n}"] = written(share.swingweight_kgcm2, 2, signed=True)
            shown[f"mass-{n}"] = units.piece_mass_text(placed.piece.total_mass_g)
            shown[f"place-{n}"] = placed.piece.place(plan.outline, units.lengths)
    return shown


def _by_place(row: SpecRow) -> dict[str, str]:
    key, cell = row.key, row.cell
    shown: dict[str, str] = {}
    for part, text in (("before", cell.before), ("after", cell.now), ("change", cell.change)):
        shown |= {f"{key}-{part}": text.value, f"{key}-{part}-u": text.u}
        if key in (BALANCE.key, POINTS.key):
            shown[f"beside-{part}"] = text.beside
    shown |= {f"{key}-percent": cell.percent, f"{key}-missing": row.missing}
    return shown | ({f"{key}-within": row.target.words} if row.target else {})


def _missing(after: Quantity, change: Quantity) -> str:
    """What would make an unknown spec known; its change may be known all the same."""
    if after:
        return ""
    known = "The change needs no reading. " if change else ""
    return f"{known}Measure {after.missing} to see before and after."


class Shapes(TypedDict):
    """Paths of the pieces (or of one), fulcrum, and lever ends, by the number of their piece."""

    paths: dict[str, list[str]]
    levers: dict[str, float]
    fulcrum: str


def shapes(plan: PlanState, only: int = 0) -> Shapes:
    """What the drawing moves while a hand drags; of one piece alone its paths."""
    levers = {
        str(placed.number): drawing.x_mm(share.y_cm)
        for placed, share in zip(plan.placed, plan.shares, strict=True)
    }
    paths = {
        str(placed.number): drawing.drawn_paths(placed.piece, plan.outline)
        for placed in plan.placed
        if only in (0, placed.number)
    }
    return {"paths": paths, "levers": levers, "fulcrum": fulcrum(plan, plan.prediction.after)}


class Ghost(TypedDict):
    """A piece that is not placed yet: its shapes, and what it would add, in words."""

    paths: list[str]
    text: str


def ghost(plan: PlanState, units: Units) -> Ghost:
    """The last piece of a plan as it would be placed."""
    last = plan.placed[-1]
    number, texts = last.number, piece_numbers(plan, units, last.number)
    mass = f"+{units.piece_mass_text(last.piece.total_mass_g)} {units.mass}"
    swing = f"swing weight {texts[f'share-{number}']}"
    said = [mass, swing, ceiling_text(plan, units)]
    return Ghost(
        paths=drawing.drawn_paths(last.piece, plan.outline), text=" · ".join(each for each in said if each)
    )


def fulcrum(plan: PlanState, specs: Specs) -> str:
    """The fulcrum's corners under the balance point of these specs; empty where that is unknown."""
    x = drawing.fulcrum_x(specs.balance_cm)
    return "" if x is None else drawing.fulcrum_points(x, drawing.backdrop_of(plan.outline).fulcrum_y)


@dataclass(frozen=True, slots=True)
class SpecCard:
    """A spec's card on the board: its row, and an aim to type as an example."""

    row: SpecRow
    aim_example: str


def cards_of(rows: Iterable[SpecRow]) -> list[SpecCard]:
    """The cards of the specs, in the order of the work."""
    return [SpecCard(row, AIM_EXAMPLES.get(row.key, {}).get(row.unit, "")) for row in rows]


@dataclass(frozen=True, slots=True)
class ListedPlan:
    """One plan's row in the list: by how much it changes the specs, empty where that is not known."""

    plan: Plan
    changes: list[str]


def listed(plan: Plan, units: Units) -> ListedPlan:
    """A plan as its row in the list tells it."""
    change = plan_state(plan).prediction.change
    shown_of = {
        spec.read_key: (f"{spec.change(by)} {spec.unit}" if (by := getattr(change, spec.key)) else "")
        for spec in shown_specs(units)
    }
    return ListedPlan(plan, [shown_of[spec.key] for spec in (STATIC_WEIGHT, BALANCE, SWING_WEIGHT)])


def taken_text(count: int) -> str:
    """What was taken off the shelf, by the number of materials."""
    if not count:
        return "None of this plan's materials is counted. Enter your stock to keep count."
    return f"Deducted from stock: {count} material{'s' if count != 1 else ''}."


# -- the tray and the panels ----------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class TrayMaterial:
    """A material of the tray with an amount to start from."""

    pk: int
    name: str
    form: str
    amount_text: str
    caution: str
    look: str


def offered(materials: Iterable[Material], units: Units) -> list[TrayMaterial]:
    """The materials of the tray, each with an amount to start from: small steps first."""
    return [
        TrayMaterial(m.pk, m.name, m.form.value, _starting_amount(m, units), m.caution, m.look)
        for m in materials
    ]


def _starting_amount(material: Material, units: Units) -> str:
    if material.form is Form.TAPE:
        return STARTING_STRIP[units.length]
    if material.each_g:
        return f"{units.mass_text(material.each_g)} {units.mass}"
    return STARTING_PUTTY[units.mass]


@dataclass(frozen=True, slots=True)
class ShownWarning:
    """What speaks against a piece, and what would put it right."""

    number: int
    code: str
    message: str
    is_refusal: bool
    is_overruled: bool
    fixes: list[str]


def warnings_shown(standings: Iterable[PlanWarning]) -> list[ShownWarning]:
    """What speaks against the pieces, refusals first; what was set aside last."""
    order = sorted(standings, key=lambda s: (s.is_overruled, not s.warning.is_refusal, s.number))
    return [
        ShownWarning(
            number=of_piece.number,
            code=of_piece.warning.code,
            message=of_piece.warning.message,
            is_refusal=of_piece.warning.is_refusal,
            is_overruled=of_piece.is_overruled,
            fixes=[fix.label for fix in of_piece.warning.fixes],
        )
        for of_piece in order
    ]


def ceiling_text(plan: PlanState, units: Units) -> str:
    """That a plan makes the frame heavier than it may be; empty where it does not."""
    over_g, ceiling_g = plan.above_ceiling_g, plan.baseline.ceiling_g
    if not over_g:
        return ""
    over, most = (f"{units.mass_text(each)} {units.mass}" for each in (over_g, ceiling_g))
    return f"{over} above this frame’s ceiling of {most} in this setup. Remove weight, or raise the ceiling."


def said_text(plan: Plan) -> str:
    """What was done to a plan last, as a sentence for the undo beside it."""
    latest = plan.revisions.order_by("-number").values_list("summary", flat=True).first() or ""
    return latest[:1].upper() + latest[1:]


def spoken_text(cards: Iterable[SpecCard]) -> str:
    """The specs after a change, as a reader of the screen says them."""
    return "; ".join(
        f"{card.row.name} {card.row.cell.now.value} {card.row.unit}, change {card.row.cell.change.value}"
        for card in cards
        if card.row.cell.now.value
    )


def amount_examples(units: Units) -> str:
    """What may be typed as an amount, by example."""
    strips = {"cm": "4 × 10 cm", "mm": "4 × 100 mm", "in": "4 × 2 in"}[units.length]
    a_side = {"g": "2 g a side", "oz": "0.15 oz a side"}[units.mass]
    return f"“{strips}”, “{a_side}”"


def hold_text(plan: PlanState, units: Units) -> str:
    """What it costs to hold the balance, before anybody asks for it."""
    rest = without_counterweight(plan)
    try:
        found = hold_balance(rest)
    except KentrobarError as error:
        return error.message
    before = rest.prediction.after.mass_g
    after = before.value + found.mass_g if before else found.mass_g
    return (
        f"It takes {units.mass_text(found.mass_g)} {units.mass} {found.where}: static weight "
        f"{units.mass_text(after)} {units.mass}."
    )


def completion_starts(units: Units) -> dict[str, str]:
    """What stands in the fields of the completions to start with."""
    return {
        "shift": {"cm": "−0.3 cm", "mm": "−3 mm", "in": "−0.1 in"}[units.length],
        "heft": {"g": "5 g", "oz": "0.2 oz"}[units.mass],
        "step": " ".join(CUTTING_STEPS[units.length]),
        "cut": {"cm": "6 cm", "mm": "60 mm", "in": "2 3/8 in"}[units.length],
        "weighed": {"g": "0.9 g", "oz": "0.03 oz"}[units.mass],
        "trim": {"cm": "2 cm", "mm": "20 mm", "in": "0.75 in"}[units.length],
    }


@dataclass(frozen=True, slots=True)
class ShownFitting:
    """Something fitted that could go or make way, for what, with what that costs."""

    key: int
    label: str
    mass: str
    cost: str
    is_trimmed: bool
    is_strings: bool
    is_exchanged: bool
    others: list[tuple[int, str]]
    can_come_off: bool
    other_mass: str
    pattern: str


def removals(plan: PlanState, accessories: Mapping[int, Fitting], units: Units) -> list[ShownFitting]:
    """What is fitted and could go or make way."""

    def mass_text(grams: float) -> str:
        return f"{units.mass_text(grams)} {units.mass}"

    return [
        ShownFitting(
            key=fitting.key,
            label=fitting.label,
            mass=mass_text(fitting.mass_g.value),
            cost=removal.COSTS.get(fitting.kind, ""),
            is_trimmed=fitting.kind in TRIMMED,
            is_strings=fitting.kind is FittingKind.STRINGS,
            is_exchanged=fitting.kind in removal.EXCHANGED,
            others=[
                (key, f"{other.label}, {mass_text(other.mass_g.value)}")
                for key, other in accessories.items()
                if removal.takes_place_of(other.kind, fitting.kind)
            ],
            can_come_off=removal.can_come_off(fitting),
            other_mass=mass_text(0.8 * fitting.mass_g.value),
            pattern=f"{fitting.mains} × {fitting.crosses}" if fitting.mains else "16 × 19",
        )
        for fitting in plan.baseline.fitted
    ]


def grip_text(plan: PlanState, shelf: Shelf, accessories: Mapping[int, Fitting], units: Units) -> str:
    """What the plan does to the size of the grip; empty where it leaves it alone."""
    change = grip_change_mm(plan, shelf, accessories)
    if change is None:
        return ""
    now_mm = plan.baseline.circumstances.grip_mm
    size = f"; {grip_size_text(now_mm)} becomes {sold_size_text(now_mm + change.value)}" if now_mm else ""
    return grip_change_text(change, units) + size


# -- the table of pieces --------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class StripBoxes:
    """What can be typed of a strip of the rim alone."""

    at_centre_line: bool
    gap_value: str
    layers: int
    can_be_on_both_faces: bool


@dataclass(frozen=True, slots=True)
class StockNote:
    """What the shelf says of a piece's material: a present weight that differs, a caution."""

    is_lead: bool = False
    density_value: str = ""
    shelf_density: str = ""
    material_id: int | None = None


@dataclass(frozen=True, slots=True)
class PieceRow:
    """A row of the table of pieces, with what can be typed in it, and its mark on the drawing."""

    number: int
    piece: Piece
    name: str
    strip: StripBoxes | None
    faces: list[tuple[str, str]]
    lever: str
    share: str
    percent: str
    total: str
    place: str
    place_value: str
    length_value: str
    mass_value: str
    cut: CutWords
    stock: StockNote
    row_y: float
    paths: list[str]
    lever_x: float
    anchor: RimPoint
    has_bevels: bool

    @property
    def can_mirror(self) -> bool:
        """Whether it may lie on both sides."""
        return self.piece.can_be_pair

    @property
    def mirrored(self) -> bool:
        """Whether it lies on both sides."""
        return self.piece.sides > 1


def rows(plan: PlanState, units: Units, shelf: Shelf) -> list[PieceRow]:
    """The rows of the table of pieces."""
    heights = drawing.lever_rows(drawing.backdrop_of(plan.outline), len(plan.placed))
    ends, texts = shapes(plan), piece_numbers(plan, units)
    return [
        _row(plan.outline, units, texts, placed, shelf, row_y, ends)
        for placed, row_y in zip(plan.placed, heights, strict=True)
    ]


def _row(
    outline: Outline,
    units: Units,
    texts: dict[str, str],
    placed: PlanPiece,
    shelf: Shelf,
    row_y: float,
    ends: Shapes,
) -> PieceRow:
    n, piece, strip = placed.number, placed.piece, placed.piece.as_strip
    stock = shelf.of(piece)
    return PieceRow(
        number=n,
        piece=piece,
        name=piece.material or piece.label or "piece",
        strip=_strip_boxes(strip, outline, units) if strip else None,
        faces=face_choices(outline),
        lever=texts[f"lever-{n}"],
        share=texts[f"share-{n}"],
        percent=texts[f"percent-{n}"],
        total=texts[f"mass-{n}"],
        place=texts[f"place-{n}"],
        place_value=_place_value(piece, strip, outline, units),
        length_value=units.length_text(piece.extent_cm) if piece.extent_cm else "",
        mass_value=units.piece_mass_text(piece.one_mass_g),
        cut=cut_words(piece, outline, units),
        stock=_stock_note(piece, stock, units),
        row_y=row_y,
        paths=ends["paths"][str(n)],
        lever_x=ends["levers"][str(n)],
        anchor=piece.anchor(outline),
        has_bevels=bool(piece.bevels and stock and stock.is_tape),
    )


def _strip_boxes(strip: RimStrip, outline: Outline, units: Units) -> StripBoxes:
    return StripBoxes(
        strip.starts_at_centre_line(outline),
        units.length_text(strip.gap_cm),
        strip.layers,
        outline.sport is Sport.TENNIS,
    )


def _place_value(piece: Piece, strip: RimStrip | None, outline: Outline, units: Units) -> str:
    """What stands in the place's field: nothing where nobody chooses it."""
    if not piece.has_place:
        return ""
    if strip is not None:
        line = outline.rim(strip.face)
        return _rim_place(outline, units, line, line.wrap(strip.at.arc_length(line)))
    start, end = piece.ends(outline)
    return units.length_text((start + end) / 2)


def _rim_place(outline: Outline, units: Units, line: RimLine, s: float) -> str:
    """The clock, or on a paddle's side the distance from the butt.

    Along a paddle's top edge the distance says nothing, so the clock stands there too.
    """
    is_top = abs(line.point(abs(s)).y - line.point(0.0).y) < 0.1
    if outline.sport is Sport.TENNIS or is_top:
        return clock_text(line.clock_at(s))
    return units.lengths.text(line.point(s).y)


def _stock_note(piece: Piece, stock: Stock | None, units: Units) -> StockNote:
    note = StockNote(bool(stock and stock.facts.is_lead))
    density = piece.density
    if not density:
        return note
    note = replace(note, density_value=units.line_density_text(density.value))
    if stock and stock.density.value and abs(stock.density.value - density.value) > 1e-6:
        return replace(
            note, shelf_density=units.line_density_text(stock.density.value), material_id=stock.key
        )
    return note
