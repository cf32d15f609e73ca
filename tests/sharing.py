"""What the processes of one run make once and share: whoever comes first makes it, the others wait."""

import fcntl
from contextlib import contextmanager


@contextmanager
def first_in_line(tmp_path_factory, name):
    """The folder of the whole run, while no other process of it is here under the same name."""
    folder = tmp_path_factory.getbasetemp()
    if folder.name.startswith("popen-"):  # a worker's own, in that of the run
        folder = folder.parent
    with open(folder / f"{name}.lock", "w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield folder
