"""The five places and the tabs of a frame: where one is, what comes next, and at what cost."""

import re

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.place import frame_place_of
from kentrobar.web.navigation import FRAME_TABS, PLACES
from kentrobar.web.orders.job_state import job_states
from kentrobar.web.orders.jobs.view_models import member_address
from kentrobar.web.orders.queries import open_jobs
from tests.addresses import at
from tests.web.conftest import signed_in

MOST_QUERIES = 7
MORE_QUERIES = {  # and what they are for
    "measuring:measure": 9,  # instruments with their calibrations, plans that may have been applied
    "measuring:swing": 8,  # instruments with their calibrations
    "planning:possible": 8,  # the other frames in the picture
    "play:frame_trials": 10,  # a second frame to play against, the search under way
    "history:time_line": 9,  # one query a kind of event that has more than a name
}

pages_of_places = [page for place in PLACES for page in place.pages]
pages_of_frames = [page for tab in FRAME_TABS for page in tab.pages if page.view != "bench:frame"]


def marked(html, kind):
    """What the places, the pages of a place and the tabs of a frame mark as read."""
    html = " ".join(re.findall(r'<nav class="(?:places|tabs).*?</nav>', html, re.DOTALL))
    return re.findall(
        rf'<a[^>]*aria-current="{kind}"[^>]*>(?:<svg.*?</svg>\s*)?(?:<span>)?([^<]+)', html, re.DOTALL
    )


@pytest.fixture
def browser(season):
    return signed_in(season)


@pytest.mark.parametrize("page", pages_of_places, ids=lambda page: page.view)
def test_a_page_of_a_place_marks_its_place(browser, page):
    html = browser.get(page.address()).content.decode()
    place = next(each for each in PLACES if page in each.pages)
    assert marked(html, "true") == [place.name]
    assert marked(html, "page") == ([page.name] if len(place.pages) > 1 else [])


@pytest.mark.parametrize("page", pages_of_frames, ids=lambda page: page.view)
def test_a_page_of_a_frame_marks_its_tab_and_asks_little(browser, page):
    frame = Frame.objects.exclude(specs=None).earliest("pk")
    with CaptureQueriesContext(connection) as asked:
        html = browser.get(page.address(frame.pk)).content.decode()
    tab = next(each for each in FRAME_TABS if page in each.pages)
    assert marked(html, "true")[:2] == ["Frames", tab.name]
    assert marked(html, "page") == ([page.name] if len(tab.pages) > 1 else [])
    assert len(asked) <= MORE_QUERIES.get(page.view, MOST_QUERIES)


def test_the_next_step_of_a_frame_is_the_one_its_job_names(season):
    """The head asks in one query what the list of jobs works out from rows: both lead to one address."""
    seen = set()
    for state in job_states(open_jobs(season)):
        for member in state.members:
            step = frame_place_of(member.frame, season).head.step
            assert step.address == member_address(state.job, member), member.frame.label
            seen.add(member.stage)
    assert len(seen) >= 5


def test_the_step_is_not_offered_on_its_own_tab(browser, season):
    frame = next(f for f in Frame.objects.all() if frame_place_of(f, season).head.step.tab == "Plan")
    assert "next-step" in browser.get(at("frames:detail", frame.pk)).content.decode()
    assert "next-step" not in browser.get(at("planning:frame", frame.pk)).content.decode()


def test_a_tab_is_asked_for_whole_by_htmx(browser):
    """A boosted link wants the page; other requests of htmx want its parts."""
    frame = Frame.objects.exclude(specs=None).earliest("pk")
    asked = {"HTTP_HX_REQUEST": "true"}
    part = browser.get(at("play:frame", frame.pk), **asked).content.decode()
    whole = browser.get(at("play:frame", frame.pk), **asked, HTTP_HX_BOOSTED="true").content.decode()
    assert 'id="frame-place"' in whole
    assert 'id="frame-place"' not in part


def test_the_bench_of_a_frame_leads_to_the_work_under_way(browser, season):
    frames = Frame.objects.all()
    under_way = next(
        f for f in frames if f.plans.filter(works__ended_at=None, works__isnull=False).count() == 1
    )
    assert browser.get(at("bench:frame", under_way.pk)).status_code == 302
    idle = next(f for f in frames if not f.plans.filter(works__isnull=False).exists())
    assert browser.get(at("bench:frame", idle.pk)).status_code == 200
