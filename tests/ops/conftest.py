"""An installation that is made once for all tests of a run, and copied for each that starts a server."""

import subprocess

import pytest

from kentrobar.ops.cluster import free_port
from tests.ops.starting import open_folder, start_server, stop_server
from tests.sharing import once_in_a_run


@pytest.fixture(scope="session")
def first_installation(tmp_path_factory):
    """A folder in which the server was started for the first time, with the demo; one serves all tests."""
    return once_in_a_run(tmp_path_factory, "installation", _install)


def _install(folder):
    with open_folder() as made:
        process, said = start_server(made, free_port())
        stop_server(process)
        assert "Ctrl-C stops" in said, said
        subprocess.run(["cp", "-a", made, folder], check=True)


@pytest.fixture
def installed(first_installation):
    """A copy of it, which PostgreSQL's account can reach."""
    with open_folder() as folder:
        subprocess.run(["cp", "-a", f"{first_installation}/.", folder], check=True)
        yield folder
