"""A job from the wish to the answer after play: it moves by what is done, and nobody sees another shop's."""

import io
import re
from dataclasses import replace
from datetime import date, timedelta

import pytest
from django.test import Client
from django.utils import timezone
from icalendar import Calendar
from PIL import Image
from pypdf import PdfReader

from kentrobar.core.bench.stages import Stage
from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.editing.plan import PlanPiece
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.bench import services as bench
from kentrobar.web.bench.models import BenchEvent, BenchWork
from kentrobar.web.bench.queries import works_of
from kentrobar.web.bench.rounds import stored_reading, taking_of, work_state
from kentrobar.web.frames.builds import fittings_in, in_build
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.services import fit_accessories, restring
from kentrobar.web.kit.models import Search
from kentrobar.web.kit.records import write
from kentrobar.web.matching.models import FrameSet, SetLaying
from kentrobar.web.materials.models import Accessory
from kentrobar.web.measuring.services import TakenReading, Taking, as_readings, record
from kentrobar.web.orders.job_state import job_state
from kentrobar.web.orders.jobs import services as orders
from kentrobar.web.orders.models import FramePage, Job, JobPhoto, PlayTest, SignOff
from kentrobar.web.orders.queries import jobs_in_full
from kentrobar.web.planning.services import create_plan
from tests.addresses import at
from tests.core.frames import point, strip
from tests.web.conftest import new_frame, new_person, solve_searches, words

KIND = BenchEvent.EventKind


@pytest.fixture
def frame(technician):
    return new_frame(technician, "Reed 100 A1")


@pytest.fixture
def job(technician, frame):
    return orders.take_job(technician, client="Ines", frames=[frame], brief="Steadier off centre")


def standing(technician, job):
    return job_state(jobs_in_full(technician).get(pk=job.pk))


def lay_plan(technician, frame):
    pieces = (strip(15.0, 8.0, mirrored=True, label="sides"), point(4.0, 1.8, label="cap"))
    laid = tuple(PlanPiece(i, p) for i, p in enumerate(pieces, 1))
    return create_plan(frame, technician, name="Steadier", pieces=laid)


def read(technician, work):
    """Read at the bench exactly what is expected."""
    found = works_of(technician).get(pk=work.pk)
    now = work_state(found).now
    data = {"specs": {}, "readings": []}
    for key, name in (("mass_g", "mass"), ("balance_cm", "balance"), ("swingweight_kgcm2", "swingweight")):
        quantity = getattr(now, key)
        assert isinstance(quantity, Estimate)
        data["specs"][key] = {"value": quantity.value, "u": 0.05}
        unit = "cm" if name == "balance" else "g"
        reading = TakenReading(name, f"{quantity.value:.2f}", unit, quantity.value)
        data["readings"].append(stored_reading(reading))
    bench.note(work, len(found.events.all()), technician, KIND.READ, data=data)


def done_at_bench(technician, plan):
    """A plan laid, read, made permanent, read again, ended."""
    work = bench.start(plan, technician)
    while (stand := work_state(works_of(technician).get(pk=work.pk))).to_apply:
        bench.note(work, len(stand.work.events.all()), technician, KIND.LAID, stand.to_apply[0])
    read(technician, work)
    bench.note(work, work.events.count(), technician, KIND.PERMANENT)
    read(technician, work)
    stand = work_state(works_of(technician).get(pk=work.pk))
    bench.end(work, len(stand.work.events.all()), technician, taking_of(stand))
    return work


def verify_address(job):
    return at("orders:verify", job.pk, job.members.get().pk)


def signed_off(client, technician, job, frame):
    done_at_bench(technician, lay_plan(technician, frame))
    assert client.post(verify_address(job), {"signed_as": "The bench", "remark": ""}).status_code == 302


