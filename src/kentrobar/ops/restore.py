"""Put a backup in place of all that is in the database, whatever edition the database is of.

Tables that the backup does not know of would stay, and hold on to those it replaces; so all of them go first.
All in one transaction: a backup that cannot be read leaves everything as it was.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile

from kentrobar.ops.cluster import (
    OperationError,
    binary,
    complain_and_exit,
    for_each_table,
    last_line,
)

_DROP_ALL = for_each_table("DROP TABLE public.%I CASCADE")


def restore(file: str) -> None:
    """Read a backup into the database that libpq's variables name.

    Raises:
        OperationError: it is no backup, or cannot be put in place; nothing is changed then.
    """
    with tempfile.NamedTemporaryFile("w", suffix=".sql") as script:
        _run([str(binary("pg_restore")), "--no-owner", f"--file={script.name}", file])
        _run(
            [str(binary("psql")), "-Xq", "--single-transaction", "-v", "ON_ERROR_STOP=1",
             "-c", _DROP_ALL, "-f", script.name],
        )  # fmt: skip


def _run(command: list[str]) -> None:
    ran = subprocess.run(command, text=True, capture_output=True, env=os.environ)
    if ran.returncode != 0:
        raise OperationError(
            f"The backup was not put in place, and nothing is changed: {last_line(ran.stderr)}"
        )


if __name__ == "__main__":
    try:
        restore(sys.argv[1])
    except OperationError as error:
        complain_and_exit(error)
