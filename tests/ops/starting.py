"""Servers started as a person at a terminal does, in folders of their own."""

import os
import signal
import subprocess
import sys
import tempfile
from contextlib import contextmanager
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


@contextmanager
def open_folder():
    """A folder that PostgreSQL's account can reach, as a checkout usually is."""
    with tempfile.TemporaryDirectory(prefix="kentrobar-") as folder:
        Path(folder).chmod(0o755)
        yield Path(folder)


def outside(local, **changes):
    """The environment of a person at a terminal, working in ``local``."""
    ours = ("DATABASE_URL", "SECRET_KEY", "DEMO", "COLLECTED_STATIC", "CONN_MAX_AGE")
    environment = {k: v for k, v in os.environ.items() if k not in ours}
    return environment | {"KENTROBAR_LOCAL": str(local), "PYTHONUNBUFFERED": "1"} | changes


def start_server(local, port, **changes):
    process = subprocess.Popen(
        [sys.executable, "-m", "kentrobar.ops.server"],
        text=True,
        cwd=ROOT,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        env=outside(local, PORT=str(port), **changes),
    )
    said = []
    for line in process.stdout:
        said.append(line)
        if "Ctrl-C stops" in line:
            break
    return process, "".join(said)


def stop_server(process):
    """As Ctrl-C does."""
    process.send_signal(signal.SIGINT)
    process.wait(30)


def processes_of(local):
    """What runs of this folder's server: the command by process number."""
    found = {}
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            command = (folder / "cmdline").read_bytes().replace(b"\0", b" ").decode(errors="replace")
            environment = (folder / "environ").read_bytes().decode(errors="replace")
        except OSError:
            continue
        if f"-D {local}/" in command or f"KENTROBAR_LOCAL={local}\0" in environment:
            found[int(folder.name)] = command
    return found
