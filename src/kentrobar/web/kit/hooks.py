"""Hooks: places where an app shows or asks what apps above it hand in, without importing them.

An app that has such a place declares a :class:`Hook` in its ``hooks`` module; an app above offers its part
when the application starts (``AppConfig.ready``).
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Generic, TypeVar

T = TypeVar("T")


class Hook(Generic[T]):
    """What apps above offered for one place, in its order; those of the same order as they were offered."""

    def __init__(self) -> None:
        self._offered: list[tuple[int, T]] = []

    def offer(self, item: T, *, order: int = 0) -> None:
        """Hand something in; the lower the order, the earlier it comes."""
        self._offered.append((order, item))
        self._offered.sort(key=lambda each: each[0])

    def __iter__(self) -> Iterator[T]:
        return iter([item for _, item in self._offered])
