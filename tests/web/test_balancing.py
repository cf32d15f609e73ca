"""Completing a plan in one click, and taking away what is fitted."""

import pytest

from kentrobar.web.frames.services import fit_accessories
from kentrobar.web.planning.stored import plan_state
from tests.addresses import at
from tests.web.conftest import words


@pytest.fixture
def fitted(racket, technician):
    kinds = ["bumper", "grip", "strings", "dampener", "factory_tape"]
    accessories = technician.shop.accessories.filter(kind__in=kinds)
    return {fitting.kind: fitting for fitting in fit_accessories(racket, accessories)}


def change(plan):
    plan.refresh_from_db()
    return plan_state(plan).prediction.change


def complete(hand, kind, amount="", material="Removable putty"):
    return hand.do("complete", kind=kind, amount=amount, material=hand.material[material])


def test_counterbalance_in_one_click(hand, plan):
    hand.lay(amount="12 cm", site="twelve", mirrored="1")
    assert change(plan).balance_cm.value > 0.1
    assert complete(hand, "hold").status_code == 200
    assert change(plan).balance_cm.value == pytest.approx(0, abs=0.01)
    pieces = len(hand.pieces)
    hand.do("edit", piece=1, field="length", value="16 cm")
    assert change(plan).balance_cm.value > 0.03
    assert complete(hand, "hold").status_code == 200
    assert change(plan).balance_cm.value == pytest.approx(0, abs=0.01)
    assert len(hand.pieces) == pieces


def test_an_aim_is_met_by_a_piece_in_the_units_of_the_person(hand, client, plan, technician):
    """Tried first, then saved; out of reach it says what the piece can do; what is no number is said so."""
    hand.lay(amount="6 cm", site="ten_two", mirrored="1")
    aim = {"action": "meet", "piece": 1, "spec": "swingweight_kgcm2", "value": "+5"}
    tried = client.post(at("planning:preview", plan.pk), aim)
    assert tried.json()["numbers"]["swingweight_kgcm2-change"] in ("+5.0", "+4.9", "+5.1")
    assert change(plan).swingweight_kgcm2.value < 4
    assert hand.do("meet", piece=1, spec="swingweight_kgcm2", value="+5").status_code == 200
    assert change(plan).swingweight_kgcm2.value == pytest.approx(5.0, abs=0.1)
    technician.mass_unit, technician.balance_unit = "oz", "pt"
    technician.save()
    assert hand.do("meet", piece=1, spec="mass_g", value="+0.1").status_code == 200
    assert change(plan).mass_g.value == pytest.approx(2.835, abs=0.05)
    plan.refresh_from_db()
    now = plan_state(plan).prediction.after.points_headlight.value
    assert hand.do("meet", piece=1, spec="points_headlight", value=f"{now - 0.5:.2f}").status_code == 200
    plan.refresh_from_db()
    assert plan_state(plan).prediction.after.points_headlight.value < now
    far = hand.do("meet", piece=1, spec="mass_g", value="+9", by="place")
    assert far.status_code == 422
    assert " oz" in far.json()["message"]
    assert "not a number" in hand.do("meet", piece=1, spec="mass_g", value="more").json()["message"]


def test_a_counterweight_is_of_what_is_usual_at_its_place(hand, plan):
    hand.lay(site="ten_two")
    assert hand.do("complete", kind="hold").status_code == 200
    assert "putty" in hand.pieces[-1]["piece"]["material"].lower()
    hand.do("undo")
    hand.do("undo")
    hand.lay("Removable putty", "6 g", site="butt_cap")
    assert hand.do("complete", kind="hold").status_code == 200
    assert "tape" in hand.pieces[-1]["piece"]["material"].lower()


@pytest.mark.parametrize("material", ["Removable putty", "Lead tape, half inch"])
def test_shift_and_heft(hand, plan, material):
    assert complete(hand, "shift", "-3 mm", material).status_code == 200
    assert change(plan).balance_cm.value == pytest.approx(-0.3, abs=0.02)
    assert change(plan).swingweight_kgcm2.value == pytest.approx(0, abs=0.1)
    mass = change(plan).mass_g.value
    assert complete(hand, "heft", "5 g", material).status_code == 200
    assert change(plan).mass_g.value == pytest.approx(mass + 5, abs=0.01)


