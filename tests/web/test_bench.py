"""A plan at the bench: laid piece by piece, read, trimmed as told, and never in two places at once."""

import json
import math
import re

import pytest

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.target import Alike, Target
from kentrobar.core.editing.plan import PlanPiece
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.pieces import Source
from kentrobar.exchange.models import RoundsRequest
from kentrobar.exchange.reading import read_document
from kentrobar.exchange.rounds import answer_rounds
from kentrobar.web.bench.evidence import nearest_site
from kentrobar.web.bench.models import BenchEvent, BenchWork, DensityCorrection, RollFinding
from kentrobar.web.bench.queries import works_of
from kentrobar.web.bench.rounds import Action, work_state
from kentrobar.web.bench.view_models import bench_view
from kentrobar.web.history.applied import applied_pieces
from kentrobar.web.history.queries import steps_of
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.orders.insights import services as learning
from kentrobar.web.planning.services import create_plan
from tests.addresses import at
from tests.core.frames import point, strip
from tests.web.conftest import new_frame, new_person, words

UNITS = {"mass": "g", "balance": "mm", "swingweight": "kg·cm²", "twistweight": "kg·cm²"}


@pytest.fixture
def plan(technician):
    frame = new_frame(technician, "Reed 100 A1")
    pieces = (strip(15.0, 8.0, mirrored=True, label="sides"), point(4.0, 1.8, label="cap"))
    laid = tuple(PlanPiece(i, p) for i, p in enumerate(pieces, 1))
    return create_plan(frame, technician, name="Steadier", pieces=laid)


@pytest.fixture
def work(client, plan):
    assert client.post(at("bench:plan", plan.pk)).status_code == 302
    return BenchWork.objects.get()


def stand(technician):
    return work_state(works_of(technician).get())


def send(client, work, name, base, **more):
    return client.post(f"/bench/{work.pk}/{name}", {"base": base} | more, follow=True)


def lay_all(client, technician, work):
    while (now := stand(technician)).to_apply:
        send(client, work, "lay", BenchEvent.objects.count(), piece=now.to_apply[0])


def read(client, work, specs, times=3, **more):
    sent = {"base": BenchEvent.objects.count()}
    sent |= {f"{name}_unit": unit for name, unit in UNITS.items()}
    for name, value in specs.items():
        sent |= {f"{name}_{i}": value for i in range(1, times + 1)}
    return client.post(at("bench:work", work.pk), sent | more, follow=True)


def as_expected(technician, **off):
    """What is expected to be read now, with something on top."""
    now = stand(technician).now
    return {
        "mass": f"{now.mass_g.value + off.get('mass', 0):.2f}",
        "balance": f"{10 * now.balance_cm.value + off.get('balance', 0):.1f}",
        "swingweight": f"{now.swingweight_kgcm2.value + off.get('swing', 0):.1f}",
    }


def test_a_board_leads_to_the_bench(client, plan):
    assert at("bench:plan", plan.pk) in words(client.get(at("planning:board", plan.pk)))
    assert "Apply this plan" in words(client.get(at("bench:plan", plan.pk)))
    client.post(at("bench:plan", plan.pk))
    assert client.get(at("bench:plan", plan.pk)).status_code == 302
    client.post(at("bench:plan", plan.pk))
    assert BenchWork.objects.count() == 1
    page = words(client.get(at("orders:today")))
    assert "At the bench without a job" in page
    assert "apply" in page


def test_an_empty_plan_is_not_taken_to_the_bench(client, technician):
    empty = create_plan(new_frame(technician, "Reed 100 A2"), technician, name="Nothing")
    answer = client.post(at("bench:plan", empty.pk), follow=True)
    assert "Add weight to the plan first" in words(answer)
    assert not BenchWork.objects.exists()


def test_pieces_are_laid_in_order_with_what_is_then_expected(client, technician, work):
    page = words(client.get(at("bench:work", work.pk)))
    assert "0 of 2 done" in page
    assert "Then expect" in page
    before = stand(technician)
    expected = before.expected_with(before.to_apply[0])
    send(client, work, "lay", 0, piece=before.to_apply[0])
    after = stand(technician)
    assert after.now.mass_g == expected.mass_g
    assert len(after.to_apply) == 1
    send(client, work, "lay", 1, piece=after.to_apply[0], out="1")
    assert stand(technician).action is Action.READ
    assert [e.kind for e in BenchEvent.objects.all()] == ["laid", "left_out"]


