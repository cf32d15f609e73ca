"""How little stands between somebody new and an answer, counted in clicks and keys."""

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from kentrobar.web.frames.models import Frame
from tests.addresses import at
from tests.browser.conftest import plan_on, signed_in
from tests.browser.test_planning import click
from tests.web.conftest import new_person

pytestmark = pytest.mark.browser


class Counting:
    """Clicks and keys as a hand makes them, counted."""

    def __init__(self, page):
        self.page, self.clicks, self.keys = page, 0, 0

    def click(self, css):
        self.clicks += 1
        click(self.page, css)

    def type(self, css, text):
        """Click into a field and type."""
        self.click(css)
        self.keys += len(text)
        self.page.find(css).send_keys(text)


class Keyboard:
    """A hand that has no pointer: it tabs to what it looks for, and no farther than once round."""

    def __init__(self, page):
        self.page = page

    def go_to(self, css):
        for _ in range(200):
            self.page.press(Keys.TAB)
            if self.page.driver.execute_script("return document.activeElement.matches(arguments[0])", css):
                return
        raise AssertionError(f"No tab leads to {css}")

    def press(self, css):
        self.go_to(css)
        self.page.press(Keys.ENTER)


@pytest.fixture
def empty_shop(chromium, site, demo, queue):
    return signed_in(chromium, site, new_person("newcomer"))


def test_an_empty_shop_comes_to_a_prediction_in_six_clicks_and_twenty_keys(empty_shop):
    hand = Counting(empty_shop.open(at("orders:today")))
    hand.type("[name=label]", "Reed")
    hand.type("[name=mass_1]", "305")
    hand.type("[name=balance_1]", "325")
    hand.click(".first-steps .btn-primary")
    empty_shop.wait(lambda: empty_shop.find("#board"))
    hand.click("[data-site=three_nine]")
    empty_shop.wait(lambda: empty_shop.rows() == 1)
    empty_shop.saved()
    assert float(empty_shop.number("mass_g-after").split()[0]) > 305
    assert float(empty_shop.number("swingweight_kgcm2-change").split()[0]) > 0
    assert hand.clicks <= 6
    assert hand.keys <= 20


def test_the_first_steps_go_by_keyboard_alone(empty_shop):
    empty_shop.open(at("orders:today"))
    empty_shop.find("[name=sport]").send_keys("paddle", Keys.TAB)
    empty_shop.driver.switch_to.active_element.send_keys("Mudlark", Keys.TAB)
    empty_shop.driver.switch_to.active_element.send_keys(Keys.TAB)  # any instrument
    for text in ("8 oz", "", "9.3 in", ""):  # Enter in an empty box goes to the next row
        empty_shop.driver.switch_to.active_element.send_keys(text, Keys.ENTER)
    button = empty_shop.driver.switch_to.active_element
    assert button.text == "Open the board"
    button.send_keys(Keys.ENTER)
    empty_shop.wait(lambda: empty_shop.find("#board"))
    frame = Frame.objects.get(label="Mudlark")
    assert frame.specs.measured.mass_g.value == pytest.approx(8 * 28.349523125)
    assert frame.specs.measured.balance_cm.value == pytest.approx(9.3 * 2.54)


def test_a_made_up_racket_is_one_click_away(empty_shop):
    empty_shop.open(at("orders:today"))
    click(empty_shop, "[form=try-out]")
    empty_shop.wait(lambda: empty_shop.find("#board"))
    assert "sample racket" in empty_shop.text("main")


