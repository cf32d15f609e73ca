"""The whole way as a technician goes it, from a new job to the player's answer: racket, paddle, set."""

import base64
import io
import re

import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader
from selenium.webdriver.common.by import By

from kentrobar.core.bench.stages import Stage
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.bench.models import BenchWork
from kentrobar.web.bench.queries import works_of
from kentrobar.web.bench.rounds import Action, work_state
from kentrobar.web.frames.models import Frame
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.measuring.instruments.starting import point_to_simulated_bench
from kentrobar.web.orders.job_state import job_state
from kentrobar.web.orders.models import Job, JobPhoto, PlayTest, SignOff
from kentrobar.web.orders.queries import jobs_in_full
from kentrobar.web.shops.models import User
from tests.addresses import at
from tests.browser.conftest import choose_instrument

pytestmark = pytest.mark.browser

SCATTER = {
    "mass": ("mass_g", 0.1),
    "balance": ("balance_cm", 0.05),
    "swingweight": ("swingweight_kgcm2", 0.5),
}
ROUNDS = 2


class Technician:
    """Goes from page to page by what the pages say, and reads what the frame would show."""

    def __init__(self, page):
        self.page = page
        self.user = User.objects.get(username="technician")
        self.random = np.random.default_rng(4)

    def tap(self, text):
        """Press the button of these words, and wait until the next page is there."""
        before = self.page.find("html")
        self.page.button(text).click()
        self.page.wait(lambda: self.page.find("html") != before)

    def follow(self, text):
        before = self.page.find("html")
        self.page.driver.find_element(By.PARTIAL_LINK_TEXT, text).click()
        self.page.wait(lambda: self.page.find("html") != before)

    def take_job(self, client, brief, **query):
        frames = "&".join(f"frame={pk}" for pk in query.get("frames", ()))
        self.page.open(f"{at('orders:new')}?{frames}")
        self.page.type_over("#id_client", client)
        self.page.type_over("#id_brief", brief)
        if "of" in query:
            option = f"#id_of option[value='{query['of'].pk}']"
            self.page.find(option).click()
        self.tap("Create job")
        return Job.objects.latest("pk")

    def stage(self, job):
        return job_state(jobs_in_full(self.user).get(pk=job.pk)).stage

    def plan_from_goal(self):
        self.page.driver.get(self.page.driver.current_url.split("?")[0] + "?goal=steadier")
        self.tap("Propose plans")
        self.page.wait(lambda: self.page.all("article.proposal button"), 40)
        self.page.find("article.proposal button").click()
        self.page.wait(
            lambda: at("planning:list") in self.page.driver.current_url and self.page.find("#board"), 20
        )

    def has(self, text):
        return self.page.button(text) is not None

    def stand(self):
        pk = int(self.page.driver.current_url.rstrip(at("orders:today")).rpartition(at("orders:today"))[2])
        return work_state(works_of(self.user).get(pk=pk))

    def read(self, stand):
        """Type three readings of each spec, as an instrument that nobody described would show them."""
        for name, (key, scatter) in SCATTER.items():
            quantity = getattr(stand.now, key)
            if isinstance(quantity, Estimate):
                unit = self.page.find(f"[name={name}_unit]").get_attribute("value")
                factor = {"mm": 10, "in": 1 / 2.54, "oz": 1 / 28.349523125}.get(unit, 1)
                shown = factor * (quantity.value + self.random.normal(0, scatter, 3))
                texts = {f"{name}_{i}": f"{value:.3f}" for i, value in enumerate(shown, 1)}
                self.page.fill(**{f"{name}_instrument": ""}, **texts)
        self.tap("Accept reading")

    def through_the_bench(self):
        """Do what the bench says until it leads to verifying."""
        if self.has("Start applying"):
            self.tap("Start applying")
        trims = 0
        for _ in range(20):
            stand = self.stand()
            if stand.is_read_for_good and stand.action is Action.NEXT:
                return self.tap("Finish")
            if stand.action is Action.LAY:
                self.tap("Applied" if self.has("Applied") else "Removed")
            elif stand.action is Action.NEXT and self.has("Trimmed") and trims < ROUNDS:
                trims += 1
                self.tap("Trimmed")
            elif stand.action is Action.NEXT:
                self.tap("Secured")
            else:
                self.read(stand)
        raise AssertionError("The bench never came to an end.")

    def verify(self):
        assert "/verify" in self.page.driver.current_url
        assert not self.page.violations()
        if "Not every spec" in self.page.text("main"):
            self.page.type_over("#id_remark", "Near enough.")
        self.tap("Sign off")

    def hand_over(self, job, words):
        """From told to asked how it plays, by what the home page says next."""
        self.page.open(at("orders:today"))
        self.follow("tell the client")
        self.tap("Client told")
        self.tap("Collected")
        assert self.stage(job) is Stage.FOLLOW_UP
        self.follow("How it plays")
        self.page.find("[name$=-stability][value='1']").click()
        self.page.find("[name$=-alike][value=different]").click()
        self.page.find("[name$=-words]").send_keys(words)
        self.tap("Save feedback")
        assert words in self.page.text("main")
        assert self.stage(job) is Stage.DONE
        assert PlayTest.objects.filter(job=job, words=words).exists()