def test_a_reading_as_expected_asks_for_no_trim(client, technician, work):
    lay_all(client, technician, work)
    page = words(read(client, work, as_expected(technician)))
    assert "agrees" in page
    assert stand(technician).action is Action.NEXT
    assert stand(technician).next.advice != "trim"
    assert "</svg> Trimmed" not in page


def test_a_trim_is_told_with_numbers_and_accepted_with_one_tap(client, technician, work):
    lay_all(client, technician, work)
    answer = read(client, work, as_expected(technician, swing=2.4), times=5)
    page = words(answer)
    now = stand(technician)
    assert now.next.advice == "trim"
    assert "Take" in page
    assert "</svg> Trimmed" in page
    told = now.next
    base = BenchEvent.objects.count()
    assert "Somebody changed" in words(send(client, work, "trim", base, trims="sample racket"))
    (said,) = re.findall(r'name="trims" value="([^"]+)"', " ".join(answer.content.decode().split()))
    send(client, work, "trim", base, trims=said)
    after = stand(technician)
    assert after.now.mass_g.value == pytest.approx(told.expect.after.mass_g.value, abs=1e-6)
    assert after.action is Action.READ
    assert BenchEvent.objects.filter(kind__in=("trimmed", "taken_off")).count() == len(told.trims)


def test_a_slip_is_questioned_and_can_be_believed(client, technician, work):
    lay_all(client, technician, work)
    before = stand(technician).now
    page = words(read(client, work, as_expected(technician, mass=12)))
    assert "static weight again" in page
    assert stand(technician).now.mass_g.value == pytest.approx(before.mass_g.value, abs=0.02)
    assert stand(technician).now.balance_cm.u < before.balance_cm.u  # what was read beside it counts
    send(client, work, "believe", BenchEvent.objects.count())
    found = stand(technician)
    assert found.now.mass_g.value == pytest.approx(before.mass_g.value + 12, abs=0.02)
    assert found.action is Action.NEXT


def test_two_readings_that_agree_question_the_one_before(client, technician, work):
    """The frame's first reading slipped: what is read again and again does not stay uncounted."""
    lay_all(client, technician, work)
    as_it_is = as_expected(technician, mass=3)
    read(client, work, as_it_is, times=1)
    assert not stand(technician).is_repeated
    page = read(client, work, as_it_is, times=1)
    assert stand(technician).is_repeated
    assert page.context["bench"].is_repeated
    send(client, work, "believe", BenchEvent.objects.count())
    assert stand(technician).now.mass_g.value == pytest.approx(float(as_it_is["mass"]))
    assert stand(technician).now.mass_g.u == pytest.approx(0.1, rel=0.05)
    read(client, work, as_it_is, times=3)
    assert (stand(technician).action, stand(technician).now.mass_g.u < 0.1) == (Action.NEXT, True)


def test_what_is_read_at_the_bench_leaves_the_specs_of_the_frame(client, technician, work, plan):
    lay_all(client, technician, work)
    read(client, work, as_expected(technician))
    plan.refresh_from_db()
    assert plan.frame.specs_id == work.specs_id


@pytest.mark.parametrize(
    ("typed", "sentence"),
    [
        ({}, "at least one reading"),
        ({"mass": "heavy"}, "number"),
        ({"balance": "900"}, "balance"),
        ({"mass": "3"}, "static weight of 3"),
    ],
)
def test_a_bad_reading_is_said_at_its_field_and_kept(client, work, typed, sentence):
    answer = read(client, work, typed)
    assert answer.status_code == 422
    assert sentence in words(answer)
    for value in typed.values():
        assert f'value="{value}"' in answer.content.decode()
    assert not BenchEvent.objects.exists()


def test_two_at_one_bench_see_each_other(client, technician, work):
    """What was done on a page that is no longer true is not known."""
    first = stand(technician).to_apply[0]
    send(client, work, "lay", 0, piece=first)
    answer = send(client, work, "lay", 0, piece=stand(technician).to_apply[0])
    assert "Somebody changed" in words(answer)
    answer = send(client, work, "lay", 1, piece=first)
    assert "Somebody changed" in words(answer)
    assert BenchEvent.objects.count() == 1
    assert "Somebody changed" in words(send(client, work, "end", 0))
    assert BenchWork.objects.get().ended_at is None


