"""Put a backup in place of all that is in the database, whatever edition the database is of.

Tables that the backup does not know of would stay, and hold on to those it replaces; so all of them go first,
with the functions and types of the queue.
All in one transaction: a backup that cannot be read leaves everything as it was.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile

from kentrobar.ops.cluster import OperationError, binary, complain_and_exit, for_each_table, last_line

_DROP_TABLES = for_each_table("DROP TABLE public.%I CASCADE")
# What tables do not take along: functions and types of the queue, but not those of an extension.
_DROP_THE_REST = """
DO $$
DECLARE found record;
BEGIN
  FOR found IN SELECT oid::regprocedure AS name FROM pg_proc WHERE pronamespace = 'public'::regnamespace
    AND NOT EXISTS (SELECT FROM pg_depend WHERE objid = pg_proc.oid AND deptype = 'e')
  LOOP
    EXECUTE format('DROP ROUTINE IF EXISTS %s CASCADE', found.name);
  END LOOP;
  FOR found IN SELECT t.oid::regtype AS name FROM pg_type t LEFT JOIN pg_class c ON c.oid = t.typrelid
    WHERE t.typnamespace = 'public'::regnamespace AND (t.typtype = 'e' OR c.relkind = 'c')
    AND NOT EXISTS (SELECT FROM pg_depend WHERE objid = t.oid AND deptype = 'e')
  LOOP
    EXECUTE format('DROP TYPE IF EXISTS %s CASCADE', found.name);
  END LOOP;
END $$;
"""


def restore(file: str) -> None:
    """Read a backup into the database that libpq's variables name.

    Raises:
        OperationError: it is no backup, or cannot be put in place; nothing is changed then.
    """
    with tempfile.NamedTemporaryFile("w", suffix=".sql") as script:
        _run([str(binary("pg_restore")), "--no-owner", f"--file={script.name}", file])
        _run(
            [
                str(binary("psql")),
                "-Xq",
                "--single-transaction",
                "-v",
                "ON_ERROR_STOP=1",
                "-c",
                _DROP_TABLES,
                "-c",
                _DROP_THE_REST,
                "-f",
                script.name,
            ]
        )


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
