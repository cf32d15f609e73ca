"""The simulated bench, running beside a test."""

import asyncio
import threading
from collections.abc import Iterator
from contextlib import contextmanager

from kentrobar.instruments.simulated import FrameOnBench, run
from kentrobar.ops.cluster import free_ports_in_a_row

PACE = 6.0  # nobody waits for a needle to come to rest


@contextmanager
def running_bench() -> Iterator[int]:
    """The first port of a bench that runs for this while."""
    first, up = free_ports_in_a_row(5), threading.Event()
    loop, stop = asyncio.new_event_loop(), asyncio.Event()

    async def serve() -> None:
        serving = asyncio.ensure_future(run(first, FrameOnBench(), up.set, PACE))
        await stop.wait()
        serving.cancel()

    def work() -> None:
        with asyncio.Runner(loop_factory=lambda: loop) as runner:  # ends what is left at its exit
            runner.run(serve())

    thread = threading.Thread(target=work, daemon=True)
    thread.start()
    try:
        assert up.wait(5)
        yield first
    finally:
        loop.call_soon_threadsafe(stop.set)
        thread.join(3)
