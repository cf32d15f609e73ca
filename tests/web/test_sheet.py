"""The bench sheet in full: steps, cut list, true-size strips to a fifth of a millimetre, SVG."""

import json
import xml.etree.ElementTree as ElementTree
from html import unescape
from io import BytesIO
from itertools import pairwise

import numpy as np
import pypdfium2
import pytest
from django.utils.html import strip_tags
from PIL import Image
from pypdf import PdfReader

from kentrobar.core.bench.steps import OrderOfWork
from kentrobar.exchange import models
from kentrobar.exchange.documents import answer_predict
from kentrobar.exchange.reading import read_document
from kentrobar.web.frames.models import SpecSheet
from kentrobar.web.kit.numbers import Units
from kentrobar.web.materials.models import Material
from kentrobar.web.materials.queries import shelf_of_shop
from kentrobar.web.measuring.services import Taking, as_readings, record
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.paper import sheet
from kentrobar.web.planning.paper.rim_ruler import rim_rulers
from kentrobar.web.planning.services import create_plan
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.welcome.demo import lay_plan
from kentrobar.web.welcome.importing import import_plan
from tests.addresses import at

DPI = 300
MM = DPI / 25.4
BRASS = np.array([0x96, 0x56, 0x0F])


@pytest.fixture
def laid(hand):
    hand.lay(amount="19 cm", site="twelve")
    hand.edit("mirrored", "1")
    hand.lay("Lead tape, half inch", amount="6 cm", site="three_nine", mirrored="1")
    hand.lay("Removable putty", "3 g", site="butt_cap")
    return hand


def pages(client, plan, paper="a4"):
    response = client.get(f"{at('planning:sheet', plan.pk)}?paper={paper}")
    assert response.status_code == 200
    return response.content


def text_of(pdf):
    return "\n".join(page.extract_text() for page in PdfReader(BytesIO(pdf)).pages)


@pytest.fixture
def told(client, monkeypatch):
    """What a plan's sheet says, before it is set in type."""
    monkeypatch.setattr(sheet, "_typeset", lambda html, *_: html.encode())
    return lambda plan: " ".join(unescape(strip_tags(pages(client, plan).decode())).split())


def rendered(pdf):
    """Every page at 300 dpi, as arrays (rows, columns, red green blue)."""
    document = pypdfium2.PdfDocument(pdf)
    return [page.render(scale=DPI / 72).to_numpy()[:, :, 2::-1].astype(np.int16) for page in document]


def longest_runs(dark):
    """The longest unbroken run of True in each row, in pixels."""
    edges = np.diff(np.pad(dark, ((0, 0), (1, 1))).astype(np.int8), axis=1)
    rows, starts = np.nonzero(edges == 1)
    _, ends = np.nonzero(edges == -1)
    longest = np.zeros(len(dark), int)
    np.maximum.at(longest, rows, ends - starts)
    return longest.tolist()


def test_true_size_measures_true_at_300_dpi(laid, client, plan):
    """Control bars of 100 mm, strips, and marks along the rim, each within 0.2 mm."""
    bars, strips, across = [], [], []
    for picture in rendered(pages(client, plan)):
        assert picture.shape[:2] == pytest.approx((297 * MM, 210 * MM), abs=2)
        dark = picture.sum(axis=2) < 200
        bars += longest_runs(dark) + longest_runs(dark.T)
        brass = np.abs(picture - BRASS).sum(axis=2) < 120
        strips += longest_runs(brass)
        begins = np.diff(brass.astype(np.int8), axis=1) == 1
        across += [np.flatnonzero(row) for row in begins[begins.sum(axis=1) >= 3]]
    assert min(abs(bar / MM - 100) for bar in bars) < 0.2
    assert sum(abs(bar / MM - 100) < 0.2 for bar in bars) > 60  # both bars are 3 mm thick
    # A strip of 190 mm is drawn as 170 and 20 mm; with the line around it a quarter longer.
    for length in (170.25, 60.25):
        assert min(abs(strip / MM - length) for strip in strips) < 0.2
    assert across, "the marks along the rim are there"


