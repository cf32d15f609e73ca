"""The home page in the browser: the week by hand and by keys, on a desk and on a phone."""

from datetime import date, timedelta

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from kentrobar.web.orders.jobs.services import take_job
from kentrobar.web.orders.models import Job
from tests.addresses import at

pytestmark = pytest.mark.browser


@pytest.fixture
def jobs(technician):
    """Two jobs that lie on no day yet."""
    return [take_job(technician, client=name, brief=f"Look at {name}'s") for name in ("Ines", "Odile")]


def card(page, job):
    return page.find(f"[data-put='/jobs/{job.pk}/put']")


def monday():
    today = date.today()
    return today - timedelta(days=today.weekday())


def test_a_job_is_moved_with_the_arrow_keys_alone(page, jobs):
    page.open(at("orders:today"))
    first, second = jobs
    for job, place in ((first, 0), (second, 1)):
        page.driver.execute_script("arguments[0].focus()", card(page, job))
        page.press(Keys.ARROW_RIGHT)
        page.wait(lambda job=job: Job.objects.get(pk=job.pk).bench_on == monday())
        page.wait(lambda job=job: page.driver.switch_to.active_element == card(page, job))
        assert Job.objects.get(pk=job.pk).bench_order == place
    page.press(Keys.ARROW_UP)
    page.wait(lambda: Job.objects.get(pk=second.pk).bench_order == 0)
    page.wait(lambda: card(page, second) == page.all("[data-day] .job-card")[0])
    page.wait(lambda: page.driver.switch_to.active_element == card(page, second))
    page.driver.execute_script("arguments[0].focus()", card(page, second))  # of the week as it is now
    page.press(Keys.ARROW_RIGHT)
    page.wait(lambda: Job.objects.get(pk=second.pk).bench_on == monday() + timedelta(days=1))
    said = "return document.getElementById('week-said').textContent"
    page.wait(lambda: "Tue" in page.driver.execute_script(said))
    page.driver.refresh()
    assert not page.violations()


def test_a_job_is_dragged_to_a_day(page, jobs):
    page.open(at("orders:today"))
    day = page.find(f"[data-day='{monday() + timedelta(days=3)}']")
    ActionChains(page.driver).drag_and_drop(card(page, jobs[0]), day).perform()
    page.wait(lambda: Job.objects.get(pk=jobs[0].pk).bench_on == monday() + timedelta(days=3))


def test_without_connection_it_says_that_nothing_was_saved(page, jobs):
    page.open(at("orders:today"))
    page.driver.execute_script("arguments[0].focus()", card(page, jobs[0]))
    page.offline(True)
    page.press(Keys.ARROW_RIGHT)
    page.wait(lambda: "Not saved" in page.text("#week-said"))
    page.offline(False)
    assert Job.objects.get(pk=jobs[0].pk).bench_on is None
