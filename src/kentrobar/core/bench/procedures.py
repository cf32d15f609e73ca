"""What a procedure is written with: numbers in a person's units, and one piece of work in its steps."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple


class NumberWriter(NamedTuple):
    """How numbers are written for the person: a length in cm, and a small weight in g, each with its unit."""

    length: Callable[[float], str]
    mass: Callable[[float], str]


class WorkInstructions(NamedTuple):
    """One piece of hard work: what it is, and its steps in order."""

    title: str
    steps: tuple[str, ...]
