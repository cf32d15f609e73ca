"""The board as a workbench: all in view at once, few controls, targets for a finger, a look before one places."""

import re

import pytest
from selenium.webdriver.common.action_chains import ActionChains

from kentrobar.web.planning.models import Plan
from tests.addresses import at
from tests.browser.conftest import PHONE, plan_on

pytestmark = pytest.mark.browser

DESK = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
MOST_CONTROLS, MOST_WORDS, TARGET_PX = 45, 350, 44
IN_SIGHT = """
    const [edge] = [...document.querySelectorAll('.place-bar, nav.places')].filter(
      (each) => getComputedStyle(each).position === 'fixed').map((each) => each.getBoundingClientRect().top);
    return arguments[0].map((css) => {
      const { left, top, right, bottom } = document.querySelector(css).getBoundingClientRect();
      return [css, left >= -0.5 && top >= -0.5 && right <= innerWidth + 0.5 &&
        bottom <= (edge ?? innerHeight) + 0.5, top, bottom];
    });"""
CONTROLS = """
    return [...document.querySelectorAll('#plan :is(button, a[href], input, select, summary, textarea)')]
      .filter((each) => each.type !== 'hidden' && each.checkVisibility()).length;"""


@pytest.fixture
def opened(page, request):
    """The board of a racket with two pieces in a window of the size that is asked for."""
    page.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", request.param)
    page.plan = plan_on("Sedge 98 Tour")
    yield page.open(at("planning:board", page.plan.pk))
    page.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


both_sizes = pytest.mark.parametrize("opened", [DESK, PHONE], ids=["desk", "phone"], indirect=True)


def select_first(page):
    page.driver.execute_script("arguments[0].focus()", page.find("[data-piece='1']"))
    page.wait(lambda: page.find("#nudge").is_displayed())


def overlap(page, one, other):
    """Whether two parts of a page cover each other."""
    return page.driver.execute_script(
        "const [a, b] = arguments[0].map((css) => document.querySelector(css).getBoundingClientRect());"
        "return a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;",
        [one, other],
    )


@both_sizes
@pytest.mark.parametrize("is_selected", [False, True])
def test_numbers_drawing_and_tray_are_in_sight_together(opened, is_selected):
    if is_selected:
        select_first(opened)
    parts = opened.driver.execute_script(IN_SIGHT, ["#specs", "#board", "#tray"])
    assert all(in_sight for _, in_sight, *_ in parts), parts
    if is_selected:
        for under in ("#specs", "#tray", ".fulcrum.is"):
            assert not overlap(opened, "#nudge", under)


@both_sizes
def test_there_is_little_to_read_before_the_drawer_is_opened(opened):
    assert opened.driver.execute_script(CONTROLS) <= MOST_CONTROLS
    assert len(opened.text("body").split()) <= MOST_WORDS


@pytest.mark.parametrize("opened", [PHONE], ids=["phone"], indirect=True)
def test_a_finger_meets_each_place(opened):
    missed = opened.driver.execute_script(
        "return [...document.querySelectorAll('[data-site]')].filter((each) => {"
        "const { width, height } = each.getBoundingClientRect();"
        "return Math.min(width, height) < arguments[0] - 0.5; }).map((each) => each.dataset.label);",
        TARGET_PX,
    )
    assert missed == []


@pytest.mark.parametrize("opened", [DESK], ids=["desk"], indirect=True)
def test_what_would_change_is_told_before_anything_is_placed(opened):
    before = Plan.objects.get(pk=opened.plan.pk)
    ring = opened.find("[data-site]")
    ActionChains(opened.driver).move_to_element(ring).perform()
    opened.wait(lambda: opened.find("#ghost").is_displayed())
    told = opened.text("#ghost")
    assert Plan.objects.get(pk=opened.plan.pk).version == before.version
    promised = float(re.search(r"swing weight \+([\d.]+)", told)[1])
    was = float(opened.number("swingweight_kgcm2-after"))
    ActionChains(opened.driver).click(ring).perform()
    opened.wait(lambda: float(opened.number("swingweight_kgcm2-after")) != was)
    assert float(opened.number("swingweight_kgcm2-after")) - was == pytest.approx(promised, abs=0.11)


@pytest.mark.parametrize("opened", [DESK], ids=["desk"], indirect=True)
def test_the_toast_takes_back_what_was_placed(opened):
    was = opened.number("mass_g-after")
    ActionChains(opened.driver).click(opened.find("[data-site]")).perform()
    opened.wait(lambda: opened.number("mass_g-after") != was)
    opened.wait(lambda: opened.find("#toast").is_displayed())
    opened.find("#toast button").click()
    opened.wait(lambda: opened.number("mass_g-after") == was)
