"""The application with its demo on a database of its own, for the bench and for the pictures."""

from __future__ import annotations

import os
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection
from selenium.webdriver.common.by import By

from kentrobar.ops.cluster import free_port
from kentrobar.web.welcome.demo import SIGN_IN


def make_demo_database() -> None:
    """A database made anew, with the demo in it; this process and its children use it."""
    address, _, _ = os.environ["DATABASE_URL"].rpartition("/")
    name = "bench"
    with connection.cursor() as cursor:
        cursor.execute(f"DROP DATABASE IF EXISTS {name} WITH (FORCE)")
        cursor.execute(f"CREATE DATABASE {name}")
    connection.close()
    connection.settings_dict["NAME"] = name
    os.environ["DATABASE_URL"] = f"{address}/{name}"
    manage = [sys.executable, "-m", "kentrobar.web.manage"]
    subprocess.run([*manage, "prepare"], check=True, stdout=subprocess.DEVNULL)


@contextmanager
def served() -> Iterator[str]:
    """The address of the application, served as ``script/server`` does."""
    port = free_port()
    web = subprocess.Popen(
        [
            sys.executable,
            "-m",
            "gunicorn",
            "kentrobar.web.wsgi:application",
            "--preload",
            f"--bind=127.0.0.1:{port}",
            "--workers=2",
            "--threads=4",
            "--keep-alive=75",
            "--log-level=warning",
        ]
    )
    worker = subprocess.Popen([sys.executable, "-m", "kentrobar.web.manage", "work"])
    address = f"http://127.0.0.1:{port}"
    try:
        _wait_for(f"{address}/health")
        yield address
    finally:
        for process in (web, worker):
            process.terminate()
            process.wait()


def _wait_for(address: str) -> None:
    for _ in range(200):
        try:
            urllib.request.urlopen(address)  # noqa: S310 - our own server
        except OSError:
            time.sleep(0.1)
        else:
            return
    raise SystemExit("The web server did not start.")


def sign_in(driver, address: str) -> None:
    driver.get(f"{address}/accounts/login/")
    for name, text in zip(("login", "password"), SIGN_IN, strict=True):
        driver.find_element(By.NAME, name).send_keys(text)
    driver.find_element(By.CSS_SELECTOR, "main form .btn-primary").click()