class TestTheWay:
    def test_an_empty_shop_is_led_to_its_first_job(self, client):
        page = words(client.get(at("orders:today")))
        assert "Create a job" in page
        assert "No job yet. Create one, and this page shows" in page

    def test_stages_move_by_what_is_done(self, technician, job, frame):
        assert standing(technician, job).stage is Stage.PLAN
        plan = lay_plan(technician, frame)
        assert standing(technician, job).stage is Stage.FIT
        work = bench.start(plan, technician)
        number = work_state(works_of(technician).get()).to_apply
        for i, piece in enumerate(number):
            assert standing(technician, job).stage is Stage.FIT
            bench.note(work, i, technician, KIND.LAID, piece)
        assert standing(technician, job).stage is Stage.READ
        read(technician, work)
        assert standing(technician, job).stage is Stage.PERMANENT
        bench.note(work, work.events.count(), technician, KIND.PERMANENT)
        assert standing(technician, job).stage is Stage.READ
        read(technician, work)
        assert standing(technician, job).stage is Stage.VERIFY

    def test_the_whole_way_through_the_pages(self, client, technician, job, frame):
        signed_off(client, technician, job, frame)
        page = words(client.get(at("orders:today")))
        assert "tell the client" in page
        client.post(at("orders:notified", job.pk))
        assert "wait for collection" in words(client.get(at("orders:today")))
        ask_on = timezone.localdate() + timedelta(days=3)
        client.post(at("orders:hand_over", job.pk), {"asks": "1", "follow_up_on": ask_on.isoformat()})
        assert "Follow-ups" in words(client.get(at("orders:today")))
        row = job.members.get().pk
        said = {f"f{row}-stability": "1", f"f{row}-alike": "different", f"f{row}-words": "Calmer."}
        client.post(at("orders:follow_up", job.pk), said)
        test = PlayTest.objects.get()
        assert (test.ratings, test.words, test.is_blind) == ({"stability": 1}, "Calmer.", False)
        page = words(client.get(at("orders:follow_up", job.pk)))
        assert "Calmer." in page
        assert "swing weight +" in page
        assert standing(technician, job).stage is Stage.DONE
        assert "Follow-ups" not in words(client.get(at("orders:today")))

    def test_a_new_job_offers_the_clients_frames(self, client, technician, frame):
        other = new_frame(technician, "Sedge 98 Tour")
        offered = client.get(at("orders:new"), {"client": "ines"}, headers={"HX-Request": "true"})
        assert "Sedge 98 Tour" in words(offered)
        asked = {"client": "Nobody yet", "frames": [frame.pk]}
        kept = words(client.get(at("orders:new"), asked, headers={"HX-Request": "true"}))
        assert "Reed 100 A1" in kept
        assert "checked" in kept
        sent = {
            "client": "Ines",
            "brief": "Alike",
            "frames": [frame.pk, other.pk],
            "promised_on": "2027-01-05",
        }
        client.post(at("orders:new"), sent)
        made = Job.objects.get()
        assert (made.client.name, made.promised_on, made.members.count()) == ("Ines", date(2027, 1, 5), 2)
        client.post(at("orders:new"), {"client": "Ada", "brief": "Another"})
        assert sorted(Job.objects.values_list("number", flat=True)) == [1, 2]

    def test_frames_marked_in_the_list_become_a_job(self, client, frame):
        answer = client.post(at("orders:new"), {"frame": [frame.pk]}, follow=True)
        assert "Reed 100 A1" in words(answer)
        assert 'value="Ines"' in words(answer)
        none_marked = client.post(at("orders:new"), {}, follow=True)
        assert none_marked.status_code == 200
        assert not none_marked.context["form"].errors

    def test_a_bad_job_is_said_at_its_field_and_keeps_what_was_typed(self, client):
        answer = client.post(at("orders:new"), {"client": "Ada", "brief": "", "promised_on": "soon"})
        page = words(answer)
        assert answer.status_code == 422
        assert "This field is required" in page
        assert "Enter a valid date" in page
        assert 'value="Ada"' in page
        assert not Job.objects.exists()

    def test_a_plan_can_be_chosen_for_a_frame(self, client, technician, job, frame):
        first, second = lay_plan(technician, frame), lay_plan(technician, frame)
        assert standing(technician, job).members[0].plan == second
        row = job.members.get()
        client.post(at("orders:mean_plan", job.pk, row.pk), {"plan": first.pk})
        assert standing(technician, job).members[0].plan == first
        elsewhere = lay_plan(technician, new_frame(technician, "Sedge 98 Tour"))
        asked = {"plan": elsewhere.pk}
        assert client.post(at("orders:mean_plan", job.pk, row.pk), asked).status_code == 404

    def test_a_closed_job_is_not_changed_but_can_be_taken_up_again(self, client, job, technician):
        other = new_frame(technician, "Sedge 98 Tour")
        client.post(at("orders:call_off", job.pk))
        answer = client.post(at("orders:add_frame", job.pk), {"frame": other.pk}, follow=True)
        assert "This job is closed" in words(answer)
        assert job.members.count() == 1
        client.post(at("orders:go_on", job.pk))
        client.post(at("orders:add_frame", job.pk), {"frame": other.pk})
        assert job.members.count() == 2

    def test_nobody_sees_a_job_of_another_shop(self, technician, job, db):
        stranger = Client()
        stranger.force_login(new_person("stranger"), backend="django.contrib.auth.backends.ModelBackend")
        row = job.members.get().pk
        for path in ("", "edit", f"frames/{row}/verify", f"frames/{row}/card.pdf", "labels.pdf", "follow-up"):
            assert stranger.get(f"/jobs/{job.pk}/{path}").status_code == 404, path
        for path in ("notified", "call-off", "put", f"frames/{row}/drop"):
            assert stranger.post(f"/jobs/{job.pk}/{path}").status_code == 404, path
        assert "Steadier" not in words(stranger.get(at("orders:today")))