def test_a_piece_over_the_tip_is_one_stretch_of_the_rim_ruler(laid, plan):
    """The pair of 19 cm is one strip over the tip, which ends 190 mm from it on either side."""
    plan.refresh_from_db()
    (ruler,) = rim_rulers(plan_state(plan), shelf_of_shop(plan.shop), Units())
    ends = [
        (round(part.start_mm + block.x, 3), round(part.start_mm + block.x + block.width, 3))
        for part in ruler.parts
        for block in part.strips
        if block.name == "1"
    ]
    assert ends[0][0] == pytest.approx(-190.0)
    assert ends[-1][1] == pytest.approx(190.0)
    assert all(before[1] == pytest.approx(after[0]) for before, after in pairwise(ends))
    assert all(part.length_mm <= 170 for part in ruler.parts)
    assert all(abs(part.start_mm) > 1 for part in ruler.parts)  # no joint at the tip


def test_the_rim_ruler_is_printed_alone_for_an_empty_plan_too(client, plan):
    answer = client.get(at("planning:rim_ruler", plan.pk), {"paper": "letter"})
    assert len(PdfReader(BytesIO(answer.content)).pages) <= 2
    text = text_of(answer.content)
    assert "Rim ruler" in text
    for hour in ("12:00", "3:00", "6:00", "9:00"):
        assert hour in text


def test_the_sheet_tells_the_whole_job(laid, client, plan):
    Material.objects.filter(name="Lead tape, half inch").update(left_amount=40.64)
    text = text_of(pages(client, plan))
    for part in (
        "Tools",
        "gloves, and a box for offcuts",
        "Cut",
        "380 (1)",
        "offcut 83 mm",
        "Work: swing weight first",
        "1. Apply the head weight",
        "2. Apply handle and throat",
        "Then measure",
        "expected",
        "hazardous waste",
        "100 mm along",
        "the middle of the tip",
    ):
        assert part in " ".join(text.split()), part
    # A caution stands at the step it belongs to, once.
    assert text.count("wash your hands after") == 1


@pytest.mark.parametrize(
    ("order", "steps"), [("balance_first", 2), ("at_once", 1), ("swing_alone", 1), ("swing_first", 2)]
)
def test_the_plan_is_told_by_the_school_of_the_shop(laid, client, told, plan, order, steps):
    assert client.post(at("planning:order", plan.pk), {"order": order}).status_code == 302
    text = told(plan)
    assert f"{steps}. Apply" in text
    assert f"{steps + 1}. Apply" not in text
    assert Plan.objects.get().order_of_work == OrderOfWork(order)
    assert client.post(at("planning:order", plan.pk), {"order": "moon"}).status_code == 404


def test_the_drawing_is_a_picture_of_its_own(laid, client, plan):
    response = client.get(at("planning:picture", plan.pk))
    drawn = response.content.decode()
    root = ElementTree.fromstring(drawn)  # noqa: S314 - our own
    assert root.tag == "{http://www.w3.org/2000/svg}svg"
    assert "http" not in drawn.replace("http://www.w3.org/2000/svg", "")
    after = plan_state(Plan.objects.get(pk=plan.pk)).prediction.after
    assert f">{after.mass_g.value:.1f} " in drawn
    assert plan.frame.label not in drawn  # a picture to send names nobody unless it is asked to
    assert plan.frame.label not in response["Content-Disposition"]
    named = client.get(at("planning:picture", plan.pk), {"named": "on"}).content.decode()
    assert plan.frame.label in named


