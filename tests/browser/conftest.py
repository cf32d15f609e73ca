"""Headless Chromium on the live application, signed in as the demo's technician."""

import threading
from pathlib import Path

import pytest
from django.conf import settings
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
from django.contrib.sessions.backends.db import SessionStore
from django.db import connection, transaction
from pytest_django.live_server_helper import LiveServer
from selenium import webdriver
from selenium.common.exceptions import NoSuchElementException, StaleElementReferenceException
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

from kentrobar.instruments.allowed import simulated_addresses
from kentrobar.web.kit import searches
from kentrobar.web.planning.models import Plan
from tests.addresses import at
from tests.instruments.bench import running_bench

FLAGS = (
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-dev-shm-usage",
    "--window-size=1280,900",
)
PHONE = {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True}
AXE = (Path(__file__).parent / "vendor" / "axe.min.js").read_text()


def start_chromium(*more_flags):
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium-headless-shell"
    for flag in (*FLAGS, *more_flags):
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    return webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))


@pytest.fixture(scope="session")
def chromium():
    driver = start_chromium()
    yield driver
    driver.quit()


class Page:
    """What a person does on a page, in their words."""

    def __init__(self, driver, base):
        self.driver, self.base = driver, base

    def open(self, address):
        self.driver.get(self.base + address)
        return self

    def find(self, css):
        return self.driver.find_element(By.CSS_SELECTOR, css)

    def all(self, css):
        return self.driver.find_elements(By.CSS_SELECTOR, css)

    def text(self, css):
        return self.find(css).text

    def number(self, name):
        """The text of a number of the board by its name."""
        return self.driver.execute_script(
            "return document.querySelector(`[data-n='${arguments[0]}']`).textContent", name
        )

    def wait(self, condition, seconds=10):
        """Wait until it holds; what a page replaces meanwhile is looked at anew."""
        fleeting = (NoSuchElementException, StaleElementReferenceException)
        wait = WebDriverWait(self.driver, seconds, 0.05, ignored_exceptions=fleeting)
        return wait.until(lambda _: condition())

    def saved(self):
        """Wait until everything is saved."""
        self.wait(lambda: self.find("#saved").get_attribute("data-state") in (None, "saved"))
        return self

    def rows(self):
        return len(self.all("#pieces tbody tr"))

    def details(self):
        """Open the drawer of the board, where the table of pieces is."""
        if not self.find("#drawer").is_displayed():
            self.find("#open-drawer").click()
        return self

    def choose_material(self, name):
        """Take the swatch whose material begins so."""
        swatches = self.all("#tray .swatch")
        next(each for each in swatches if each.text.startswith(name)).click()

    def lay_at(self, site, count):
        """Click a site's ring and wait for the piece."""
        ring = self.find(f"[data-site={site}] .ring")
        ActionChains(self.driver).move_to_element(ring).click().perform()
        self.wait(lambda: self.rows() == count)
        return self.saved()

    def press(self, *keys):
        """Keys to the page itself, modifiers held for the last one."""
        chain = ActionChains(self.driver)
        *held, last = keys
        for key in held:
            chain.key_down(key)
        chain.send_keys(last)
        for key in held:
            chain.key_up(key)
        chain.perform()
        return self

    def type_over(self, css, text):
        self.find(css).send_keys(Keys.CONTROL, "a", Keys.NULL, text, Keys.TAB)

    def fill(self, **texts):
        """Put texts into fields by their names, as typing does but at once."""
        self.driver.execute_script(
            "for (const [name, text] of Object.entries(arguments[0])) {"
            "  const field = document.querySelector(`[name='${name}']`);"
            "  field.value = text;"
            "  for (const kind of ['input', 'change']) field.dispatchEvent(new Event(kind, {bubbles: true}));"
            "}",
            texts,
        )

    def button(self, words):
        """The first button in sight that says these words; None where there is none."""
        return self.driver.execute_script(
            "return [...document.querySelectorAll('main button')].find(each => each.checkVisibility() "
            "&& each.innerText.replace(/\\s+/g, ' ').includes(arguments[0]))",
            words,
        )

    def values(self, css):
        """What is typed in fields, the empty ones left out."""
        return self.driver.execute_script(
            "return [...document.querySelectorAll(arguments[0])].map(each => each.value).filter(Boolean)", css
        )

    def offline(self, is_offline):
        self.driver.execute_cdp_cmd("Network.enable", {})
        self.driver.execute_cdp_cmd(
            "Network.emulateNetworkConditions",
            {"offline": is_offline, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1},
        )

    def scheme(self, name):
        """Show pages in the light or the dark theme, at once: no colour fades over."""
        still = {"name": "prefers-reduced-motion", "value": "reduce"}
        media = {"features": [{"name": "prefers-color-scheme", "value": name}, still]}
        self.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", media)

    def violations(self, *rules):
        """All findings of axe-core, best practice too, by its usual rules or by these, as lines."""
        if not self.driver.execute_script("return Boolean(window.axe)"):
            self.driver.execute_script(AXE)
        found = self.driver.execute_async_script(
            "const [rules, done] = arguments;"
            "const which = {resultTypes: ['violations'], preload: false};"
            "if (rules.length) which.runOnly = {type: 'rule', values: rules};"
            "axe.run(which).then(r => done(r.violations));",
            rules,
        )
        return [
            f"{v['id']}: {node['target']} {node['failureSummary'][:200]}"
            for v in found
            for node in v["nodes"]
        ]

    def complaints(self):
        """What the browser's console holds of errors of the page's own scripts and policy."""
        lines = [entry["message"] for entry in self.driver.get_log("browser")]
        return [line for line in lines if "Failed to load resource" not in line]


