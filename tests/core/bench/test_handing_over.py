"""What a player is told: what concerns them, and nothing that is not on their frame."""

import pytest

from kentrobar.core.bench.cautions import Hazard
from kentrobar.core.bench.handing_over import (
    ask_before,
    how_to_keep,
    note_to_stringer,
    players_cautions,
    undo_steps,
)
from kentrobar.core.weight.materials import MaterialKind
from kentrobar.core.weight.piece_of_material import PieceOfMaterial
from kentrobar.core.weight.prediction import predict
from tests.core.frames import RACKET, REED, point, strip

TAPE = PieceOfMaterial(strip(15.0, 8.0, mirrored=True, label="sides"), MaterialKind.LEAD_TAPE)
CAP = PieceOfMaterial(point(4.0, 1.8, label="cap"), MaterialKind.REMOVABLE_PUTTY)


def test_a_frame_that_nothing_was_laid_on_asks_for_little():
    assert len(how_to_keep([], RACKET)) == 1
    assert note_to_stringer([], RACKET) == []
    assert players_cautions(set()) == []


def test_lead_comes_first_and_each_caution_stands_once():
    told = players_cautions(set(Hazard))
    assert "lead" in told[0].lower()
    assert len(told) == len(set(told)) == 5
    assert len(players_cautions({Hazard.HEAVIER_HEAD})) == 1


def test_tape_and_putty_are_told_how_to_keep():
    told = " ".join(how_to_keep([TAPE, CAP], RACKET))
    assert "strip lifts" in told
    assert "rattles" in told
    assert "rattles" not in " ".join(how_to_keep([TAPE], RACKET))


def test_a_paddle_has_no_strings_to_ask_about():
    assert any("strings" in text for text in ask_before(is_racket=True))
    assert not any("strings" in text for text in ask_before(is_racket=False))


def test_undoing_all_leads_back_to_where_it_began():
    """The steps add up to what was laid, computed by the prediction of the whole."""
    laid = [TAPE, CAP]
    steps = undo_steps(laid, RACKET, 10.0)
    change = predict(
        REED, [each.piece for each in laid], length_cm=RACKET.length_cm, axis_cm=10.0, outline=RACKET
    ).change
    assert [step.piece for step in steps] == [CAP.piece, TAPE.piece]
    assert sum(step.mass_g for step in steps) == pytest.approx(-change.mass_g.value)
    assert sum(step.swingweight_kgcm2 for step in steps) == pytest.approx(-change.swingweight_kgcm2.value)
