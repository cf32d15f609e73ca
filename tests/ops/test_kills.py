"""Web server, worker and database killed in the middle of a job: what was confirmed is there, nothing twice.

``KILLS`` tells at how many points; a handful with the tests, fifty by hand.
"""

import http.client
import http.cookiejar
import os
import random
import re
import signal
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
from contextlib import suppress

import psycopg
import pytest

from kentrobar.ops.cluster import Cluster, free_port
from kentrobar.ops.server import MOST_STARTS, WITHIN_S
from kentrobar.web.welcome.demo import SIGN_IN
from tests.ops.starting import processes_of, start_server, stop_server

pytestmark = pytest.mark.browser

KILLS = int(os.environ.get("KILLS", "3"))
PARTS = ("gunicorn", "postgres", "manage work")
PATIENCE_S = 60.0
AT_ONCE = MOST_STARTS // 2  # within WITHIN_S: the database takes others along, and more is given up


class Hand:
    """A browser without a screen: fetches a page, sends its form, and sends it again until it is answered."""

    def __init__(self, port):
        self.base = f"http://127.0.0.1:{port}"
        cookies = urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar())
        self.opener = urllib.request.build_opener(cookies)

    def get(self, path):
        return self._answered(lambda: self.opener.open(self.base + path, timeout=10))

    def send(self, page, path, **fields):
        """Send a form of a page, the very same each time; answers the page it led to."""
        token = re.search(r'name="csrfmiddlewaretoken" value="(\w+)"', page)[1]
        body = urllib.parse.urlencode({"csrfmiddlewaretoken": token} | fields).encode()
        return self._answered(lambda: self.opener.open(self.base + path, body, timeout=10))

    def _answered(self, ask):
        deadline = time.monotonic() + PATIENCE_S
        while True:
            try:
                with ask() as answer:
                    return answer.read().decode()
            except urllib.error.HTTPError as error:
                if error.code < 500:
                    raise
                why = f"{error.code}"
            except (OSError, http.client.HTTPException) as error:  # refused, or an answer that broke off
                why = repr(error)
            assert time.monotonic() < deadline, why
            time.sleep(0.1)


def kill_one(local, dice):
    """Kill any process of a part, a moment from now."""
    part = dice.choice(PARTS)
    time.sleep(dice.uniform(0.0, 0.25))
    there = [pid for pid, command in processes_of(local).items() if part in command]
    if there:
        with suppress(ProcessLookupError):
            os.kill(dice.choice(there), signal.SIGKILL)


def test_all_that_was_confirmed_is_there_and_nothing_twice(installed):
    dice = random.Random(11)  # noqa: S311 - a game of chance
    port = free_port()
    process, _ = start_server(installed, port)
    # What is killed complains at length; a full pipe would stop those who write into it.
    threading.Thread(target=process.stdout.read, daemon=True).start()
    try:
        confirmed = job_under_fire(Hand(port), installed, dice)
        cluster = Cluster(installed)
        cluster.start()  # joins the one that runs
        with psycopg.connect(cluster.url) as connection:
            rows = connection.execute(
                "SELECT kind, data #>> '{readings,0,text}' FROM bench_benchevent "
                "WHERE work_id = (SELECT max(id) FROM bench_benchwork) ORDER BY number"
            ).fetchall()
    finally:
        stop_server(process)
    assert rows == confirmed


def job_under_fire(hand, local, dice):
    """A plan laid and read at the bench while things are killed; answers what was confirmed, in order."""
    page = hand.get("/accounts/login/")
    hand.send(page, "/accounts/login/", login=SIGN_IN[0], password=SIGN_IN[1])
    plans = hand.get("/search/?q=Swing+weight+first")
    plan = re.search(r'href="/plans/(\d+)/"', plans)[1]
    page = hand.send(hand.get(f"/bench/plans/{plan}"), f"/bench/plans/{plan}")
    work = re.search(r'action="(/bench/\d+/)lay"', page)[1]
    confirmed = []
    killed_at = []
    for i in range(KILLS):
        if i >= AT_ONCE:
            time.sleep(max(0.0, killed_at[-AT_ONCE] + WITHIN_S - time.monotonic()))
        page = hand.get(work)
        base = re.search(r'name="base" value="(\d+)"', page)[1]
        piece = re.search(r'name="piece" value="(\d+)"', page)
        killer = threading.Thread(target=kill_one, args=(local, dice))
        killer.start()
        killed_at.append(time.monotonic())
        if piece:
            hand.send(page, f"{work}lay", base=base, piece=piece[1])
            confirmed.append(("laid", None))
        else:
            text = f"{308 + i / 100:.2f}"
            hand.send(page, work, base=base, mass_1=text, mass_unit="g")
            confirmed.append(("read", text))
        killer.join()
    return confirmed
