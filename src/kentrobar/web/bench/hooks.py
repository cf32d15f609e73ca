"""What the bench shows of the job that its work is done for: it knows nothing of jobs itself."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final, NamedTuple

from kentrobar.web.bench.models import BenchWork
from kentrobar.web.kit.hooks import Hook
from kentrobar.web.shops.models import User


class JobOfWork(NamedTuple):
    """A job as the bench shows it: its name, its address, and where its frame is verified."""

    name: str
    address: str
    verify_address: str


JOBS: Final[Hook[Callable[[User, BenchWork], JobOfWork | None]]] = Hook()


def job_of(user: User, work: BenchWork) -> JobOfWork | None:
    """The open job that a work is done for; None without one."""
    return next((job for find in JOBS if (job := find(user, work))), None)