def test_a_piece_is_cut_otherwise_or_taken_off(client, technician, work):
    lay_all(client, technician, work)
    before = stand(technician).now.mass_g.value
    address = at("bench:piece", work.pk, 1)
    assert "Length of each strip now" in words(client.get(address))
    base = BenchEvent.objects.count()
    answer = client.post(address, {"base": base, "to_0": "-5", "to_1": "mm", "cut": "1"})
    assert answer.status_code == 422
    assert 'value="-5"' in answer.content.decode()
    client.post(address, {"base": base, "to_0": "50", "to_1": "mm", "cut": "1"})
    assert stand(technician).now.mass_g.value == pytest.approx(before - 2 * 3.0 * 0.1, abs=1e-6)
    client.post(address, {"base": base + 1, "off": "1"})
    assert [number for number, _ in stand(technician).applied_pieces()] == [2]
    assert client.get(address).status_code == 404


def test_a_piece_is_moved(client, technician, work):
    """By the clock or from the butt; the swing weight follows, and what is no place is said."""
    lay_all(client, technician, work)
    before = stand(technician).now.swingweight_kgcm2.value
    address, base = at("bench:piece", work.pk, 1), BenchEvent.objects.count()
    answer = client.post(address, {"base": base, "place": "the moon", "move": "1"})
    assert answer.status_code == 422
    assert 'value="the moon"' in answer.content.decode()
    client.post(address, {"base": base, "place": "1:30", "move": "1"})
    lower = stand(technician)
    assert lower.now.swingweight_kgcm2.value < before - 0.5
    assert lower.action is Action.READ
    client.post(at("bench:piece", work.pk, 2), {"base": base + 1, "place": "10 cm", "move": "1"})
    moved = dict(stand(technician).applied_pieces())[2]
    assert moved.y_cm == pytest.approx(10)
    assert [e.kind for e in BenchEvent.objects.all()][-2:] == ["moved", "moved"]


@pytest.mark.parametrize(
    ("piece", "name", "same"), [(1, "10 and 2", "2:00"), (1, "bridge", "6:00"), (2, "Cavity", "5 cm")]
)
def test_a_piece_is_moved_to_a_place_by_its_name(client, technician, work, piece, name, same):
    lay_all(client, technician, work)
    address, specs = at("bench:piece", work.pk, piece), []
    for place in (name, same):
        base = BenchEvent.objects.count()
        assert client.post(address, {"base": base, "place": place, "move": "1"}).status_code == 302
        specs.append(stand(technician).now)
    assert specs[0].balance_cm.value == pytest.approx(specs[1].balance_cm.value, abs=0.02)


def test_a_strip_is_split_and_its_parts_go_their_own_ways(client, technician, work):
    """Split, it weighs and lies as before; then one part is moved and one taken off, on every page that tells."""
    lay_all(client, technician, work)
    before, address = stand(technician).now, at("bench:piece", work.pk, 1)
    whole = dict(stand(technician).applied_pieces())[1]
    base = BenchEvent.objects.count()
    assert "Split in two" in words(client.get(address))
    refused = client.post(address, {"base": base, "first_0": "1", "first_1": "mm", "split": "1"})
    assert refused.status_code == 422
    assert 'value="1"' in refused.content.decode()
    client.post(address, {"base": base, "first_0": "30", "first_1": "mm", "split": "1"})
    after, pieces = stand(technician).now, dict(stand(technician).applied_pieces())
    assert set(pieces) == {1, 2, 3}
    assert (pieces[1].extent_cm, pieces[3].extent_cm) == pytest.approx((3.0, whole.extent_cm - 3.0))
    for key in ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2"):
        assert getattr(after, key).value == pytest.approx(getattr(before, key).value, abs=0.01)
    assert BenchEvent.objects.latest("number").kind == "added"
    again = client.post(address, {"base": base, "first_0": "15", "first_1": "mm", "split": "1"}, follow=True)
    assert "Somebody changed" in words(again)
    part = at("bench:piece", work.pk, 3)
    client.post(part, {"base": base + 2, "place": "5:00", "move": "1"})
    assert stand(technician).now.swingweight_kgcm2.value < before.swingweight_kgcm2.value
    client.post(part, {"base": base + 3, "off": "1"})
    assert set(dict(stand(technician).applied_pieces())) == {1, 2}
    line = words(client.get(at("history:time_line", work.plan.frame_id)))
    assert "applied besides" in line.lower()
    lying = {each.number for each in applied_pieces(steps_of(work.plan.frame))}
    assert lying == {1, 2}
    answered = client.get(at("bench:work_file", work.pk))
    assert answered.status_code == 200
    # A compact piece is not split.
    assert "Split in two" not in words(client.get(at("bench:piece", work.pk, 2)))


