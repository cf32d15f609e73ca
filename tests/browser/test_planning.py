"""Planning as a person plays it through: lay, counterbalance, print; refusals, fixes, searches."""

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from kentrobar.core.solving.proposals import LEAST, SCHOOLS
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit import searches
from kentrobar.web.kit.models import Search
from kentrobar.web.planning.models import Plan
from tests.addresses import at
from tests.browser.conftest import plan_on

pytestmark = pytest.mark.browser


def click(page, css):
    """A click as a hand makes it, on what is in sight."""
    element = page.find(css)
    page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", element)
    ActionChains(page.driver).move_to_element(element).click().perform()


def test_three_pieces_counterbalanced_and_printed_in_six_clicks(page):
    """The first job of somebody new, counted in clicks; nothing is typed."""
    frame = Frame.objects.get(label="Reed 100 A4")
    page.open(at("planning:frame", frame.pk))
    clicks = ["form[action$='/plans/new'] button"]
    click(page, clicks[0])
    page.wait(lambda: page.find("#board"))
    for count, site in enumerate(("ten_two", "three_nine", "throat"), 1):
        ring = f"[data-site={site}]"
        clicks.append(ring)
        page.lay_at(site, count)
    assert "It takes" in page.text("#hold") or page.find("#hold").get_attribute("textContent")
    clicks.append("[data-complete=hold]")
    click(page, clicks[-1])
    page.wait(lambda: page.rows() == 4)
    page.saved()
    assert abs(float(page.number("balance_cm-change").replace("−", "-"))) <= 0.1
    clicks += ["#open-drawer", "a[href*='sheet.pdf?paper=a4']"]
    click(page, clicks[-2])
    assert page.find(clicks[-1]).is_displayed()
    assert len(clicks) <= 7


def test_a_refusal_offers_a_fix_at_the_hand(page):
    page.plan = plan_on("Mudlark 16")
    page.open(at("planning:board", page.plan.pk))
    rows = page.rows()
    page.choose_material("Silicone")
    page.find("#site").send_keys("cavity")
    click(page, "#lay")
    page.wait(lambda: "foam-filled" in page.text("#tray-error"))
    assert page.rows() == rows
    click(page, "#ways-out button")
    page.wait(lambda: page.rows() == rows + 1)
    assert page.text("#tray-error") == ""
    page.driver.refresh()
    assert page.rows() == rows + 1


def test_an_objection_is_fixed_or_set_aside_with_the_keyboard(page):
    """A strip dragged over a blocked hole is objected to below the drawing; Tab and Enter fix it."""
    page.plan = plan_on("Reed 100 A2")
    page.open(at("planning:board", page.plan.pk))
    page.details().type_over("[data-field=place]", "11:20")
    page.wait(lambda: page.find(".plan-warning"))
    assert "restring" in page.text(".plan-warning")
    button = page.find("[data-overrule='1']")
    page.driver.execute_script("arguments[0].focus()", button)
    ActionChains(page.driver).send_keys(Keys.ENTER).perform()
    page.wait(lambda: "You decided to keep it" in page.text(".plan-warning"))
    page.find("[data-overrule='0']").send_keys(Keys.ENTER)
    page.wait(lambda: page.find("[data-fix]"))
    page.find("[data-fix]").send_keys(Keys.ENTER)
    page.wait(lambda: not page.all(".plan-warning"))
    page.saved()


def test_dividing_a_strip_and_taking_away(page):
    page.plan = plan_on("Sedge 98 Tour")
    page.open(at("planning:board", page.plan.pk))
    page.details()
    click(page, "[data-select='1']")
    click(page, ".more-tools summary")
    page.wait(lambda: page.find("[data-act=divide]").is_displayed())
    click(page, "[data-act=divide]")
    page.wait(lambda: page.rows() == 3)
    page.details()
    click(page, "#taking-away summary")
    click(page, "[data-take=trim]")
    page.wait(lambda: page.rows() == 4)
    assert page.find("[data-row='4'] [data-field=removed]").is_selected()
    click(page, "[data-take=trim]")  # that stretch is gone: refused, and the reason stays
    page.saved().wait(lambda: "already" in page.text("#taking-away .error"))
    page.saved()
    assert page.rows() == 4
    whole = page.find("[data-take=trim]").get_attribute("data-fitting")
    click(page, f"[data-take=whole][data-fitting='{whole}']")  # all of it, in the place of the cut
    page.wait(lambda: not page.text("#taking-away .error"))
    assert page.saved().rows() == 4
    for _ in range(3):
        ActionChains(page.driver).key_down(Keys.CONTROL).send_keys("z").key_up(Keys.CONTROL).perform()
        page.saved()
    page.wait(lambda: page.rows() == 2)


def test_plans_are_searched_told_and_laid(page):
    frame = Frame.objects.get(label="Sedge 98 Tour")
    page.open(f"{at('planning:target', frame.pk)}?goal=hold")
    click(page, "main form .btn-primary")
    searched = f"All {len(SCHOOLS)} searched."
    page.wait(lambda: page.text("#progress") == searched, 60)
    orders = [float(each.get_attribute("data-order")) for each in page.all("article.proposal:not([hidden])")]
    assert len(orders) >= 2
    assert orders == sorted(orders)
    click(page, "article.proposal button")
    page.wait(lambda: page.find("#board"))
    assert Plan.objects.latest("pk").frame == frame
    page.driver.back()  # the search stands in the address: nothing is asked, nothing is lost
    page.wait(lambda: page.text("#progress") == searched, 60)
    assert len(page.all("article.proposal:not([hidden])")) == len(orders)


def test_a_search_can_be_stopped_and_keeps_what_it_found(page, monkeypatch):
    solve = searches.solve_now

    def solve_the_first(search_pk):
        if Search.objects.get(pk=search_pk).part == LEAST:
            solve(search_pk)

    monkeypatch.setattr(searches, "solve_now", solve_the_first)  # the others wait for their turn
    frame = Frame.objects.get(label="Sedge 98 Tour")
    page.open(f"{at('planning:target', frame.pk)}?goal=hold")
    click(page, "main form .btn-primary")
    page.wait(lambda: page.all("article.proposal[data-order] form"), 30)
    click(page, "#stop")
    page.wait(lambda: page.text("#progress") == f"All {len(SCHOOLS)} searched.")
    assert page.all("article.proposal[data-order] form")
    assert "Stopped before it began" in page.text("#answers")
    assert not page.all("[data-searching]")


def test_the_picture_of_what_is_possible(page):
    frame = Frame.objects.get(label="Sedge 98 Tour")
    page.open(f"{at('planning:target', frame.pk)}?goal=hold")
    click(page, "button[formaction]")
    page.wait(lambda: page.find("#reach-chart"))
    drawn = page.wait(
        lambda: page.driver.execute_script(
            "return window.Chart?.getChart('reach-chart')?.data.datasets.map(d => d.label)"
        )
    )
    assert set(drawn) == {"target", "this frame now", "within reach", "other frames"}
    page.driver.back()
    page.wait(lambda: page.find("h1").text == "Plan from a target")