class TestSigningOff:
    def test_what_lies_outside_needs_a_remark(self, client, technician, job, frame):
        work = done_at_bench(technician, lay_plan(technician, frame))
        target = BenchWork.objects.get(pk=work.pk).target
        other = target.placed(target.centres | {"mass_g": target.centres["mass_g"] + 9})
        BenchWork.objects.filter(pk=work.pk).update(target=other)
        answer = client.post(verify_address(job), {"signed_as": "The bench", "remark": ""})
        assert answer.status_code == 422
        assert "A spec is outside its tolerance. Say why it" in words(answer)
        client.post(verify_address(job), {"signed_as": "The bench", "remark": "He wants it so."})
        kept = SignOff.objects.get()
        assert kept.remark == "He wants it so."
        assert kept.chance < 0.01

    def test_nothing_is_signed_off_while_it_lies_on_the_bench(self, client, technician, job, frame):
        bench.start(lay_plan(technician, frame), technician)
        answer = client.post(verify_address(job), {"signed_as": "The bench"})
        assert "Finish its work at the bench first" in words(answer)
        assert not SignOff.objects.exists()

    def test_work_after_it_asks_for_another(self, client, technician, job, frame):
        signed_off(client, technician, job, frame)
        assert standing(technician, job).stage is Stage.CALL
        frame.refresh_from_db()
        bench.start(lay_plan(technician, frame), technician)
        assert standing(technician, job).stage is Stage.FIT

    def test_the_card_is_one_page_and_says_what_concerns_the_player(self, client, technician, job, frame):
        signed_off(client, technician, job, frame)
        job.client.reads_in = "inches"
        job.client.save()
        made = client.get(at("orders:card", job.pk, job.members.get().pk)).content
        pages = PdfReader(io.BytesIO(made)).pages
        text = " ".join(pages[0].extract_text().split())
        assert len(pages) == 1
        assert "Steadier off centre" in text
        assert " oz" in text
        assert "Before an event" in text
        assert "How to undo it" in text

    def test_its_file_predicts_what_the_page_says(self, client, technician, job, frame):
        signed_off(client, technician, job, frame)
        document = client.get(at("orders:file", job.pk, job.members.get().pk)).json()
        assert document["format"] == "kentrobar/1"
        assert len(document["pieces"]) == 2


class TestLabels:
    def test_each_frame_has_one_that_leads_to_its_page(self, client, technician, job, frame):
        made = client.get(at("orders:labels", job.pk), {"size": "48x25", "skip": "43"}).content
        assert len(PdfReader(io.BytesIO(made)).pages) == 1
        token = FramePage.objects.get().token
        assert client.get(at("orders:label_page", token)).headers["Location"] == at("frames:detail", frame.pk)

    def test_a_stranger_signs_in_unless_the_shop_shares_the_page(self, client, technician, job, frame):
        signed_off(client, technician, job, frame)
        address = at("orders:label_page", FramePage.objects.get().token)
        stranger = Client()
        assert stranger.get(address).headers["Location"].startswith("/accounts/login/")
        technician.shop.shares_frame_pages = True
        technician.shop.save()
        page = words(stranger.get(address))
        assert "Reed 100 A1" in page
        assert "Ines" not in page
        assert stranger.get(at("orders:label_page", "made-up")).status_code == 404

    def test_labels_that_got_out_can_be_made_void(self, client, technician, job, frame):
        old = FramePage.objects.get().token
        client.post(at("orders:renew_label", frame.pk))
        assert client.get(at("orders:label_page", old)).status_code == 404
        assert len(FramePage.objects.get().token) > 40