def test_what_was_only_taken_off_needs_no_securing(client, technician):
    """Nothing is on trial, no backing paper comes off, and what is off is not cut, moved or taken off again."""
    frame = new_frame(technician, "Reed 100 A7")
    off = (PlanPiece(1, point(2.0, 55.0, label="dampener", removed=True)),)
    plan = create_plan(frame, technician, name="Lighter", pieces=off)
    client.post(at("bench:plan", plan.pk))
    work = BenchWork.objects.get()
    lay_all(client, technician, work)
    page = read(client, work, as_expected(technician))
    assert page.context["bench"].removed_pieces
    assert not page.context["bench"].applied_pieces
    assert not page.context["bench"].can_be_permanent
    assert at("bench:permanent", work.pk) not in page.content.decode()
    assert client.get(at("bench:piece", work.pk, 1)).status_code == 404
    assert stand(technician).is_read_for_good
    before = frame.specs_id
    send(client, work, "end", BenchEvent.objects.count())
    frame.refresh_from_db()
    assert frame.specs_id != before
    assert frame.measured.mass_g.value == pytest.approx(306.6, abs=0.05)


def test_what_is_permanent_and_read_counts_for_the_frame(client, technician, work, plan):
    lay_all(client, technician, work)
    before = stand(technician).now.mass_g.u
    send(client, work, "permanent", BenchEvent.objects.count())
    now = stand(technician)
    assert (now.is_permanent, now.action) == (True, Action.READ)
    assert now.now.mass_g.u > before
    page = words(read(client, work, as_expected(technician)))
    assert "The last reading then counts for the frame" in page
    last = stand(technician).now
    answer = client.post(at("bench:end", work.pk), {"base": BenchEvent.objects.count()})
    assert answer.headers["Location"] == at("frames:detail", plan.frame_id)
    plan.frame.refresh_from_db()
    sheet = plan.frame.specs
    assert sheet.pk != work.specs_id
    assert sheet.measured.mass_g.value == pytest.approx(last.mass_g.value)
    assert sheet.measured.twistweight_kgcm2.value == pytest.approx(last.twistweight_kgcm2.value)
    assert sheet.readings.count() == 9  # three of each spec
    assert sheet.build == work.specs.build


# -- what is learnt ------------------------------------------------------------------------


@pytest.fixture
def tape(technician):
    return technician.shop.materials.filter(g_per_cm__isnull=False).first()


def job_with(client, technician, tape, heavier, label):
    """A job laid of a tape that runs heavy, read well and ended."""
    density = tape.stock.density
    piece = strip(15.0, 12.0, mirrored=True, g_per_cm=density, source=Source(stock=tape.pk))
    made = create_plan(new_frame(technician, label), technician, name=label, pieces=(PlanPiece(1, piece),))
    client.post(at("bench:plan", made.pk))
    work = BenchWork.objects.latest("pk")
    send(client, work, "lay", 0, piece=1)
    now = work_state(works_of(technician).get(pk=work.pk)).now
    grams = 2 * 12.0 * density.value * heavier
    read(client, work, {"mass": f"{now.mass_g.value + grams:.2f}"}, times=5, base=1)
    client.post(at("bench:end", work.pk), {"base": 2})
    return work


