"""Which devices may be asked: those that the operator of this machine has named, and no others.

A person types an address into a form; without bounds that would be a way to speak to whatever listens on the
machine or in its network. A pattern such as socket://10.0.7.*:* never reaches this machine's own services:
those are named one by one, whole.
"""

from __future__ import annotations

import socket
from collections.abc import Sequence
from fnmatch import fnmatchcase
from urllib.parse import urlsplit

from kentrobar.instruments.lines import InstrumentError

SIMULATED_PORTS = 5  # one for each instrument of the simulated bench, in a row


def simulated_addresses(first_port: int) -> list[str]:
    """Where the instruments of a simulated bench listen."""
    return [f"socket://127.0.0.1:{first_port + i}" for i in range(SIMULATED_PORTS)]


def require_allowed(address: str, allowed: Sequence[str]) -> None:
    """Refuse an address that the operator has not named.

    Raises:
        InstrumentError: neither it nor a pattern that it fits is among those allowed.
    """
    if address in allowed:
        return
    if not any(fnmatchcase(address, pattern) for pattern in allowed):
        raise InstrumentError(
            "Devices at this address may not be asked here; whoever runs this server can allow it "
            "(DEVICE_ADDRESSES).",
            code="not_allowed",
            field="address",
        )
    host = urlsplit(address).hostname if address.startswith("socket://") else None
    if host and _is_this_machine(host):
        raise InstrumentError(
            "That address leads back to this server itself; whoever runs it can name it whole "
            "(DEVICE_ADDRESSES), a pattern is not enough.",
            code="own_service",
            field="address",
        )


def _is_this_machine(host: str) -> bool:
    """Whether a name or number leads to this machine: what can be listened on here does."""
    try:
        found = socket.getaddrinfo(host, None, type=socket.SOCK_STREAM)
    except OSError:
        return False  # nobody answers to it: it is told as unplugged
    for family, kind, _, _, where in found:
        with socket.socket(family, kind) as probe:
            try:
                probe.bind((where[0], 0))
            except OSError:
                continue
            return True
    return False