class TestTheWeek:
    def test_a_job_is_put_on_a_day_at_a_place(self, client, technician, job):
        other = orders.take_job(technician, brief="Another")
        monday = date(2026, 11, 23)
        for each, place in ((job, 0), (other, 0)):
            sent = {"day": monday.isoformat(), "place": place, "week": monday.isoformat()}
            answer = client.post(at("orders:put", each.pk), sent)
            assert answer.status_code == 200
        found = Job.objects.filter(bench_on=monday).order_by("bench_order")
        assert list(found) == [other, job]
        client.post(at("orders:put", other.pk), {"day": "", "place": 0})
        assert Job.objects.get(pk=other.pk).bench_on is None

    def test_what_lies_on_a_closed_day_is_said(self, client, technician, job):
        sunday = date(2026, 11, 29)
        orders.put_on(job, sunday, 0)
        assert re.search(
            r"closed, <span class=\"late\">\d+ min on it",
            words(client.get(f"{at('orders:today')}?week=2026-11-29")),
        )

    @pytest.mark.parametrize("week", ["2026-13-40", "0001-01-01", "9999-12-31", "x", ""])
    def test_any_week_is_answered(self, client, job, week):
        assert client.get(at("orders:today"), {"week": week}).status_code in (200, 404)

    def test_the_calendar_holds_hours_promises_and_whom_to_ask(self, client, technician, job, frame):
        lay_plan(technician, frame)
        day = timezone.localdate()
        orders.put_on(job, day, 0)
        Job.objects.filter(pk=job.pk).update(promised_on=day + timedelta(days=2))
        done = orders.take_job(technician, client="Odile", brief="Done")
        orders.hand_over(done, technician, day + timedelta(days=14))
        told = Client().get(at("orders:calendar", technician.shop.calendar_secret))
        events = {str(e["uid"]): e for e in Calendar.from_ical(told.content).walk("VEVENT")}
        of_job = {f"job-{job.pk}-{kind}@kentrobar" for kind in ("bench", "promised")}
        assert set(events) == of_job | {f"job-{done.pk}-ask@kentrobar"}
        event = events[f"job-{job.pk}-bench@kentrobar"]
        minutes = (event["dtend"].dt - event["dtstart"].dt).seconds / 60
        page = words(client.get(at("orders:today")))
        assert event["dtstart"].dt.hour == 9
        assert re.search(rf"09:00, {minutes:.0f} min", page)

    def test_a_new_secret_leaves_the_old_one_void(self, client, technician):
        old = technician.shop.calendar_secret
        client.post(at("orders:calendar_address"))
        assert Client().get(at("orders:calendar", old)).status_code == 404


class TestPhotos:
    def photo(self, size=(40, 30), form="JPEG"):
        kept = io.BytesIO()
        exif = Image.Exif()
        exif[0x0112] = 6  # turned by a quarter
        exif.get_ifd(0x8825)[1] = "N"  # where it was taken
        Image.new("RGB", size, "brown").save(kept, form, exif=exif)
        kept.seek(0)
        kept.name = "IMG.jpg"
        return kept

    def test_it_is_kept_small_upright_and_without_its_place(self, client, job):
        client.post(at("orders:add_photo", job.pk), {"photo": self.photo((3200, 1600)), "caption": "The cap"})
        kept = JobPhoto.objects.get()
        answer = client.get(at("orders:photo", job.pk, kept.pk))
        with Image.open(io.BytesIO(answer.content)) as found:
            assert found.size == (kept.width, kept.height) == (800, 1600)
            assert not found.getexif()

    def test_what_is_no_photo_is_refused(self, client, job):
        sent = io.BytesIO(b"<svg onload=alert(1)>")
        sent.name = "x.jpg"
        answer = client.post(at("orders:add_photo", job.pk), {"photo": sent}, follow=True)
        assert "This photo cannot be read. Send a JPEG, PNG" in words(answer)
        assert not JobPhoto.objects.exists()


