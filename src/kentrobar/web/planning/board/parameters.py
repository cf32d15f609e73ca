"""Reading what the page sends with an action: places, amounts, flags, in the person's units.

What cannot be read raises an error of the rules with the field's name and a sentence for the person.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from types import MappingProxyType
from typing import Any

from kentrobar.core.editing.goal_seek import By, Want
from kentrobar.core.editing.placing import AtPoint, AtSite, ClockPosition, HeightPosition, Order, Share, Spot
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.removal import CutAmount, in_place_of
from kentrobar.core.editing.shelf import Shelf, Stock
from kentrobar.core.editing.violation_handling import Override
from kentrobar.core.frame.clock import parse_clock
from kentrobar.core.frame.places import ClockPlace, Toward
from kentrobar.core.frame.rim import Face
from kentrobar.core.frame.sites import Site, find_site
from kentrobar.core.quantities.errors import PieceError, UnitError
from kentrobar.core.quantities.estimates import NOT_MEASURED, Estimate, NotMeasured, Quantity
from kentrobar.core.quantities.units import (
    LENGTH,
    LINE_DENSITY,
    MASS,
    MM_PER_CM,
    Dimension,
    is_signed,
    parse_number,
    parse_quantity,
)
from kentrobar.core.weight.builds import Fitting
from kentrobar.core.weight.pieces import WEIGHED_U_G
from kentrobar.core.weight.strings import STRING_DENSITIES, strings_weight
from kentrobar.web.kit.numbers import Units, shown_specs
from kentrobar.web.kit.requests import read_count

LONGEST_CODE = 30
FARTHEST_CM = 200.0  # of a place that a page works out itself


@dataclass(frozen=True)
class ActionRequest:
    """What was asked for: of which plan, with which parameters, by whom.

    ``units`` are those the person types in; shelf and accessories are asked for only when they are needed.
    """

    plan: PlanState
    parameters: Mapping[str, str]
    units: Units
    take_shelf: Callable[[], Shelf]
    take_accessories: Callable[[], Mapping[int, Fitting]] = dict

    @cached_property
    def shelf(self) -> Shelf:
        return self.take_shelf()

    @cached_property
    def accessories(self) -> Mapping[int, Fitting]:
        """What the shop has to fit, by key."""
        return self.take_accessories()

    def text(self, name: str) -> str:
        return self.parameters.get(name, "").strip()


Reader = Callable[[ActionRequest], Any]


def shelf(request: ActionRequest) -> Shelf:
    """The shop's shelf."""
    return request.shelf


def number(name: str) -> Reader:
    """A key or a piece's number; 0, which nothing has, where there is none."""
    return lambda request: read_count(request.text(name))


def choice(name: str) -> Reader:
    """Which of several; -1 where none is chosen."""
    return lambda request: read_count(request.text(name), without=-1)


def coordinate(name: str) -> Callable[[ActionRequest], float]:
    """A number that the page worked out itself, such as a place in cm."""

    def read(request: ActionRequest) -> float:
        try:
            value = float(request.text(name))
        except ValueError:
            value = float("nan")
        if not abs(value) <= FARTHEST_CM:
            raise PieceError("This page is out of date. Reload it.", code="bad_place")
        return value

    return read


def steps(request: ActionRequest) -> int:
    """How many steps to grow by, to either side of 0."""
    return round(coordinate("steps")(request))


def toward(request: ActionRequest) -> Toward:
    """The direction of an arrow key."""
    try:
        return Toward(request.text("toward"))
    except ValueError:
        raise PieceError("This page is out of date. Reload it.", code="bad_direction") from None


def text(name: str) -> Reader:
    """What was typed, without the blanks round it."""
    return lambda request: request.text(name)


def code(request: ActionRequest) -> str:
    """The code of a rule."""
    return request.text("code")[:LONGEST_CODE]


