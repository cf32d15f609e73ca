"""Taking one reading from a device: wait until it has settled, or say plainly why there is none."""

from __future__ import annotations

import re
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

import serial

from kentrobar.instruments.lines import LONGEST_LINE, DeviceLine, InstrumentError, compile_pattern, read_line

SILENT_AFTER_S = 5.0
SETTLES_WITHIN_S = 8.0
ALIKE_LINES = 3  # where lines do not say so: as many alike in a row count as settled
_ADDRESS = re.compile(r"socket://[\w.\-]+:\d{1,5}|/dev/[\w./\-]+|COM\d{1,3}")


@dataclass(frozen=True)
class Device:
    """Where an instrument sends its lines, and what they look like."""

    address: str
    pattern: str
    baud: int = 9600


def require_address(address: str) -> None:
    """Refuse what is neither a serial port nor a socket. Raises InstrumentError."""
    if not _ADDRESS.fullmatch(address) or ".." in address:
        raise InstrumentError(
            "An address is a port such as /dev/ttyUSB0 or COM3, or socket://host:port.",
            code="bad_address",
            field="address",
        )


def take_reading(
    device: Device, silent_after_s: float = SILENT_AFTER_S, settles_within_s: float = SETTLES_WITHIN_S
) -> DeviceLine:
    """One settled reading.

    Raises:
        InstrumentError: unplugged, silent, garbled or still settling; ``code`` says which.
    """
    alike: list[DeviceLine] = []
    began = time.monotonic()
    for said in _lines_of(device, silent_after_s):
        if said.settled:
            return said
        if said.settled is None:
            alike = [*alike, said] if alike and alike[-1].value == said.value else [said]
            if len(alike) >= ALIKE_LINES:
                return said
        if time.monotonic() - began > settles_within_s:
            break
    raise InstrumentError(
        "The instrument is still settling; let the frame lie still, then take the reading again.",
        code="unsettled",
    )


def take_passes(device: Device, count: int, silent_after_s: float = SILENT_AFTER_S) -> list[float]:
    """The times of ``count`` passes that a gate tells, s. Raises as :func:`take_reading`."""
    passes: list[float] = []
    for said in _lines_of(device, silent_after_s):
        passes.append(said.value * (1e-3 if said.unit == "ms" else 1.0))
        if len(passes) >= count:
            break
    return passes


def _lines_of(device: Device, silent_after_s: float) -> Iterator[DeviceLine]:
    """What the device says, line by line, for as long as it says something."""
    pattern = compile_pattern(device.pattern)
    garbled = 0
    with _opened(device) as port:
        while True:
            line = _one_line(port, silent_after_s)
            said = read_line(line, pattern)
            if said is not None:
                garbled = 0
                yield said
                continue
            garbled += 1
            if garbled >= 5:
                # What it sends is not shown: it may be no instrument at all.
                raise InstrumentError(
                    f"The instrument sends lines (the last of {len(line.strip())} characters) that do not "
                    "fit its pattern. Check its pattern and its speed.",
                    code="garbled",
                )


@contextmanager
def _opened(device: Device) -> Iterator[serial.SerialBase]:
    require_address(device.address)
    try:
        port = serial.serial_for_url(device.address, baudrate=device.baud, timeout=0.25)
    except (serial.SerialException, OSError, ValueError):
        raise InstrumentError(
            f"There is no instrument at {device.address}; plug it in and switch it on.", code="unplugged"
        ) from None
    try:
        yield port
    finally:
        port.close()


def _one_line(port: serial.SerialBase, silent_after_s: float) -> bytes:
    """The next line; raises InstrumentError when nothing whole comes."""
    deadline = time.monotonic() + silent_after_s
    line = b""
    while not line.endswith((b"\n", b"\r")):
        try:
            line += port.read_until(b"\n", LONGEST_LINE)
        except (serial.SerialException, OSError):
            raise InstrumentError(
                "The instrument was unplugged during the reading.", code="unplugged"
            ) from None
        if len(line) > 4 * LONGEST_LINE:
            break
        if time.monotonic() > deadline:
            if line:
                break
            raise InstrumentError(
                f"The instrument has said nothing for {silent_after_s:.0f} s; switch it on, or "
                "press its send key.",
                code="silent",
            )
    return line
