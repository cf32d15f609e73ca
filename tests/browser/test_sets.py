"""A set made alike in the browser: from three frames to a printed sheet, the target in the hand."""

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from kentrobar.web.matching import services
from kentrobar.web.matching.models import FrameSet
from tests.addresses import at

pytestmark = pytest.mark.browser


class Hand:
    """Clicks that are counted."""

    def __init__(self, page):
        self.page, self.clicks = page, 0

    def click(self, element):
        self.page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", element)
        element.click()
        self.clicks += 1

    def button(self, text):
        self.click(self.page.button(text))


def grams(page):
    return page.driver.execute_script(
        "return [...document.querySelectorAll('td.cost')].map(each => each.innerText)"
    )


def test_three_frames_become_a_printed_set_in_eight_clicks_and_no_key(page):
    page.open(at("frames:list"))
    hand = Hand(page)
    for label in ("Reed 100 A1", "Reed 100 A2", "Reed 100 A3"):
        hand.click(page.find(f"[aria-label='Mark {label} to compare or match']"))
    hand.button("Match selected")
    page.wait(lambda: page.find("#set"))
    hand.button("Find plans")
    page.wait(lambda: len(page.all(".search-set")) == 3)
    page.wait(lambda: not page.all(".search-set .searching"), 90)
    assert "Proven" in page.text(".search-set")
    hand.button("Use these plans")
    page.wait(lambda: page.find(".set-plans"))
    sheet = page.driver.find_element(By.PARTIAL_LINK_TEXT, "Set sheet")
    assert sheet.get_attribute("href").endswith("/sheet.pdf")
    assert hand.clicks + 1 <= 12
    of = FrameSet.objects.latest("pk")
    assert len(services.plans_applied(of)) == 3
    page.driver.refresh()
    assert len(page.all(".set-plans a")) == 3


def test_the_grams_follow_the_box_and_letting_go_can_be_kept(page):
    of = FrameSet.objects.get(name__startswith="Ines")
    page.open(at("matching:set", of.pk))
    page.wait(lambda: all(grams(page)))
    before = grams(page)
    box = page.find(".target-box")
    ActionChains(page.driver).drag_and_drop_by_offset(box, 0, -40).perform()
    page.wait(lambda: grams(page) != before)
    dragged = grams(page)
    box.send_keys(Keys.ARROW_UP)
    box.send_keys(Keys.ARROW_UP)
    page.wait(lambda: grams(page) != dragged)
    Hand(page).button("Use as target")
    page.wait(lambda: page.find("#id_kind").get_attribute("value") == "written")
    of.refresh_from_db()
    assert of.target.centres["swingweight_kgcm2"] > 306
    page.wait(lambda: all(grams(page)))


def test_fields_are_shown_for_the_kind_of_target_that_is_chosen(page):
    of = FrameSet.objects.get(name__startswith="Team")
    page.open(at("matching:set", of.pk))
    kind = Select(page.find("#id_kind"))
    assert not page.find("#id_favourite").is_displayed()
    kind.select_by_value("frame")
    page.wait(lambda: page.find("#id_favourite").is_displayed())
    kind.select_by_value("written")
    page.wait(lambda: page.find("#id_target_mass_0").is_displayed())
    assert not page.find("#id_favourite").is_displayed()
