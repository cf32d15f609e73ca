"""A plan laid, read and trimmed at the bench, with one thumb on a phone."""

import re

import pytest
from selenium.webdriver.common.by import By

from kentrobar.web.jobs.models import BenchEvent, BenchWork
from kentrobar.web.jobs.queries import works_of
from kentrobar.web.jobs.rounds import stand_of
from kentrobar.web.shops.models import User
from tests.browser.conftest import plan_on

pytestmark = pytest.mark.browser

PHONE = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": False}
THUMB_PX = 44


@pytest.fixture
def phone(page):
    page.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", PHONE)
    yield page
    page.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


def tap(page, text):
    button = next(b for b in page.all("main button") if text in " ".join(b.text.split()))
    page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", button)
    button.click()


def stand():
    return stand_of(works_of(User.objects.get(username="technician")).get())


def small_targets(page):
    """What a wet thumb would miss: buttons and boxes of the page lower than 44 px."""
    return [
        (e.tag_name, e.text)
        for e in page.all("main button, main input:not([type=hidden]), main select")
        if e.is_displayed() and e.size["height"] < THUMB_PX
    ]


def test_a_plan_is_laid_read_and_trimmed_with_one_thumb(phone):
    plan = plan_on("Sedge 98 Tour")
    phone.open(f"/plans/{plan.pk}/")
    phone.driver.find_element(By.PARTIAL_LINK_TEXT, "to the bench").click()
    tap(phone, "Begin")
    phone.wait(lambda: phone.find(".bench-step"))
    laid = 0
    while "It lies" in phone.text(".bench-step") or "It is off" in phone.text(".bench-step"):
        assert not small_targets(phone)
        expected = re.search(r"static weight ([\d.]+)", " ".join(phone.text(".expect").split()))
        tap(phone, "It lies" if "It lies" in phone.text(".bench-step") else "It is off")
        laid += 1
        phone.wait(lambda count=laid: BenchEvent.objects.count() == count)
        phone.wait(lambda: phone.find(".bench-now"))
        assert expected[1] in phone.text(".bench-now tbody tr:nth-child(1)")
    assert laid == len(plan.pieces)
    assert "Read the frame as it lies" in phone.text(".bench-step")
    now = stand().now
    phone.type_over("[name=mass_0]", f"{now.mass_g.value:.1f}")
    phone.type_over("[name=swingweight_0]", f"{now.swingweight_kgcm2.value + 2.4:.1f}")
    tap(phone, "Take the reading")
    phone.wait(lambda: phone.find(".round"))
    step = phone.text(".bench-step")
    assert "Read the frame" not in step
    width = "return document.documentElement.scrollWidth"
    assert phone.driver.execute_script(width) <= PHONE["width"]
    assert not phone.serious_violations()
    phone.driver.refresh()
    assert phone.text(".bench-step") == step
    if "It is trimmed" in step:
        told = stand().next.expect.after.mass_g.value
        tap(phone, "It is trimmed")
        phone.wait(lambda: "Read the frame" in phone.text(".bench-step"))
        assert stand().now.mass_g.value == pytest.approx(told, abs=1e-6)
    tap(phone, "Finish")
    phone.wait(lambda: "/measure/" in phone.driver.current_url)
    assert BenchWork.objects.get().ended_at is not None


def test_a_press_of_back_does_nothing_twice(phone):
    plan = plan_on("Sedge 98 Tour")
    phone.open(f"/bench/plans/{plan.pk}")
    tap(phone, "Begin")
    phone.wait(lambda: phone.find(".bench-step"))
    tap(phone, "It lies")
    phone.wait(lambda: BenchEvent.objects.count() == 1)
    phone.driver.back()
    phone.wait(lambda: phone.find(".bench-step"))
    tap(phone, "It lies")
    phone.wait(lambda: phone.find(".bench-step"))
    assert BenchEvent.objects.filter(kind="laid").count() == len(
        {e.piece for e in BenchEvent.objects.filter(kind="laid")}
    )