@pytest.mark.parametrize(
    ("kind", "amount", "sentence"),
    [
        ("shift", "3 mm", "remove weight"),
        ("shift", "soon", "not a number"),
        ("heft", "-2 g", "above 0"),
        ("heft", "900 g", "at most 60"),
        ("moon", "", "Reload it"),
    ],
)
def test_what_cannot_complete_says_why(hand, kind, amount, sentence):
    refused = complete(hand, kind, amount)
    assert refused.status_code == 422
    assert sentence in refused.json()["message"]
    assert hand.pieces == []


def test_in_a_foam_handle_the_fix_is_offered(hand, racket, plan):
    racket.handle_build = "foam"
    racket.save()
    refused = complete(hand, "shift", "-3 mm")
    assert refused.json()["fixes"] == ["Put it inside the butt cap"]


def test_rounding_all_strips(hand):
    hand.lay(amount="7.3 cm", site="three_nine", mirrored="1")
    assert hand.do("round", amount="5 mm").status_code == 200
    assert hand.pieces[0]["piece"]["length_cm"]["value"] == 7.5
    assert hand.do("round", amount="0").status_code == 422


def test_what_is_fitted_is_cut_and_exchanged_as_people_say_it(hand, plan, fitted, technician, client):
    """ "2 3/8 in at 12", half a gram, a piece that was weighed; thinner strings; a thicker overgrip."""
    technician.length_unit = "in"
    technician.save()
    bumper = {"fitting": fitted["bumper"].pk, "how": "cut"}
    assert hand.do("take_away", amount="2 3/8", at="12:00", **bumper).status_code == 200
    assert hand.pieces[0]["piece"]["length_cm"]["value"] == pytest.approx(2.375 * 2.54, abs=0.01)
    again = hand.do("take_away", amount="1 in", at="12:15", **bumper)
    assert again.status_code == 422
    assert "already removes that part" in again.json()["message"]
    assert hand.do("take_away", amount="0.5 g", at="2:00", **bumper).status_code == 200
    assert laid_plan_of(plan).pieces[1].total_mass_g == pytest.approx(0.5, rel=0.02)
    weighed = hand.do("take_away", amount="1 in", weighed="0.4 g", at="3:00", **bumper)
    assert weighed.status_code == 200
    assert laid_plan_of(plan).pieces[2].total_mass_g == pytest.approx(0.4)
    strings = {"fitting": fitted["strings"].pk, "how": "exchange"}
    wrong = hand.do("take_away", gauge="1.20 mm", material="steel", **strings)
    assert wrong.json()["field"] == "material"
    mass = change(plan).mass_g.value
    assert (
        hand.do("take_away", gauge="1.10 mm", material="nylon", pattern="16x19", **strings).status_code == 200
    )
    assert change(plan).mass_g.value < mass
    grip = technician.shop.accessories.get(kind="leather")
    swap = {"fitting": fitted["grip"].pk, "how": "exchange", "accessory": grip.pk}
    assert hand.do("take_away", **swap).status_code == 200
    assert not hand.pieces[-1]["piece"].get("removed")
    page = words(client.get(at("planning:board", plan.pk)))
    assert "of a size smaller" in page
    assert "for Replacement grip" in page


def laid_plan_of(plan):
    plan.refresh_from_db()
    return plan_state(plan)


def test_taking_away_is_predicted_with_its_cost_beside_it(hand, plan, fitted, client):
    page = client.get(at("planning:board", plan.pk)).content.decode()
    assert "a warranty may be void" in page
    take = {"fitting": fitted["bumper"].pk}
    assert hand.do("take_away", how="trim", amount="2 cm", **take).status_code == 200
    trimmed = change(plan)
    assert trimmed.mass_g.value < 0
    assert trimmed.swingweight_kgcm2.value < 0
    assert hand.do("take_away", how="whole", **take).status_code == 200  # what was to be cut off goes with it
    assert len(hand.pieces) == 1
    assert hand.do("take_away", how="whole", **take).status_code == 422
    strings = {"fitting": fitted["strings"].pk}
    assert hand.do("take_away", how="exchange", amount="15 g", **strings).status_code == 200
    assert hand.pieces[1]["piece"]["kind"] == "strings"
    assert hand.edit("place", "20 cm", piece=2).status_code == 422
    assert hand.do("nudge", piece=2, toward="tip", by_cm="1").status_code == 200
    assert hand.do("take_away", how="whole", fitting=fitted["factory_tape"].pk).status_code == 200
    assert client.get(at("planning:sheet", plan.pk)).status_code == 200
    assert hand.do("take_away", how="whole", fitting="999999").status_code == 422
