"""No serious finding of axe-core on any page, light and dark; nothing sticks out on a phone."""

import pytest

from kentrobar.web.frames.models import Frame
from kentrobar.web.matching.models import FrameSet
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.planning.models import Plan
from kentrobar.web.play.models import HitMap, Trial
from kentrobar.web.practice import services as practice
from kentrobar.web.practice.models import PracticeRun
from kentrobar.web.welcome.on_court import load_court
from tests.browser.conftest import plan_on

pytestmark = pytest.mark.browser


def addresses():
    racket = Frame.objects.get(label="Reed 100 A2")
    machine = Instrument.objects.get(name="Swing-weight machine")
    return [
        "/frames/first",
        "/frames/?archived=1",
        "/frames/",
        f"/frames/{racket.pk}/",
        f"/frames/{racket.pk}/edit",
        "/frames/new/tennis",
        "/frames/new/pickleball",
        "/frames/import",
        "/materials/",
        "/plans/",
        "/you/",
        f"/frames/{racket.pk}/fittings",
        "/frames/take-in/tennis",
        "/frames/take-in/pickleball",
        f"/measure/frames/{racket.pk}/",
        f"/measure/frames/{racket.pk}/swing/pendulum",
        f"/measure/frames/{racket.pk}/swing/cords",
        "/measure/instruments/",
        f"/measure/instruments/{machine.pk}/",
        f"/measure/instruments/{machine.pk}/calibrate",
        f"/measure/compare?frame={racket.pk}&frame={racket.pk + 1}",
        "/materials/fittings",
        f"/materials/{racket.shop.materials.first().pk}/",
        "/materials/new?kind=copper_tape",
        f"/plans/possible/{racket.pk}",
        "/plans/compare?" + "&".join(f"plan={pk}" for pk in Plan.objects.values_list("pk", flat=True)[:3]),
        "/sets/",
        f"/sets/{FrameSet.objects.get(name__startswith='Ines').pk}/",
        "/you/shop",
        f"/plans/aim/{racket.pk}?wish=hold",
        f"/plans/gram/{racket.pk}",
        f"/play/frames/{racket.pk}/",
        f"/play/plans/{plan_on('Sedge 98 Tour').pk}/?shown=change",
        f"/plans/{plan_on('Sedge 98 Tour').pk}/",
        f"/plans/{plan_on('Plover 14 Elongated').pk}/",
        f"/plans/{plan_on('Glasswort 100').pk}/",
        "/frames/999999/",
        *on_court(),
    ]


def on_court():
    hits, trial = HitMap.objects.last(), Trial.objects.get()
    return [
        "/play/",
        "/play/advice",
        "/play/advice/power/edit",
        f"/play/frames/{hits.frame_id}/advice",
        f"/play/frames/{hits.frame_id}/hits",
        f"/play/hits/{hits.pk}/",
        f"/play/hits/{hits.pk}/plans",
        f"/play/frames/{trial.frame_id}/trials",
        f"/play/trials/{trial.pk}/",
        f"/play/play/{trial.secret}",
        "/practice/",
        *(f"/practice/{run.pk}/" for run in PracticeRun.objects.all()),
    ]


@pytest.fixture(autouse=True)
def played(technician):
    load_court(technician)
    for task in PracticeRun.Task.values:
        run = practice.begin(technician, task=task, level=2, sport="tennis")
        if task == "predict":  # and one that is over
            keys = ("mass_g", "balance_cm", "swingweight_kgcm2", "twistweight_kgcm2")
            practice.finish(run, 0, dict.fromkeys(keys, 1.0))


def test_no_serious_violation(page):
    """By every rule in the light theme; in the dark one by those that look at colours."""
    found = {}

    def look(address):
        page.scheme("light")
        found[address] = page.serious_violations()
        page.scheme("dark")
        found[address] += page.serious_violations("color-contrast", "link-in-text-block")

    for address in addresses():
        page.open(address)
        for select in page.all("[data-row] [data-select='1']"):
            select.click()
        page.driver.execute_script("document.querySelectorAll('details').forEach(d => d.open = true)")
        look(address)
    page.driver.delete_all_cookies()
    for address in ("/accounts/login/", "/accounts/signup/", "/accounts/password/reset/"):
        page.open(address)
        look(address)
    assert {address: each for address, each in found.items() if each} == {}


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
    for address in ("/frames/", "/plans/", f"/sets/{FrameSet.objects.first().pk}/"):
        phone.open(address)
        ends = phone.driver.execute_script(
            "return [...document.querySelectorAll('th.number')]"
            ".filter(each => /^(Balance|Swing)/.test(each.innerText))"
            ".map(each => each.getBoundingClientRect().right)"
        )
        assert len(ends) == 2, address
        assert max(ends) <= 390, address
