"""Targets by wish or number, proposals, and laying one of them."""

from io import BytesIO

import pytest
from pypdf import PdfReader

from kentrobar.web.planning.models import Plan
from tests.web.conftest import new_frame, new_person


def typed(client, racket, wish="hold", **changes):
    """What the page of a wish would send."""
    form = client.get(f"/plans/aim/{racket.pk}?wish={wish}").context["form"]
    data = {"step_0": "0.5", "step_1": "cm"}
    for name in ("tape", "putty"):
        data[name] = form.fields[name].queryset.first().pk
    for name, (text, unit, *spread) in (
        (n, v) for n, v in form.initial.items() if isinstance(v, tuple) and n != "step"
    ):
        data |= {f"{name}_0": text, f"{name}_1": unit, f"{name}_2": spread[0] if spread else ""}
    return data | changes


def test_a_wish_is_proposed_and_laid(client, racket):
    data = typed(client, racket)
    page = client.post(f"/plans/aim/{racket.pk}", data)
    assert page.status_code == 200
    assert "proven least" in page.content.decode()
    assert not Plan.objects.exists()
    laid = client.post(f"/plans/aim/{racket.pk}", data | {"lay": "polarized"})
    plan = Plan.objects.get()
    assert laid.url == f"/plans/{plan.pk}/"
    board = client.get(laid.url)
    assert board.status_code == 200
    change = plan.pieces
    assert {piece["piece"]["label"] for piece in change} <= {"12", "inside the butt cap"}
    assert all(piece["material"] for piece in change)


def test_a_clash_is_named_with_the_nearest(client, racket):
    data = typed(client, racket, "power", ceiling_0="309", ceiling_1="g")
    page = client.post(f"/plans/aim/{racket.pk}", data).content.decode()
    assert "Static weight and swing weight cannot both be met" in page
    assert "The nearest that can be had" in page


@pytest.mark.parametrize(
    ("changes", "sentence"),
    [
        ({"swingweight_0": "", "balance_0": ""}, "type one target at least"),
        ({"swingweight_0": "fast"}, "not a number"),
        ({"step_0": "0"}, "above 0"),
        ({"tape": "999999"}, "valid choice"),
    ],
)
def test_bad_targets_are_refused_and_kept(client, racket, changes, sentence):
    page = client.post(f"/plans/aim/{racket.pk}", typed(client, racket) | changes)
    assert page.status_code == 422
    assert sentence in page.content.decode()


def test_what_was_never_read_cannot_be_aimed_at(client, paddle):
    data = typed(client, paddle, "heavier", swingweight_0="120", swingweight_1="kg·cm²")
    page = client.post(f"/plans/aim/{paddle.pk}", data)
    assert page.status_code == 422
    assert "not known" in page.content.decode()


@pytest.mark.parametrize(
    "spec", ["swingweight_kgcm2", "balance_cm", "twistweight_kgcm2", "nonsense"]
)
def test_the_map_of_a_gram_and_its_card(client, racket, paddle, spec):
    for frame in (racket, paddle):
        page = client.get(f"/plans/gram/{frame.pk}?spec={spec}")
        assert page.status_code == 200
        assert 'class="shade-5' in page.content.decode()
    card = client.get(f"/plans/gram/{racket.pk}/card.pdf?spec={spec}&paper=letter")
    assert card.content.startswith(b"%PDF")
    (sheet,) = PdfReader(BytesIO(card.content)).pages
    assert "What a gram does here" in sheet.extract_text()


def test_anothers_frame_is_not_aimed_at(client):
    frame = new_frame(new_person("stranger"), "Not yours")
    for address in ("aim", "gram"):
        assert client.get(f"/plans/{address}/{frame.pk}").status_code == 404
    assert client.get(f"/plans/gram/{frame.pk}/card.pdf").status_code == 404