def test_the_picture_to_send_is_painted_whole(laid, client, plan):
    response = client.get(at("planning:picture", plan.pk), {"as": "png"})
    image = Image.open(BytesIO(response.content)).convert("L")
    assert image.width == 1800
    rows = np.asarray(image) < 128
    assert rows[: image.height // 2].any()
    assert rows[image.height // 2 :].any()
    assert not rows[[0, -1]].any()
    assert not rows[:, [0, -1]].any()


def test_drawing_and_exchange_file_lie_in_the_sheet(laid, client, plan):
    """What is handed on in one file: the command line predicts the same from what is inside."""
    inside = PdfReader(BytesIO(pages(client, plan))).attachments
    (svg, (drawn,)), (document, (exported,)) = sorted(inside.items(), key=lambda item: item[0][-3:])[::-1]
    assert svg.endswith(".svg")
    assert ElementTree.fromstring(drawn).tag.endswith("svg")  # noqa: S314 - our own
    assert document.endswith(".json")
    answer = answer_predict(read_document(exported, models.PredictRequest))
    after = plan_state(Plan.objects.get(pk=plan.pk)).prediction.after
    assert answer.after.swingweight_kgcm2.value == pytest.approx(after.swingweight_kgcm2.value, abs=1e-4)


def test_cutting_takes_it_off_the_roll(laid, client, plan, technician):
    tape = technician.shop.materials.get(name="Lead tape, half inch")
    Material.objects.filter(pk=tape.pk).update(left_amount=40.64)
    assert client.post(at("planning:cut", plan.pk)).status_code == 302
    tape.refresh_from_db()
    assert tape.left_amount == pytest.approx(40.64 - 20.32)
    putty = technician.shop.materials.get(name="Removable putty")
    assert putty.left_amount is None  # never counted: nothing to take from
    again = client.post(at("planning:cut", plan.pk), follow=True)
    assert "material was already deducted" in again.content.decode()
    Plan.objects.update(cut_revision=None)
    Material.objects.filter(pk=tape.pk).update(left_amount=1.0)
    short = client.post(at("planning:cut", plan.pk), follow=True)
    assert "Only 1.0 cm" in short.content.decode()


def test_a_sheet_in_inches_and_the_words_of_the_place(laid, client, plan, technician):
    technician.mass_unit, technician.length_unit = "oz", "in"
    technician.save()
    laid.lay("Lead tape, quarter inch", "2 in", site="throat", mirrored="1")
    text = " ".join(text_of(pages(client, plan, "letter")).split())
    for part in (
        "Lengths, in (piece)",
        "14.96 (1), 2.00 (4), 2.00 (4)",
        "offcut 3.28 in",
        "From butt, in",
        "inside the butt cap",
        "on both shafts",
        "1 × 14.96 in",
        "9 10",
    ):
        assert part in text, part
    assert " mm (" not in text


def test_steps_tell_the_change_where_a_spec_was_never_read(told, paddle, technician):
    """With a kitchen scale and a ruler alone, the swing weight is told as what it gains."""
    plan = lay_plan(paddle, "Kitchen", [("Tungsten tape", "6 cm", "sides", True)], technician)
    text = told(plan)
    assert "change of swing weight, expected +" in text
    assert "unknown ±" not in text
    assert "edge guard" in text
    assert "Rim ruler: edge guard" in text


@pytest.mark.parametrize("build", SpecSheet.SheetBuild.values)
def test_a_frame_read_in_any_build_is_printed_and_handed_on(racket, client, told, build, technician):
    """In another mix of fittings too; what is handed on comes back as it went."""
    fitted = [] if build == "mix" else None
    record(racket, Taking(racket.measured, build, as_readings(racket.measured), fitted), technician)
    plan = create_plan(racket, technician, name="First")
    assert "Reed 100" in told(plan)
    document = client.get(at("planning:export", plan.pk)).content
    assert json.loads(document)["frame"]["measured"]["build"] == build
    again = import_plan(technician, document).frame
    assert (again.specs.build, again.measured) == (build, racket.measured)
