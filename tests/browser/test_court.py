"""The map of hits beside the board: opened, followed while a piece is dragged, changed by its form."""

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.support.ui import Select

from kentrobar.web.planning.models import Plan
from tests.browser.test_planning import click

pytestmark = pytest.mark.browser
TWIST = "#court tr:nth-child(6) td:nth-child(3) strong"


@pytest.fixture
def court(board):
    click(board, "#court summary")
    board.wait(lambda: board.find("#court .face-map .zone"))
    return board


def test_the_map_follows_the_piece_that_is_dragged(court):
    before, kept = float(court.text(TWIST)), Plan.objects.get(pk=court.plan.pk).pieces
    zone = court.find("#court .zone:not(.was)").get_attribute("d")
    piece = court.find("[data-piece='1'] .reach")
    held = ActionChains(court.driver).move_to_element(piece).click_and_hold()
    held.move_by_offset(-60, -40).perform()
    court.wait(lambda: float(court.text(TWIST)) != before)
    assert court.find("#court .zone:not(.was)").get_attribute("d") != zone
    assert Plan.objects.get(pk=court.plan.pk).pieces == kept
    ActionChains(court.driver).release().perform()
    court.saved()
    court.wait(lambda: Plan.objects.get(pk=court.plan.pk).pieces != kept)


def test_stroke_and_measure_are_chosen_and_a_slip_is_told(court):
    Select(court.find("#court [name=stroke]")).select_by_value("serve")
    court.wait(lambda: "Serve:" in court.text("#court caption"))
    Select(court.find("#court [name=measure]")).select_by_value("effective_mass")
    court.wait(lambda: "Effective mass, g" in court.text("#court .hit-map"))
    court.type_over("#court [name=face]", "quick")
    court.wait(lambda: court.find("#court .error").is_displayed())
    assert court.find("#court [name=face]").get_attribute("value") == "quick"
    court.type_over("#court [name=face]", "100")
    court.wait(lambda: "face 100.0 km/h" in court.text("#court caption"))


def test_plans_side_by_side_show_their_maps(page):
    read = Plan.objects.filter(frame__sport="tennis", specs__swingweight_kgcm2__isnull=False)
    pks = read.values_list("pk", flat=True)[:2]
    page.open("/plans/compare?" + "&".join(f"plan={pk}" for pk in pks))
    page.wait(lambda: len(page.all(".face-map")) == 2)
    Select(page.find("[name=shown]")).select_by_value("change")
    page.wait(lambda: "Change of ball speed" in page.text("#main"))
    assert page.driver.switch_to.active_element.get_attribute("name") == "shown"  # focus stays
    assert len(page.all(".face-map")) == 2