@pytest.fixture
def technician_at(page):
    return Technician(page)


def next_step(page):
    page.find(".job-now .todo-now").click()


def card_of(page, job):
    """The player's card of the job's first frame, as the browser gets it."""
    address = at("orders:card", job.pk, job.members.first().pk)
    return page.driver.execute_async_script(
        "const done = arguments[1];"
        "fetch(arguments[0]).then(r => done([r.status, r.headers.get('Content-Type')]));",
        address,
    )


def test_a_racket_from_the_bench_of_instruments_to_the_players_answer(page, bench, technician_at):
    hand = technician_at
    point_to_simulated_bench(bench)
    frame = Frame.objects.get(label="Reed 100 A5")
    job = hand.take_job("Wanda", "Steadier off centre", frames=[frame.pk])
    assert hand.stage(job) is Stage.MEASURE
    next_step(page)
    for spec, name in {
        "mass": "Bench scale",
        "balance": "Bench balance board",
        "swingweight": "Bench machine",
        "twistweight": "Bench twist cradle",
    }.items():
        choose_instrument(page, spec, name)
        for _ in range(2):
            boxes = f"[data-spec={spec}] .cell input.form-control"
            count = len(page.values(boxes))
            page.find(f"[data-spec={spec}] .take").click()
            page.wait(lambda css=boxes, c=count: len(page.values(css)) > c, 20)
    page.wait(lambda: page.find("#save").is_enabled())
    page.find("#save").click()
    page.wait(lambda: "are saved" in page.text(".messages"))
    page.open(at("orders:job", job.pk))
    assert hand.stage(job) is Stage.PLAN
    next_step(page)
    hand.plan_from_goal()
    page.open(at("orders:job", job.pk))
    assert hand.stage(job) is Stage.FIT
    next_step(page)
    hand.through_the_bench()
    hand.verify()
    assert hand.stage(job) is Stage.CALL
    assert card_of(page, job) == [200, "application/pdf"]
    hand.hand_over(job, "Calmer on returns.")


def test_a_paddle_by_somebody_who_thinks_in_ounces(page, technician_at):
    hand = technician_at
    User.objects.filter(pk=hand.user.pk).update(mass_unit="oz", length_unit="in", balance_unit="in")
    frame = Frame.objects.get(label="Samphire Wide")
    job = hand.take_job("Lena", "A little more in the head", frames=[frame.pk])
    assert hand.stage(job) is Stage.PLAN
    next_step(page)
    hand.plan_from_goal()
    page.open(at("orders:job", job.pk))
    next_step(page)
    hand.tap("Start applying")
    told = page.text("main").partition("Reading")[0]  # what instruments are called is theirs
    assert " oz" in told
    assert not re.search(r"\d (g|mm|cm)\b", told)
    hand.through_the_bench()
    hand.verify()
    text = page.text("main")
    assert "signed off" in text
    hand.hand_over(job, "It holds the line better.")


def measured_with(page, **typed):
    """Type what was read on the page of measuring, without an instrument, and save it."""
    page.fill(**typed)
    page.wait(lambda: page.find("#save").is_enabled())
    page.find("#save").click()
    page.wait(lambda: "are saved" in page.text(".messages") or page.all("button[name=keep]"))
    if "are saved" not in page.text("body"):
        page.find("button[name=keep]").click()
        page.wait(lambda: "are saved" in page.text(".messages"))


def told_on_card(page, job):
    """The text of the player's card."""
    address = at("orders:card", job.pk, job.members.first().pk)
    encoded = page.driver.execute_async_script(
        "const done = arguments[1];"
        "fetch(arguments[0]).then(r => r.arrayBuffer()).then(b => {"
        "let text = ''; for (const byte of new Uint8Array(b)) text += String.fromCharCode(byte); done(btoa(text));});",
        address,
    )
    return " ".join(PdfReader(io.BytesIO(base64.b64decode(encoded))).pages[0].extract_text().split())


