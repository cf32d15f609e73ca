"""The board driven as a person does: click, drag, keys, table, undo, two tabs, no connection."""

import re

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from kentrobar.web.frames.models import Frame
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.planning.board.actions import act
from kentrobar.web.planning.board.parameters import ActionRequest
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.services import save_plan
from kentrobar.web.planning.stored import plan_state
from tests.addresses import at
from tests.browser.conftest import plan_on

pytestmark = pytest.mark.browser


def pieces_of(board):
    """The pieces of the saved plan, as documents."""
    return [item["piece"] for item in Plan.objects.get(pk=board.plan.pk).pieces]


def shown(plan):
    """The prediction the database's state of the plan gives."""
    plan.refresh_from_db()
    return plan_state(plan).prediction


def agrees(page):
    """The page shows what core makes of the saved plan."""
    after = shown(page.plan).after
    swing_weight = f"{after.swingweight_kgcm2.value:.1f}"
    page.wait(lambda: page.number("swingweight_kgcm2-after") == swing_weight)
    assert page.number("mass_g-after") == f"{after.mass_g.value:.1f}"
    assert page.number("balance_cm-after") == f"{after.balance_cm.value * 10:.1f}"


def from_centre_cm(board, number):
    """How far the strips of a saved pair are from the centre line, at the end they are nearest to."""
    plan = plan_state(Plan.objects.get(pk=board.plan.pk))
    strip = plan.placed[number - 1].piece
    start, end = strip.stretches_on_rim(plan.outline)[0]
    return min(abs(start), abs(plan.outline.rim(strip.face).half_length - end))


def place(page, number=1):
    return page.number(f"place-{number}")


def select(page, number=1):
    page.driver.execute_script("arguments[0].focus()", page.find(f"[data-piece='{number}']"))
    return page


def test_another_material_keeps_the_amount_that_was_typed(board):
    """A length goes where there is no tape any more; what nobody typed follows the material."""
    amount = board.find("#amount")
    assert amount.get_attribute("value") == "10 cm"
    board.choose_material("Tungsten putty")
    assert amount.get_attribute("value") == "3 g"
    board.type_over("#amount", "15.9 g")
    for name in ("Copper tape", "Tungsten putty", "Tungsten tape"):
        board.choose_material(name)
        assert amount.get_attribute("value") == "15.9 g"
    board.type_over("#amount", "7 cm")
    board.choose_material("Copper tape")
    assert amount.get_attribute("value") == "7 cm"
    board.choose_material("Tungsten putty")
    assert amount.get_attribute("value") == "3 g"


def test_an_aim_that_is_refused_stays_with_its_reason(board):
    select(board)
    field = board.find("[data-aim=swingweight_kgcm2]")
    field.send_keys("+500", Keys.ENTER)
    board.saved().wait(lambda: "Choose another piece, or add one" in board.text("#aim-error"))
    again = board.find("[data-aim=swingweight_kgcm2]")
    assert again.get_attribute("value") == "+500"
    assert again.get_attribute("aria-invalid") == "true"
    again.send_keys(Keys.CONTROL, "a", Keys.NULL, "+5")
    assert board.text("#aim-error") == ""


def test_a_click_on_a_site_lays_a_piece(board):
    before = board.number("swingweight_kgcm2-after")
    board.lay_at("ten_two", 3)
    assert board.number("swingweight_kgcm2-after") != before
    assert place(board, 3).startswith("2:00")
    assert board.find("[data-piece='3']").get_attribute("aria-pressed") == "true"
    agrees(board)


@pytest.mark.parametrize(
    ("x_mm", "y_mm", "expected"),
    [(0, 120, r"^[5-9]\.\d+ to 1[4-9]"), (-128, 505, r"^(8:[345]|9:)"), (115, 600, r"^[12]:")],
)
def test_a_click_anywhere_on_rim_or_handle_lays_a_piece(board, x_mm, y_mm, expected):
    at = board.driver.execute_script(
        """const svg = document.getElementById('board');
        const p = new DOMPoint(24 + arguments[1],
                               Number(document.getElementById('plan').dataset.middle) + arguments[0])
            .matrixTransform(svg.querySelector('#turned').getScreenCTM());
        return [Math.round(p.x), Math.round(p.y)];""",
        x_mm,
        y_mm,
    )
    if board.find("[name=mirrored]").is_selected():
        board.find("[name=mirrored]").click()
    actions = ActionChains(board.driver)
    actions.w3c_actions.pointer_action.move_to_location(*at)
    actions.w3c_actions.pointer_action.click()
    actions.perform()
    board.wait(lambda: board.rows() == 3)
    assert re.match(expected, place(board, 3)), place(board, 3)
    agrees(board)


