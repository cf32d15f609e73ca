"""The instruments that a new shop starts with."""

from __future__ import annotations

from typing import Any

from kentrobar.core.body.specs import BALANCE, STATIC_WEIGHT, SWING_WEIGHT, TWIST_WEIGHT
from kentrobar.core.reading.series import usual_precision
from kentrobar.core.reading.timing import TAP_SCATTER_S
from kentrobar.instruments.allowed import simulated_addresses
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.shops.models import Shop

_KIND = Instrument.InstrumentKind

_READS = {
    _KIND.SCALE: STATIC_WEIGHT,
    _KIND.BOARD: BALANCE,
    _KIND.MACHINE: SWING_WEIGHT,
    _KIND.TWIST: TWIST_WEIGHT,
    _KIND.EDGE: BALANCE,
    _KIND.FINGER: BALANCE,
}


# Where a frame tips over an edge is found to a millimetre or two, and read off a ruler; a rule of thumb of
# the project's own, until somebody's readings tell better.
EDGE_STEPS = {"resolution": 0.1, "repeatability": 0.15}
FINGER_STEPS = {"resolution": 0.1, "repeatability": 0.3}  # a finger is a centimetre wide


def usual_steps(kind: str) -> dict[str, float]:
    """Step and scatter of an instrument that nobody has described yet; a shop sets its own."""
    spec = _READS.get(_KIND(kind))
    if spec is None:
        return {"resolution": 0.0, "repeatability": TAP_SCATTER_S}
    if kind in (_KIND.EDGE, _KIND.FINGER):
        return EDGE_STEPS if kind == _KIND.EDGE else FINGER_STEPS
    usual = usual_precision(spec)
    return {"resolution": usual.resolution, "repeatability": round(usual.repeatability, 2)}


# A usual bench; a shop changes it to its own.
STARTING_INSTRUMENTS: list[dict[str, Any]] = [
    {"kind": _KIND.SCALE, "name": "Scale, 0.1 g"},
    {"kind": _KIND.SCALE, "name": "Kitchen scale, 1 g", "resolution": 1.0, "repeatability": 0.4},
    {"kind": _KIND.BOARD, "name": "Balance board or ruler"},
    {"kind": _KIND.EDGE, "name": "Table edge or pencil"},
    {"kind": _KIND.FINGER, "name": "Finger or dowel"},
    {"kind": _KIND.MACHINE, "name": "Swing-weight machine"},
    {"kind": _KIND.TWIST, "name": "Twist cradle"},
    {"kind": _KIND.PENDULUM, "name": "Pendulum on a string"},
    {"kind": _KIND.SIDEWAYS, "name": "Twist pendulum"},
    {"kind": _KIND.CORDS, "name": "Two cords", "cord_cm": 80.0, "apart_cm": 10.0},
]


def stock_starting_instruments(shop: Shop) -> None:
    """Put a usual bench into a new shop."""
    Instrument.objects.bulk_create(
        Instrument(shop=shop, **usual_steps(values["kind"]) | values) for values in STARTING_INSTRUMENTS
    )


# Kind and name of the instruments of the simulated bench, in the order of its ports.
SIMULATED = [
    (_KIND.SCALE, "Bench scale", 0.1, 0.07),
    (_KIND.BOARD, "Bench balance board", 0.05, 0.03),
    (_KIND.MACHINE, "Bench machine", 0.1, 0.5),
    (_KIND.TWIST, "Bench twist cradle", 0.01, 0.08),
    (_KIND.PENDULUM, "Bench pendulum with light gate", 0.0, 0.002),
]


def connect_simulated_bench(shop: Shop) -> None:
    """Put the instruments of the simulated bench before the shop's own."""
    for kind, name, resolution, repeatability in SIMULATED:
        special = {"offset_cm": 5.0} if kind == _KIND.BOARD else {}
        special |= {"hang_cm": 65.0} if kind == _KIND.PENDULUM else {}
        Instrument.objects.create(
            shop=shop,
            kind=kind,
            name=name,
            resolution=resolution,
            repeatability=repeatability,
            is_simulated=True,
            **special,
        )


def point_to_simulated_bench(first_port: int) -> None:
    """Tell the simulated instruments where the bench listens this time."""
    addresses = simulated_addresses(first_port)
    for address, (_, name, _, _) in zip(addresses, SIMULATED, strict=True):
        Instrument.objects.filter(is_simulated=True, name=name).update(address=address)