def test_two_at_one_bench_see_each_others_steps(client, technician, frame):
    work = bench.start(lay_plan(technician, frame), technician)
    assert client.get(at("bench:since", work.pk), {"base": 0}).status_code == 204
    first = work_state(works_of(technician).get()).to_apply[0]
    bench.note(work, 0, technician, KIND.LAID, first)
    assert "technician did this" in words(client.get(at("bench:since", work.pk), {"base": 0}))


def test_what_was_told_to_do_next_is_kept_with_the_event(technician, frame, monkeypatch):
    """The page does not search for it again, and says the same."""
    work = bench.start(lay_plan(technician, frame), technician)
    while (stand := work_state(works_of(technician).get())).to_apply:
        bench.note(work, len(stand.work.events.all()), technician, KIND.LAID, stand.to_apply[0])
    read(technician, work)
    kept = work_state(works_of(technician).get())
    BenchWork.objects.update(next_step={}, events_seen=0)
    anew = work_state(works_of(technician).get()).next
    assert kept.next == anew
    monkeypatch.setattr("kentrobar.web.bench.rounds.next_step", None)
    assert kept.next.advice == anew.advice


class TestHowItPlays:
    def played(self, client, technician, frames):
        job = orders.take_job(technician, client="Ines", frames=frames, brief="Alike")
        orders.hand_over(job, technician, None)
        return job, [row.pk for row in job.members.all()]

    def test_two_frames_are_asked_about_beside_each_other(self, client, technician, frame):
        other = new_frame(technician, "Reed 100 A2")
        job, (one, two) = self.played(client, technician, [frame, other])
        client.post(at("orders:follow_up", job.pk), {f"f{one}-alike": "same", f"f{two}-alike": ""})
        test = PlayTest.objects.get()
        assert (test.frame, test.other, test.other_sheet) == (frame, other, other.specs)

    def test_asked_blind_the_page_tells_nothing_of_what_was_changed(self, client, technician, frame):
        job = orders.take_job(technician, client="Ines", frames=[frame], brief="Steadier off centre")
        signed_off(client, technician, job, frame)
        orders.hand_over(job, technician, None)
        row = job.members.get().pk
        client.post(at("orders:follow_up", job.pk), {"blind": "1", f"f{row}-words": "Firmer?"})
        assert PlayTest.objects.get().is_blind
        page = words(client.get(f"{at('orders:follow_up', job.pk)}?blind"))
        for told in ("Steadier", "Changed", "swing weight"):
            assert told not in page

    def test_nothing_said_is_not_noted(self, client, technician, frame):
        job, _ = self.played(client, technician, [frame])
        answer = client.post(at("orders:follow_up", job.pk), {})
        assert answer.status_code == 422
        assert "Enter at least one answer" in words(answer)
        assert not PlayTest.objects.exists()

    def test_what_is_felt_is_told_from_five_answers_on(self, client, technician, frame):
        job = orders.take_job(technician, client="Ines", frames=[frame], brief="Steadier")
        signed_off(client, technician, job, frame)
        orders.hand_over(job, technician, None)
        row = job.members.get().pk
        for i in range(5):
            assert "too few" in words(client.get(at("orders:felt")))
            said = {f"f{row}-alike": "different", f"f{row}-words": f"Said {i}"}
            client.post(at("orders:follow_up", job.pk), said)
        rows = client.get(at("orders:felt")).context["rows"]
        assert sum(row.answers for row in rows) == 5
        assert any(row.is_known for row in rows)


# -- a job of several frames, and the set they are ----------------------------------------------

THREE = ((306.0, 32.0, 306.0), (303.5, 32.3, 302.0), (305.0, 31.8, 299.0))


def strung_frame(technician, label, mass, balance, swing):
    """A racket read strung, its overgrip noted but not on yet."""
    frame = new_frame(technician, label)
    strings = restring(frame, label="strings", mass_g=16.0, mass_u_g=0.1)
    fit_accessories(frame, [Accessory.objects.get(shop=technician.shop_id, kind="overgrip")])
    measured = MeasuredSpecs(Estimate(mass, 0.05), Estimate(balance, 0.02), Estimate(swing, 0.2))
    record(frame, Taking(measured, "strung", as_readings(measured), [strings.pk]), technician)
    return Frame.objects.get(pk=frame.pk)