def test_numbers_follow_the_hand_while_it_drags(board):
    piece = board.find("[data-piece='1'] .reach")
    old, old_place = board.number("swingweight_kgcm2-after"), place(board)
    hand = ActionChains(board.driver, duration=80)
    hand.click_and_hold(piece).move_by_offset(60, 0).move_by_offset(30, 10).perform()
    board.wait(lambda: board.number("swingweight_kgcm2-after") != old)
    assert shown(board.plan).after.swingweight_kgcm2.value == pytest.approx(float(old), abs=0.05)
    ActionChains(board.driver).release().perform()
    board.saved()
    board.wait(lambda: board.plan.version < Plan.objects.get(pk=board.plan.pk).version)
    board.wait(lambda: place(board) != old_place)
    agrees(board)


def test_the_keys_do_everything(board):
    select(board)
    start = shown(board.plan)
    board.press(Keys.ARROW_RIGHT).press(Keys.ARROW_RIGHT)
    board.wait(lambda: Plan.objects.get(pk=board.plan.pk).version == board.plan.version + 1)
    moved = shown(board.plan)
    assert moved.change.swingweight_kgcm2.value > start.change.swingweight_kgcm2.value
    board.saved().press(Keys.SHIFT, Keys.ARROW_LEFT).press("+").press("+").press("-")
    board.saved()
    board.wait(lambda: "7.10" in board.find("[data-row='1'] [data-field=length]").get_attribute("value"))
    agrees(board)
    board.press("m").saved()
    board.wait(lambda: not pieces_of(board)[0]["mirrored"])
    board.press(Keys.DELETE)
    board.wait(lambda: board.rows() == 1)
    board.saved().press(Keys.CONTROL, "z")
    board.wait(lambda: board.rows() == 2)
    board.saved().press(Keys.CONTROL, Keys.SHIFT, "z")
    board.wait(lambda: board.rows() == 1)
    board.press("?")
    assert "1 mm" in board.text("#keys")
    board.press(Keys.ESCAPE)
    board.wait(lambda: not board.find("#keys").is_displayed())


def test_one_millimetre_is_one_millimetre(board):
    select(board, 2).press(Keys.ARROW_RIGHT)
    old = board.plan.pieces[1]["piece"]["from_cm"]
    board.wait(lambda: pieces_of(board)[1]["from_cm"] == pytest.approx(old + 0.1))
    board.press(Keys.SHIFT, Keys.ARROW_RIGHT)
    board.wait(lambda: pieces_of(board)[1]["from_cm"] == pytest.approx(old + 1.1))


def test_keyboard_alone_lays_a_piece_and_finds_it(board):
    """From the tray to the piece on the drawing without a pointer."""
    amount = board.find("#amount")
    amount.send_keys(Keys.CONTROL, "a")
    amount.send_keys("5 cm", Keys.ENTER)
    board.wait(lambda: board.rows() == 3)
    board.saved()
    board.driver.execute_script("document.querySelector('[data-site]').focus()")
    board.press(Keys.TAB)
    assert board.driver.switch_to.active_element.get_attribute("data-piece") == "1"
    board.press(Keys.ARROW_UP).press(Keys.TAB).press(Keys.ARROW_RIGHT)
    board.saved()
    agrees(board)


def test_the_table_takes_typing_and_keeps_what_it_refuses(board):
    board.details().type_over("[data-row='1'] [data-field=length]", "9,5")
    board.wait(lambda: pieces_of(board)[0]["length_cm"]["value"] == 9.5)
    board.saved()
    board.type_over("[data-row='1'] [data-field=length]", "300 cm")
    board.wait(lambda: "longer than the rim" in board.text("#pieces"))
    board.type_over("[data-row='2'] [data-field=mass]", "5 g")
    board.wait(lambda: pieces_of(board)[1]["mass_g"]["value"] == 5)
    board.saved()
    field = board.find("[data-row='1'] [data-field=length]")
    assert field.get_attribute("value") == "300 cm"
    assert field.get_attribute("aria-invalid") == "true"
    field.send_keys(Keys.ESCAPE)
    assert field.get_attribute("value") == "9.50"
    assert "longer than the rim" not in board.text("#pieces")


