"""Run one command beside a private cluster, with ``DATABASE_URL`` set for it.

``python -m kentrobar.ops.run --cluster NAME [--scratch] -- COMMAND …``; an outside ``DATABASE_URL`` wins.
"""

from __future__ import annotations

import argparse
import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from kentrobar.ops.cluster import Cluster, OperationError, complain_and_exit, libpq

ROOT = Path(__file__).resolve().parents[3]
LOCAL = Path(os.environ.get("KENTROBAR_LOCAL", ROOT / ".local"))


@contextmanager
def database_url(name: str = "postgres", durable: bool = True) -> Iterator[str]:
    """The URL of a running database: the outside one, or a private cluster for this while."""
    outside = os.environ.get("DATABASE_URL")
    if outside:
        yield outside
        return
    with private_cluster(Cluster(LOCAL, name, durable)) as cluster:
        yield cluster.url


@contextmanager
def private_cluster(cluster: Cluster, take_over: bool = False) -> Iterator[Cluster]:
    """A cluster that runs for this while; stopped again by whoever started it, or took it over."""
    try:
        cluster.start(take_over)
        cluster.ensure_database()
        yield cluster
    finally:
        if cluster.started_here:
            cluster.stop()


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--cluster", default="postgres", help="which private cluster to use")
    parser.add_argument("--scratch", action="store_true", help="speed before safety, for tests")
    parser.add_argument("command", nargs=argparse.REMAINDER)
    arguments = parser.parse_args()
    command = arguments.command[1:] if arguments.command[:1] == ["--"] else arguments.command
    try:
        with database_url(arguments.cluster, durable=not arguments.scratch) as url:
            done = subprocess.run(command, env=os.environ | {"DATABASE_URL": url} | libpq(url))
    except OperationError as error:
        complain_and_exit(error)
    except KeyboardInterrupt:
        sys.exit(130)
    sys.exit(done.returncode)


if __name__ == "__main__":
    main()