def flag(name: str) -> Reader:
    """Whether a box was ticked."""
    return lambda request: request.text(name) in ("1", "true", "on")


def constant(value: Any) -> Reader:
    """Not read at all: the same each time."""
    return lambda _request: value


# -- typed quantities -----------------------------------------------------------------------


def _quantity(typed: str, dimension: Dimension, unit: str, field: str) -> float:
    """A typed quantity in the base unit; errors name ``field``."""
    try:
        value, unit = parse_quantity(typed, dimension, unit)
    except UnitError as error:
        raise UnitError(error.message, code=error.code, field=field) from None
    return dimension.to_base(value, unit)


def length(name: str, field: str = "") -> Callable[[ActionRequest], float]:
    """A typed length, cm."""
    return lambda request: _quantity(request.text(name), LENGTH, request.units.length, field or name)


def mass(name: str, field: str = "") -> Callable[[ActionRequest], float]:
    """A typed weight, g."""
    return lambda request: _quantity(request.text(name), MASS, request.units.mass, field or name)


def density(name: str, field: str = "") -> Callable[[ActionRequest], float]:
    """A typed weight per length, g/cm."""
    return lambda request: _quantity(
        request.text(name), LINE_DENSITY, request.units.line_density, field or name
    )


def layers(name: str) -> Callable[[ActionRequest], int]:
    """How many layers: one unless another number is typed; 0, which no strip has, where it is none."""
    return lambda request: read_count(request.text(name) or "1")


def want(request: ActionRequest) -> Want:
    """An aim typed at a spec: "322", or with its sign by how much it changes, "+5"."""
    named, typed = request.text("spec"), request.text("value")
    spec = next((s for s in shown_specs(request.units) if s.key == named), None)
    if spec is None:
        raise UnitError("This page is out of date. Reload it.", code="no_spec", field="aim")
    try:
        value = spec.read(typed)
    except UnitError as error:
        raise UnitError(error.message, code=error.code, field="aim") from None
    return Want(spec.key, value, is_signed(typed))


def by(request: ActionRequest) -> By:
    """Whether the piece grows or moves."""
    return By.PLACE if request.text("by") == By.PLACE else By.AMOUNT


def face(name: str) -> Callable[[ActionRequest], Face]:
    """A face that the frame has; the usual one where none is named."""

    def read(request: ActionRequest) -> Face:
        outline = request.plan.outline
        named = request.text(name)
        if named and named not in outline.faces:
            if named in set(Face):
                outline.rim(Face(named))  # says which faces there are
            raise PieceError("Choose a face from the list.", code="no_such_face", field="face")
        return Face(named) if named else outline.usual_face

    return read


def place(request: ActionRequest) -> ClockPlace | Site | float:
    """A typed place: a clock position, a place by its name, or a distance from the butt, cm."""
    text = request.text("value")
    if ":" in text:
        return ClockPlace(parse_clock(text))
    site = None if text.strip().isdigit() else find_site(request.plan.outline, text)
    if site is not None:
        return site
    return length("value", "place")(request)


# -- an order ---------------------------------------------------------------------------------

_PARTS = re.compile(r"^(?P<whole>[^/]*[a-z\"])\s*/\s*(?P<parts>\d{1,2})$", re.IGNORECASE)
LONGEST_AMOUNT = 60


def order(request: ActionRequest) -> Order:
    """What is to be laid."""
    key = read_count(request.text("material"))
    if not key:
        raise PieceError("Choose a material first.", code="no_material", field="material")
    stock = request.shelf.find(key)
    amount, share, count = _amount(request, stock)
    return Order(
        stock,
        amount,
        face("face")(request),
        flag("mirrored")(request),
        flag("removed")(request),
        flag("both_faces")(request),
        layers("layers")(request),
        share,
        count,
    )