def test_half_typed_text_outlives_the_renewal_of_the_table(board):
    length = board.details().find("[data-row='1'] [data-field=length]")
    length.send_keys(Keys.CONTROL, "a")
    length.send_keys("8", Keys.TAB)
    board.press("1.")
    board.wait(lambda: pieces_of(board)[0]["length_cm"]["value"] == 8)
    board.saved()
    assert board.driver.switch_to.active_element.get_attribute("data-field") == "mass"
    assert "1." in board.driver.switch_to.active_element.get_attribute("value")


def test_wrong_amount_is_told_at_the_tray(board):
    board.type_over("#amount", "ten")
    board.find("#lay").click()
    board.wait(lambda: "not a number" in board.text("#tray-error"))
    assert board.find("#amount").get_attribute("value") == "ten"
    assert board.rows() == 2


def test_reload_and_back_come_to_the_same_state(board):
    board.lay_at("twelve", 3)
    swing = board.number("swingweight_kgcm2-after")
    board.driver.refresh()
    assert (board.rows(), board.number("swingweight_kgcm2-after")) == (3, swing)
    board.find(".plan-name a").click()
    board.driver.back()
    board.wait(lambda: board.rows() == 3)
    assert board.number("swingweight_kgcm2-after") == swing
    board.find("#undo").click()
    board.wait(lambda: board.rows() == 2)


def test_a_pair_moves_apart_and_turns_to_the_other_face(board):
    """Both are rows of the table of actions: the bar has their buttons, F its key, a refusal its sentence."""
    pair = next(i for i, piece in enumerate(pieces_of(board), 1) if piece.get("mirrored"))
    select(board, pair)
    board.find(".more-tools summary").click()
    board.wait(lambda: board.find("[data-act=apart]").is_displayed())
    field = board.find(".tool:has([data-act=apart]) [data-amount]")
    field.clear()
    field.send_keys("4 cm")
    board.find("[data-act=apart]").click()
    board.saved()
    board.wait(lambda: from_centre_cm(board, pair) == pytest.approx(4, abs=0.01))
    face = pieces_of(board)[pair - 1]["face"]
    ActionChains(board.driver).send_keys(Keys.ESCAPE).perform()
    select(board, pair)
    board.press("f")
    board.wait(lambda: pieces_of(board)[pair - 1]["face"] != face)
    agrees(board)
    field = board.find(".tool:has([data-act=apart]) [data-amount]")
    field.clear()
    field.send_keys("far")
    board.find("[data-act=apart]").click()
    board.wait(lambda: "not a number" in board.text("#tray-error"))


def somebody_else_lays_a_piece(board):
    """The plan moves on without this page."""
    plan = Plan.objects.get(pk=board.plan.pk)
    person = plan.shop.people.get()
    tape = plan.shop.materials.get(name="Lead tape, quarter inch")
    order = {"material": str(tape.pk), "amount": "5 cm", "site": "six"}
    asked = ActionRequest(plan_state(plan), order, person.units, lambda: shelf_of(person))
    save_plan(plan, act("add", asked), plan.version, person)


@pytest.mark.parametrize("choice", ["rebase", "copy", "drop"])
def test_a_page_that_fell_behind_never_overwrites_silently(board, choice):
    select(board)
    somebody_else_lays_a_piece(board)
    board.press("m")
    board.wait(lambda: board.find("#conflict").is_displayed())
    assert "technician placed Lead tape, quarter inch at 6, bridge" in board.text("#theirs")
    assert pieces_of(board)[0]["mirrored"]
    board.find(f"[data-choice={choice}]").click()
    if choice == "copy":
        board.wait(lambda: at("planning:board", board.plan.pk) not in board.driver.current_url)
        board.plan, theirs = Plan.objects.latest("pk"), board.plan
        board.wait(lambda: not pieces_of(board)[0]["mirrored"])
        assert len(Plan.objects.get(pk=theirs.pk).pieces) == 3
        return
    board.wait(lambda: board.rows() == 3)
    board.saved()
    assert pieces_of(board)[0]["mirrored"] is (choice == "drop")


