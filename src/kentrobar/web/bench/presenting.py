"""Texts of the bench's page."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Final

from django.core import signing

from kentrobar.core.bench.cautions import cautions_for, hazards_of
from kentrobar.core.body.specs import POINTS, READ_BY_KEY, Specs
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.comparing import Verdict
from kentrobar.core.rounds.trimming import Advice, Trim
from kentrobar.core.weight.pieces import Piece
from kentrobar.web.bench.rounds import Action, Round, WorkState, stored_trim
from kentrobar.web.kit.numbers import ShownSpec, Units, chance_text, read_specs
from kentrobar.web.planning.wish.presenting import piece_text

TOLD: Final = "what the bench told to trim"


def bench_context(
    stand: WorkState, shelf: Shelf, units: Units, offset_cm: Estimate | None = None
) -> dict[str, Any]:
    """What the page of a work is given, but for its form.

    ``offset_cm`` is by how much the piece whose turn it is is expected to lie off.
    """
    work, frame = stand.work, stand.work.plan.frame
    context: dict[str, Any] = {
        "work": work, "frame": frame, "action": stand.action.value, "base": len(work.events.all()),
        "now": list(_now(stand, units)), "chance": chance_text(stand.chance),
        "lies": [(number, piece_text(piece, frame, units)) for number, piece in stand.lies()],
        "is_permanent": stand.is_permanent, "is_read_for_good": stand.is_read_for_good,
        "rounds": [_round(stand, each, units) for each in reversed(stand.rounds)],
        "axis": units.axis_text(work.target.axis_cm),
        "is_read_now": not work.ended_at and stand.action in (Action.READ, Action.QUESTION),
    }  # fmt: skip
    if stand.action is Action.LAY:
        context["lay"] = _to_lay(stand, shelf, units, offset_cm)
    if stand.action is Action.NEXT:
        context["next"] = _next(stand, units)
        context["can_be_permanent"] = not stand.is_permanent and bool(stand.belief.on)
    return context


def _to_lay(
    stand: WorkState, shelf: Shelf, units: Units, offset_cm: Estimate | None
) -> dict[str, Any]:
    number = stand.to_lay[0]
    piece = stand.planned(number).piece
    return {
        "number": number, "text": lay_text(stand, piece, units),
        "is_removed": piece.removed, "left": len(stand.to_lay),
        "cautions": cautions_for(hazards_of(stand.plan.only([number]), shelf)),
        "expected": list(_values(stand.expected_with(number, offset_cm), units)),
    }  # fmt: skip


def lay_text(stand: WorkState, piece: Piece, units: Units) -> str:
    """A piece as it is cut and where it goes, with what it is cut from."""
    text = piece_text(piece, stand.work.plan.frame, units)
    return f"{piece.material}: {text}" if piece.is_strip and piece.material else text


def _now(stand: WorkState, units: Units) -> Iterator[dict[str, Any]]:
    """Each spec as it is now beside its target, within its tolerance or not."""
    length_cm, missed = stand.plan.outline.length_cm, stand.target.miss(stand.now)
    for spec in read_specs(units):
        key, quantity = spec.read_key, getattr(stand.now, spec.key)
        shown: dict[str, Any] = {
            "name": spec.name, "unit": spec.unit, "value": spec.value(quantity), "u": spec.spread(quantity),
        }  # fmt: skip
        if key in missed:
            shown |= {
                "target": spec.of_length(stand.target.centres[key], length_cm),
                "within": spec.width(stand.target.reach[key]), "is_within": not missed[key],
            }  # fmt: skip
        yield shown


def _values(specs: Specs, units: Units) -> Iterator[dict[str, str]]:
    for spec in read_specs(units):
        quantity = getattr(specs, spec.key)
        if quantity:
            yield {
                "name": spec.name.lower(), "unit": spec.unit, "value": spec.value(quantity),
                "u": spec.spread(quantity),
            }  # fmt: skip


def _round(stand: WorkState, each: Round, units: Units) -> dict[str, Any]:
    """A reading beside what was expected, spec by spec."""
    length_cm = stand.plan.outline.length_cm
    shown = {spec.read_key: spec for spec in read_specs(units)}
    rows = []
    for key, expected, read, found in each.gaps(list(shown)):
        spec = shown[key]
        difference = found.difference
        assert difference  # noqa: S101 - both are known
        rows.append({
            "name": spec.name, "unit": "" if spec.key == POINTS.key else spec.unit,
            "expected": plain_text(spec, expected, length_cm), "read": plain_text(spec, read, length_cm),
            "agrees": found.verdict is Verdict.NOISE,
        })  # fmt: skip
    return {
        "event": each.event, "rows": rows, "is_questioned": each.is_questioned,
        "by": each.event.made_by, "number": stand.rounds.index(each) + 1,
    }  # fmt: skip


def plain_text(spec: ShownSpec, quantity: Estimate, length_cm: float) -> str:
    """A spec with its ± and without its unit; points with their side."""
    if spec.key == POINTS.key:
        return spec.of_length(quantity.value, length_cm)
    return f"{spec.value(quantity)} {spec.spread(quantity)}"


def _next(stand: WorkState, units: Units) -> dict[str, Any]:
    """What comes next, with numbers."""
    step = stand.next
    shown: dict[str, Any] = {"advice": step.advice.value, "chance": chance_text(step.chance)}
    if step.advice is Advice.TRIM and step.expect is not None:
        shown["trims"] = [trim_text(stand, trim, units) for trim in step.trims]
        shown["told"] = signing.dumps([(int(t.key), stored_trim(t)) for t in step.trims], salt=TOLD)
        shown["expected"] = list(_values(step.expect.after, units))
    if step.advice is Advice.READ:
        shown["noun"] = READ_BY_KEY[step.spec].noun
    return shown


def trim_text(stand: WorkState, trim: Trim, units: Units) -> str:
    """What is to be cut, in words: "take 6 mm off each strip at 12"."""
    laid = stand.belief.on[trim.key].piece
    at = laid.place(stand.plan.outline, units.bench_lengths)
    if trim.piece is None:
        return f"Take off what lies at {at}"
    more, count = _more(laid, trim.piece, units)
    if not laid.is_strip:
        sides = " on either side" if laid.sides > 1 else ""
        what = laid.material or "what lies"
        if trim.piece.one_mass_g > laid.one_mass_g:
            return f"Add {more}{sides} to {what} at {at}"
        return f"Take {more}{sides} off {what} at {at}"
    whose = "each strip" if count > 1 else "the strip"
    if trim.piece.extent_cm < laid.extent_cm:
        return f"Take {more} off {whose} at {at}"
    return f"Lay {more} more beside {whose} at {at}"


def _more(laid: Piece, cut: Piece, units: Units) -> tuple[str, int]:
    """By how much a piece changes, and how many strips it is."""
    if laid.is_strip:
        return units.bench_lengths.told(abs(cut.extent_cm - laid.extent_cm)), laid.count
    grams = abs(cut.one_mass_g - laid.one_mass_g)
    return f"{units.piece_mass_text(grams)} {units.mass}", laid.count
