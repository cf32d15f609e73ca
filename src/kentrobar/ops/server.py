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
from collections import deque
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import ExitStack, contextmanager, suppress

from kentrobar.ops.cluster import (
    Cluster,
    OperationError,
    complain_and_exit,
    ends_with_us,
    free_ports_in_a_row,
    is_free,
)
from kentrobar.ops.run import LOCAL, ROOT, private_cluster

HOST = "127.0.0.1"
ANSWER_TIMEOUT_S = 60
BENCH_PORTS = 5
WATCH_EVERY_S = 1.0
LEFT_BEHIND_S = 15.0  # what a killed server left behind is gone by then
MOST_STARTS = 6  # of anything within this time; then something is wrong with it
WITHIN_S = 60.0


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
    with only_one_server() as was_killed:
        require_free(port, LEFT_BEHIND_S if was_killed else 0.0)
        with ExitStack() as stack:
            cluster = None
            url = os.environ.get("DATABASE_URL", "")
            if not url:
                found = Cluster(LOCAL)
                cluster = stack.enter_context(private_cluster(found, take_over=True))
                url = cluster.url
            environment = os.environ | settings_for(url)
            children = []
            if environment["DEMO"] == "1":
                children.append(simulated_bench(environment))
            prepare(environment)
            web = web_server(port, environment)
            children.append(worker(environment))
            for child in (*children, web):
                stack.enter_context(child.running())
            wait_for_answer(f"http://{HOST}:{port}/health", web, environment.get("ALLOWED_HOSTS", ""))
            welcome(port, environment["DEMO"] == "1")
            watch(cluster, [*children, web])


@contextmanager
def only_one_server() -> Iterator[bool]:
    """Hold the checkout's lock, so that two servers never share one private cluster.

    Yields whether the last one was killed: what it left behind may take a moment to end.
    """
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
        lock.seek(0)
        was_killed = bool(lock.read().strip())
        lock.truncate(0)
        lock.write(str(os.getpid()))
        lock.flush()
        try:
            yield was_killed
        finally:
            lock.truncate(0)


def require_free(port: int, patience_s: float = 0.0) -> None:
    """Refuse a port that another program holds; what is on its way out is waited for so long."""
    deadline = time.monotonic() + patience_s
    while not is_free(port):
        if time.monotonic() < deadline:
            time.sleep(0.1)
            continue
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


class Child:
    """A program that runs beside this one: started, started again where it ends, and ended with us.

    What one that ``is_quiet`` prints on standard output goes nowhere.
    """

    def __init__(
        self,
        noun: str,
        command: list[str],
        environment: Mapping[str, str],
        ending: signal.Signals = signal.SIGTERM,
        is_quiet: bool = False,
    ) -> None:
        self.is_quiet = is_quiet
        self.noun, self.command, self.environment, self.ending = noun, command, environment, ending
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        self.process = subprocess.Popen(
            self.command,
            env=dict(self.environment),
            cwd=ROOT,
            start_new_session=True,
            preexec_fn=ends_with_us(self.ending),
            stdout=subprocess.DEVNULL if self.is_quiet else None,
        )

    @property
    def is_running(self) -> bool:
        return self.process is not None and self.process.poll() is None

    def stop(self) -> None:
        if self.process is not None and self.is_running:
            self.process.terminate()
            with suppress(subprocess.TimeoutExpired):
                self.process.wait(10)

    @contextmanager
    def running(self) -> Iterator[Child]:
        self.start()
        try:
            yield self
        finally:
            self.stop()


def watch(cluster: Cluster | None, children: Sequence[Child]) -> None:
    """Start again whatever ends by itself, until we are interrupted.

    Raises:
        OperationError: something ends again and again.
    """
    ended: deque[float] = deque(maxlen=MOST_STARTS)
    while True:
        time.sleep(WATCH_EVERY_S)
        for child in children:
            if not child.is_running:
                _start_again(child.noun, child.start, ended)
        if cluster is not None and not cluster.is_running:
            _start_again("database", cluster.start_again, ended)


def _start_again(noun: str, start: Callable[[], None], ended: deque[float]) -> None:
    now = time.monotonic()
    if len(ended) == MOST_STARTS and now - ended[0] < WITHIN_S:
        raise OperationError(f"The {noun} stops again and again; the lines above say why.")
    ended.append(now)
    print(f"The {noun} stopped by itself; starting it again.", flush=True)
    start()


def simulated_bench(environment: dict[str, str]) -> Child:
    """The simulated bench beside the demo; its ports stay the same while they are free."""
    port = bench_port()
    environment["SIMULATED_BENCH"] = str(port)
    command = [python(), "-m", "kentrobar.instruments.simulated", str(port)]
    return Child("simulated bench", command, os.environ)


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


def web_server(port: int, environment: dict[str, str]) -> Child:
    """The web processes, each a copy of one that has everything loaded."""
    command = [
        python(),
        "-m",
        "gunicorn",
        "kentrobar.web.wsgi:application",
        f"--bind={HOST}:{port}",
        "--workers=2",
        "--threads=4",
        "--keep-alive=75",
        "--preload",
        "--log-level=warning",
    ]
    return Child("web server", command, environment, signal.SIGQUIT)  # at once, without a farewell


def worker(environment: dict[str, str]) -> Child:
    """What works off the queue in PostgreSQL: searches that a web process must not wait for."""
    command = [python(), "-m", "kentrobar.web.manage", "work"]
    # Errors come on standard error; the solver's library prints what helps nobody. Without us its
    # database goes too, and a farewell would wait half a minute for it: it ends at once, and the
    # next worker takes its searches over.
    return Child("worker", command, environment, signal.SIGKILL, is_quiet=True)


def welcome(port: int, is_demo: bool) -> None:
    """Say where it is, and how it is stopped."""
    print(f"\n  Kentrobar is at http://{HOST}:{port}/")
    if is_demo:
        print("  Demo sign-in: technician, password saltmarsh")
    print("  Ctrl-C stops it and its database.\n", flush=True)


def wait_for_answer(address: str, web: Child, allowed_hosts: str) -> None:
    """Until the web server answers, asked by a name that it answers to."""
    name = allowed_hosts.split(",")[0].strip().lstrip("*.")
    request = urllib.request.Request(address, headers={"Host": name} if name else {})  # noqa: S310 - our own
    deadline = time.monotonic() + ANSWER_TIMEOUT_S
    while True:
        try:
            urllib.request.urlopen(request, timeout=5)  # noqa: S310 - our own address
        except OSError:
            if not web.is_running or time.monotonic() > deadline:
                raise OperationError("The web server did not start; the lines above say why.") from None
            time.sleep(0.05)
        else:
            return


def python() -> str:
    return sys.executable


if __name__ == "__main__":
    main()