def test_two_tabs_keep_up_with_each_other(board):
    first, address = board.driver.current_window_handle, board.driver.current_url
    board.driver.switch_to.new_window("tab")
    board.open(address.removeprefix(board.base)).lay_at("six", 3)
    board.driver.close()
    board.driver.switch_to.window(first)
    board.driver.execute_script("window.dispatchEvent(new Event('focus'))")
    board.wait(lambda: board.rows() == 3)
    assert "elsewhere" in board.text("#saved")
    agrees(board)


def test_a_lost_connection_says_so_and_loses_nothing(board):
    board.details().offline(True)
    board.type_over("[data-row='1'] [data-field=length]", "9")
    board.wait(lambda: "1 change is kept" in board.text("#notice"))
    board.type_over("[data-row='2'] [data-field=mass]", "5")
    board.wait(lambda: "2 changes are kept" in board.text("#notice"))
    assert "Not saved" in board.text("#saved")
    assert pieces_of(board)[0]["length_cm"]["value"] == 7
    board.offline(False)
    board.driver.refresh()
    board.wait(lambda: pieces_of(board)[1]["mass_g"]["value"] == 5)
    board.saved()
    board.wait(lambda: not board.find("#notice").is_displayed())
    assert board.find("[data-row='1'] [data-field=length]").get_attribute("value") == "9.00"
    agrees(board)


def test_a_paddle_works_the_same(page):
    page.plan = plan_on("Mudlark 16")
    page.open(at("planning:board", page.plan.pk))
    page.lay_at("top_edge", 4).lay_at("bottom_corners", 5)
    agrees(page)
    piece = page.find("[data-piece='1'] .reach")
    old = place(page)
    ActionChains(page.driver, duration=80).drag_and_drop_by_offset(piece, -40, 0).perform()
    page.wait(lambda: place(page) != old)
    page.saved()
    agrees(page)
    page.details().type_over("[data-row='5'] [data-field=place]", "20 cm")
    page.wait(lambda: "20.00" in place(page, 5))
    agrees(page)


def test_unknown_swing_weight_says_what_is_missing(page):
    page.open(at("planning:board", plan_on("Glasswort 100").pk))
    assert page.number("swingweight_kgcm2-after") == "unknown"
    assert page.number("swingweight_kgcm2-change").startswith("+2.")
    assert "Measure swing weight" in page.text("#specs")


def test_sheet_and_file_can_be_taken_along(board):
    for css, start in {"a[href*='sheet.pdf'][href*=letter]": "%PDF", "a[href$='plan.json']": "{"}.items():
        begins = board.driver.execute_async_script(
            "const done = arguments[arguments.length - 1];"
            "fetch(arguments[0]).then(r => r.text()).then(t => done(t.slice(0, 4)))",
            board.find(css).get_attribute("href"),
        )
        assert begins.startswith(start)


def test_a_new_frame_and_plan_by_keyboard(page):
    """Search, take a racket in, start its plan, without the pointer."""
    page.open(at("frames:list")).find("#q").send_keys("mudlark second")
    page.wait(lambda: len(page.all("#frames tbody tr")) == 1)
    page.open(at("taking_in:create", "tennis")).find("[name=label]").send_keys("Reed 100 B1")
    for name, text in {"head_size_0": "100", "mass_1": "abc", "balance_1": "31,8 cm"}.items():
        page.find(f"[name={name}]").send_keys(text)
    page.find("[name=swingweight_1]").send_keys("287", Keys.ENTER)
    page.press(Keys.CONTROL, Keys.ENTER)
    page.wait(lambda: "not a number" in page.text("main"))
    assert page.find("[name=balance_1]").get_attribute("value") == "31,8 cm"
    page.type_over("[name=mass_1]", "308.6")
    page.press(Keys.CONTROL, Keys.ENTER)
    page.wait(lambda: "Reed 100 B1 is saved" in page.text("main"))
    page.find("#tab-plan").send_keys(Keys.ENTER)
    page.wait(lambda: page.all("form[action$='plans/new'] button"))
    page.find("form[action$='plans/new'] button").send_keys(Keys.ENTER)
    page.wait(lambda: page.all("#board"))
    assert "No piece yet" in page.details().text("#pieces")
    assert Frame.objects.get(label="Reed 100 B1").plans.count() == 1
