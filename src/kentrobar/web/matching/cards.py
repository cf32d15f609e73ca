"""What a search found, as the card of its way: pieces, proof, chance; the ways out where there is no plan."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.urls import reverse

from kentrobar.core.bench.appraisal import Use, appraise
from kentrobar.core.body.specs import AIMED_BY_KEY, Specs
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.solving.concessions import Giving
from kentrobar.core.solving.matching import Reason
from kentrobar.core.solving.set_plans import Status
from kentrobar.core.solving.set_ways import WAYS, SetWay
from kentrobar.core.weight.pieces import Piece
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.numbers import Units, chance_text, shown_specs
from kentrobar.web.kit.searches import SearchCard
from kentrobar.web.kit.spec_rows import SpecCell, cell_of
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.matching.prepared import PreparedFrame
from kentrobar.web.matching.presenting import set_specs, target_shown
from kentrobar.web.planning.stored import read_pieces
from kentrobar.web.planning.wish.presenting import piece_text

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
    for card in waiting:
        if card.search.result and frames:
            card.template = "matching/_way.html"
            card.context = _result(card.search.result, frames, of, shelf, units) | {
                "unit": units.mass,
                "set": of,
                "search": card.search,
            }
    return beside_each_other(waiting, units)


def beside_each_other(found: list[SearchCard], units: Units) -> list[SearchCard]:
    """Cards, with a word where a narrower way came out lighter than the one that is proven the least."""
    planned = [card for card in found if card.context.get("has_plan")]
    least = next((card for card in planned if card.search.part == SetWay.LEAST), None)
    others = [
        card for card in planned if card.search.part not in (SetWay.TAKE_OFF, SetWay.EXCHANGE, SetWay.HIDDEN)
    ]
    lighter = min(others, key=_weight, default=None)
    if least and lighter and _weight(lighter) < _weight(least) - 1e-6:
        by = units.piece_mass_text(_weight(least) - _weight(lighter))
        within = (
            "less than the step a frame that the proof leaves open"
            if least.context["is_proven"]
            else "take that"
        )
        least.context["beside"] = f"“{lighter.title}” is lighter by {by} {units.mass}: {within}."
    return found


def _weight(card: SearchCard) -> float:
    return float(card.context["added_g"])


def _result(
    result: Mapping[str, Any], frames: Sequence[PreparedFrame], of: FrameSet, shelf: Shelf, units: Units
) -> dict[str, Any]:
    by_pk = {each.frame.pk: each for each in frames}
    status = Status(result["status"])
    shown = [
        _frame_shown(of, kept, by_pk[kept["frame"]], units)
        for kept in result["frames"]
        if kept["frame"] in by_pk
    ]
    outline = frames[0].frame.outline
    found = [appraise([Use(p, shelf.of(p)) for p in each.laid], outline) for each in shown]
    target = result["target"] or {}
    after = _spreads_after(of, shown, units)
    return {
        "has_plan": status.has_plan,
        "status": status,
        "frames": shown,
        "added": units.piece_mass_text(result["added_g"]),
        "bound": units.piece_mass_text(result["bound_g"]),
        "is_proven": status is Status.OPTIMAL,
        "is_ruled_out": status is Status.INFEASIBLE,
        "chance": chance_text(result["chance"]),
        "target": target_shown(target, frames[0].frame, units),
        "visible": sum(each.visible for each in found),
        "minutes": f"{sum(each.minutes for each in found):.0f}",
        "pieces": sum(len(each.laid) for each in shown),
        "after": after,
        "added_g": result["added_g"],
        "obstacle": obstacle_sentence(result["obstacle"]),
        "concessions": [
            _concession(each, by_pk, of.pk, (frames[0].frame, target), units)
            for each in result.get("concessions", [])
        ],
        "worth": _worth_sentence(result.get("worth"), result["chance"], by_pk),
        "reasons": _reasons(result, by_pk, units),
    }


@dataclass(frozen=True, slots=True)
class FrameOfWay:
    """What one way lays on a frame of a set, and what that comes to."""

    frame: Frame
    laid: list[Piece]
    after: Specs
    specs: list[SpecCell]
    pieces: list[str]
    added: str
    chance: str


def _frame_shown(of: FrameSet, kept: Mapping[str, Any], each: PreparedFrame, units: Units) -> FrameOfWay:
    frame = each.frame
    pieces: list[Piece] = [laid.piece for laid in read_pieces(kept["pieces"])]
    prediction = each.predict(pieces)
    in_percent = units.tells_percent(frame.is_racket)
    return FrameOfWay(
        frame,
        pieces,
        prediction.after,
        [
            cell_of(spec, None, prediction.after, prediction.change, units, in_percent=in_percent)
            for spec in set_specs(of, units)
        ],
        [piece_text(piece, frame, units) for piece in pieces],
        units.piece_mass_text(kept["added_g"]),
        chance_text(kept["chance"]),
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
            "No plan is as sure as you wish at these places and steps; allow finer steps, or widen a "
            "tolerance."
        )
    return (
        f"No plan is as sure as you wish: the {noun} was read too coarsely for its tolerance. The mean of "
        f"{readings} such readings of each frame would do, or a wider tolerance."
    )


def _concession(
    kept: Mapping[str, Any],
    by_pk: Mapping[int, PreparedFrame],
    set_pk: int,
    given: tuple[Frame, Mapping[str, float]],
    units: Units,
) -> dict[str, Any]:
    """One way out as a sentence with its price, and the form that goes it: where to, with what.

    ``given`` is a frame whose length points are told for, and the target there was.
    """
    like, target = given
    price = f"{units.piece_mass_text(kept['added_g'])} {units.mass}, chance {chance_text(kept['chance'])}"
    found: dict[str, Any] = {"price": price}

    def to(name: str, sent: Mapping[str, Any], *more: int) -> dict[str, Any]:
        return {"address": reverse(f"matching:{name}", args=[set_pk, *more]), "sent": sent}

    match Giving(kept["giving"]):
        case Giving.FRAME:
            frame = by_pk[kept["frame"]].frame
            return found | to("leave_out", {"out": "1"}, frame.pk) | {"text": f"Leave {frame.label} out"}
        case Giving.TARGET:
            moved = target_shown(kept["target"], like, units, before=target)
            told = ", ".join(text for _, text in moved)
            return found | to("aim_at", kept["target"]) | {"text": f"Move the target to {told}"}
        case Giving.TOLERANCE:
            spec = next(s for s in shown_specs(units) if s.read_key == kept["name"])
            text = f"Allow {spec.width(kept['value'])} {spec.unit} of {AIMED_BY_KEY[kept['name']].noun}"
            return found | to("widen", {kept["name"]: kept["value"]}) | {"text": text}
        case _:
            text = "Take off what comes off easily, and lay less"
            return found | to("search", {"way": SetWay.TAKE_OFF.value}) | {"text": text}


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