_COUNTED = re.compile(
    r"^(?P<count>\d{1,2})\s*(?:[x×*]|(?:strips?|pieces?)\s+of)\s*(?P<each>.+)$", re.IGNORECASE
)
_WHOLE = re.compile(r"^(?P<count>\d{1,2})\s*(?:strips?|pieces?|pcs?)$", re.IGNORECASE)

_SHARES = MappingProxyType(
    {
        "a side": Share.SIDE,
        "each side": Share.SIDE,
        "per side": Share.SIDE,
        "in all": Share.ALL,
        "altogether": Share.ALL,
        "total": Share.ALL,
        "each": Share.ONE,
    }
)


def shared_mass(typed: str, unit: str, field: str) -> tuple[float, Share]:
    """Read "0.15 oz a side", "4 g in all" or the weight of one: grams, and of what they are."""
    plain = typed.strip()
    for words, of in _SHARES.items():
        if plain.lower().endswith(f" {words}"):
            return _quantity(plain[: -len(words)].strip(), MASS, unit, field), of
    return _quantity(plain, MASS, unit, field), Share.ONE


def is_weight(typed: str) -> bool:
    """Whether an amount names a unit of weight, or is told of a side or of all."""
    if any(typed.strip().lower().endswith(f" {words}") for words in _SHARES):
        return True
    try:
        _, unit = parse_number(typed)
    except UnitError:
        return False
    return unit.strip(". ").lower() in (*MASS.factors, *MASS.aliases)


def one_mass(name: str) -> Callable[[ActionRequest], float]:
    """A typed weight of one body or strip of the piece in hand, g; of a side or of all too."""

    def read(request: ActionRequest) -> float:
        piece = request.plan.find(read_count(request.text("piece"))).piece
        grams, of = shared_mass(request.text(name), request.units.mass, name)
        return of.one(grams, piece.sides, piece.at_each_side)

    return read


def _amount(request: ActionRequest, stock: Stock) -> tuple[float, Share, int]:
    """What is typed of a material: cm of a tape, g of the rest; of what of the piece that is; how many.

    "4 × 10 cm" and "4 strips of 10 cm" count what lies there, "3 strips" and "2 pieces" whole ones.
    """
    typed = request.text("amount")
    is_short = len(typed) <= LONGEST_AMOUNT
    whole, counted = (is_short and form.match(typed) for form in (_WHOLE, _COUNTED))
    number = whole or counted
    count = int(number["count"]) if number else 0
    if number and not count:
        raise PieceError("Enter an amount above 0.", code="no_amount", field="amount")
    if whole:
        each = _sold_strip_cm(stock) if stock.is_tape else _one_piece_g(stock)
        return each, Share.ONE, count
    each, share = _each(counted["each"] if counted else typed, request, stock)
    if count and share is not Share.ONE:
        raise PieceError(
            "Enter how many there are or their total, not both.", code="count_and_share", field="amount"
        )
    return each, share, count


def _each(typed: str, request: ActionRequest, stock: Stock) -> tuple[float, Share]:
    if stock.is_tape and not is_weight(typed):
        return _tape_length(typed, request, stock), Share.ONE
    grams, of = shared_mass(typed, request.units.mass, "amount")
    return round(grams / stock.density.value, 3) if stock.is_tape else grams, of


def _one_piece_g(stock: Stock) -> float:
    if not stock.each_g:
        raise PieceError(f"{stock.name} is weighed out. Enter a weight.", code="no_pieces", field="amount")
    return stock.each_g


def _sold_strip_cm(stock: Stock) -> float:
    if isinstance(stock.sold, NotMeasured):
        raise PieceError(
            f"The length {stock.name} is sold in is unknown. Enter the length in cm or in.",
            code="no_strip_length",
            field="amount",
        )
    return stock.sold


def _tape_length(typed: str, request: ActionRequest, stock: Stock) -> float:
    """A typed length of tape, cm; "8 in / 4" and "strip / 4" are parts of it."""
    divided = _PARTS.match(typed) if len(typed) <= LONGEST_AMOUNT else None
    whole, parts = (divided["whole"], int(divided["parts"]) or 1) if divided else (typed, 1)
    if whole.strip().lower() != "strip":
        return _quantity(whole, LENGTH, request.units.length, "amount") / parts
    return _sold_strip_cm(stock) / parts