@pytest.fixture
def three_of_ines(technician):
    return [strung_frame(technician, f"Reed 100 A{i}", *read) for i, read in enumerate(THREE, 1)]


@pytest.mark.parametrize("setup", ["strung", "playing"])
def test_three_frames_of_one_player_are_matched_from_the_job_to_the_hand_over(
    client, technician, three_of_ines, setup
):
    """Planned together from the job, fitted one by one, verified against each other; in whichever setup."""
    job = orders.take_job(technician, client="Ines", frames=three_of_ines, brief="Make them match")
    page = client.post(at("orders:match", job.pk), follow=True)
    job.refresh_from_db()
    of = job.set
    assert page.redirect_chain[-1][0] == at("matching:set", of.pk)
    assert {member.frame for member in of.members.all()} == set(three_of_ines)
    write(of, target=replace(of.target, setup=setup))
    assert "Not known yet" in words(client.get(at("orders:job", job.pk)))
    assert standing(technician, job).stage == "plan"
    assert client.get(at("orders:job", job.pk)).context["view"].line.address == at("matching:set", of.pk)
    client.post(at("matching:search", of.pk), {"way": "least"})
    solve_searches()
    found = Search.objects.get(subject=of.pk, part="least")
    client.post(at("matching:lay", of.pk, found.pk))
    plans = SetLaying.objects.get().plans.all()
    assert any(not plan.pieces for plan in plans)  # one needs nothing, and is only verified
    for plan in plans:
        if plan.pieces:
            done_at_bench(technician, plan)
    assert standing(technician, job).stage == "verify"
    page = client.get(at("orders:job", job.pk))
    match = page.context["match"]
    assert match.is_matched
    assert "The frames match" in words(page)
    for member in job.members.all():
        verified = client.get(at("orders:verify", job.pk, member.pk))
        assert verified.context["is_all_within"]
        assert verified.context["has_target"]
        assert "The frames match" in words(verified)
    # Somebody reads one of them otherwise: the match is no longer said.
    odd = MeasuredSpecs(Estimate(330.0, 0.05), Estimate(32.0, 0.02), Estimate(335.0, 0.2))
    record(
        three_of_ines[0],
        Taking(odd, "strung", as_readings(odd), three_of_ines[0].specs.fitting_ids),
        technician,
    )
    page = client.get(at("orders:job", job.pk))
    assert not page.context["match"].is_matched
    assert "do not match" in words(page)


def test_a_frame_added_to_a_job_later_joins_its_set_when_asked(client, technician, three_of_ines):
    job = orders.take_job(technician, client="Ines", frames=three_of_ines[:2], brief="Make them match")
    client.post(at("orders:match", job.pk))
    client.post(at("orders:add_frame", job.pk), {"frame": three_of_ines[2].pk})
    assert client.get(at("orders:job", job.pk)).context["match"].missing == ["Reed 100 A3"]
    client.post(at("orders:match", job.pk))
    job.refresh_from_db()
    assert job.set.members.count() == 3
    assert FrameSet.objects.count() == 1


def test_one_frame_or_two_sports_are_no_match(client, technician, job, paddle):
    assert "Select at least two frames, then choose" in words(
        client.post(at("orders:match", job.pk), follow=True)
    )
    client.post(at("orders:add_frame", job.pk), {"frame": paddle.pk})
    assert "Rackets match rackets and paddles match" in words(
        client.post(at("orders:match", job.pk), follow=True)
    )
    assert not FrameSet.objects.exists()


def test_a_frame_verified_in_another_setup_is_turned_into_that_of_its_target(
    client, technician, three_of_ines
):
    """Read strung before and ready to play after: its overgrip is no miss."""
    frame = three_of_ines[0]
    job = orders.take_job(technician, client="Ines", frames=[frame], brief="Steadier")
    done_at_bench(technician, lay_plan(technician, frame))
    frame.refresh_from_db()
    playing = in_build(frame, "playing", fittings_in(frame, "playing"), 10.0).measured
    record(
        frame,
        Taking(playing, "playing", as_readings(playing), [f.pk for f in frame.fittings.all()]),
        technician,
    )
    page = client.get(verify_address(job))
    assert page.context["is_all_within"]
    assert "turned into" in words(page)
