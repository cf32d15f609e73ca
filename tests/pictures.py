"""Takes the pictures of ``docs/screenshots`` from the demo: ``script/pictures``."""

from __future__ import annotations

import time
from pathlib import Path

import django
from django.db.models import Count

from tests.addresses import at

django.setup()

from selenium.webdriver.common.by import By  # noqa: E402
from selenium.webdriver.support.wait import WebDriverWait  # noqa: E402

from kentrobar.core.solving.set_ways import SetWay  # noqa: E402
from kentrobar.web.bench.models import BenchWork  # noqa: E402
from kentrobar.web.frames.models import Frame  # noqa: E402
from kentrobar.web.kit.searches import ask, solve_now  # noqa: E402
from kentrobar.web.matching.models import FrameSet  # noqa: E402
from kentrobar.web.matching.searching import SetSearches  # noqa: E402
from kentrobar.web.matching.set_view import Shown  # noqa: E402
from kentrobar.web.orders.models import Job, JobFrame  # noqa: E402
from kentrobar.web.planning.models import Plan  # noqa: E402
from kentrobar.web.play.models import Trial  # noqa: E402
from kentrobar.web.practice import services as practice  # noqa: E402
from kentrobar.web.practice.exercises import weighing  # noqa: E402
from kentrobar.web.practice.models import PracticeRun  # noqa: E402
from kentrobar.web.shops.models import User  # noqa: E402
from kentrobar.web.welcome.demo import SIGN_IN  # noqa: E402
from tests.browser.conftest import start_chromium  # noqa: E402
from tests.serving import make_demo_database, served, sign_in  # noqa: E402

FOLDER = Path(__file__).resolve().parents[1] / "docs" / "screenshots"
DESK, PHONE = (1280, 800), (390, 844)


def board_of(label: str) -> str:
    return at("planning:board", Plan.objects.get(frame__label=label).pk)


def first_plans() -> list[Plan]:
    """Three plans on rackets."""
    return list(Plan.objects.filter(frame__sport="tennis").order_by("pk")[:3])


def searched_set() -> int:
    """The demo's set of three with its plans found."""
    of = FrameSet.objects.get(name__startswith="Ines")
    shown = Shown(of, User.objects.get(username=SIGN_IN[0]))
    ways = (SetWay.LEAST, SetWay.MOST_RELIABLE, SetWay.SAME_LOOK)
    for each in ask(SetSearches.name, of.pk, shown.searchable.ask(ways), shown.user):
        solve_now(each.pk)
    return of.pk


def job_of_several() -> int:
    """The latest job with more than one frame."""
    several = Job.objects.annotate(count=Count("members")).filter(count__gt=1)
    return several.latest("pk").pk


def bench_work() -> int:
    """The work on the bench whose first piece is to be laid."""
    return BenchWork.objects.get(plan__name="Up to the favourite").pk


def practised() -> int:
    """An exercise in rounds, the first of which was laid and read."""
    run = practice.begin(User.objects.get(username=SIGN_IN[0]), task="finish", level=2, sport="tennis")
    PracticeRun.objects.filter(pk=run.pk).update(seed=4)
    run.refresh_from_db()
    practice.move(run, 0, doses=weighing(run).best)
    return run.pk


def job_to_verify() -> str:
    """The page of the demo's frame that is to be verified next."""
    row = JobFrame.objects.get(frame__label="Mudlark 16")
    return at("orders:verify", row.job_id, row.pk)


