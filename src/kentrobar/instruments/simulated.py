"""The simulated bench: instruments on loopback with one frame on them, for the demo and the tests.

``python -m kentrobar.instruments.simulated PORT`` serves, from PORT on, a scale, a balance board, a
swing-weight machine, the same machine's twist cradle, and a light gate on a pendulum. Each sends lines
as soon as someone listens. What lies on the bench is known here alone: its moments are never told, only
what instruments with noise, drift and settling make of them.
"""

from __future__ import annotations

import argparse
import asyncio
import math
import random
import time
from collections.abc import AsyncIterator, Callable
from contextlib import suppress
from dataclasses import dataclass
from functools import partial

HOST = "127.0.0.1"
LINES_PER_S = 10.0
GRAVITY_CMS2 = 981.2  # of the boathouse
HANGS_AT_CM = 65.0  # the axle of the pendulum, from the butt


@dataclass(frozen=True)
class FrameOnBench:
    """What truly lies on the bench: a racket ready to play."""

    mass_g: float = 312.37
    balance_cm: float = 32.083
    recoil_kgcm2: float = 157.9
    twist_kgcm2: float = 13.94

    def swingweight(self, axis_cm: float) -> float:
        return self.recoil_kgcm2 + self.mass_g * (self.balance_cm - axis_cm) ** 2 / 1000

    @property
    def period_s(self) -> float:
        d = HANGS_AT_CM - self.balance_cm
        inertia = 1000 * self.recoil_kgcm2 + self.mass_g * d * d
        return 2 * math.pi * math.sqrt(inertia / (self.mass_g * GRAVITY_CMS2 * d))


@dataclass(frozen=True)
class Showing:
    """An instrument that shows a number: its truth, scatter, step, drift and settling."""

    mark: str
    truth: float
    unit: str
    repeatability: float
    resolution: float
    drift: float
    settles_s: float
    decimals: int

    async def lines(self, dice: random.Random, pace: float) -> AsyncIterator[str]:
        """Lines as they come: first it moves, then it stays near one value that this placing gave."""
        settled = self.truth + dice.gauss(0, self.repeatability) + self.drift * drifted()
        began, off = time.monotonic(), dice.choice((-1, 1)) * dice.uniform(0.02, 0.05) * self.truth
        while True:
            passed = pace * (time.monotonic() - began)
            moving = off * math.exp(-4 * passed / self.settles_s)
            shown = round((settled + moving) / self.resolution) * self.resolution
            state = "settled" if abs(moving) < self.resolution / 2 else "moving"
            yield f"{self.mark} {shown:+.{self.decimals}f} {self.unit} {state}"
            await asyncio.sleep(1 / LINES_PER_S / pace)


@dataclass(frozen=True)
class Gate:
    """A light gate at the middle of a pendulum's swing: the time of each pass, both ways."""

    period_s: float
    scatter_s: float = 0.0004

    async def lines(self, dice: random.Random, pace: float) -> AsyncIterator[str]:
        aside = dice.gauss(0, 0.01)  # the gate never stands quite in the middle
        at = dice.uniform(0, 100)
        for number in range(10_000):
            await asyncio.sleep(self.period_s / 2 / pace)
            at += self.period_s / 2
            shown = at + (aside if number % 2 else 0) + dice.gauss(0, self.scatter_s)
            yield f"G {shown:.4f} s"


def drifted() -> float:
    """A slow wander between -1 and 1, as a room warms and cools."""
    return math.sin(time.time() / 1700)


Instrument = Showing | Gate


def instruments(frame: FrameOnBench) -> list[Instrument]:
    """The instruments of the bench, in the order of their ports."""
    return [
        Showing("W", frame.mass_g, "g", 0.05, 0.1, 0.05, 1.2, 1),
        # The board counts from its stop, 5.00 cm before the pivot's zero.
        Showing("B", 10 * (frame.balance_cm - 5.0), "mm", 0.25, 0.5, 0.1, 1.5, 1),
        # The machine shows 1.2 % too little, less 0.8: a calibration finds it.
        Showing("I", frame.swingweight(10.0) / 1.012 - 0.8, "kgcm2", 0.4, 0.1, 0.2, 2.0, 1),
        Showing("T", frame.twist_kgcm2, "kgcm2", 0.06, 0.01, 0.02, 2.0, 2),
        Gate(frame.period_s),
    ]


async def _serve(
    instrument: Instrument, pace: float, reader: asyncio.StreamReader, writer: asyncio.StreamWriter
) -> None:
    dice = random.Random()  # noqa: S311 - noise of an instrument, not a secret
    try:
        async for line in instrument.lines(dice, pace):
            writer.write(f"{line}\r\n".encode())
            await writer.drain()
            if reader.at_eof():
                break
    except (ConnectionError, OSError):
        pass
    finally:
        writer.close()


async def run(
    first_port: int, frame: FrameOnBench, ready: Callable[[], None] = lambda: None, pace: float = 1.0
) -> None:
    """Serve the bench from ``first_port`` on until it is cancelled, ``pace`` times as fast as a real one."""
    servers = [
        await asyncio.start_server(partial(_serve, instrument, pace), HOST, first_port + i)
        for i, instrument in enumerate(instruments(frame))
    ]
    ready()
    await asyncio.gather(*(server.serve_forever() for server in servers))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("port", type=int, help="the first of five ports on loopback")
    with suppress(KeyboardInterrupt):
        asyncio.run(run(parser.parse_args().port, FrameOnBench()))


if __name__ == "__main__":
    main()
