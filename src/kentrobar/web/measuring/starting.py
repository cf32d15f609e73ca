"""The instruments that a new shop starts with."""

from __future__ import annotations

from typing import Any

from kentrobar.web.measuring.models import Instrument

_KIND = Instrument.Kind

# A usual bench; a shop changes it to its own. Steps and scatter are those of usual instruments.
STARTING_INSTRUMENTS: list[dict[str, Any]] = [
    {"kind": _KIND.SCALE, "name": "Scale, 0.1 g", "resolution": 0.1, "repeatability": 0.1},
    {"kind": _KIND.SCALE, "name": "Kitchen scale, 1 g", "resolution": 1.0, "repeatability": 0.4},
    {"kind": _KIND.BOARD, "name": "Balance board or ruler", "resolution": 0.05, "repeatability": 0.05},
    {"kind": _KIND.MACHINE, "name": "Swing-weight machine", "resolution": 0.5, "repeatability": 0.6},
    {"kind": _KIND.TWIST, "name": "Twist cradle", "resolution": 0.05, "repeatability": 0.1},
    {"kind": _KIND.PENDULUM, "name": "Pendulum on a string", "resolution": 0.0, "repeatability": 0.03},
    {"kind": _KIND.SIDEWAYS, "name": "Twist pendulum", "resolution": 0.0, "repeatability": 0.03},
    {"kind": _KIND.CORDS, "name": "Two cords", "resolution": 0.0, "repeatability": 0.03,
     "cord_cm": 80.0, "apart_cm": 10.0},
]  # fmt: skip


def stock_starting_instruments(shop: Any) -> None:
    """Put a usual bench into a new shop."""
    Instrument.objects.bulk_create(
        Instrument(shop=shop, **values) for values in STARTING_INSTRUMENTS
    )


# Kind and name of the instruments of the simulated bench, in the order of its ports.
SIMULATED = [
    (_KIND.SCALE, "Bench scale", 0.1, 0.07),
    (_KIND.BOARD, "Bench balance board", 0.05, 0.03),
    (_KIND.MACHINE, "Bench machine", 0.1, 0.5),
    (_KIND.TWIST, "Bench twist cradle", 0.01, 0.08),
    (_KIND.PENDULUM, "Bench pendulum with light gate", 0.0, 0.002),
]


def connect_simulated_bench(shop: Any) -> None:
    """Put the instruments of the simulated bench before the shop's own."""
    for kind, name, resolution, repeatability in SIMULATED:
        special = {"offset_cm": 5.0} if kind == _KIND.BOARD else {}
        special |= {"hang_cm": 65.0} if kind == _KIND.PENDULUM else {}
        Instrument.objects.create(
            shop=shop, kind=kind, name=name, resolution=resolution, repeatability=repeatability,
            is_simulated=True, **special,
        )  # fmt: skip


def point_to_simulated_bench(first_port: int) -> None:
    """Tell the simulated instruments where the bench listens this time."""
    for place, (_, name, _, _) in enumerate(SIMULATED):
        address = f"socket://127.0.0.1:{first_port + place}"
        Instrument.objects.filter(is_simulated=True, name=name).update(address=address)