def pictures() -> list[tuple[str, str, tuple[int, int], str]]:
    """Name, address, size and colour scheme of every picture."""
    frame = Frame.objects.get(label="Reed 100 A2").pk
    sedge = Frame.objects.get(label="Sedge 98 Tour").pk
    coached = Frame.objects.get(label="Heron 98 H3").pk
    return [
        ("sample", f"{at('account_login')}?sport=tennis&on=sides&on=butt", DESK, "light"),
        ("board-racket", board_of("Sedge 98 Tour"), DESK, "light"),
        ("board-paddle", board_of("Mudlark 16"), DESK, "light"),
        ("board-dark", board_of("Sedge 98 Tour"), DESK, "dark"),
        ("board-phone", board_of("Sedge 98 Tour"), PHONE, "light"),
        (
            "plans-compared",
            f"{at('planning:compare')}?" + "&".join(f"plan={plan.pk}" for plan in first_plans()),
            (1280, 1050),
            "light",
        ),
        ("today", at("orders:today"), (1280, 1020), "light"),
        ("verify", job_to_verify(), DESK, "light"),
        ("time-line", at("history:time_line", coached), (1280, 1100), "light"),
        ("job", at("orders:job", job_of_several()), DESK, "light"),
        ("frame", at("frames:detail", frame), DESK, "light"),
        ("practice", at("practice:run", practised()), DESK, "light"),
        ("court", f"{at('play:plan', Plan.objects.get(frame=sedge).pk)}?stroke=ground", DESK, "light"),
        ("target", f"{at('planning:target', sedge)}?goal=hold", (1280, 1500), "light"),
        ("trial", at("play:trial", Trial.objects.get(frame=sedge).pk), (1280, 1000), "light"),
        ("measure", at("measuring:measure", frame), DESK, "light"),
        ("set", at("matching:set", searched_set()), (1280, 1900), "light"),
        ("swing", at("measuring:swing", frame, "pendulum"), DESK, "light"),
        ("bench-phone", at("bench:work", bench_work()), PHONE, "light"),
    ]


# What a hand does on some pages before the picture is taken.
HANDS = {
    "measure": """
        const typed = {mass_1: '304.9', mass_2: '349.0', mass_3: '305.0', balance_1: '321.5',
                       balance_2: '321', swingweight_1: '301.5', swingweight_2: '301'};
        for (const [name, text] of Object.entries(typed)) document.getElementsByName(name)[0].value = text;
        for (const spec of ['mass', 'balance', 'swingweight'])
          document.getElementsByName(`${spec}_instrument`)[0].value = '';
        document.getElementById('grid').dispatchEvent(new Event('fixed'));""",
    "swing": """
        document.getElementById('id_hang_0').value = '65';
        for (let i = 0; i < 12; i += 1) {
          const key = new KeyboardEvent('keydown', {code: 'Space', bubbles: true});
          const off = [0, 12, -20, 8, 25, -9, 3, 17, -14, 6, -2, 11][i];
          Object.defineProperty(key, 'timeStamp', {value: 1000 + i * 1388 + off});
          document.body.dispatchEvent(key);
        }""",
}
HANDS["target"] = "document.querySelector('main form .btn-primary').click()"


def main() -> None:
    make_demo_database()
    driver = start_chromium()
    try:
        with served() as address:
            for name, page, (width, height), scheme in pictures():
                if name != "sample" and not driver.get_cookie("sessionid"):
                    sign_in(driver, address)
                metrics = {"width": width, "height": height, "deviceScaleFactor": 1}
                metrics["mobile"] = width < 500
                driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
                media = {"features": [{"name": "prefers-color-scheme", "value": scheme}]}
                driver.execute_cdp_cmd("Emulation.setEmulatedMedia", media)
                driver.get(address + page)
                for select in driver.find_elements(By.CSS_SELECTOR, "[data-select='1']"):
                    driver.execute_script("arguments[0].click(); scrollTo(0, 0)", select)
                if name in HANDS:
                    driver.execute_script(HANDS[name])
                    time.sleep(2.5)
                    WebDriverWait(driver, 60).until_not(
                        lambda page: page.find_elements(By.CSS_SELECTOR, "[data-searching]")
                    )
                if name.startswith("swing"):
                    driver.execute_script("scrollTo(0, document.body.scrollHeight)")
                time.sleep(0.5)
                driver.save_screenshot(str(FOLDER / f"{name}.png"))
    finally:
        driver.quit()


if __name__ == "__main__":
    main()
