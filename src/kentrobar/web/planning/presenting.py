"""A board as a page shows it: every number as text, every shape as a path.

``numbers`` and ``shapes`` are what moves while a hand drags; the page keeps the rest.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from kentrobar.core import taking_away
from kentrobar.core.builds import Fitting, FittingKind
from kentrobar.core.completing import hold_balance
from kentrobar.core.errors import KentrobarError
from kentrobar.core.estimates import Estimate, NotMeasured, Quantity
from kentrobar.core.materials import Form
from kentrobar.core.outline import RimLine, clock_text
from kentrobar.core.pieces import (
    PointPiece,
    RimStrip,
    StringBed,
    total_mass_g,
)
from kentrobar.web.kit.numbers import Units, beside_balance, shown_specs
from kentrobar.web.materials.models import Material
from kentrobar.web.planning import drawing
from kentrobar.web.planning.board import Board, LaidPiece, Standing
from kentrobar.web.planning.wording import cut_words, face_choices

STARTING_STRIP = {"cm": "10 cm", "mm": "100 mm", "in": "4 in"}
STARTING_PUTTY = {"g": "3 g", "oz": "0.1 oz"}
CUTTING_STEPS = {"cm": ("0.5", "cm"), "mm": ("5", "mm"), "in": ("0.25", "in")}


def numbers(board: Board, units: Units, moved: int | None = None) -> dict[str, str]:
    """Every number of the board by the name of its place on the page.

    Where one piece alone has ``moved``, what stays as it was of the others is left out.
    """
    prediction = board.prediction
    shown: dict[str, str] = {}
    for spec in shown_specs(units):
        before, after, change = (
            getattr(specs, spec.key)
            for specs in (prediction.before, prediction.after, prediction.change)
        )
        shown[f"{spec.key}-before"] = spec.value(before)
        shown[f"{spec.key}-before-u"] = spec.spread(before)
        shown[f"{spec.key}-after"] = spec.value(after)
        shown[f"{spec.key}-after-u"] = spec.spread(after)
        shown[f"{spec.key}-change"] = spec.change(change)
        shown[f"{spec.key}-change-u"] = spec.spread(change)
        shown[f"{spec.key}-missing"] = _missing(after, change)
    shown["beside-before"] = beside_balance(prediction.before, units)
    shown["beside-after"] = beside_balance(prediction.after, units)
    shown["beside-change"] = beside_balance(prediction.change, units, change=True)
    for laid, share in zip(board.pieces, board.shares, strict=True):
        n = laid.number
        shown[f"percent-{n}"] = f"{100 * share.share:.0f} %"
        if moved not in (None, n):
            continue
        shown[f"lever-{n}"] = f"{units.length_text(share.lever_cm)} {units.length}"
        shown[f"share-{n}"] = f"{share.swingweight_kgcm2:+.2f}".replace("-", "−")
        shown[f"mass-{n}"] = units.piece_mass_text(total_mass_g(laid.piece))
        place = drawing.place_text(laid.piece, board.outline, units.length_text)
        shown[f"place-{n}"] = f"{place} {units.length}"
    return shown


def _missing(after: Quantity, change: Quantity) -> str:
    """What would make an unknown spec known; the change may be exact all the same."""
    if not isinstance(after, NotMeasured):
        return ""
    exact = "" if isinstance(change, NotMeasured) else "The change is exact. "
    return f"{exact}Measure {after.missing} to see before and after."


def shapes(board: Board, only: int | None = None) -> dict[str, Any]:
    """Paths of the pieces (or of one), fulcrum, and lever ends, by the name of their place."""
    prediction, outline = board.prediction, board.outline
    levers = {
        str(laid.number): drawing.x_mm(share.y_cm)
        for laid, share in zip(board.pieces, board.shares, strict=True)
    }
    paths = {
        str(laid.number): drawing.drawn_paths(laid.piece, outline)
        for laid in board.pieces
        if only in (None, laid.number)
    }
    return {
        "paths": paths,
        "levers": levers,
        "fulcrum": _fulcrum(board, prediction.after.balance_cm),
    }


def _fulcrum(board: Board, balance_cm: Quantity) -> str:
    x = drawing.fulcrum_x(balance_cm)
    return (
        "" if x is None else drawing.fulcrum_points(x, drawing.backdrop_of(board.outline).fulcrum_y)
    )


def specs_shown(board: Board, units: Units, texts: dict[str, str]) -> list[dict[str, str]]:
    """The cards of the specs, in the order of the work."""
    axis = units.axis_text(board.axis_cm)
    cards = []
    for spec in shown_specs(units):
        card = {"key": spec.key, "name": spec.name, "unit": spec.unit}
        for part in ("before", "before-u", "after", "after-u", "change", "change-u", "missing"):
            card[part.replace("-", "_")] = texts[f"{spec.key}-{part}"]
        if spec.key == "swingweight_kgcm2":
            card["axis"] = axis
        if spec.name == "Balance":
            card |= {
                f"beside_{part}": texts[f"beside-{part}"] for part in ("before", "after", "change")
            }
        cards.append(card)
    return cards


def offered(materials: Iterable[Material], units: Units) -> list[dict[str, Any]]:
    """The materials of the tray, each with an amount to start from: small steps first."""
    return [
        {
            "pk": material.pk,
            "name": material.name,
            "form": material.form.value,
            "amount_text": _starting_amount(material, units),
            "caution": material.caution,
        }
        for material in materials
    ]


def _starting_amount(material: Material, units: Units) -> str:
    if material.form is Form.TAPE:
        return STARTING_STRIP[units.length]
    if material.each_g:
        return f"{units.mass_text(material.each_g)} {units.mass}"
    return STARTING_PUTTY[units.mass]


def objections_shown(standings: Iterable[Standing]) -> list[dict[str, Any]]:
    """What speaks against the pieces, refusals first; what was set aside last."""
    order = sorted(standings, key=lambda s: (s.is_overruled, not s.objection.is_refusal, s.number))
    return [
        {
            "number": standing.number,
            "code": standing.objection.code,
            "message": standing.objection.message,
            "is_refusal": standing.objection.is_refusal,
            "is_overruled": standing.is_overruled,
            "mends": [mend.label for mend in standing.objection.mends],
        }
        for standing in order
    ]


def hold_text(board: Board, units: Units) -> str:
    """What it costs to hold the balance, before anybody asks for it."""
    pieces = [laid.piece for laid in board.pieces]
    try:
        found = hold_balance(board.measured, pieces, board.outline)
    except KentrobarError as error:
        return error.message
    before = board.prediction.after.mass_g
    after = before.value + found.mass_g if isinstance(before, Estimate) else found.mass_g
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
        "trim": {"cm": "2 cm", "mm": "20 mm", "in": "0.75 in"}[units.length],
    }


def removals(fittings: Iterable[Fitting], units: Units) -> list[dict[str, Any]]:
    """What is fitted and could go, with what that costs."""
    return [
        {
            "key": fitting.key,
            "label": fitting.label,
            "mass": f"{units.mass_text(fitting.mass_g.value)} {units.mass}",
            "cost": taking_away.COSTS.get(fitting.kind, ""),
            "is_bumper": fitting.kind is FittingKind.BUMPER,
            "can_be_lighter": taking_away.can_be_lighter(fitting),
            "can_come_off": taking_away.can_come_off(fitting),
            "lighter": units.mass_text(0.8 * fitting.mass_g.value),
        }
        for fitting in fittings
    ]


def rows(
    board: Board, units: Units, texts: dict[str, str], materials: Iterable[Material]
) -> list[dict[str, Any]]:
    """The rows of the table of pieces, with what can be typed in each."""
    shelf = {material.pk: material for material in materials}
    heights = drawing.lever_rows(drawing.backdrop_of(board.outline), len(board.pieces))
    ends = shapes(board)
    return [
        _row(board, units, texts, laid, shelf.get(laid.material_id or 0))
        | {
            "row_y": y,
            "paths": ends["paths"][str(laid.number)],
            "lever_x": ends["levers"][str(laid.number)],
            "anchor": drawing.anchor_of(laid.piece, board.outline),
        }
        for laid, y in zip(board.pieces, heights, strict=True)
    ]


def _row(
    board: Board, units: Units, texts: dict[str, str], laid: LaidPiece, material: Material | None
) -> dict[str, Any]:
    n, piece = laid.number, laid.piece
    row: dict[str, Any] = {
        "number": n,
        "piece": piece,
        "name": piece.material or piece.label or "piece",
        "is_strip": isinstance(piece, RimStrip),
        "can_mirror": isinstance(piece, RimStrip | PointPiece),
        "mirrored": getattr(piece, "mirrored", False),
        "faces": face_choices(board.outline),
        "is_lead": bool(material and material.facts.is_lead),
        "lever": texts[f"lever-{n}"],
        "share": texts[f"share-{n}"],
        "percent": texts[f"percent-{n}"],
        "total": texts[f"mass-{n}"],
        "place": texts[f"place-{n}"],
    }
    if isinstance(piece, RimStrip):
        line = board.outline.rim(piece.face)
        s = line.wrap(piece.at.arc_length(line))
        row["place_value"] = _place_value(board, units, line, s)
        row["length_value"] = units.length_text(piece.length_cm.value)
        row["mass_value"] = units.piece_mass_text(piece.strip_mass_g)
        row |= _density(piece, material, units)
        row |= cut_words(piece, board.outline, units)
        row["at_centre_line"] = piece.mirrored and piece.stretch(line).start in (0.0, piece.gap_cm)
        row["gap_value"] = units.length_text(piece.gap_cm)
        row["layers"] = piece.layers
        row["can_be_on_both_faces"] = board.frame.is_racket
        return row
    row["mass_value"] = units.piece_mass_text(piece.mass_g.value)
    row |= cut_words(piece, board.outline, units)
    if isinstance(piece, PointPiece):
        row["place_value"] = units.length_text(piece.y_cm)
    elif not isinstance(piece, StringBed):
        row["place_value"] = units.length_text((piece.from_cm + piece.to_cm) / 2)
        row["length_value"] = units.length_text(piece.to_cm - piece.from_cm)
    return row


def _place_value(board: Board, units: Units, line: RimLine, s: float) -> str:
    """What stands in the place's field: the clock, or on a paddle's side the distance from the butt.

    Along a paddle's top edge the distance says nothing, so the clock stands there too.
    """
    if board.frame.is_racket or abs(line.point(abs(s)).y - line.point(0.0).y) < 0.1:
        return clock_text(line.clock_at(s))
    return f"{units.length_text(line.point(s).y)} {units.length}"


def _density(piece: RimStrip, material: Material | None, units: Units) -> dict[str, Any]:
    if not isinstance(piece.g_per_cm, Estimate):
        return {}
    shown: dict[str, Any] = {"density_value": units.line_density_text(piece.g_per_cm.value)}
    if material and material.g_per_cm and abs(material.g_per_cm - piece.g_per_cm.value) > 1e-6:
        shown["shelf_density"] = units.line_density_text(material.g_per_cm)
        shown["material_id"] = material.pk
    return shown
