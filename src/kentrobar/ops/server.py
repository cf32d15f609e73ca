"""What ``script/server`` does once the packages are there: database, migrations, demo, web server."""

from __future__ import annotations

import fcntl
import os
import secrets
import signal
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager, suppress

from kentrobar.ops.cluster import (
    OperationError,
    complain_and_exit,
    free_ports_in_a_row,
    is_free,
)
from kentrobar.ops.run import LOCAL, ROOT, database_url

HOST = "127.0.0.1"
ANSWER_TIMEOUT_S = 60
BENCH_PORTS = 5


def main() -> None:
    # A terminal that closes or a service manager ends us as Ctrl-C does: in order. A shell that
    # starts us in the background has SIGINT ignored, so that too is set anew.
    for ending in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(ending, signal.default_int_handler)
    try:
        serve(int(os.environ.get("PORT", "8000")))
    except OperationError as error:
        complain_and_exit(error)
    except KeyboardInterrupt:
        print("\nKentrobar has stopped.")


def serve(port: int) -> None:
    """Run the application on ``port`` until it is interrupted."""
    with only_one_server():
        require_free(port)
        with database_url() as url:
            environment = os.environ | settings_for(url)
            with simulated_bench(environment):
                prepare(environment)
                run_web_server(port, environment)


@contextmanager
def only_one_server() -> Iterator[None]:
    """Hold the checkout's lock, so that two servers never share one private cluster."""
    LOCAL.mkdir(exist_ok=True)
    with open(LOCAL / "server.lock", "a+") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            lock.seek(0)
            raise OperationError(
                f"Kentrobar already runs from this folder (process {lock.read().strip()}); "
                "stop that one first with Ctrl-C."
            ) from None
        lock.truncate(0)
        lock.write(str(os.getpid()))
        lock.flush()
        yield


def require_free(port: int) -> None:
    if not is_free(port):
        raise OperationError(
            f"Port {port} is in use by another program; stop it, or choose another port: "
            f"PORT={port + 1} script/server"
        )


def settings_for(url: str) -> dict[str, str]:
    """Environment of the application; what is set outside wins over what is made here."""
    static = str(LOCAL / "static")
    made = {"DATABASE_URL": url, "SECRET_KEY": secret_key(), "DEMO": "1", "STATIC_ROOT": static}
    return {name: os.environ.get(name, value) for name, value in made.items()}


def secret_key() -> str:
    """The signing key of this checkout, made at the first start."""
    path = LOCAL / "secret_key"
    if not path.exists():
        descriptor = os.open(path, os.O_WRONLY | os.O_CREAT, 0o600)
        with os.fdopen(descriptor, "w") as file:
            file.write(secrets.token_urlsafe(48))
    return path.read_text().strip()


@contextmanager
def simulated_bench(environment: dict[str, str]) -> Iterator[None]:
    """With the demo, the simulated bench beside it; its ports stay the same while they are free."""
    if environment["DEMO"] != "1":
        yield
        return
    port = bench_port()
    environment["SIMULATED_BENCH"] = str(port)
    bench = subprocess.Popen(
        [python(), "-m", "kentrobar.instruments.simulated", str(port)], start_new_session=True
    )
    try:
        yield
    finally:
        bench.terminate()
        with suppress(subprocess.TimeoutExpired):
            bench.wait(10)


def bench_port() -> int:
    """The first port of the simulated bench: the one of last time if it is still free."""
    path = LOCAL / "bench_port"
    if path.exists():
        port = int(path.read_text())
        if all(is_free(port + i) for i in range(BENCH_PORTS)):
            return port
    port = free_ports_in_a_row(BENCH_PORTS)
    path.write_text(str(port))
    return port


def prepare(environment: dict[str, str]) -> None:
    """Bring database, static files and demo up to date; does nothing twice."""
    done = subprocess.run([python(), "-m", "kentrobar.web.manage", "prepare"], env=environment)
    if done.returncode != 0:
        raise OperationError("The database could not be prepared; the lines above say why.")


def run_web_server(port: int, environment: dict[str, str]) -> None:
    web = subprocess.Popen(
        [
            python(), "-m", "gunicorn", "kentrobar.web.wsgi:application",
            f"--bind={HOST}:{port}", "--workers=2", "--threads=4", "--keep-alive=75", "--preload",
            "--log-level=warning",
        ],
        env=environment,
        cwd=ROOT,
        start_new_session=True,
    )  # fmt: skip
    try:
        wait_for_answer(f"http://{HOST}:{port}/health", web, environment.get("ALLOWED_HOSTS", ""))
        print(f"\n  Kentrobar is at http://{HOST}:{port}/")
        if environment["DEMO"] == "1":
            print("  Demo sign-in: technician, password saltmarsh")
        print("  Ctrl-C stops it and its database.\n", flush=True)
        if web.wait() != 0:
            raise OperationError("The web server stopped by itself; the lines above say why.")
    finally:
        if web.poll() is None:
            web.terminate()
            with suppress(subprocess.TimeoutExpired):
                web.wait(10)


def wait_for_answer(address: str, web: subprocess.Popen[bytes], allowed_hosts: str) -> None:
    """Until the web server answers, asked by a name that it answers to."""
    name = allowed_hosts.split(",")[0].strip().lstrip("*.")
    asked = urllib.request.Request(address, headers={"Host": name} if name else {})  # noqa: S310 - our own
    deadline = time.monotonic() + ANSWER_TIMEOUT_S
    while True:
        try:
            urllib.request.urlopen(asked, timeout=5)  # noqa: S310 - our own address
        except OSError:
            if web.poll() is not None or time.monotonic() > deadline:
                raise OperationError(
                    "The web server did not start; the lines above say why."
                ) from None
            time.sleep(0.05)
        else:
            return


def python() -> str:
    return sys.executable


if __name__ == "__main__":
    main()