def test_from_a_goal_to_a_printed_plan_at_chosen_places_in_eight_clicks(page):
    frame = plan_on("Sedge 98 Tour").frame
    hand = Counting(page.open(at("planning:frame", frame.pk)))
    hand.click("main .page a[href*='/plans/aim/']")
    page.wait(lambda: page.find("a[href='?goal=power']"))
    hand.click("a[href='?goal=power']")
    page.wait(lambda: page.find("a[href='?goal=power'][aria-current]"))
    hand.click("#places .presets button:last-child")  # no handle
    hand.click("main form .btn-primary")
    page.wait(lambda: "All " in page.text("#progress"), 60)
    chosen = set(Frame.objects.get(pk=frame.pk).allowed.sites)
    assert chosen
    assert not any("handle" in site or "butt" in site for site in chosen)
    hand.click("article.proposal button")
    page.wait(lambda: page.find("#board"))
    hand.click("#open-drawer")
    assert page.find("a[href*='sheet.pdf?paper=a4']").is_displayed()
    page.details()
    pieces = page.text("#pieces").lower()
    assert page.rows()
    assert "handle" not in pieces
    assert "butt" not in pieces
    assert hand.clicks <= 8


def test_three_layouts_of_a_paddle_are_compared_in_ounces_and_percent_in_ten_clicks(page, technician):
    technician.mass_unit = "oz"
    technician.save()
    frame = Frame.objects.get(label="Mudlark 16")
    frame.plans.all().delete()
    hand = Counting(page.open(at("planning:frame", frame.pk)))
    for place in ("sides", "top_corners", "bottom_corners"):
        hand.click("form[action$='/plans/new'] button")
        page.wait(lambda: page.find("#board"))
        hand.click(f"[data-site={place}] .ring")
        page.wait(lambda: page.rows() == 1)
        page.saved()
        if place != "bottom_corners":
            hand.click(f".plan-row a[href='/plans/frames/{frame.pk}/']")
            page.wait(lambda: page.find("form[action$='/plans/new'] button"))
    hand.click(f".plan-row a[href='/plans/frames/{frame.pk}/']")
    page.wait(lambda: page.find("form[action$='/plans/compare'] > button"))
    hand.click("form[action$='/plans/compare'] > button")
    page.wait(lambda: page.find(".side-by-side"))
    specs = page.find(".side-by-side")  # that of the hits comes a little later
    assert len(specs.find_elements(By.CSS_SELECTOR, "thead th")) == 3
    weight, swing = (page.text(f".side-by-side tbody tr:nth-child({row})") for row in (2, 4))
    assert "oz" in weight
    assert swing.count("%") == 3
    assert hand.clicks <= 10


def test_from_a_goal_to_its_sheet_by_keyboard_alone(page):
    frame = plan_on("Sedge 98 Tour").frame
    hand = Keyboard(page.open(at("frames:detail", frame.pk)))
    hand.press("#tab-plan")
    page.wait(lambda: page.all("main .page a[href*='/plans/aim/']"))
    hand.press("main .page a[href*='/plans/aim/']")
    page.wait(lambda: page.find("a[href='?goal=power']"))
    hand.press("a[href='?goal=power']")
    page.wait(lambda: page.find("a[href='?goal=power'][aria-current]"))
    hand.press("#places .presets button:last-child")  # no handle
    hand.press("main form .btn-primary")
    page.wait(lambda: "All " in page.text("#progress"), 60)
    hand.press("article.proposal button")
    page.wait(lambda: page.find("#board"))
    assert page.rows()
    hand.press("#open-drawer")
    assert "handle" not in page.text("#pieces").lower()
    hand.go_to("a[href*='sheet.pdf?paper=a4']")


def test_layouts_of_a_paddle_are_compared_by_keyboard_alone(page):
    frame = Frame.objects.get(label="Mudlark 16")
    frame.plans.all().delete()
    hand = Keyboard(page.open(at("planning:frame", frame.pk)))
    for place in ("sides", "top corners"):
        hand.press("form[action$='/plans/new'] button")
        page.wait(lambda: page.find("#board"))
        hand.go_to("#site")
        page.press(place)
        hand.press("#lay")
        page.wait(lambda: page.rows() == 1)
        page.saved()
        hand.press(f".plan-row a[href='/plans/frames/{frame.pk}/']")
        page.wait(lambda: page.find("form[action$='/plans/new'] button"))
    hand.press("form[action$='/plans/compare'] > button")
    page.wait(lambda: page.find(".side-by-side"))
    assert page.text(".side-by-side tbody tr:nth-child(4)").count("%") == 2
