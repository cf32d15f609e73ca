"""A plan stays on the readings it was laid on; a newer one is offered, compared, taken, given back."""

import pytest

from kentrobar.web.frames import services as frames
from kentrobar.web.frames.builds import fittings_in
from kentrobar.web.frames.models import Frame
from kentrobar.web.measuring.services import Taking, as_readings, record
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.services import create_plan
from kentrobar.web.planning.stored import plan_state
from tests.addresses import at
from tests.web.conftest import new_frame, new_person, words
from tests.web.test_sheet import told  # noqa: F401 - a fixture

FIELDS = ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2")


@pytest.fixture
def laid(hand, plan):
    hand.lay(amount="8 cm", site="twelve")
    hand.lay("Removable putty", "6 g", site="butt_cap")
    plan.refresh_from_db()
    return plan_state(plan)


def read(frame, specs, by, build="playing", fitted=None):
    """The frame read again as having these specs, each ± as of the reading before."""
    frame = Frame.objects.get(pk=frame.pk)
    before = frame.measured
    again = {n: getattr(before, n)._replace(value=getattr(specs, n).value) for n in FIELDS}
    measured = type(before)(**again, axis_cm=specs.axis_cm)
    return record(frame, Taking(measured, build, as_readings(measured), fitted), by)


def board(client, plan):
    return client.get(at("planning:board", plan.pk))


def test_a_plan_does_not_move_when_its_frame_is_read_again(
    laid,
    hand,
    plan,
    racket,
    client,
    technician,
    told,  # noqa: F811
):
    """On screen, while dragging, in the list, in the file, on paper."""

    def all_of_it():
        page = board(client, plan).context
        dragged = hand.preview("drag", piece=1, x=9, y=60).json()["numbers"]
        listed = [row.changes for row in client.get(at("planning:list")).context["rows"]]
        document = client.get(at("planning:export", plan.pk)).content
        return page["cards"], dragged, listed, document

    before, printed = all_of_it(), told(plan)
    read(racket, laid.prediction.after, technician)
    assert all_of_it() == before
    again = told(plan)
    assert "this plan stays on the reading above" in again
    tables = [text.partition("Read at the bench")[2].partition("Pieces")[0] for text in (printed, again)]
    assert tables[0] == tables[1] != ""


def test_the_newer_reading_stands_beside_what_was_predicted(laid, plan, racket, client, technician):
    assert board(client, plan).context["again"] is None
    for specs, sentence in (
        (laid.prediction.before, "It is unchanged within the ± of both: the"),
        (laid.prediction.after, "prediction within"),
    ):
        read(racket, specs, technician)
        page = words(board(client, plan))
        assert sentence in page
        assert "This plan keeps its basis." in page
    mass = laid.prediction.after.mass_g._replace(value=330.0)
    read(racket, laid.prediction.after._replace(mass_g=mass), technician)
    again = board(client, plan).context["again"]
    assert "It matches neither the old reading nor the" in again.sentence
    assert [row.name for row in again.rows if row.cell.gap.is_real] == ["Static weight"]


def test_a_reading_in_another_build_is_converted_first(racket, client, technician):
    """Read bare, the frame is what it was less strings and grip."""
    frames.fit(racket, kind="strings", label="Strings", mass_g=16.0, mass_u_g=0.5)
    frames.fit(racket, kind="grip", label="Grip", mass_g=15.0, mass_u_g=0.05)
    keys = [fitting.key for fitting in fittings_in(racket, "playing")]
    whole = plan_state(create_plan(racket, technician, name="Before")).prediction.before
    sheet = read(racket, whole, technician, fitted=keys)
    plan = create_plan(Frame.objects.get(pk=racket.pk), technician, name="With the grip")
    assert plan.specs == sheet
    light = whole._replace(mass_g=whole.mass_g._replace(value=whole.mass_g.value - 15.0 - 16.0))
    read(racket, light, technician, "bare", [])
    again = board(client, plan).context["again"]
    assert again.is_converted
    (mass,) = [row for row in again.rows if row.name == "Static weight"]
    assert mass.cell.gap.by.value.lstrip("+-−±") == "0.0"


