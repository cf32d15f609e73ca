"""What scripts do that no other test of a page would miss: charts, the first slip, one key, the theme."""

import numpy as np
import pytest

from kentrobar.core.reading.calibration import Correction
from kentrobar.web.bench.models import RollFinding
from kentrobar.web.frames.models import Frame
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.services import record_calibration
from tests.addresses import at
from tests.browser.conftest import signed_in

pytestmark = pytest.mark.browser


def drawn(page, chart, axis="y"):
    """What a chart draws along one of its axes, in order."""
    return page.wait(
        lambda: page.driver.execute_script(
            "const chart = window.Chart?.getChart(document.querySelector(arguments[0]));"
            "return chart?.data.datasets.flatMap(each => each.data)"
            ".map(each => each?.[arguments[1]] ?? each).filter(Number.isFinite).sort((a, b) => a - b)",
            chart,
            axis,
        )
    )


def told(page, key):
    """What the server handed to a chart."""
    return page.driver.execute_script(
        "return JSON.parse(document.getElementById(arguments[0]).textContent)", key
    )


@pytest.fixture
def in_season(chromium, site, season):
    """A page of the shop with its season."""
    page = signed_in(chromium, site, season)
    yield page
    assert page.complaints() == []


def test_what_was_read_of_a_frame_is_drawn_over_time(in_season):
    frame = Frame.objects.get(label="Heron 98 H1")
    in_season.open(at("history:time_line", frame.pk))
    lines = told(in_season, "history-charts")["lines"]
    assert lines
    for i, line in enumerate(lines):
        values = [point["y"] for points in line["builds"].values() for point in points]
        assert drawn(in_season, f"#chart-{i}") == pytest.approx(sorted(values))


def test_what_each_job_told_is_drawn_one_under_the_other(in_season):
    assert RollFinding.objects.exists()
    in_season.open(at("orders:insights"))
    found = told(in_season, in_season.find(".forest canvas").get_attribute("data-chart"))
    values = {each["value"] for each in (*found["jobs"], found["together"])}
    assert set(drawn(in_season, ".forest canvas", "x")) == values


def test_the_drift_of_an_instrument_is_drawn(page, technician):
    machine = Instrument.objects.get(name="Swing-weight machine")
    for zero in (0.5, 1.25):
        record_calibration(machine, Correction(zero=zero), [], technician)
    page.open(at("measuring:calibrate", machine.pk))
    off = told(page, "drift")["off"]
    assert off[-2:] == [0.5, 1.25]
    assert drawn(page, "#drift-chart") == pytest.approx(sorted(off))


def test_a_recording_is_drawn_with_the_wave_that_fits_it(page, tmp_path):
    times = np.arange(0.0, 20.0, 0.02)
    signal = 9.81 + 0.8 * np.exp(-times / 60) * np.cos(2 * np.pi * times / 1.36)
    (tmp_path / "swing.csv").write_text(
        "time,acc\n" + "\n".join(f"{t:.3f},{x:.5f}" for t, x in zip(times, signal, strict=True))
    )
    frame = Frame.objects.get(label="Reed 100 A2")
    page.open(at("measuring:swing", frame.pk, "pendulum"))
    page.type_over("[name=hang_0]", "66")
    page.find("[name=recording]").send_keys(str(tmp_path / "swing.csv"))
    page.wait(lambda: page.all("#drawn"))
    found = told(page, "drawn")
    assert drawn(page, "#fit") == pytest.approx(sorted([*found["signal"], *found["fit"]]))


def test_the_first_slip_is_where_the_hand_goes_on(page):
    page.open(at("taking_in:create", "tennis"))
    page.type_over("[name=length_0]", "far too long")
    page.button("Save").click()
    page.wait(lambda: page.all(".has-error"))
    assert page.driver.switch_to.active_element.get_attribute("name") == "label"


def test_m_opens_the_readings_of_a_frame_but_is_a_letter_in_a_field(page):
    frame = Frame.objects.get(label="Reed 100 A2")
    page.open(at("frames:detail", frame.pk))
    page.find("#find-all").send_keys("m")
    assert page.driver.current_url.endswith(at("frames:detail", frame.pk))
    page.find(".frame-name .over").click()
    page.press("m")
    page.wait(lambda: page.driver.current_url.endswith(at("measuring:measure", frame.pk)))


def test_the_theme_follows_the_device_at_once(page):
    page.open(at("frames:list"))
    for name in ("dark", "light"):
        page.scheme(name)
        page.wait(lambda n=name: page.find("html").get_attribute("data-bs-theme") == n)
