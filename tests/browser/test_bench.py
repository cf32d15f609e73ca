"""A plan laid, read and trimmed at the bench, with one thumb on a phone."""

import re
from contextlib import suppress

import pytest
from selenium.common.exceptions import WebDriverException
from selenium.webdriver.common.by import By

from kentrobar.web.bench.models import BenchEvent, BenchWork
from kentrobar.web.bench.queries import works_of
from kentrobar.web.bench.rounds import work_state
from kentrobar.web.bench.services import note, start
from kentrobar.web.measuring.instruments.starting import point_to_simulated_bench
from kentrobar.web.shops.models import User
from tests.addresses import at
from tests.browser.conftest import PHONE, choose_instrument, plan_on

pytestmark = pytest.mark.browser

THUMB_PX = 44


def tap(page, text):
    button = page.button(text)
    page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", button)
    button.click()


def stand():
    return work_state(works_of(User.objects.get(username="technician")).get())


def small_targets(page):
    """What a wet thumb would miss: buttons and boxes of the page lower than 44 px."""
    return page.driver.execute_script(
        "return [...document.querySelectorAll('main button, main input:not([type=hidden]), main select')]"
        ".filter(each => each.checkVisibility() && each.offsetHeight < arguments[0])"
        ".map(each => [each.tagName, each.innerText])",
        THUMB_PX,
    )


def test_a_plan_is_laid_read_and_trimmed_with_one_thumb(phone):
    plan = plan_on("Sedge 98 Tour")
    phone.open(at("planning:board", plan.pk))
    phone.driver.find_element(By.LINK_TEXT, "Apply").click()
    tap(phone, "Start applying")
    phone.wait(lambda: phone.find(".bench-step"))
    laid = 0
    while phone.button("Applied") or phone.button("Removed"):
        assert not small_targets(phone)
        expected = re.search(r"static weight ([\d.]+)", " ".join(phone.text(".expect").split()))
        tap(phone, "Applied" if phone.button("Applied") else "Removed")
        laid += 1
        phone.wait(lambda count=laid: BenchEvent.objects.count() == count)
        phone.wait(lambda: phone.find(".bench-now"))
        assert expected[1] in phone.text(".bench-now tbody tr:nth-child(1)")
    assert laid == len(plan.pieces)
    assert "Measure the frame" in phone.text(".bench-step")
    now = stand().now
    phone.type_over("[name=mass_1]", f"{now.mass_g.value:.1f}")
    phone.type_over("[name=swingweight_1]", f"{now.swingweight_kgcm2.value + 2.4:.1f}")
    tap(phone, "Accept reading")
    phone.wait(lambda: phone.find(".round"))
    step = phone.text(".bench-step")
    assert "Measure the frame" not in step
    width = "return document.documentElement.scrollWidth"
    assert phone.driver.execute_script(width) <= PHONE["width"]
    assert not phone.violations()
    phone.driver.refresh()
    assert phone.text(".bench-step") == step
    if phone.button("Trimmed"):
        told = stand().next.expect.after.mass_g.value
        tap(phone, "Trimmed")
        phone.wait(lambda: "Measure the frame" in phone.text(".bench-step"))
        assert stand().now.mass_g.value == pytest.approx(told, abs=1e-6)
    tap(phone, "Finish")
    phone.wait(lambda: "/measure/" in phone.driver.current_url)
    assert BenchWork.objects.get().ended_at is not None


def test_a_press_of_back_does_nothing_twice(phone):
    plan = plan_on("Sedge 98 Tour")
    phone.open(at("bench:plan", plan.pk))
    tap(phone, "Start applying")
    phone.wait(lambda: phone.find(".bench-step"))
    tap(phone, "Applied")
    phone.wait(lambda: BenchEvent.objects.count() == 1)
    phone.driver.back()
    phone.wait(lambda: phone.find(".bench-step"))
    tap(phone, "Applied")
    phone.wait(lambda: phone.find(".bench-step"))
    assert BenchEvent.objects.filter(kind="laid").count() == len(
        {e.piece for e in BenchEvent.objects.filter(kind="laid")}
    )


def waiting(page):
    """What the page says of a reading that waits to be sent."""
    return page.find("#kept").text if page.find("#kept").is_displayed() else ""


def test_a_reading_without_connection_is_kept_over_a_reload_and_sent_once(phone):
    """Typed in a cellar, sent when the door opens: exactly once."""
    technician = User.objects.get(username="technician")
    work = start(plan_on("Sedge 98 Tour"), technician)
    while (now := stand()).to_apply:
        note(work, len(now.work.events.all()), technician, BenchEvent.EventKind.LAID, now.to_apply[0])
    reads = BenchEvent.objects.filter(kind="read")
    phone.open(at("bench:work", work.pk))
    phone.find("[name=mass_1]").send_keys(f"{stand().now.mass_g.value:.1f}")
    phone.offline(True)
    tap(phone, "Accept reading")
    phone.wait(lambda: "kept on this device" in waiting(phone))
    tap(phone, "Accept reading")
    phone.wait(lambda: "waits to be sent" in waiting(phone))
    with suppress(WebDriverException):  # the page cannot be had without a connection
        phone.driver.refresh()
    assert not reads.exists()
    phone.offline(False)
    phone.open(at("bench:work", work.pk))
    phone.wait(lambda: reads.count() == 1)
    phone.wait(lambda: "Readings at the bench (1)" in phone.text("main"))
    phone.driver.refresh()
    phone.wait(lambda: phone.find(".bench-now"))
    assert reads.count() == 1


def test_a_reading_that_was_taken_but_not_answered_is_not_taken_twice(phone):
    """The answer was lost on the way: what is kept is sent again, and counts once."""
    technician = User.objects.get(username="technician")
    work = start(plan_on("Sedge 98 Tour"), technician)
    while (now := stand()).to_apply:
        note(work, len(now.work.events.all()), technician, BenchEvent.EventKind.LAID, now.to_apply[0])
    phone.open(at("bench:work", work.pk))
    phone.find("[name=mass_1]").send_keys(f"{stand().now.mass_g.value:.1f}")
    sent = phone.driver.execute_async_script("""
        const done = arguments[arguments.length - 1];
        const form = document.getElementById("reading");
        const body = new URLSearchParams(new FormData(form)).toString();
        fetch(form.action, { method: "POST", body: new URLSearchParams(body) }).then(() => {
          localStorage.setItem(`kentrobar-reading-${form.action}`, body);
          done(body);
        });
    """)
    assert "mass_1" in sent
    phone.open(at("bench:work", work.pk))
    phone.wait(lambda: phone.driver.execute_script("return localStorage.length") == 0)
    assert BenchEvent.objects.filter(kind="read").count() == 1


def test_a_device_types_its_reading(page, bench):
    """Of the demo's simulated bench: the weight comes by itself, with its unit."""
    technician = User.objects.get(username="technician")
    point_to_simulated_bench(bench)
    work = start(plan_on("Sedge 98 Tour"), technician)
    page.open(at("bench:work", work.pk))
    choose_instrument(page, "mass", "Bench scale")
    page.find("[data-spec=mass] .take").click()
    page.wait(lambda: page.find("[name=mass_1]").get_attribute("value"))
    assert float(page.find("[name=mass_1]").get_attribute("value")) > 100
    assert not BenchEvent.objects.exists()
