"""The map of hits beside the board: opened, followed while a piece is dragged, changed by its form."""

import pytest
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.actions.action_builder import ActionBuilder
from selenium.webdriver.support.ui import Select

from kentrobar.web.frames.models import Frame
from kentrobar.web.planning.models import Plan
from kentrobar.web.play.models import HitMap, TrialAsk
from tests.addresses import at
from tests.browser.conftest import PHONE
from tests.browser.test_planning import click

pytestmark = pytest.mark.browser
TWIST = "#court tr:nth-child(6) td:nth-child(3) strong"


@pytest.fixture
def court(board):
    board.details()
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
    page.open(f"{at('planning:compare')}?" + "&".join(f"plan={pk}" for pk in pks))
    page.wait(lambda: len(page.all(".face-map")) == 2)
    Select(page.find("[name=shown]")).select_by_value("change")
    page.wait(lambda: "Change of ball speed" in page.text("#main"))
    assert page.driver.switch_to.active_element.get_attribute("name") == "shown"  # focus stays
    assert len(page.all(".face-map")) == 2


# -- where the hits fall ----------------------------------------------------------------------


@pytest.fixture
def hits(page):
    page.open(at("play:frame_hits", Frame.objects.get(label="Reed 100 A1").pk))
    click(page, ".hit-start button")
    page.wait(lambda: page.find("svg.tapped"))
    return page


def tap(page, css, right, down):
    """Tap so far from the middle of something, in pixels."""
    element = page.find(css)
    page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", element)
    ActionChains(page.driver).move_to_element_with_offset(element, right, down).click().perform()


def test_hits_are_tapped_as_fast_as_a_thumb_goes_and_taken_back(hits):
    face = hits.find("svg.tapped").rect
    x, y = (int(face[at] + face[size] / 2) for at, size in (("x", "width"), ("y", "height")))
    for i in range(7):  # the drawing is made anew meanwhile
        thumb = ActionBuilder(hits.driver)
        thumb.pointer_action.move_to_location(x + 8 * i - 20, y + 10 * (i % 3)).click()
        thumb.perform()
    hits.wait(lambda: len(HitMap.objects.get().hits) == 7)
    hits.wait(lambda: hits.text(".hit-words").startswith("The"))
    assert len(hits.all(".marks circle")) == 7
    click(hits, "form:has(.listed) > button")
    hits.wait(lambda: len(hits.all(".marks circle")) == 6)
    assert len(HitMap.objects.get().hits) == 6
    tap(hits, "svg.tapped", -290, 0)  # on the throat
    hits.wait(lambda: "beside the face" in hits.text(".hit-told"))
    assert len(hits.all(".marks circle")) == 6
    hits.driver.refresh()
    assert len(hits.all(".marks circle")) == 6


def test_a_photo_is_laid_under_the_drawing_by_four_taps_and_never_sent(hits, tmp_path):
    photo = tmp_path / "face.png"
    Image.new("RGB", (900, 1200), "#ccc").save(photo)
    hits.find("#photo-taps input").send_keys(str(photo))
    hits.wait(lambda: "top" in hits.text("#photo-taps [role=status]"))
    corners = ((0, -150), (110, -20), (0, 150), (-110, -20))
    for right, down in corners:
        tap(hits, "#photo-taps canvas", right, down)
    hits.wait(lambda: hits.find("#photo-under canvas"))
    # The top of the face in the photo comes to lie at the tip of the drawn face.
    off = hits.driver.execute_script(
        """
        const canvas = document.querySelector("#photo-under canvas");
        const sheet = canvas.parentElement.getBoundingClientRect();
        const shown = arguments[0];
        const at = new DOMMatrix(getComputedStyle(canvas).transform)
          .transformPoint(new DOMPoint(450, 600 - 150 * shown));
        const face = document.querySelector(".tapped .face").getBoundingClientRect();
        const down = sheet.top + at.y / at.w - (face.top + face.bottom) / 2;
        return [sheet.left + at.x / at.w - face.right, down];
    """,
        1200
        / hits.driver.execute_script(
            # the photo as it was shown while it was tapped
            "const holder = document.querySelector('#photo-taps .photo'); holder.hidden = false;"
            "const tall = holder.querySelector('canvas').getBoundingClientRect().height;"
            "holder.hidden = true; return tall;"
        ),
    )
    assert max(abs(each) for each in off) < 3
    tap(hits, "svg.tapped", 0, 0)
    hits.wait(lambda: len(hits.all(".marks circle")) == 1)
    assert hits.find("#photo-under canvas")  # it stays when hits are marked
    click(hits, "#photo-taps [data-away]")
    assert not hits.all("#photo-under canvas")
    assert "face.png" not in str(HitMap.objects.values())


def test_taps_on_a_line_are_asked_for_again(hits, tmp_path):
    photo = tmp_path / "face.png"
    Image.new("RGB", (600, 600), "#ccc").save(photo)
    hits.find("#photo-taps input").send_keys(str(photo))
    hits.wait(lambda: "top" in hits.text("#photo-taps [role=status]"))
    for down in (-60, -20, 20, 60):
        tap(hits, "#photo-taps canvas", 0, down)
    hits.wait(lambda: "on a line" in hits.text("#photo-taps [role=status]"))
    assert not hits.all("#photo-under canvas")


def test_strain_is_ticked_at_intake_and_changes_the_goal(page):
    frame = Frame.objects.get(label="Teasel 104 Light")
    page.open(at("frames:edit", frame.pk))
    box = page.find("input[name=strain][value=elbow]")
    page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", box)
    box.click()  # nothing lies over it
    click(page, "main form .btn-primary")
    page.wait(lambda: page.find(".messages"))  # it is saved
    page.open(at("planning:target", frame.pk))
    assert "Wanda reported pain (elbow)" in page.text("main")
    assert page.text("nav[aria-label=Goals] [aria-current]") == "Gentler on the arm"


# -- trials -------------------------------------------------------------------------------------


def test_a_trial_is_planned_and_answered_with_one_thumb(page):
    page.open(at("play:frame_trials", Frame.objects.get(label="Reed 100 A1").pk))
    assert not page.find("[data-range=balance]").is_displayed()  # not sought
    Select(page.find("[name=search]")).select_by_value("swingweight_balance")
    assert page.find("[data-range=balance]").is_displayed()
    Select(page.find("[name=search]")).select_by_value("swingweight")
    page.type_over("[name=swingweight_step]", "4")
    click(page, "main form .btn-primary")
    page.wait(lambda: page.find(".trial-now"))
    address = page.find(".play-code a").get_attribute("href")
    page.driver.delete_all_cookies()  # the player's phone is signed in nowhere
    page.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", PHONE)
    page.driver.get(address)
    for number in (1, 2, 3):
        page.wait(lambda now=number: f"number {now} of about 21" in page.text("main"))
        buttons = page.all(".answers button")
        assert min(button.size["height"] for button in buttons) >= 60
        assert "kg" not in page.text("main")
        buttons[number % 3].click()
    page.wait(lambda: "number 4 of about 21" in page.text("main"))
    page.driver.back()  # no old question is shown again
    page.wait(lambda: "number 4 of about 21" in page.text("main"))
    click(page, ".btn-link")
    page.wait(lambda: "number 3 of about 21" in page.text("main"))
    assert [each.number for each in TrialAsk.objects.filter(answered_at=None, withdrawn_at=None)] == [3]
    page.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