def test_a_roll_that_runs_heavy_is_proposed_taken_over_and_taken_back(client, technician, tape):
    before = (tape.g_per_cm, tape.g_per_cm_u)
    assert "Nothing yet" in words(client.get(at("orders:insights")))
    for i in range(6):
        job_with(client, technician, tape, 0.08, f"Heavy {i}")
    assert RollFinding.objects.filter(material=tape).count() == 6
    page = words(client.get(at("orders:insights")))
    assert "6 jobs tell" in page
    assert client.get(at("orders:insights")).context["rolls"][0].is_off
    tape.refresh_from_db()
    assert tape.g_per_cm == before[0]  # only on a click
    client.post(at("orders:take_over", tape.pk), {"jobs": "5"})  # of an older page
    tape.refresh_from_db()
    assert tape.g_per_cm == before[0]
    client.post(at("orders:take_over", tape.pk), {"jobs": "6"})
    tape.refresh_from_db()
    assert 1.02 * before[0] < tape.g_per_cm < 1.08 * before[0]
    assert tape.g_per_cm_u < before[1]
    page = words(client.get(at("orders:insights")))
    assert "told of it since" in page
    assert "Corrected" in page
    client.post(at("orders:take_back", DensityCorrection.objects.get().pk))
    tape.refresh_from_db()
    assert (tape.g_per_cm, tape.g_per_cm_u) == before
    assert "6 jobs tell" in words(client.get(at("orders:insights")))


def test_a_roll_that_is_as_it_is_taken_for_is_not_proposed(client, technician, tape):
    for i in range(3):
        job_with(client, technician, tape, 0.0, f"Even {i}")
    page = words(client.get(at("orders:insights")))
    assert "Agrees with the figure in use" in page
    client.post(at("orders:take_over", tape.pk), {"jobs": "3"})
    assert not DensityCorrection.objects.exists()


def test_what_is_learnt_is_the_shops_own(client, technician, tape):
    job_with(client, technician, tape, 0.1, "A")
    stranger = new_person("stranger")
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert "Nothing yet" in words(client.get(at("orders:insights")))
    assert client.post(at("orders:take_over", tape.pk), {"jobs": "1"}).status_code == 404


def test_a_changed_plan_does_not_move_the_work(client, technician, work, plan):
    plan.pieces = []
    plan.save()
    assert len(stand(technician).to_apply) == 2


def test_the_end_leads_to_the_frame_and_lets_it_be_taken_up_again(client, technician, work, plan):
    lay_all(client, technician, work)
    done = client.post(at("bench:end", work.pk), {"base": BenchEvent.objects.count()})
    assert done.headers["Location"] == at("measuring:measure", plan.frame_id)
    assert "On the bench" not in words(client.get(at("orders:today")))
    assert "The weight was left on" in words(client.get(at("bench:work", work.pk)))
    client.post(at("bench:plan", plan.pk))
    assert BenchWork.objects.count() == 2


def test_another_shop_sees_none_of_it(client, work):
    stranger = new_person("stranger")
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert client.get(at("bench:work", work.pk)).status_code == 404
    assert client.post(at("bench:lay", work.pk), {"base": 0, "piece": 1}).status_code == 404
    assert client.post(at("bench:plan", work.plan_id)).status_code == 404
    assert work.plan.frame.label not in words(client.get(at("orders:today")))
    client.force_login(work.started_by, backend="django.contrib.auth.backends.ModelBackend")
    assert work.plan.frame.label in words(client.get(at("orders:today")))


def test_the_bench_asks_the_database_no_more_for_more_work(
    client, technician, plan, django_assert_max_num_queries
):
    for i in range(5):
        more = create_plan(new_frame(technician, f"F{i}"), technician, name="Again")
        more.pieces = plan.pieces
        more.save()
        client.post(at("bench:plan", more.pk))
    with django_assert_max_num_queries(10):
        assert words(client.get(at("orders:today"))).count("Again ·") == 5


def test_a_set_is_brought_to_the_target_it_was_laid_to(client, technician, plan):
    from kentrobar.web.matching.models import SetLaying
    from kentrobar.web.matching.services import create_set

    of = create_set([plan.frame, new_frame(technician, "Reed 100 A2")], technician)
    laying = SetLaying.objects.create(
        set=of,
        way="least",
        target=Target.about({"mass_g": 316.5}, {"mass_g": 0.8}, alike=Alike.TO_EACH_OTHER),
    )
    laying.plans.add(plan)
    client.post(at("bench:plan", plan.pk))
    work = BenchWork.objects.get()
    assert work.target.bands == {"mass_g": (316.1, 316.9)}
    assert isinstance(stand(technician).now.mass_g, Estimate)


