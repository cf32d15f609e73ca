"""Where a player hits: marked once, told with its ±, and plans that move the sweet spot there."""

import re

import pytest
from django.urls import reverse

from kentrobar.core.play.hits import Hit, hit_centre
from kentrobar.core.play.sweet_zone import hitting_face
from kentrobar.core.quantities.errors import SpecError
from kentrobar.web.planning.models import Plan
from kentrobar.web.play.hits.services import mark_hits
from kentrobar.web.play.models import HitMap
from kentrobar.web.showing.drawing import backdrop_of, x_mm
from tests.addresses import at
from tests.web.conftest import answers, new_person, searched, words

HIGH = "\n".join(f"{x} {y}" for x in (-1.0, 0.5, 2.0) for y in (51.0, 52.0, 53.0, 54.0))


@pytest.fixture
def hit_map(client, racket):
    page = client.post(at("play:frame_hits", racket.pk), {"stroke": "volley", "about": "at the net"})
    found = HitMap.objects.get()
    assert page.headers["Location"] == at("play:hits", found.pk)
    return found


def mark(client, hit_map, seen, **sent):
    return client.post(at("play:mark", hit_map.pk), {"seen": seen} | sent)


def tap(hit_map, x_cm, y_cm):
    """A place of the face as the drawing's tap tells it."""
    middle = backdrop_of(hit_map.frame.outline).middle
    return f"{x_mm(y_cm)},{middle + 10 * x_cm:.1f}"


def test_a_tap_is_kept_where_it_was_put(client, hit_map):
    taps = " ".join(tap(hit_map, *place) for place in ((1.2, 50.0), (-3.0, 55.5)))
    mark(client, hit_map, 0, taps=taps)
    hit_map.refresh_from_db()
    assert hit_map.hits == [[1.2, 50.0], [-3.0, 55.5]]
    page = client.get(at("play:hits", hit_map.pk))
    assert "2 marked: too few" in words(page)
    assert "3.0 left of the axis, 55.5 cm from the butt" in words(page)


def test_hits_that_come_between_are_shown_with_the_refusal(client, hit_map, monkeypatch):
    """Both pages are read before either is written: the later one tells what is there by then."""

    def after_another(of, hits, seen):
        mark_hits(HitMap.objects.get(pk=of.pk), [Hit(1.0, 51.0)], seen)
        mark_hits(of, hits, seen)

    monkeypatch.setattr("kentrobar.web.play.hits.services.mark_hits", after_another)
    page = words(mark(client, hit_map, 0, typed="0 50"))
    assert "Impacts were added on another page" in page
    assert "1.0 right of the axis, 51.0 cm from the butt" in page


def test_what_is_typed_counts_in_the_persons_unit(client, hit_map, technician):
    technician.length_unit = "in"
    technician.save()
    mark(client, hit_map, 0, typed="-0.5 20\n1 21.5\n")
    hit_map.refresh_from_db()
    assert hit_map.hits == [[-1.27, 50.8], [2.54, 54.61]]
    text = words(client.get(at("play:hits", hit_map.pk)))
    assert " cm" not in text
    assert "21.50 in from the butt" in text


@pytest.mark.parametrize(
    ("sent", "sentence"),
    [
        ({"typed": "1 52\nleft 50"}, "Line 2, “left 50”"),
        ({"typed": "3"}, "give two lengths"),
        ({"typed": ""}, "Enter at least one impact"),
        ({"typed": "0 20"}, "beside the face"),
        ({"typed": "12 63"}, "beside the face"),
        ({"taps": "nan,3"}, "not on the drawing"),
        ({"taps": "1e9,3"}, "not on the drawing"),
        ({}, "not on the drawing"),
    ],
)
def test_what_cannot_be_a_hit_is_refused_and_kept(client, hit_map, sent, sentence):
    page = mark(client, hit_map, 0, **sent)
    assert page.status_code == 422
    assert sentence in words(page)
    if sent.get("typed"):
        assert sent["typed"].splitlines()[0] in page.content.decode()
    hit_map.refresh_from_db()
    assert hit_map.hits == []


def test_hits_marked_on_two_pages_are_not_lost(client, hit_map):
    mark(client, hit_map, 0, typed="0 50")
    late = mark(client, hit_map, 0, typed="1 51")
    assert late.status_code == 422
    assert "on another page meanwhile" in words(late)
    assert late.context["count"] == 1  # what is there is shown
    mark(client, hit_map, 1, typed="1 51")
    hit_map.refresh_from_db()
    assert hit_map.hits == [[0, 50], [1, 51]]


def test_a_hit_is_taken_back_by_its_number_once(client, hit_map):
    mark(client, hit_map, 0, typed="0 50\n1 51\n2 52")
    take = {"seen": 3, "number": 1}
    client.post(at("play:take_back", hit_map.pk), take)
    again = client.post(at("play:take_back", hit_map.pk), take)
    assert again.status_code == 422
    hit_map.refresh_from_db()
    assert hit_map.hits == [[0, 50], [2, 52]]


def test_a_map_has_an_end(hit_map):
    hits = [(0.0, 50.0)] * 600
    from kentrobar.core.play.hits import Hit

    mark_hits(hit_map, [Hit(*hit) for hit in hits], 0)
    with pytest.raises(SpecError, match="begin another"):
        mark_hits(hit_map, [Hit(*hit) for hit in hits], 600)


