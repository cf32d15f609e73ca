"""No finding of axe-core on any page, light and dark; nothing sticks out on a phone."""

import pytest

from kentrobar.web.frames.models import Frame
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.orders.jobs import services as orders
from kentrobar.web.orders.models import Job
from kentrobar.web.planning.models import Plan
from kentrobar.web.play.models import HitMap, Trial
from kentrobar.web.practice import services as practice
from kentrobar.web.practice.models import PracticeRun
from kentrobar.web.welcome.on_court import load_court
from tests.addresses import at
from tests.browser.conftest import plan_on

pytestmark = pytest.mark.browser


def addresses():
    racket = Frame.objects.get(label="Reed 100 A2")
    machine = Instrument.objects.get(name="Swing-weight machine")
    return [
        at("welcome:first"),
        f"{at('frames:list')}?archived=1",
        at("frames:list"),
        at("frames:detail", racket.pk),
        at("frames:people"),
        at("finding:files"),
        at("orders:today"),
        at("orders:list"),
        *(at("orders:job", job.pk) for job in Job.objects.all()),
        at("measuring:readings", racket.pk),
        at("planning:frame", racket.pk),
        at("bench:frame", racket.pk),
        at("frames:edit", racket.pk),
        at("taking_in:create", "tennis"),
        at("taking_in:create", "pickleball"),
        at("welcome:import"),
        at("materials:shelf"),
        at("planning:list"),
        at("shops:preferences"),
        at("frames:fittings", racket.pk),
        at("taking_in:take_in", "tennis"),
        at("taking_in:take_in", "pickleball"),
        at("measuring:measure", racket.pk),
        at("measuring:swing", racket.pk, "pendulum"),
        at("measuring:swing", racket.pk, "cords"),
        at("measuring:instruments"),
        at("measuring:edit_instrument", machine.pk),
        at("measuring:calibrate", machine.pk),
        f"{at('measuring:compare')}?frame={racket.pk}&frame={racket.pk + 1}",
        at("materials:fittings"),
        at("materials:material", racket.shop.materials.first().pk),
        f"{at('materials:add')}?kind=copper_tape",
        at("planning:possible", racket.pk),
        f"{at('planning:compare')}?"
        + "&".join(f"plan={pk}" for pk in Plan.objects.values_list("pk", flat=True)[:3]),
        at("matching:list"),
        at("matching:set", FrameSet.objects.get(name__startswith="Ines").pk),
        at("shops:shop"),
        f"{at('planning:target', racket.pk)}?goal=hold",
        at("planning:sensitivity", racket.pk),
        at("play:frame", racket.pk),
        f"{at('play:plan', plan_on('Sedge 98 Tour').pk)}?shown=change",
        at("planning:board", plan_on("Sedge 98 Tour").pk),
        at("planning:board", plan_on("Plover 14 Elongated").pk),
        at("planning:board", plan_on("Glasswort 100").pk),
        at("frames:detail", 999999),
        *on_court(),
    ]


def on_court():
    hits, trial = HitMap.objects.last(), Trial.objects.get()
    return [
        at("play:home"),
        at("play:advice"),
        at("play:edit_rule", "power"),
        at("play:frame_advice", hits.frame_id),
        at("play:frame_hits", hits.frame_id),
        at("play:hits", hits.pk),
        at("play:zone_plans", hits.pk),
        at("play:frame_trials", trial.frame_id),
        at("play:trial", trial.pk),
        at("play:play", trial.secret),
        at("practice:home"),
        *(at("practice:run", run.pk) for run in PracticeRun.objects.all()),
    ]


@pytest.fixture(autouse=True)
def played(technician):
    load_court(technician)
    frame = Frame.objects.get(label="Reed 100 A2")
    orders.take_job(technician, client="Ines", frames=[frame], brief="Steadier off centre")
    for task in PracticeRun.Task.values:
        run = practice.begin(technician, task=task, level=2, sport="tennis")
        if task == "predict":  # and one that is over
            keys = ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2")
            practice.finish(run, 0, dict.fromkeys(keys, 1.0))


def test_no_page_breaks_a_rule_of_access(audited):
    """By every rule in the light theme; in the dark one by those that look at colours."""
    found = {}

    def look(address):
        audited.scheme("light")
        found[address] = audited.violations()
        audited.scheme("dark")
        found[address] += audited.violations("color-contrast", "link-in-text-block")

    for address in addresses():
        audited.open(address)
        if audited.all("#open-drawer"):
            audited.details().find("[data-select='1']").click()
        audited.driver.execute_script("document.querySelectorAll('details').forEach(d => d.open = true)")
        look(address)
    audited.driver.delete_all_cookies()
    for address in ("/accounts/login/", "/accounts/signup/", "/accounts/password/reset/"):
        audited.open(address)
        look(address)
    assert [(address, each) for address, each in found.items() if each] == []


def test_nothing_sticks_out_on_a_phone(phone):
    for address in addresses():
        phone.open(address)
        width = phone.driver.execute_script("return document.documentElement.scrollWidth")
        assert width <= 390, address


@pytest.mark.parametrize("length_unit", ["cm", "in"])
def test_a_phone_shows_balance_and_swing_weight_of_what_is_listed(phone, technician, length_unit):
    technician.length_unit = technician.balance_unit = length_unit
    technician.inertia_unit = "oz·in²" if length_unit == "in" else "kg·cm²"
    technician.save()
    for address in (at("frames:list"), at("planning:list"), at("matching:set", FrameSet.objects.first().pk)):
        phone.open(address)
        ends = phone.driver.execute_script(
            "return [...document.querySelectorAll('th.number')]"
            ".filter(each => /^(Balance|Swing)/.test(each.innerText))"
            ".map(each => each.getBoundingClientRect().right)"
        )
        assert len(ends) == 2, address
        assert max(ends) <= 390, address