def test_a_reading_on_top_of_another_hands_work_is_not_lost(client, technician, work):
    lay_all(client, technician, work)
    typed = as_expected(technician)
    base = BenchEvent.objects.count()
    read(client, work, typed)
    answer = read(client, work, typed | {"mass": "333.3"}, base=base)
    assert answer.status_code == 409
    page = words(answer)
    assert "Your reading does not count yet" in page
    assert 'value="333.3"' in page
    assert BenchEvent.objects.filter(kind="read").count() == 1


def test_a_reading_counts_as_surely_as_its_instrument_reads(client, technician, work):
    scale = Instrument.objects.filter(shop=technician.shop, kind="scale").first()
    scale.resolution, scale.repeatability = 1.0, 0.5
    scale.save()
    lay_all(client, technician, work)
    read(client, work, {"mass": as_expected(technician)["mass"]}, mass_instrument=scale.pk, times=1)
    data = BenchEvent.objects.get(kind="read").data
    assert [each["instrument"] for each in data["readings"]] == [scale.pk]
    assert data["specs"]["mass_g"]["u"] == pytest.approx((0.25 + 1 / 12) ** 0.5)


def test_a_swing_is_timed_at_the_bench(client, technician, work):
    """Its period is that of the frame as expected, worked out apart: the swing weight comes out so."""
    lay_all(client, technician, work)
    now = stand(technician).now
    swing, mass, balance = (getattr(now, k).value for k in ("swingweight_kgcm2", "mass_g", "balance_cm"))
    hang, gravity = 65.0, technician.shop.gravity_cms2.value
    recoil = 1000 * swing - mass * (balance - 10) ** 2
    about_axle = recoil + mass * (hang - balance) ** 2
    period = 2 * math.pi * math.sqrt(about_axle / (mass * gravity * (hang - balance)))
    period *= 1 + math.radians(5) ** 2 / 16
    sent = {
        "base": BenchEvent.objects.count(),
        "way": "face",
        "hang_0": "65",
        "hang_1": "cm",
        "hang_2": "0.1",
        "amplitude": "5",
        "axis_0": "10",
        "axis_1": "cm",
        "passes": "1",
        "instrument": "none",
        "times": json.dumps([i * period for i in range(17)]),
    }
    address = at("bench:swing", work.pk, "pendulum")
    assert "on the bench" in words(client.get(address))
    assert "swing weight" in words(client.post(f"{address}/summary", sent)).lower()
    assert client.post(address, sent).status_code == 302
    data = BenchEvent.objects.get(kind="read").data
    assert data["specs"]["swingweight_kgcm2"]["value"] == pytest.approx(swing, abs=0.6)
    assert [(r["spec"], r["unit"]) for r in data["readings"]] == [("swingweight", "s")]
    assert set(data["slopes"]["swingweight_kgcm2"]) >= {"mass_g", "balance_cm"}
    assert not stand(technician).is_questioned
    assert "Reading 1" in words(client.get(at("bench:work", work.pk)))


def test_its_file_comes_to_the_numbers_of_the_page(client, technician, work):
    """The command line, which knows nothing of the database, goes through the same events."""
    lay_all(client, technician, work)
    read(client, work, as_expected(technician, swing=1.2))
    base = BenchEvent.objects.count()
    client.post(at("bench:piece", work.pk, 1), {"base": base, "to_0": "60", "to_1": "mm", "cut": "1"})
    read(client, work, as_expected(technician))
    document = client.get(at("bench:work_file", work.pk)).content
    answer = answer_rounds(read_document(document, RoundsRequest))
    now = stand(technician)
    for key in ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2"):
        told, shown = getattr(answer.now, key), getattr(now.now, key)
        assert told.value == pytest.approx(shown.value, abs=2e-4), key
        assert told.u == pytest.approx(shown.u, rel=2e-3), key
    assert answer.chance == pytest.approx(now.chance, abs=2e-3)