def from_reading_to_card(hand, page, job, **typed):
    """Measure what is typed, plan the goal, do the work and sign it off; the words of bench and card."""
    next_step(page)
    measured_with(page, **typed)
    page.open(at("orders:job", job.pk))
    next_step(page)
    hand.plan_from_goal()
    page.open(at("orders:job", job.pk))
    assert hand.stage(job) is Stage.FIT
    next_step(page)
    hand.tap("Start applying")
    begun = page.text("main")
    hand.through_the_bench()
    hand.verify()
    assert hand.stage(job) is Stage.CALL
    return begun, told_on_card(page, job)


def test_a_frame_whose_balance_nobody_reads_goes_home_without_one(page, technician_at):
    """From the job to the card: what was never measured is made up nowhere."""
    frame = Frame.objects.get(label="Reed 100 A5")
    job = technician_at.take_job("Wanda", "Steadier off centre", frames=[frame.pk])
    begun, card = from_reading_to_card(technician_at, page, job, mass_1="309.2", swingweight_1="306")
    assert "309.2" in begun
    assert "±20000" not in begun
    frame.refresh_from_db()
    assert (frame.specs.balance_cm, frame.specs.twistweight_kgcm2) == (None, None)
    assert 309.2 < frame.specs.mass_g < 325
    assert not re.search(r"Balance\D{0,12}\d{3}\.\d mm", card)


def test_a_paddle_in_ounces_is_made_steadier_with_only_its_weight_known(page, technician_at):
    User.objects.filter(pk=technician_at.user.pk).update(mass_unit="oz", length_unit="in", balance_unit="in")
    Frame.objects.filter(label="Plover 14 Elongated").update(specs=None)
    frame = Frame.objects.get(label="Plover 14 Elongated")
    job = technician_at.take_job("Gus", "Steadier on blocks", frames=[frame.pk])
    begun, card = from_reading_to_card(technician_at, page, job, mass_1="8.16")
    assert "8.16" in begun
    assert not re.search(r"\d (g|mm|cm)\b", begun.partition("Reading")[0])
    frame.refresh_from_db()
    assert frame.specs.mass_g > 8.16 * 28.349523
    known = (frame.specs.balance_cm, frame.specs.swingweight_kgcm2, frame.specs.twistweight_kgcm2)
    assert known == (None, None, None)
    assert " oz" in card
    assert not re.search(r"\d (g|mm|cm)\b", card)


def test_a_set_of_three_is_one_job(page, technician_at):
    hand = technician_at
    of = FrameSet.objects.get(name__startswith="Ines")
    page.open(at("matching:set", of.pk))
    hand.tap("Find plans")
    page.wait(lambda: len(page.all(".search-set")) == 3)
    page.wait(lambda: not page.all(".search-set .searching"), 90)
    hand.tap("Use these plans")
    job = hand.take_job("Ines", "Three that play alike", of=of)
    assert job.members.count() == 3
    for _ in range(3):
        page.open(at("orders:job", job.pk))
        if hand.stage(job) is Stage.CALL:
            break
        needs_nothing = hand.stage(job) is Stage.VERIFY  # the favourite: it is signed off as it is
        next_step(page)
        if not needs_nothing:
            hand.through_the_bench()
        assert page.all("[data-testid=match]")
        hand.verify()
    assert hand.stage(job) is Stage.CALL
    assert SignOff.objects.filter(member__job=job).count() == 3
    assert not BenchWork.objects.filter(ended_at=None).exists()
    hand.hand_over(job, "I cannot tell them apart.")


def test_a_telephones_photo_is_made_smaller_before_it_is_sent(page, technician_at, tmp_path):
    """One of ten megabytes: larger than any form may hold here."""
    job = technician_at.take_job("Ines", "Look at the cap")
    noise = np.random.default_rng(1).integers(0, 255, (1900, 2500, 3), dtype=np.uint8)
    large = tmp_path / "IMG_0001.png"
    Image.fromarray(noise).save(large)
    assert large.stat().st_size > 10_000_000
    page.open(at("orders:job", job.pk))
    page.find("summary:has(+ #photo-form)").click()
    page.find("#photo-form input[type=file]").send_keys(str(large))
    held = "return document.querySelector('#photo-form input[type=file]').files[0].size"
    page.wait(lambda: page.driver.execute_script(held) < 3_000_000, 20)
    technician_at.tap("Add photo")
    page.wait(lambda: page.find(".photos img"))
    kept = JobPhoto.objects.get()
    assert (kept.width, kept.height) == (1600, 1216)
    assert not page.violations()
