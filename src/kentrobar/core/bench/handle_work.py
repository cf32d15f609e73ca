"""How work at the handle is done: opening a cap or a trap door, strips under a grip, winding the grip again."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Final

from kentrobar.core.bench.procedures import NumberWriter, WorkInstructions
from kentrobar.core.body.sport import Sport
from kentrobar.core.editing.plan import PlanState
from kentrobar.core.editing.shelf import Shelf
from kentrobar.core.weight.materials import MaterialKind
from kentrobar.core.weight.piece_of_material import PieceOfMaterial
from kentrobar.core.weight.pieces import Piece
from kentrobar.core.weight.pieces.piece import Cover

OVERLAP_CM: Final = 0.3  # by which a turn of grip covers the one below


def opening(plan: PlanState, shelf: Shelf, written: NumberWriter) -> WorkInstructions | None:
    """How the handle is opened, filled and closed; None where nothing goes inside."""
    inside = [shelf.placed(piece) for piece in plan.pieces if piece.cover(plan.outline) is Cover.CAP]
    if not inside:
        return None
    if plan.baseline.circumstances.handle.has_trap_door:
        opened = [
            "Open the trap door: undo its screw, or press its catch with a small flat screwdriver. Do not lever "
            "against the edge of the handle."
        ]
        closed = "Close the trap door; it sits flush with the cap."
    else:
        opened = [
            "Fold the grip back from the butt until the staples or screws of the cap show.",
            _cap_off(plan.outline.sport),
        ]
        closed = "Put the cap on straight, with new staples beside the old holes, and fold the grip down."
    again = "Measure the frame again: staples and cotton weigh a little too."
    return WorkInstructions("Inside the handle", (*opened, *_filled(inside, written), closed, again))


def _cap_off(sport: Sport) -> str:
    if sport is Sport.PICKLEBALL:
        return (
            "Take the cap off. Many are glued: warm it a little, and where it does not give, leave it and place the "
            "weight under the grip instead."
        )
    return (
        "Lift each staple with a staple remover, away from your hand; count them. Draw the cap off straight."
    )


def _filled(inside: Sequence[PieceOfMaterial], written: NumberWriter) -> list[str]:
    """What is done inside, and that nothing rattles after."""
    steps = []
    if any(each.piece.removed for each in inside):
        steps.append("Take out what comes out and weigh it.")
    if any(each.kind is MaterialKind.BUTT_CAP for each in inside):
        steps.append("Weigh both caps: what the new one has more is what counts.")
    loose = [each.piece for each in inside if is_loose_inside(each)]
    if not loose:
        return steps
    added = " and ".join(written.mass(piece.total_mass_g) for piece in loose)
    if any(piece.fills_cavity for piece in loose):
        where = "push it in with a rod marked for its depth, and press cotton in above and below it"
    else:
        where = "press it into the cap, and fill the rest of the cap with cotton"
    return [*steps, f"Weigh {added}, {where}.", "Shake the frame: nothing may rattle."]


def is_loose_inside(placed: PieceOfMaterial) -> bool:
    """Whether a piece inside the handle rattles unless something holds it."""
    return not placed.piece.removed and placed.kind is not MaterialKind.BUTT_CAP


def under_grip(plan: PlanState, shelf: Shelf, written: NumberWriter) -> WorkInstructions | None:
    """How strips go under a grip and the grip is wound again; None where it stays on."""
    layers = [piece for piece in plan.pieces if piece.goes_round_handle]
    if not layers:
        return None
    strips = [_strips(piece, shelf, plan, written) for piece in layers]
    return WorkInstructions(
        "Under the grip",
        (
            "Mark on the handle where the grip ends, and note which way it winds.",
            "Take the finishing tape off and unwind the grip from the top; keep its adhesive clean.",
            *(step for step in strips if step),
            "Start the grip just below the edge of the cap, narrow end first, with one full turn over itself.",
            f"Wind upward under an even pull; each turn covers about {written.length(OVERLAP_CM)} of the one below.",
            "Stop at your mark. Draw the finish line level round the handle and cut straight along it.",
            "Close it with finishing tape, pulled tight.",
        ),
    )


def _strips(piece: Piece, shelf: Shelf, plan: PlanState, written: NumberWriter) -> str:
    """How the strips of a piece lie along the handle; empty where it is no tape."""
    stock = shelf.of(piece)
    if stock is None or not stock.is_tape or not stock.density.value:
        return ""
    lengths = Counter(piece.tape_lengths(stock.density.value))
    strips = " and ".join(f"{number} × {written.length(cm)}" for cm, number in lengths.items())
    if piece.removed:
        return f"Remove {strips} of {stock.name} and weigh it."
    start, end = piece.ends(plan.outline)
    return (
        f"Place {strips} of {stock.name} along the {piece.bevels}, opposite ones in pairs, {written.length(start)} to "
        f"{written.length(end)} from the butt; roll them down."
    )
