"""Reading devices: settled, unplugged, silent, garbled, still settling; and the simulated bench."""

import socket
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager, suppress

import pytest

from kentrobar.core.reading.timing import period_of
from kentrobar.instruments.allowed import require_allowed
from kentrobar.instruments.lines import USUAL_PATTERN, InstrumentError, compile_pattern, read_line
from kentrobar.instruments.simulated import FrameOnBench
from kentrobar.instruments.taking import Device, require_address, take_passes, take_reading
from kentrobar.ops.cluster import free_port
from tests.instruments.bench import running_bench


@contextmanager
def speaking(*lines, pause=0.02, forever=True):
    """A device on loopback that says these lines, the last one over and over."""
    server = socket.create_server(("127.0.0.1", 0))
    stop = threading.Event()

    def speak():
        with suppress(OSError):
            connection, _ = server.accept()
            with connection:
                queue = list(lines)
                while queue and not stop.is_set():
                    connection.sendall(queue[0] + b"\r\n")
                    time.sleep(pause)
                    if len(queue) > 1 or not forever:
                        queue.pop(0)
                stop.wait(3)

    thread = threading.Thread(target=speak, daemon=True)
    thread.start()
    try:
        yield Device(f"socket://127.0.0.1:{server.getsockname()[1]}", USUAL_PATTERN)
    finally:
        stop.set()
        server.close()
        thread.join(3)


@pytest.mark.parametrize(
    ("address", "allowed", "code"),
    [
        ("/dev/ttyUSB0", ["/dev/ttyUSB*"], ""),
        ("/dev/ttyS0", ["/dev/ttyUSB*"], "not_allowed"),
        ("socket://192.0.2.7:4001", ["socket://192.0.2.*:4001"], ""),
        ("socket://192.0.2.7:4002", ["socket://192.0.2.*:4001"], "not_allowed"),
        ("socket://127.0.0.1:5432", ["socket://*:*"], "own_service"),
        ("socket://localhost:5432", ["socket://*:*"], "own_service"),
        ("socket://0.0.0.0:5432", ["socket://*:*"], "own_service"),
        ("socket://2130706433:5432", ["socket://*:*"], "own_service"),
        ("socket://127.0.0.1:4001", ["socket://127.0.0.1:4001"], ""),
        ("COM3", [], "not_allowed"),
    ],
)
def test_only_what_the_operator_named_is_asked(address, allowed, code):
    """A pattern never reaches this machine itself, however it is spelled."""
    if not code:
        require_allowed(address, allowed)
        return
    with pytest.raises(InstrumentError) as refused:
        require_allowed(address, allowed)
    assert refused.value.code == code


@pytest.mark.parametrize("address", ["/dev/../etc/shadow", "/dev/ttyUSB0\n", "file:///etc", "socket://h"])
def test_what_is_no_port_is_no_address(address):
    with pytest.raises(InstrumentError):
        require_address(address)


@pytest.mark.parametrize(
    ("line", "pattern", "said"),
    [
        (b"W +308.6 g settled\r\n", USUAL_PATTERN, (308.6, "g", True)),
        (b"W +308.2 g moving", USUAL_PATTERN, (308.2, "g", False)),
        (b"  31,85cm settled", USUAL_PATTERN, (31.85, "cm", True)),
        (b"n=12.5;", r"n=(?P<value>[\d.]+);", (12.5, "", None)),
        (b"no number", USUAL_PATTERN, None),
        (b"\xff\xfe\x00", USUAL_PATTERN, None),
    ],
)
def test_lines_are_read_by_their_pattern(line, pattern, said):
    found = read_line(line, compile_pattern(pattern))
    assert (found and (found.value, found.unit, found.settled)) == said


def test_no_pattern_takes_for_ever():
    """Nested repetition over a long line: an engine that backtracks would need 2 to the 200th steps."""
    assert read_line(b"9" * 199 + b"x", compile_pattern(r"(?P<value>(\d+)+)$")) is None


@pytest.mark.parametrize("pattern", ["(", r"\d+", "x" * 500, r"(?P<value>\d+)(?<=5)", r"(?P<value>(\d)\2)"])
def test_a_bad_pattern_is_refused(pattern):
    with pytest.raises(InstrumentError) as refused:
        compile_pattern(pattern)
    assert refused.value.field == "pattern"


@pytest.mark.parametrize("address", ["spy://x?file=/tmp/x", "http://a", "socket://a", "/etc/passwd", ""])
def test_only_ports_and_sockets_are_opened(address):
    with pytest.raises(InstrumentError, match="socket://"):
        require_address(address)


def test_a_reading_waits_until_it_has_settled():
    with speaking(b"W +301.0 g moving", b"W +308.1 g moving", b"W +308.6 g settled") as device:
        assert take_reading(device).value == 308.6


def test_lines_without_a_word_settle_when_alike():
    with speaking(b"301.0", b"308.1", b"308.6") as device:
        plain = Device(device.address, r"(?P<value>[\d.]+)")
        assert take_reading(plain).value == 308.6


@pytest.mark.parametrize(
    ("lines", "code"), [((b"#!%", b"##"), "garbled"), ((b"W +308.1 g moving",), "unsettled"), ((), "silent")]
)
def test_no_reading_says_why(lines, code):
    with speaking(*lines) as device, pytest.raises(InstrumentError) as refused:
        take_reading(device, silent_after_s=0.6, settles_within_s=0.5)
    assert refused.value.code == code


def test_an_unplugged_device_is_named():
    port = free_port()
    with pytest.raises(InstrumentError, match="plug it in"):
        take_reading(Device(f"socket://127.0.0.1:{port}", USUAL_PATTERN))


@pytest.fixture(scope="module")
def bench():
    with running_bench() as first:
        yield [Device(f"socket://127.0.0.1:{first + i}", USUAL_PATTERN) for i in range(5)]


def test_the_bench_reads_what_lies_on_it_within_its_noise(bench):
    """Two layings differ, yet both are near the truth; the board counts from its stop."""
    *showing, gate = bench
    truth = FrameOnBench()
    with ThreadPoolExecutor() as together:  # each settles for a second or three
        passing = together.submit(take_passes, gate, 6)
        mass, balance, swing, twist = [said.value for said in together.map(take_reading, showing)]
    assert mass == pytest.approx(truth.mass_g, abs=0.5)
    assert balance == pytest.approx(10 * truth.balance_cm - 50, abs=2)
    assert swing == pytest.approx(truth.swingweight(10) / 1.012, abs=4)
    assert twist == pytest.approx(truth.twist_kgcm2, abs=0.4)
    timing = period_of(passing.result(), 2, 0.002)
    assert timing.period_s.value == pytest.approx(truth.period_s, abs=0.005)
