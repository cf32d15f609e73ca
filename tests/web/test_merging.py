"""Two pages of one thing, open at once: what each of them changed is kept, and a clash is told."""

import re

import pytest

from kentrobar.web.frames.services import fit_accessories
from kentrobar.web.materials.models import Accessory
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.orders.jobs.services import take_job
from tests.addresses import at
from tests.web.conftest import words
from tests.web.typing_in import form_of


def _job(technician, racket):
    return at("orders:edit", take_job(technician, client="Ines", frames=[racket], brief="Alike").pk)


def _fitting(technician, racket):
    (fitting,) = fit_accessories(racket, Accessory.objects.filter(shop=technician.shop, kind="dampener"))
    return at("frames:edit_fitting", racket.pk, fitting.pk)


def _instrument(technician, _racket):
    return at(
        "measuring:edit_instrument", Instrument.objects.filter(shop=technician.shop, kind="board")[0].pk
    )


def _material(technician, _racket):
    return at("materials:material", technician.shop.materials.get(name="Lead tape, quarter inch").pk)


# Where it is edited, and two fields of it with what two people type there.
EDITED = {
    "frame": (lambda _, racket: at("frames:edit", racket.pk), "notes", "from the new box", "colour", "red"),
    "frame's grip": (lambda _, racket: at("frames:edit", racket.pk), "pallet", "round", "ceiling_0", "330"),
    "rule of thumb": (
        lambda *_: at("play:edit_rule", "power"),
        "reason",
        "Since it is.",
        "not_where",
        "Nowhere.",
    ),
    "frame's dimension": (lambda _, racket: at("frames:edit", racket.pk), "beam_0", "24", "strain", "elbow"),
    "job": (_job, "brief", "Make the two alike", "waiting_for", "strings"),
    "fitting": (_fitting, "mass_0", "1.8", "y_0", "55"),
    "fitting's note": (_fitting, "mass_0", "1.9", "note", "worn"),
    "instrument": (_instrument, "repeatability", "0.07", "name", "Long board"),
    "material": (_material, "note", "cuts easily", "undo", "trial"),
    "material's weight": (_material, "weight_0", "0.11", "price", "12.00"),
    "shop": (lambda *_: at("shops:shop"), "altitude_m", "120.0", "work_days", ["0", "2"]),
    "shop's ranges and rules": (
        lambda *_: at("shops:shop"),
        "range_tennis_mass",
        "300 to 340",
        "rules_tennis_note",
        "looked up",
    ),
    "preferences": (lambda *_: at("shops:preferences"), "mass_unit", "oz", "wants_percent", "on"),
}


OF_FEW = ("on", "elbow", "trial")  # choices: of these no third value is at hand to clash with
CLASHING = [what for what, row in EDITED.items() if isinstance(row[-1], str) and row[-1] not in OF_FEW]


@pytest.fixture(params=EDITED)
def edited(request, technician, racket):
    address, *fields = EDITED[request.param]
    return address(technician, racket), *fields


def test_what_two_pages_change_is_kept(client, edited):
    """In either order; what neither touched stays."""
    address, first, one, second, other = edited
    for mine, typed, theirs, said in ((first, one, second, other), (second, other, first, one)):
        sent = form_of(client.get(address), first)
        assert client.post(address, sent | {theirs: said}).status_code == 302
        assert client.post(address, sent | {mine: typed}).status_code == 302
        now = form_of(client.get(address), first)
        assert {first: now.get(first), second: now.get(second)} == {
            first: [one] if isinstance(one, str) else one,
            second: [other] if isinstance(other, str) else other,
        }
        changed = {name for name in now if now[name] != sent.get(name)} - {first, second}
        assert {name for name in changed if not name.startswith(("csrf", "seen"))} == set()
        assert client.post(address, now | {n: sent.get(n, []) for n in (first, second)}).status_code == 302


@pytest.mark.parametrize("edited", CLASHING, indirect=True)
def test_a_clash_is_told_and_decided(client, edited):
    address, field, _, typed, other = edited
    sent = form_of(client.get(address), field)
    client.post(address, sent | {typed: other})
    mine = {"y_0": "54", "price": "11.00", "ceiling_0": "340"}.get(typed, "something else")
    refused = client.post(address, sent | {typed: mine})
    assert refused.status_code == 422
    assert f"“{other}” meanwhile" in re.sub(r" (cm|g)”", "”", words(refused))
    again = form_of(refused, field)
    assert again[typed] == [mine]
    assert form_of(client.get(address), field)[typed] == [other]
    assert client.post(address, again).status_code == 302
    assert form_of(client.get(address), field)[typed] == [mine]


def test_what_the_page_does_not_show_is_left_alone(client, racket):
    """A page that leaves fields out erases nothing; and the page of a racket shows all of its own."""
    racket.mains, racket.crosses, racket.post_hold, racket.bumper_reach_cm = 16, 19, "offset", 58.0
    racket.save()
    address = at("frames:edit", racket.pk)
    sent = form_of(client.get(address), "notes")
    assert sent["pattern"] == ["16 x 19"]
    less = {n: texts for n, texts in sent.items() if not n.startswith(("pattern", "post_hold", "bumper"))}
    for form in (less, sent):
        assert client.post(address, form | {"notes": "new"}).status_code == 302
        racket.refresh_from_db()
        assert (racket.mains, racket.crosses, racket.post_hold) == (16, 19, "offset")
        assert (racket.bumper_reach_cm, racket.notes) == (58.0, "new")


def test_a_page_sent_untouched_writes_nothing(client, edited):
    address, field, *_ = edited
    sent = form_of(client.get(address), field)
    assert client.post(address, sent).status_code == 302
    again = form_of(client.get(address), field)
    assert {n: t for n, t in again.items() if n != "csrfmiddlewaretoken"} == {
        n: t for n, t in sent.items() if n != "csrfmiddlewaretoken"
    }


def test_two_who_weigh_and_describe_one_accessory_keep_both(client, technician):
    grip = Accessory.objects.get(shop=technician.shop, kind="overgrip")
    page, action = at("materials:fittings"), at("materials:weigh", grip.pk)
    note, thickness = f"a{grip.pk}-note", f"a{grip.pk}-thickness"
    for typed in ([(note, "tacky"), (thickness, "0.5 mm")], [(thickness, "0.7 mm"), (note, "dry")]):
        sent = form_of(client.get(page), note)
        for name, text in typed:
            assert client.post(action, sent | {name: text}).status_code == 302
        now = form_of(client.get(page), note)
        assert {name: now[name] for name, _ in typed} == {name: [text] for name, text in typed}
