"""Starting and stopping on one machine: whole, interrupted, twice, and with things in the way."""

import http.client
import os
import re
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request

import psycopg
import pytest

from kentrobar.ops import server
from kentrobar.ops.cluster import APPLICATION, ROLE, Cluster, OperationError, free_port
from tests.ops.starting import ROOT, open_folder, outside, processes_of, start_server, stop_server


@pytest.fixture(scope="module")
def local():
    """Where clusters are made and looked at one by one."""
    with open_folder() as folder:
        yield folder


@pytest.fixture(scope="module")
def made(local):
    cluster = Cluster(local)
    cluster.start()
    cluster.ensure_database()
    yield cluster
    cluster.stop()


SOON_S = 30.0  # alone on the machine it is under ten; other tests run beside this one


def test_cluster_listens_on_loopback_with_password_and_checksums(made):
    with psycopg.connect(made.url.replace(APPLICATION, ROLE)) as connection:
        settings = {
            name: connection.execute(f"SHOW {name}").fetchone()[0]
            for name in ("listen_addresses", "data_checksums", "unix_socket_directories")
        }
    assert settings == {
        "listen_addresses": "127.0.0.1",
        "data_checksums": "on",
        "unix_socket_directories": "",
    }
    with pytest.raises(psycopg.OperationalError, match="password"):
        psycopg.connect(made.url.replace(":" + made.password_file.read_text(), ":wrong"))
    assert made.password_file.stat().st_mode & 0o077 == 0


def test_a_running_cluster_is_joined_not_started_twice(made, local):
    again = Cluster(local)
    again.start()
    assert (again.port, again.started_here) == (made.port, False)


def test_half_made_cluster_is_made_anew(local, capsys):
    cluster = Cluster(local, "half")
    (local / "half.making" / "base").mkdir(parents=True)
    cluster.ensure_made()
    assert "half-made" in capsys.readouterr().out
    assert (cluster.data / "PG_VERSION").exists()
    assert not (local / "half.making").exists()


def test_stale_pid_file_is_cleared(local, capsys):
    cluster = Cluster(local, "half")
    cluster.ensure_made()
    (cluster.data / "postmaster.pid").write_text(f"{os.getpid()}\n{cluster.data}\n1\n5432\n")
    cluster.start()
    assert "stale PID file" in capsys.readouterr().out
    cluster.stop()


def test_a_folder_that_is_no_cluster_is_left_alone(local):
    (local / "odd").mkdir()
    (local / "odd" / "letter.txt").write_text("keep me")
    with pytest.raises(OperationError, match="not a whole PostgreSQL cluster"):
        Cluster(local, "odd").ensure_made()
    assert (local / "odd" / "letter.txt").exists()


def test_a_lost_password_is_told(local):
    cluster = Cluster(local, "half")
    cluster.ensure_made()
    kept = cluster.password_file.rename(local / "aside")
    with pytest.raises(OperationError, match="password file"):
        cluster.start()
    kept.rename(cluster.password_file)


def test_port_in_use_is_told_with_the_way_round():
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        with pytest.raises(OperationError, match=r"in use by another program.*PORT="):
            server.require_free(other.getsockname()[1])


@pytest.mark.browser
def test_the_server_starts_serves_and_stops_with_all_it_started(installed):
    port = free_port()
    process, said = start_server(installed, port)
    try:
        assert f"http://127.0.0.1:{port}/" in said
        page = urllib.request.urlopen(f"http://127.0.0.1:{port}/accounts/login/").read().decode()
        assert "saltmarsh" in page
        second = subprocess.run(
            [sys.executable, "-m", "kentrobar.ops.server"],
            text=True,
            capture_output=True,
            env=outside(installed, PORT=str(free_port())),
            cwd=ROOT,
        )
        assert second.returncode == 1
        assert "already runs from this folder" in second.stderr
    finally:
        stop_server(process)
    with pytest.raises(OSError, match="refused"):
        urllib.request.urlopen(f"http://127.0.0.1:{port}/health")


def the_one(local, part, within_s=SOON_S):
    """The oldest process of the server with ``part`` in its command; one that fell may yet come back."""
    deadline = time.monotonic() + within_s
    while True:
        found = [pid for pid, command in processes_of(local).items() if part in command]
        if found:
            return min(found)
        assert time.monotonic() < deadline, f"{part} is not back in time"
        time.sleep(0.1)


def healthy_again(port, within_s=SOON_S):
    """Until the health page, which asks the database, answers well; fails after ``within_s``."""
    deadline = time.monotonic() + within_s
    while True:
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/health", timeout=2) as answer:
                if answer.status == 200:
                    return
        except OSError:
            pass
        assert time.monotonic() < deadline, "not back in time"
        time.sleep(0.1)


@pytest.mark.browser
def test_whatever_is_killed_is_back_or_gone(installed):
    """Database, web server, bench and worker come back soon; without their server all go."""
    port = free_port()
    process, _ = start_server(installed, port)
    try:
        password = (installed / "postgres.password").read_text()
        assert not any(password in command for command in processes_of(installed).values())
        for part in ("/bin/postgres", "gunicorn", "instruments.simulated", "manage work"):
            killed = the_one(installed, part)
            os.kill(killed, signal.SIGKILL)
            deadline = time.monotonic() + SOON_S
            while killed in processes_of(installed) or part not in str(processes_of(installed)):
                assert time.monotonic() < deadline, part
                time.sleep(0.1)
            healthy_again(port)
        process.kill()
        process.wait()
        deadline = time.monotonic() + SOON_S
        while processes_of(installed):
            assert time.monotonic() < deadline, processes_of(installed)
            time.sleep(0.1)
        process, said = start_server(installed, port)
        assert f"http://127.0.0.1:{port}/" in said
        healthy_again(port)
    finally:
        stop_server(process)
    assert not processes_of(installed)