@pytest.fixture(scope="session")
def site():
    """The address of the application, served by a thread on whichever database is used now."""
    server = LiveServer("localhost")
    yield server.url
    server.stop()


@pytest.fixture
def technician(demo, queue, monkeypatch):
    """Of the demo; whatever is searched for meanwhile a worker solves beside the page."""
    defer = searches.solve_search.defer
    working = []

    def defer_and_solve(search_pk):
        def solve():
            try:
                searches.solve_now(search_pk)
            finally:
                connection.close()

        def start():
            working.append(threading.Thread(target=solve, daemon=True))
            working[-1].start()

        transaction.on_commit(start)
        return defer(search_pk=search_pk)

    monkeypatch.setattr(searches.solve_search, "defer", defer_and_solve)
    yield demo
    for each in working:
        each.join(60)


def signed_in(driver, address, technician):
    """A page in this browser, of somebody who is signed in."""
    session = SessionStore()
    session[SESSION_KEY] = str(technician.pk)
    session[BACKEND_SESSION_KEY] = "django.contrib.auth.backends.ModelBackend"
    session[HASH_SESSION_KEY] = technician.get_session_auth_hash()
    session.save()
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})
    driver.get(address + at("health"))
    driver.execute_script("localStorage.clear(); sessionStorage.clear()")
    driver.add_cookie({"name": settings.SESSION_COOKIE_NAME, "value": session.session_key})
    return Page(driver, address)


@pytest.fixture
def page(chromium, site, technician):
    page = signed_in(chromium, site, technician)
    yield page
    page.offline(False)
    complaints = page.complaints()
    chromium.get("about:blank")  # a page that asks now and then must not ask while the tables are emptied
    assert complaints == []


@pytest.fixture
def audited(page):
    """The same page, with axe-core in every document that is opened: handing it over each time takes longer."""
    script = page.driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": AXE})
    yield page
    page.driver.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", script)


@pytest.fixture
def phone(page):
    """The same browser as a phone."""
    page.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", PHONE)
    yield page
    page.driver.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


@pytest.fixture
def bench(settings):
    """The simulated bench on loopback; answers its first port."""
    with running_bench() as first:
        settings.DEVICE_ADDRESSES = [*simulated_addresses(first), "socket://127.0.0.1:9"]
        yield first


def choose_instrument(page, spec, name):
    """Say what a spec is read with."""
    offered = f"//select[@name='{spec}_instrument']/option[starts-with(normalize-space(), '{name}')]"
    page.driver.find_element(By.XPATH, offered).click()


def plan_on(label):
    return Plan.objects.get(frame__label=label)


@pytest.fixture
def board(page):
    """The board of a racket with two pieces."""
    plan = plan_on("Sedge 98 Tour")
    page.plan = plan
    return page.open(at("planning:board", plan.pk))