# -- what is fitted -----------------------------------------------------------------------------


def cut_place(request: ActionRequest) -> ClockPlace:
    """Where a length is cut out: a clock position or a height; 12 unless another is typed."""
    typed = request.text("at") or "12:00"
    if ":" in typed:
        return ClockPlace(parse_clock(typed))
    line = request.plan.outline.rim(Face.OUTER)
    return ClockPlace(line.clock_at(line.at_y(length("at")(request))))


def cut_amount(request: ActionRequest) -> CutAmount:
    """How much is cut out: a length or a weight, or a length with what the piece weighed."""
    typed, weighed = request.text("amount"), request.text("weighed")
    mass_g: Quantity = NOT_MEASURED
    if weighed:
        mass_g = Estimate(mass("weighed")(request), WEIGHED_U_G)
    if is_weight(typed):
        return CutAmount(mass_g=Estimate(mass("amount")(request), WEIGHED_U_G))
    return CutAmount(length("amount")(request), mass_g)


def other_fitting(request: ActionRequest) -> Fitting:
    """What takes a fitting's place: one of the shop's, one of another weight, or other strings."""
    old = request.plan.baseline.find_fitting(read_count(request.text("fitting")))
    chosen = request.accessories.get(read_count(request.text("accessory")))
    if chosen is not None:
        return in_place_of(old, chosen)
    if request.text("gauge"):
        return _other_strings(request, old)
    grams = mass("amount")(request)
    if not grams > 0:
        raise PieceError("Enter a weight above 0.", code="no_mass", field="amount")
    label = f"{MASS.from_base(grams, request.units.mass):.3g} {request.units.mass} {old.label}"
    return replace(old, key=0, label=label, mass_g=Estimate(grams, WEIGHED_U_G), thickness_mm=NOT_MEASURED)


_PATTERN = re.compile(r"^(?P<mains>\d{1,2})\s*[x×/]\s*(?P<crosses>\d{1,2})$")


def _other_strings(request: ActionRequest, old: Fitting) -> Fitting:
    """Strings by gauge, material and pattern; the frame's own pattern unless another is typed."""
    gauge_mm = MM_PER_CM * _quantity(request.text("gauge"), LENGTH, "mm", "gauge")
    material, typed = request.text("material"), request.text("pattern")
    if material not in STRING_DENSITIES:
        raise PieceError("Choose what the strings are made of.", code="no_material", field="material")
    mains, crosses = old.mains, old.crosses
    if typed:
        found = _PATTERN.match(typed.lower())
        if found is None:
            raise PieceError("Type a pattern such as 16 × 19.", code="no_pattern", field="pattern")
        mains, crosses = int(found["mains"]), int(found["crosses"])
    weight = strings_weight(request.plan.outline, mains, crosses, gauge_mm, material)
    pattern = f" {mains} × {crosses}" if mains and crosses else ""
    label = f"{gauge_mm:.2f} mm {material}{pattern}"
    return replace(old, key=0, label=label, mass_g=weight, mains=mains, crosses=crosses)


def spot(request: ActionRequest) -> Spot:
    """Where to lay: a typed place, a named site, or where the hand points."""
    typed = request.text("at")
    if typed:
        if ":" in typed:
            return ClockPosition(parse_clock(typed), typed)
        return HeightPosition(length("at")(request), typed)
    if request.text("site"):
        return AtSite(request.text("site"))
    return AtPoint(coordinate("x")(request), coordinate("y")(request))


def override(request: ActionRequest) -> Override:
    """What is said beforehand of pieces that are refused."""
    return Override(request.text("overrule")[:LONGEST_CODE], choice("fix")(request))