@pytest.mark.browser
def test_the_documented_start_for_others_comes_up(installed):
    """Behind a proxy with TLS, under a name of its own; asked any other way it leads to https or refuses."""
    documented = (ROOT / "docs" / "operations.md").read_text()
    (line,) = re.findall(r"^(HTTPS=1 .*) script/server$", documented, re.MULTILINE)
    changes = dict(part.split("=", 1) for part in line.split())
    port = free_port()
    process, said = start_server(installed, port, **changes)
    try:
        assert "Demo sign-in" not in said
        proxied = {"Host": changes["ALLOWED_HOSTS"], "X-Forwarded-Proto": "https"}
        for path, headers, status in (
            ("/accounts/login/", proxied, 200),
            ("/accounts/login/", proxied | {"X-Forwarded-Proto": "http"}, 301),
            ("/accounts/login/", proxied | {"Host": "elsewhere.example.org"}, 400),
            ("/health", {"Host": changes["ALLOWED_HOSTS"]}, 200),
        ):
            asked = http.client.HTTPConnection("127.0.0.1", port)
            asked.request("GET", path, headers=headers)
            assert asked.getresponse().status == status, path
    finally:
        stop_server(process)


def test_a_backup_brings_everything_back(local, made, tmp_path):
    def script(name, *arguments):
        command = [ROOT / "script" / name, *arguments]
        return subprocess.run(command, env=outside(local), check=True, capture_output=True)

    with psycopg.connect(made.url, autocommit=True) as connection:
        connection.execute("CREATE TABLE kept (word text)")
        connection.execute("INSERT INTO kept VALUES ('reed')")
        # As the queue has: a type of its own, a function that takes it, a trigger that calls one.
        connection.execute("CREATE TYPE state AS ENUM ('waiting', 'done')")
        connection.execute("CREATE TABLE job (state state)")
        connection.execute(
            "CREATE FUNCTION tell() RETURNS trigger LANGUAGE plpgsql AS 'BEGIN RETURN NEW; END'"
        )
        connection.execute("CREATE FUNCTION ended(state) RETURNS bool RETURN $1 = 'done'")
        connection.execute("CREATE TRIGGER told AFTER INSERT ON job EXECUTE FUNCTION tell()")
        script("backup", tmp_path / "all.dump")
        assert (tmp_path / "all.dump").stat().st_mode & 0o077 == 0
        connection.execute("DROP TABLE kept")
        script("restore", tmp_path / "all.dump")
        assert connection.execute("SELECT word FROM kept").fetchone() == ("reed",)
        connection.execute("INSERT INTO job VALUES ('done')")
        assert connection.execute("SELECT ended(state) FROM job").fetchone() == (True,)
        # Over a newer schema: a table that the backup does not know of holds on to one that it does.
        connection.execute("ALTER TABLE kept ADD COLUMN id int PRIMARY KEY DEFAULT 1")
        connection.execute("CREATE TABLE newer (kept int REFERENCES kept, word text)")
        script("restore", tmp_path / "all.dump")
        assert connection.execute("SELECT * FROM kept").fetchone() == ("reed",)
        assert connection.execute("SELECT to_regclass('newer')").fetchone() == (None,)
        (tmp_path / "torn.dump").write_bytes((tmp_path / "all.dump").read_bytes()[:-200])
        with pytest.raises(subprocess.CalledProcessError) as refused:
            script("restore", tmp_path / "torn.dump")
        assert b"nothing is changed" in refused.value.stderr
        assert connection.execute("SELECT * FROM kept").fetchone() == ("reed",)


def test_the_application_signs_in_as_no_superuser(made):
    with psycopg.connect(made.url) as connection:
        asked = "SELECT rolsuper, rolcreaterole, rolcreatedb FROM pg_roles WHERE rolname = current_user"
        assert connection.execute(asked).fetchone() == (False, False, False)


def test_a_database_from_before_the_role_is_handed_over(local):
    cluster = Cluster(local, "older")
    cluster.start()
    try:
        cluster._psql("CREATE DATABASE kentrobar")
        cluster._psql(
            "CREATE TABLE kept (id bigint GENERATED BY DEFAULT AS IDENTITY, word text)", "kentrobar"
        )
        cluster.ensure_database()
        with psycopg.connect(cluster.url) as connection:
            connection.execute("ALTER TABLE kept ADD COLUMN more text")
            connection.execute("INSERT INTO kept (word) VALUES ('reed')")
            connection.execute("CREATE TABLE newer (id int)")
    finally:
        cluster.stop()


@pytest.mark.skipif(os.geteuid() != 0, reason="only root can make a folder that postgres cannot reach")
def test_a_closed_checkout_keeps_its_cluster_elsewhere(tmp_path):
    closed = tmp_path / "closed"
    closed.mkdir(mode=0o700)
    cluster = Cluster(closed / ".local")
    try:
        assert not cluster.data.is_relative_to(closed)
        assert cluster.password_file.is_relative_to(closed)
    finally:
        shutil.rmtree(cluster.data.parent)


@pytest.mark.skipif(os.geteuid() != 0, reason="only root can make a folder that postgres cannot reach")
def test_a_checkout_closed_later_is_told_not_replaced_by_an_empty_one(tmp_path):
    closed = tmp_path / "closed"
    (closed / ".local" / "postgres").mkdir(parents=True)
    closed.chmod(0o700)
    with pytest.raises(OperationError, match="can no longer pass"):
        Cluster(closed / ".local")