def test_what_was_learnt_of_a_place_is_expected_of_the_next_piece(client, technician, work):
    """Taken over before it is laid; what is laid keeps it when it is taken back."""
    now = stand(technician)
    number = now.to_apply[0]
    site = nearest_site(now.planned(number).piece, now.plan.outline)
    kept = learning.expect_off(technician.shop, site, Estimate(0.5, 0.1), 12, technician)
    client.post(at("bench:lay", work.pk), {"base": 0, "piece": number})
    learning.expect_as_meant(kept)
    assert BenchEvent.objects.get().data == {"place": [0.5, 0.1]}
    assert stand(technician).belief.place_offset(str(number)).value == pytest.approx(0.5)
    client.post(at("bench:lay", work.pk), {"base": 1, "piece": stand(technician).to_apply[0]})
    assert BenchEvent.objects.last().data == {}


class TestAFrameThatWasHardlyRead:
    """A frame of which one thing was read comes through the bench, and all that is read is shown as read."""

    @pytest.mark.parametrize(
        "first",
        [{"mass_g": 308.0}, {"swingweight_kgcm2": 305.7}, {"mass_g": 308.0, "swingweight_kgcm2": 305.7}],
    )
    @pytest.mark.parametrize(
        "at_bench",
        [
            {"balance": "297"},
            {"swingweight": "306"},
            {"balance": "297", "swingweight": "306"},
            {"mass": "312", "swingweight": "306"},
            {"mass": "312", "balance": "297", "swingweight": "306"},
        ],
    )
    def test_what_is_read_last_is_what_goes_home(self, client, technician, first, at_bench):
        known = MeasuredSpecs.read_apart({key: Estimate(value, 0.3) for key, value in first.items()}, 10.0)
        frame = new_frame(technician, "Reed 100 A1", measured=known)
        piece = PlanPiece(1, point(4.0, 1.8, label="cap"))
        client.post(at("bench:plan", create_plan(frame, technician, name="Cap", pieces=(piece,)).pk))
        work = BenchWork.objects.get()
        lay_all(client, technician, work)
        page = read(client, work, at_bench, times=1)
        self.is_shown(stand(technician), at_bench)
        (first,) = bench_view(stand(technician), shelf_of(technician), technician.units).rounds
        assert len(first.rows) == len(at_bench)
        assert all(row.cell.gap or not row.cell.before.value for row in first.rows)
        client.post(at("bench:permanent", work.pk), {"base": BenchEvent.objects.count()})
        page = read(client, work, at_bench, times=1)
        assert "20000" not in page.content.decode()
        self.is_shown(stand(technician), at_bench)
        client.post(at("bench:end", work.pk), {"base": BenchEvent.objects.count()})
        frame.refresh_from_db()
        for name, text in at_bench.items():
            found = getattr(frame.measured, SPEC_OF[name])
            assert found.value == pytest.approx(float(text) / (10 if name == "balance" else 1), rel=0.004)

    @staticmethod
    def is_shown(state, at_bench):
        for name, text in at_bench.items():
            found = getattr(state.now, SPEC_OF[name])
            assert found.value == pytest.approx(float(text) / (10 if name == "balance" else 1), rel=0.004)
            assert found.u < 2.0


SPEC_OF = {"mass": "mass_g", "balance": "balance_cm", "swingweight": "swingweight_kgcm2"}


def test_what_an_instrument_is_off_by_stays_in_however_many_readings(client, technician, work):
    """A scale of whole grams, which the frame was read with before: its step is in all that it ever shows."""
    scale = Instrument.objects.create(
        shop=technician.shop, name="Whole grams", kind="scale", resolution=1.0, repeatability=0.05
    )
    step_u = 1 / math.sqrt(12)
    work.specs.readings.filter(spec="mass").update(instrument=scale, detail={})
    type(work.specs).objects.filter(pk=work.specs_id).update(mass_u_g=math.hypot(step_u, 0.05))
    lay_all(client, technician, work)
    mass = f"{stand(technician).now.mass_g.value:.0f}"
    for _ in range(4):
        read(client, work, {"mass": mass}, mass_instrument=scale.pk)
    assert stand(technician).now.mass_g.u == pytest.approx(step_u, rel=0.03)