def test_a_newer_reading_is_taken_as_start_and_given_back(laid, hand, plan, racket, client, technician):
    first, address = plan.specs_id, at("planning:new_start", plan.pk)
    sheet = read(racket, laid.prediction.after, technician)
    late = client.post(address, {"base": plan.version - 1}, follow=True)
    assert "changed in another tab" in words(late)
    page = client.post(address, {"base": plan.version}, follow=True)
    assert page.context["again"] is None
    plan.refresh_from_db()
    assert plan.specs_id == sheet.pk
    moved = plan_state(plan).prediction
    assert moved.before.mass_g.value == pytest.approx(laid.prediction.after.mass_g.value)
    gained = laid.prediction.change.mass_g.value
    assert moved.change.mass_g.value == pytest.approx(gained)
    copied = client.post(at("planning:copy", plan.pk), {"revision": "2"}).json()["plan"]
    assert Plan.objects.get(pk=copied).specs_id == first
    hand.version = plan.version
    assert "Measured again" in hand.do("undo").json()["html"]["start"]
    plan.refresh_from_db()
    assert plan.specs_id == first
    assert "Measured again" not in hand.do("redo").json()["html"]["start"]
    plan.refresh_from_db()
    assert plan.specs_id == sheet.pk


def test_a_plan_laid_before_any_reading_is_offered_the_first(client, technician, racket):
    read_then = racket.specs
    racket.specs = None
    plan = create_plan(racket, technician, name="Blind", axis_cm=10.0)
    page = words(board(client, plan))
    assert "Based on no reading: the changes hold, the" in page
    assert "Measured since, on" in page
    client.post(at("planning:new_start", plan.pk), {"base": plan.version})
    plan.refresh_from_db()
    assert plan.specs == read_then


def test_a_reading_is_set_aside_with_a_reason_and_counts_again(client, racket, technician):
    first = racket.specs
    whole = plan_state(create_plan(racket, technician, name="First")).prediction.before
    second = read(racket, whole._replace(mass_g=whole.mass_g._replace(value=320.0)), technician)

    def counting():
        return Frame.objects.get(pk=racket.pk).specs

    for reason, counts in (("  ", second), ("The scale stood on the towel.", first)):
        client.post(at("measuring:set_aside", second.pk), {"reason": reason})
        assert counting() == counts
    page = words(client.get(at("measuring:readings", racket.pk)))
    assert "Excluded: The scale stood on the towel." in page
    assert "320" in page, "nothing is deleted"
    # What is read next follows on the reading that counts.
    third = read(racket, whole, technician)
    assert third.replaces == first
    assert counting() == third
    client.post(at("measuring:set_aside", third.pk), {"reason": "Wrong frame."})
    client.post(at("measuring:count_again", second.pk))
    assert counting() == second
    client.post(at("measuring:count_again", third.pk))
    assert counting() == third
    for sheet in (first, second, third):
        client.post(at("measuring:set_aside", sheet.pk), {"reason": "All wrong."})
    assert counting() is None
    assert client.get(at("frames:detail", racket.pk)).status_code == 200


def test_a_plan_tells_that_its_start_was_set_aside(laid, plan, racket, client, technician):
    second = read(racket, laid.prediction.before, technician)
    client.post(at("planning:new_start", plan.pk), {"base": plan.version})
    client.post(at("measuring:set_aside", second.pk), {"reason": "Wrong frame."})
    page = words(board(client, plan))
    assert "The reading behind this plan was excluded" in page


def test_only_the_own_shop_sets_aside(client, racket):
    stranger = new_person("stranger")
    sheet = new_frame(stranger, "Not yours").specs
    for way in ("aside", "count"):
        answer = client.post(f"/measure/sheets/{sheet.pk}/{way}", {"reason": "x"})
        assert answer.status_code == 404
