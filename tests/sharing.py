"""What the processes of one run make once and share: whoever comes first makes it, the others wait."""

import fcntl


def once_in_a_run(tmp_path_factory, name, make):
    """A path of its own in the folder of the run, for what ``make`` makes there or elsewhere for all."""
    folder = tmp_path_factory.getbasetemp()
    if folder.name.startswith("popen-"):  # a worker's own, in that of the run
        folder = folder.parent
    with open(folder / f"{name}.lock", "w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        made = folder / f"{name}.made"
        if not made.exists():
            make(folder / name)
            made.touch()
    return folder / name
