"""Takes the pictures of ``docs/screenshots`` from the demo: ``script/pictures``."""

from __future__ import annotations

import time
from pathlib import Path

import django

django.setup()

from selenium.webdriver.common.by import By  # noqa: E402

from kentrobar.web.frames.models import Frame  # noqa: E402
from kentrobar.web.planning.models import Plan  # noqa: E402
from tests.browser.conftest import start_chromium  # noqa: E402
from tests.serving import make_demo_database, served, sign_in  # noqa: E402

FOLDER = Path(__file__).resolve().parents[1] / "docs" / "screenshots"
DESK, PHONE = (1280, 800), (390, 844)


def board_of(label: str) -> str:
    return f"/plans/{Plan.objects.get(frame__label=label).pk}/"


def pictures() -> list[tuple[str, str, tuple[int, int], str]]:
    """Name, address, size and colour scheme of every picture."""
    frame = Frame.objects.get(label="Reed 100 A2").pk
    return [
        ("board-racket", board_of("Sedge 98 Tour"), DESK, "light"),
        ("board-paddle", board_of("Mudlark 16"), DESK, "light"),
        ("board-dark", board_of("Sedge 98 Tour"), DESK, "dark"),
        ("board-phone", board_of("Sedge 98 Tour"), PHONE, "light"),
        ("board-unknown", board_of("Glasswort 100"), DESK, "light"),
        ("frames", "/frames/", DESK, "light"),
        ("frame", f"/frames/{frame}/", DESK, "light"),
        ("frame-form", f"/frames/{frame}/edit", DESK, "light"),
        ("materials", "/materials/", DESK, "light"),
        ("plans", "/plans/", DESK, "light"),
        ("units", "/you/", DESK, "light"),
    ]


def main() -> None:
    make_demo_database()
    driver = start_chromium()
    try:
        with served() as address:
            sign_in(driver, address)
            for name, page, (width, height), scheme in pictures():
                metrics = {"width": width, "height": height, "deviceScaleFactor": 1}
                metrics["mobile"] = width < 500
                driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
                media = {"features": [{"name": "prefers-color-scheme", "value": scheme}]}
                driver.execute_cdp_cmd("Emulation.setEmulatedMedia", media)
                driver.get(address + page)
                for select in driver.find_elements(By.CSS_SELECTOR, "[data-select='1']"):
                    driver.execute_script("arguments[0].click(); scrollTo(0, 0)", select)
                time.sleep(0.5)
                driver.save_screenshot(str(FOLDER / f"{name}.png"))
    finally:
        driver.quit()


if __name__ == "__main__":
    main()
