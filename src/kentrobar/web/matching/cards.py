"""What a search found, as the card of its way: pieces, proof, chance; the ways out where there is no plan."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from django.urls import reverse

from kentrobar.core.bench.appraisal import Use, appraise
from kentrobar.core.body.specs import AIMED_BY_KEY, Specs
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.editing.stored import read_pieces
from kentrobar.core.quantities.estimates import Estimate, Quantity
from kentrobar.core.solving.concessions import Giving
from kentrobar.core.solving.matching import Reason
from kentrobar.core.solving.set_plans import Status
from kentrobar.core.solving.set_ways import WAYS, SetWay
from kentrobar.core.weight.pieces import Piece
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.numbers import Units, chance_text, odds_text, shown_specs
from kentrobar.web.kit.searches import SearchCard
from kentrobar.web.kit.spec_rows import SpecCell
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.matching.picture import BeforeAfter, before_after
from kentrobar.web.matching.prepared import PreparedFrame
from kentrobar.web.matching.view_models import predicted_cells, set_specs, target_shown
from kentrobar.web.showing.pieces import piece_text

_WORTH_SAYING = 0.01


def waiting_card(search: Search, units: Units) -> SearchCard:
    """The card of a way before its answer, with how far it has come."""
    way = SetWay(search.part)
    text = WAYS[way]
    card = SearchCard(search, text.title, text.reason, order=float(list(SetWay).index(way)))
    if search.best_g is not None:
        card.best = f"{units.piece_mass_text(search.best_g)} {units.mass}"
    if search.bound_g:
        card.bound = f"{units.piece_mass_text(search.bound_g)} {units.mass}"
    return card


def answered(
    waiting: list[SearchCard], of: FrameSet, frames: Sequence[PreparedFrame], shelf: Shelf, units: Units
) -> list[SearchCard]:
    """Cards with what was found, each beside the others."""
    views = {
        card.search.part: _way_view(card.search, frames, of, shelf, units)
        for card in waiting
        if card.search.result and frames
    }
    for card in waiting:
        if card.search.part in views:
            card.template = "matching/_way.html"
            card.view = replace(views[card.search.part], beside=_beside(card.search.part, views, units))
    return waiting


@dataclass(frozen=True, slots=True)
class WayOut:
    """One way out as a sentence with its price, and the form that goes it: where to, with what."""

    text: str
    price: str
    address: str
    sent: Mapping[str, object]


@dataclass(frozen=True, slots=True)
class WayView:
    """What one way came to: pieces, proof, chance; the ways out where there is no plan."""

    set: FrameSet
    search: Search
    title: str
    unit: str
    status: Status
    frames: list[FrameOfWay]
    picture: BeforeAfter | None
    added_g: float
    added: str
    bound: str
    chance: str
    edges: str
    target: list[tuple[str, str]]
    visible: int
    minutes: str
    after: list[tuple[str, str, str]]
    obstacle: str
    worth: str
    concessions: list[WayOut]
    reasons: list[str]
    beside: str = ""

    @property
    def has_plan(self) -> bool:
        """Whether a plan was found."""
        return self.status.has_plan

    @property
    def is_proven(self) -> bool:
        """Whether no plan is lighter, by more than a cutting step a frame."""
        return self.status is Status.OPTIMAL

    @property
    def is_ruled_out(self) -> bool:
        """Whether it is proven that there is no plan."""
        return self.status is Status.INFEASIBLE


def _beside(part: str, views: Mapping[str, WayView], units: Units) -> str:
    """A word where a narrower way came out lighter than the one that is proven the least."""
    least = views[part]
    as_free = [
        each
        for way, each in views.items()
        if each.has_plan and way not in (SetWay.TAKE_OFF, SetWay.EXCHANGE, SetWay.HIDDEN)
    ]
    lighter = min(as_free, key=lambda each: each.added_g, default=least)
    if part != SetWay.LEAST or not least.has_plan or lighter.added_g > least.added_g - 1e-6:
        return ""
    by = f"{units.piece_mass_text(least.added_g - lighter.added_g)} {units.mass}"
    within = "less than the step a frame that the proof leaves open" if least.is_proven else "take that"
    return f"“{lighter.title}” is lighter by {by}: {within}."


def _way_view(
    search: Search, frames: Sequence[PreparedFrame], of: FrameSet, shelf: Shelf, units: Units
) -> WayView:
    result = search.result or {}
    by_pk = {each.frame.pk: each for each in frames}
    shown = [
        _frame_shown(of, kept, by_pk[kept["frame"]], units)
        for kept in result["frames"]
        if kept["frame"] in by_pk
    ]
    first, target = frames[0].frame, result["target"] or {}
    found = [appraise([Use(p, shelf.of(p)) for p in each.applied], first.outline) for each in shown]
    return WayView(
        set=of,
        search=search,
        title=WAYS[SetWay(search.part)].title,
        unit=units.mass,
        status=Status(result["status"]),
        frames=shown,
        picture=before_after(
            frames, {each.frame.pk: each.after for each in shown}, target, of.target.tolerances, units
        ),
        added_g=result["added_g"],
        added=units.piece_mass_text(result["added_g"]),
        bound=units.piece_mass_text(result["bound_g"]),
        chance=odds_text(result["chance"]),
        edges=_edges(of, shown, target),
        target=target_shown(target, first, units),
        visible=sum(each.visible for each in found),
        minutes=f"{sum(each.minutes for each in found):.0f}",
        after=_spreads_after(of, shown, units),
        obstacle=obstacle_sentence(result["obstacle"]),
        worth=_worth_sentence(result.get("worth"), result["chance"], by_pk),
        concessions=[
            _way_out(each, by_pk, of.pk, (first, target), units) for each in result.get("concessions", [])
        ],
        reasons=_reasons(result, by_pk, units),
    )


@dataclass(frozen=True, slots=True)
class FrameOfWay:
    """What one way lays on a frame of a set, and what that comes to."""

    frame: Frame
    applied: list[Piece]
    after: Specs
    specs: list[SpecCell]
    pieces: list[str]
    added: str
    chance: str


def _frame_shown(of: FrameSet, kept: Mapping[str, Any], each: PreparedFrame, units: Units) -> FrameOfWay:
    frame = each.frame
    pieces: list[Piece] = [each.piece for each in read_pieces(kept["pieces"])]
    prediction = each.predict(pieces)
    return FrameOfWay(
        frame,
        pieces,
        prediction.after,
        predicted_cells(of, each, prediction, units),
        [piece_text(piece, frame, units) for piece in pieces],
        units.piece_mass_text(kept["added_g"]),
        chance_text(kept["chance"]),
    )


def _edges(of: FrameSet, shown: Sequence[FrameOfWay], target: Mapping[str, float]) -> str:
    """How many frames end nearer to an end of a tolerance than they are sure of; empty where none does."""
    bands = of.target.bands_about(target)
    count = sum(any(_is_at_edge(getattr(each.after, n), band) for n, band in bands.items()) for each in shown)
    if not count:
        return ""
    frames = "All frames end" if count == len(shown) else f"{count} of {len(shown)} frames end"
    frames = "1 frame ends" if count == 1 else frames
    return (
        f"{frames} nearer to an end of a tolerance than its ±: the lightest plan uses all of what you allow. "
        f"“{WAYS[SetWay.MOST_RELIABLE].title}” stays farther inside."
    )


def _is_at_edge(quantity: Quantity, band: tuple[float, float]) -> bool:
    return (
        isinstance(quantity, Estimate)
        and min(quantity.value - band[0], band[1] - quantity.value) < quantity.u
    )


def _spreads_after(of: FrameSet, shown: Sequence[FrameOfWay], units: Units) -> list[tuple[str, str, str]]:
    """By how much the frames differ after their plans, as predicted."""
    found = []
    for spec in set_specs(of, units):
        numbers = [getattr(each.after, spec.read_key) for each in shown]
        known = [n.value for n in numbers if n]
        if len(known) > 1:
            found.append((spec.name, spec.width(max(known) - min(known)), spec.unit))
    return found


def obstacle_sentence(obstacle: Sequence[Any] | None) -> str:
    """Why no plan is as sure as was wished."""
    if not obstacle:
        return ""
    name, readings = obstacle
    noun = AIMED_BY_KEY[name].noun
    if readings == 1:
        return (
            "No plan reaches the chance you want at these places and steps; allow finer steps, or widen a "
            "tolerance."
        )
    return (
        f"No plan reaches the chance you want: the {noun} was measured too coarsely for its tolerance. The mean of "
        f"{readings} such readings of each frame would do, or a wider tolerance."
    )


def _way_out(
    kept: Mapping[str, Any],
    by_pk: Mapping[int, PreparedFrame],
    set_pk: int,
    given: tuple[Frame, Mapping[str, float]],
    units: Units,
) -> WayOut:
    """``given`` is a frame whose length points are told for, and the target there was."""
    like, target = given
    price = f"{units.piece_mass_text(kept['added_g'])} {units.mass}, chance {chance_text(kept['chance'])}"
    sent: Mapping[str, object]
    match Giving(kept["giving"]):
        case Giving.FRAME:
            frame = by_pk[kept["frame"]].frame
            text, name, sent = f"Leave {frame.label} out", "leave_out", {"out": "1"}
            return WayOut(text, price, reverse(f"matching:{name}", args=[set_pk, frame.pk]), sent)
        case Giving.TARGET:
            moved = target_shown(kept["target"], like, units, before=target)
            moves = ", ".join(text for _, text in moved)
            text, name, sent = f"Move the target to {moves}", "aim_at", kept["target"]
        case Giving.TOLERANCE:
            spec = next(s for s in shown_specs(units) if s.read_key == kept["name"])
            text = f"Allow {spec.width(kept['value'])} {spec.unit} of {AIMED_BY_KEY[kept['name']].noun}"
            name, sent = "widen", {kept["name"]: kept["value"]}
        case _:
            text = "Remove what comes off easily, and add less"
            name, sent = "search", {"way": SetWay.TAKE_OFF.value}
    return WayOut(text, price, reverse(f"matching:{name}", args=[set_pk]), sent)


def _worth_sentence(
    worth: Sequence[Any] | None, chance: float | None, by_pk: Mapping[int, PreparedFrame]
) -> str:
    """What one more reading would do for the chance; empty where it would do next to nothing."""
    if not worth or chance is None or worth[2] < chance + _WORTH_SAYING or worth[0] not in by_pk:
        return ""
    pk, name, surer = worth
    return (
        f"One more reading of the {AIMED_BY_KEY[name].noun} of {by_pk[pk].frame.label}, coming out the same, "
        f"would raise it from {chance_text(chance)} to {chance_text(surer)}."
    )


def _reasons(result: Mapping[str, Any], by_pk: Mapping[int, PreparedFrame], units: Units) -> list[str]:
    """Which frame is beyond the target, in which spec."""
    found = []
    for kept in result["frames"]:
        if kept["reason"] and kept["frame"] in by_pk:
            frame = by_pk[kept["frame"]].frame
            names, now, low, high = kept["reason"]
            sentence = Reason(tuple(names), now, low, high).sentence(_writer(frame, units))
            found.append(f"{frame.label}: {sentence}")
    return found


def _writer(frame: Frame, units: Units) -> Any:
    specs = {spec.read_key: spec for spec in shown_specs(units)}
    return lambda name, value: specs[name].of_length(value, frame.length_cm)
