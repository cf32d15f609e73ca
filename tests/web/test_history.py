"""A frame's time line: everything once, in order, with who; what lies now; the way back to older specs."""

import re

import pytest
from django.test import Client

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.bench import services as bench
from kentrobar.web.bench.models import BenchEvent
from kentrobar.web.frames.models import FrameFitting
from kentrobar.web.frames.services import fit_accessories, take_off
from kentrobar.web.history.applied import applied_pieces
from kentrobar.web.history.changes import changes_of
from kentrobar.web.history.queries import HistoryKind, sheets_of, steps_of, time_line
from kentrobar.web.materials.models import Accessory
from kentrobar.web.measuring.services import Taking, as_readings, record
from kentrobar.web.orders.jobs import services as orders
from tests.addresses import at
from tests.web.conftest import new_frame, new_person, words
from tests.web.test_jobs import done_at_bench, lay_plan, signed_off


@pytest.fixture
def frame(technician):
    return new_frame(technician, "Reed 100 A1")


def events(frame):
    steps = steps_of(frame)
    return time_line(frame, sheets_of(frame), steps, changes_of(frame))


def page(client, frame):
    return words(client.get(at("history:time_line", frame.pk)))


def test_every_stage_of_a_job_stands_in_it_once(client, technician, frame):
    job = orders.take_job(technician, client="Ines", frames=[frame], brief="Steadier off centre")
    signed_off(client, technician, job, frame)
    client.post(at("orders:notified", job.pk))
    client.post(at("orders:hand_over", job.pk))
    client.post(at("orders:follow_up", job.pk), {f"f{job.members.get().pk}-words": "Calmer."})
    found = events(frame)
    kinds = [event.kind for event in found]
    for kind in (
        HistoryKind.JOB,
        HistoryKind.PLAN,
        HistoryKind.STARTED,
        HistoryKind.ENDED,
        HistoryKind.SIGNED_OFF,
        HistoryKind.HANDED_OVER,
        HistoryKind.PLAYED,
    ):
        assert kinds.count(kind) == 1, kind
    assert kinds.count(HistoryKind.STEP) == BenchEvent.objects.count()
    assert kinds.count(HistoryKind.READING) == frame.spec_sheets.count() == 2
    assert [event.at for event in found] == sorted((e.at for e in found), reverse=True)
    told = page(client, frame)
    assert "Calmer." in told
    assert "Signed off by The bench" in told
    assert "secured" in told


def test_what_lies_is_what_the_steps_left(client, technician, frame):
    work = done_at_bench(technician, lay_plan(technician, frame))
    lying = applied_pieces(steps_of(frame))
    assert {each.number for each in lying} == {1, 2}
    assert all(each.is_permanent for each in lying)
    client.post(at("history:take_off", frame.pk, work.pk, 1))
    assert {each.number for each in applied_pieces(steps_of(frame))} == {2}
    again = client.post(at("history:take_off", frame.pk, work.pk, 1), follow=True)
    assert "It is no longer on the frame" in words(again)
    assert len(applied_pieces(steps_of(frame))) == 1


def test_at_the_bench_it_is_taken_off_there(client, technician, frame):
    work = bench.start(lay_plan(technician, frame), technician)
    bench.note(work, 0, technician, BenchEvent.EventKind.LAID, 1)
    answer = client.post(at("history:take_off", frame.pk, work.pk, 1), follow=True)
    assert "at the bench" in words(answer)
    assert len(applied_pieces(steps_of(frame))) == 1


def test_a_correction_is_told_field_by_field_with_who(client, frame):
    sent = {"label": "Reed 100 A1", "player": "Ines", "mark": "IN-9", "colour": "red"}
    form = client.get(at("frames:edit", frame.pk)).context["form"]
    data = {}
    for bound in form:
        value = bound.value()
        if isinstance(value, tuple | list):
            data |= {f"{bound.name}_{i}": v for i, v in enumerate(value) if v is not None}
        elif value is not None:
            data[bound.name] = value
    assert client.post(at("frames:edit", frame.pk), data | sent).status_code == 302
    told = page(client, frame)
    assert re.search(r"own mark or last digits: IN-1 → IN-9; colour: nothing → red", told)


def test_back_to_older_specs_leads_to_a_search_for_them(client, technician, frame):
    later = MeasuredSpecs(Estimate(312.4, 0.1), Estimate(32.2, 0.05), Estimate(295, 1.0), 10.0)
    record(frame, Taking(later, "playing", as_readings(later)), technician)
    told = page(client, frame)
    (address,) = re.findall(r'class="back" href="([^"]+)"', told)
    form = client.get(address.replace("&amp;", "&")).context["form"]
    assert form.initial["mass"][:2] == ("308.6", "g")
    assert form.initial["balance"][:2] == ("318", "mm")
    assert form.initial["swingweight"][:2] == ("287", "kg·cm²")


def test_a_change_of_fittings_says_what_to_expect_until_it_is_read(client, technician):
    frame = new_frame(technician, "Sedge 98 Tour")
    overgrip = Accessory.objects.filter(shop=technician.shop, kind="overgrip")
    fit_accessories(frame, overgrip)
    keys = list(FrameFitting.objects.filter(frame=frame).values_list("pk", flat=True))
    now = frame.measured
    record(frame, Taking(now, "playing", as_readings(now), keys), technician)
    assert "Changed since the last reading" not in page(client, frame)
    take_off(FrameFitting.objects.get(frame=frame))
    told = page(client, frame)
    weight = overgrip.get().mass_g
    assert "Off: Overgrip." in told
    assert f"static weight <strong>{308.6 - weight:.1f}</strong>" in told


def test_it_asks_the_database_no_more_the_longer_it_is(
    client, technician, frame, django_assert_max_num_queries
):
    job = orders.take_job(technician, client="Ines", frames=[frame], brief="Steadier")
    signed_off(client, technician, job, frame)
    for i in range(12):
        measured = frame.measured
        record(frame, Taking(measured, "playing", as_readings(measured)), technician)
        lay_plan(technician, frame)
        orders.take_job(technician, client="Ines", frames=[frame], brief=f"Again {i}")
    with django_assert_max_num_queries(10):
        assert client.get(at("history:time_line", frame.pk)).status_code == 200


def test_nobody_sees_the_time_line_of_another_shop(technician, frame):
    stranger = Client()
    stranger.force_login(new_person("stranger"), backend="django.contrib.auth.backends.ModelBackend")
    work = bench.start(lay_plan(technician, frame), technician)
    assert stranger.get(at("history:time_line", frame.pk)).status_code == 404
    assert stranger.post(at("history:take_off", frame.pk, work.pk, 1)).status_code == 404