def test_the_page_tells_what_lies_in_the_map(client, hit_map):
    mark(client, hit_map, 0, typed=HIGH)
    hit_map.refresh_from_db()
    page = client.get(at("play:hits", hit_map.pk))
    rows = {name: value for name, value, _ in page.context["rows"]}
    centre = hit_centre(hit_map.marked)
    assert rows["Middle of the impacts, from the butt, cm"] == f"{centre.y_cm.value:.1f}"
    text = words(page)
    zone = float(rows["Middle of the sweet spot, from the butt, cm"])
    far = re.search(r"The player hits (\d+) mm nearer the tip", text)
    assert int(far[1]) == pytest.approx(10 * (52.5 - zone), abs=1)
    assert "Plan a sweet spot there" in text
    assert len(page.context["sheet"].lines) == 2
    # The map of the frame shows how high they lie, for that stroke only.
    assert page.context["sheet"].wanted_x == x_mm(52.5)
    on_map = client.get(at("play:frame", hit_map.frame_id), {"stroke": "volley"})
    assert "Slanted cross" in words(on_map)
    assert "Slanted cross" not in words(client.get(at("play:frame", hit_map.frame_id)))


def test_an_unread_frame_is_marked_all_the_same(client, hit_map):
    frame = hit_map.frame
    frame.specs = None
    frame.save()
    mark(client, hit_map, 0, typed=HIGH)
    text = words(client.get(at("play:hits", hit_map.pk)))
    assert "Middle of the impacts" in text
    assert "Measure it first. Then the map shows the sweet spot too" in text
    plans = client.get(at("play:zone_plans", hit_map.pk))
    assert "The response map needs the" in words(plans)


def test_four_taps_in_a_photo_tell_how_it_lies(client, hit_map):
    address = at("play:straighten", hit_map.pk)
    face = hitting_face(hit_map.frame.outline)
    told = client.get(address, {"taps": "400,100 700,500 400,900 100,500"}).json()["matrix"]
    x, y, w = (
        sum(told[4 * column + row] * value for column, value in ((0, 400), (1, 100), (3, 1)))
        for row in (0, 1, 3)
    )
    assert (x / w, y / w) == pytest.approx(
        (x_mm(float(face.y_cm[-1])), backdrop_of(hit_map.frame.outline).middle)
    )
    slipped = client.get(address, {"taps": "1,1 2,2 3,3 1,3"})
    assert slipped.status_code == 422
    assert "on a line" in slipped.json()["error"]
    assert client.get(address, {"taps": "1,1"}).status_code == 422


def test_plans_move_the_zone_to_the_hits_and_are_laid(client, hit_map):
    zone = 46.5
    page = client.get(at("play:zone_plans", hit_map.pk))
    assert "10.0 g more at" in words(page)
    mark(client, hit_map, 0, typed=HIGH)
    page = client.get(at("play:zone_plans", hit_map.pk))
    assert page.context["form"].initial["zone"][0] == "52.50"
    asked = {
        "search": "plans",
        "zone_0": zone,
        "zone_1": "cm",
        "zone_2": "0.2",
        "tape": "1",
        "putty": "2",
        "step_0": "0.5",
        "step_1": "cm",
        "layers": "3",
    }
    shelf = page.context["form"].fields
    asked |= {"tape": shelf["tape"].choices[0][0], "putty": shelf["putty"].choices[0][0]}
    address = at("play:zone_plans", hit_map.pk)

    def least(zone_cm):
        page = searched(client, address, asked | {"zone_0": zone_cm})
        return next(card for card in page.context["found"].cards if card.search.part == "least").view

    now = float(least(zone).was)
    reached = least(f"{now + 0.5:.2f}")
    assert reached.is_met
    assert float(reached.now) == pytest.approx(now + 0.5, abs=0.25)
    assert "proven" not in answers(client, "zone")["least"]
    client.post(reverse("planning:lay", args=[hit_map.frame_id]), {"signed": reached.signed})
    assert not least("60").is_met
    assert "out of reach" in answers(client, "zone")["least"]
    plan = Plan.objects.latest("pk")
    told = client.get(at("play:plan", plan.pk), {"stroke": "volley"}).context["rows"]
    middle = next(row for row in told if row.name.startswith("Sweet spot: middle"))
    assert middle.cell.now.value == reached.now


def test_a_zone_must_be_named(client, hit_map):
    page = client.post(at("play:zone_plans", hit_map.pk), {"search": "plans"})
    assert page.status_code == 422
    assert page.context["form"].errors["zone"]


def test_another_shop_sees_nothing_of_it(client, hit_map):
    other = new_person("other")
    client.force_login(other)
    for address in ("", "plans", "straighten?taps=1,1"):
        assert client.get(f"/play/hits/{hit_map.pk}/{address}").status_code == 404
    assert mark(client, hit_map, 0, typed="0 50").status_code == 404


def test_a_zone_out_of_reach_is_not_where_the_zone_should_be(client, hit_map):
    """Hits near the tip: no dose of weight brings the zone there, and the page says how far it comes."""
    typed = "\n".join(f"{x} {y}" for x in (-1.0, 0.5, 2.0) for y in (60.0, 61.0, 62.0, 63.0))
    mark(client, hit_map, 0, typed=typed)
    page = words(client.get(at("play:hits", hit_map.pk)))
    assert "nearer the tip than the middle of the sweet spot" in page
    told = re.search(r"10\.0 g at the best place move it by (\d+) mm that way: short of there", page)
    assert told
    assert "That is where the sweet spot should be, and" not in page
    assert 0 < int(told[1]) < 30
