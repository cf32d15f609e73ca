"""Things are known by key: names are for people, may be alike, and change."""

import re
from html import unescape

import pytest
from django.urls import reverse

from kentrobar.web.frames.models import FrameFitting
from kentrobar.web.frames.services import fit
from kentrobar.web.kit.models import Search
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.shops.models import Client
from tests.web.conftest import searched, words


def overgrip(frame, label):
    return fit(frame, kind="overgrip", label=label, mass_g=5.5, mass_u_g=0.3)


def test_taking_one_overgrip_leaves_the_other_to_be_taken(racket, hand):
    first, second = overgrip(racket, "Overgrip"), overgrip(racket, "Overgrip, second")
    for fitting in (second, first):
        taken = hand.do("take_away", how="whole", fitting=fitting.pk)
        assert taken.status_code == 200
    again = hand.do("take_away", how="whole", fitting=second.pk)
    assert again.status_code == 422
    assert [piece["fitting"] for piece in hand.pieces] == [second.pk, first.pk]


def test_a_fitting_that_changes_its_name_stays_taken_once(racket, hand):
    grip = overgrip(racket, "Overgrip")
    hand.do("take_away", how="whole", fitting=grip.pk)
    FrameFitting.objects.filter(pk=grip.pk).update(label="Something else")
    racket.save()  # what is fitted is part of what a frame is known as
    assert hand.do("take_away", how="whole", fitting=grip.pk).status_code == 422


def test_strips_of_a_renamed_roll_share_its_spread(hand, plan, technician):
    """One roll: its ± adds up before it is squared, whatever it was called when each strip was laid."""
    hand.lay(amount="10 cm")
    tape = technician.shop.materials.get(name="Lead tape, quarter inch")
    tape.name = "Lead from the long roll"
    tape.save()
    hand.do("add", material=tape.pk, amount="10 cm", site="twelve", mirrored="1")
    plan.refresh_from_db()
    both = plan_state(plan)
    one, other = both.pieces
    shared = [next(iter(piece.effect(both.outline).shared)) for piece in (one, other)]
    assert shared[0] == shared[1]


def test_a_name_that_fits_two_clients_is_asked_about(client, technician):
    for name in ("Ines", "INES"):
        Client.objects.create(shop=technician.shop, name=name)
    sent = {"player": "ines", "label": "Sedge", "length_0": "68.58", "length_1": "cm"}
    refused = client.post(reverse("taking_in:create", args=["tennis"]), sent)
    assert refused.status_code == 422
    assert "type it as one of them is written" in words(refused)
    meant = client.post(reverse("taking_in:create", args=["tennis"]), sent | {"player": "INES"})
    assert "type it as one of them" not in words(meant)


# -- cards carry what they showed -------------------------------------------------------------------


@pytest.fixture
def card(client, racket):
    form = client.get(reverse("planning:target", args=[racket.pk]) + "?goal=power").context["form"]
    data = {
        "tape": form.fields["tape"].choices[0][0],
        "putty": form.fields["putty"].choices[0][0],
        "step_0": "0.5",
        "step_1": "cm",
    }
    for name, value in form.initial.items():
        if isinstance(value, tuple) and name != "step":
            data |= {f"{name}_{i}": part for i, part in enumerate(value)}
    searched(client, reverse("planning:target", args=[racket.pk]), data)
    search = Search.objects.get(part="least")
    return client.get(reverse("kit:search", args=[search.pk])).content.decode()


def carried_by(card):
    return unescape(re.search(r'name="signed" value="([^"]+)"', card)[1])


def lay(client, frame, carried):
    return client.post(reverse("planning:lay", args=[frame.pk]), {"signed": carried}, follow=True)


def test_what_the_card_showed_is_laid(client, racket, card, technician):
    """Piece for piece, though the roll weighs something else by now; nothing is solved again."""
    technician.shop.materials.update(g_per_cm=0.5)
    lay(client, racket, carried_by(card))
    after = plan_state(Plan.objects.get()).prediction.after
    shown = re.search(r"Static weight</th>\s*<td class=\"number\">([\d.]+)", card)[1]
    assert f"{after.mass_g.value:.1f}" == shown


@pytest.mark.parametrize(
    "spoil",
    [
        lambda carried: carried[:-2] + ("aa" if carried[-2:] != "aa" else "bb"),
        lambda carried: "",
        lambda carried: "x" * 5000,
    ],
)
def test_a_card_that_was_not_made_here_is_refused(client, racket, card, spoil):
    refused = lay(client, racket, spoil(carried_by(card)))
    assert "earch again" in words(refused)
    assert not Plan.objects.exists()


def test_a_card_of_another_state_of_the_frame_is_refused(client, racket, card):
    overgrip(racket, "Overgrip")
    assert "was changed or measured since" in words(lay(client, racket, carried_by(card)))
    assert not Plan.objects.exists()


# -- specs that few look at -------------------------------------------------------------------------


def test_further_specs_are_shown_to_those_who_want_them(client, racket, plan, hand, technician):
    """Spin weight is swing and twist weight together; MgR/I is g·M·R/I about the swing axis."""
    hand.lay(site="twelve", amount="10 cm")
    address = reverse("planning:board", args=[plan.pk])
    assert "Spin weight" not in words(client.get(address))
    technician.wants_further_specs = True
    technician.save()
    cells = {card.row.key: card.row.cell for card in client.get(address).context["cards"]}
    after = plan_state(Plan.objects.get()).prediction.after
    mass, balance, swing, twist = (
        getattr(after, key).value
        for key in ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2")
    )
    assert float(cells["spinweight_kgcm2"].now.value) == pytest.approx(swing + twist, abs=0.06)
    rate = 980.665 * mass * (balance - 10) / (swing * 1000)
    assert float(cells["mgr_per_i"].now.value) == pytest.approx(rate, abs=0.006)
