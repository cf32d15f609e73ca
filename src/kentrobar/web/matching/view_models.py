"""Texts of a set's page: its rows, its spread, its target."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

from kentrobar.core.body.specs import AIMED_BY_KEY, RECOIL_WEIGHT
from kentrobar.core.body.target import Alike
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.reading.comparing import FeltRule, gap
from kentrobar.core.reading.likeness import Difference, differences
from kentrobar.core.solving.allowed import site_names
from kentrobar.core.solving.set_targets import PRESETS
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.prediction import Prediction
from kentrobar.web.frames.allowed import allowed_text
from kentrobar.web.frames.builds import BUILD_NAMES
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import ShownSpec, Units, shown_specs
from kentrobar.web.kit.spec_rows import GapText, SpecCell, SpecText, cell_of, text_of
from kentrobar.web.matching.models import FrameSet, SetMember
from kentrobar.web.matching.prepared import PreparedFrame, candidate


def set_specs(of: FrameSet, units: Units) -> list[ShownSpec]:
    """The specs that a set tells, as one person is shown them: recoil weight only where it is asked for."""
    is_recoil = RECOIL_WEIGHT.key in of.target.bands
    return [spec for spec in shown_specs(units) if is_recoil or spec.key != RECOIL_WEIGHT.key]


@dataclass(frozen=True, slots=True)
class SetRow:
    """A frame of a set: its specs with their gaps to the target, and what is to be said of it."""

    member: SetMember
    frame: Frame
    is_ready: bool
    cells: list[SpecCell]
    notes: list[str]
    is_unread: bool


def rows(
    of: FrameSet, frames: Sequence[PreparedFrame], target: Mapping[str, float], units: Units, rule: FeltRule
) -> list[SetRow]:
    """A row a frame: its specs with ±, each with its gap to the target where there is one."""
    return [_row(of, each, target, units, rule) for each in frames]


def _row(
    of: FrameSet, each: PreparedFrame, target: Mapping[str, float], units: Units, rule: FeltRule
) -> SetRow:
    cells = []
    for spec in set_specs(of, units):
        read, found = getattr(each.specs, spec.read_key), None
        if spec.read_key in target and read:
            found = _gap_to(of, each, spec, read, target[spec.read_key], units, rule)
        cells.append(SpecCell(text_of(spec, getattr(each.specs, spec.key)), gap=found))
    return SetRow(each.member, each.frame, each.is_ready, cells, list(_notes(of, each)), each.is_unread)


def _gap_to(
    of: FrameSet,
    each: PreparedFrame,
    spec: ShownSpec,
    read: Estimate,
    wanted: float,
    units: Units,
    rule: FeltRule,
) -> GapText:
    found = gap(spec.read_key, Estimate(wanted), read, rule)
    by, tolerance = read.value - wanted, of.target.tolerances.get(spec.read_key)
    return GapText(
        SpecText(spec.moved(by)),
        found.verdict.value,
        found.likely_felt,
        tolerance is not None and abs(by) <= tolerance + 1e-9,
        _percent(each, spec, wanted, units),
    )


def _percent(each: PreparedFrame, spec: ShownSpec, wanted: float, units: Units) -> str:
    """The gap to a target in percent of it, where changes are told so."""
    if not units.percent:
        return ""
    read = getattr(each.specs, spec.read_key)
    return spec.percent(Estimate(wanted), Estimate(read.value - wanted))


def _notes(of: FrameSet, each: PreparedFrame) -> Sequence[str]:
    found = []
    if each.turned.note:
        found.append(each.turned.note)
    elif each.turned.converted and each.frame.specs:
        found.append(
            f"read {BUILD_NAMES[each.frame.specs.build]}, converted to {BUILD_NAMES[of.target.setup]}"
        )
    allowed = each.frame.allowed.only(each.member.allowed.sites)
    if not allowed.is_anywhere:
        found.append(f"weight only at: {allowed_text(allowed, site_names(each.frame.outline))}")
    if each.missing:
        nouns = " and ".join(AIMED_BY_KEY[name].noun for name in each.missing)
        if each.is_unread:
            found.append(f"{nouns} not measured: it waits")
        else:
            found.append(f"{nouns} not measured: ignored for this frame")
    return found


@dataclass(frozen=True, slots=True)
class Spread:
    """By how much the frames of a set differ in a spec, and whether that is within what is asked."""

    text: str
    is_asked: bool
    is_within: bool


def spreads(of: FrameSet, frames: Sequence[PreparedFrame], units: Units) -> list[Spread]:
    """From the least to the most of each spec over the frames: what counts in a set."""
    found, tolerances = [], of.target.tolerances
    for spec in set_specs(of, units):
        values = [each.values[spec.read_key] for each in frames if spec.read_key in each.values]
        spread = max(values) - min(values) if values else 0.0
        is_within = spread <= tolerances.get(spec.read_key, 0.0) + 1e-9
        text = spec.width(spread) if values else ""
        found.append(Spread(text, spec.read_key in tolerances, is_within))
    return found


def differing(frames: Sequence[PreparedFrame], units: Units) -> list[Difference]:
    """What differs among the frames that weight does not fix."""
    if len(frames) < 2:
        return []
    return differences([candidate(each) for each in frames], units.lengths.text)


def presets() -> list[tuple[str, str, str]]:
    """Tolerances to start from."""
    return [(key, preset.title, preset.reason) for key, preset in PRESETS.items()]


def alike_sentence(of: FrameSet) -> str:
    """What alike means, beside the tolerances."""
    if of.target.alike is Alike.TO_EACH_OTHER:
        return "Any two frames differ by no more than the tolerance."
    return "Each frame is within the tolerance of the target; two of them may differ by twice that."


def target_shown(
    target: Mapping[str, float],
    frame: Frame,
    units: Units,
    tolerances: Mapping[str, float] = MappingProxyType({}),
    before: Mapping[str, float] = MappingProxyType({}),
) -> list[tuple[str, str]]:
    """The target spec by spec, with its tolerance and by how much it moved where that is told."""
    found = []
    for spec in shown_specs(units):
        if spec.read_key in target:
            text = spec.of_length(target[spec.read_key], frame.length_cm)
            if spec.read_key in tolerances:
                text += f" within {spec.width(tolerances[spec.read_key])}"
            if spec.read_key in before:
                text += f" ({spec.moved(target[spec.read_key] - before[spec.read_key])})"
            found.append((spec.name, text))
    return found


@dataclass(frozen=True, slots=True)
class SheetRow:
    """A frame of the overview on paper: its number, its specs before and after, what is added."""

    number: str
    frame: Frame
    added: str
    cells: list[SpecCell]


def before_and_after(
    of: FrameSet, number: str, each: PreparedFrame, pieces: Sequence[Piece], units: Units
) -> SheetRow:
    """A frame's specs before and after what is laid, for the overview on paper."""
    added = units.piece_mass_text(sum(abs(piece.total_mass_g) for piece in pieces))
    return SheetRow(number, each.frame, added, predicted_cells(of, each, each.predict(pieces), units))


def predicted_cells(of: FrameSet, each: PreparedFrame, found: Prediction, units: Units) -> list[SpecCell]:
    """Each spec of a set for one of its frames, before and after what is predicted."""
    return [cell_of(spec, found.before, found.after, found.change, units) for spec in set_specs(of, units)]
