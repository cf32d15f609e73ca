"""Whether frames can be made alike at all: what differs between them, and whether weight can fix it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Final, NamedTuple

from kentrobar.core.frame.outline import Dimensions


class Candidate(NamedTuple):
    """One frame as far as weight does not change it; what nobody noted is empty."""

    label: str
    dimensions: Dimensions
    model: str = ""
    pattern: str = ""
    strings: str = ""
    handle: str = ""
    stiffness: float | None = None


class Difference(NamedTuple):
    """What differs: its noun, each value with the frames that have it, and what follows from it.

    ``is_lasting``: no weight fixes it, and the frames will play differently however they are matched.
    """

    noun: str
    values: tuple[tuple[str, tuple[str, ...]], ...]
    consequence: str
    is_lasting: bool


_Written = Callable[[float], str]
_LENGTH_APART_CM: Final = 0.2  # less is how a ruler is read
_HEAD_APART_CM: Final = 0.3
_DEPTH_APART_CM: Final = 0.1
_STIFFNESS_APART: Final = 2.0  # of a scale of a hundred; less is how well it repeats


def differences(frames: Sequence[Candidate], written: _Written) -> list[Difference]:
    """What differs among frames that are to be alike, what lasts first; ``written`` tells a length.

    What was not known of a frame is not held against it.
    """
    found = [
        _apart(
            "length",
            frames,
            lambda f: f.dimensions.length_cm,
            _LENGTH_APART_CM,
            written,
            "A longer frame reaches further and swings differently with the same specs.",
        ),
        _apart(
            "head",
            frames,
            lambda f: f.dimensions.width_cm,
            _HEAD_APART_CM,
            written,
            "Another head makes another sweet spot; twist weight alone does not match it.",
        ),
        _apart(
            "beam or core",
            frames,
            lambda f: f.dimensions.depth_cm,
            _DEPTH_APART_CM,
            written,
            "Another beam is of another stiffness, which weight does not change.",
        ),
        _stiffness(frames),
        _said(
            "model",
            frames,
            lambda f: f.model,
            True,
            "Another model bends and damps differently, which weight does not change.",
        ),
        _said(
            "string pattern",
            frames,
            lambda f: f.pattern,
            True,
            "Another pattern plays differently, which weight does not change.",
        ),
        _said(
            "strings",
            frames,
            lambda f: f.strings,
            False,
            "String them alike first: strings change weight, balance and feel.",
        ),
        _said(
            "handle",
            frames,
            lambda f: f.handle,
            False,
            "With one closed handle, its weight sits elsewhere than on the others.",
        ),
    ]
    known = [each for each in found if each is not None]
    return sorted(known, key=lambda each: not each.is_lasting)


def _apart(
    noun: str,
    frames: Sequence[Candidate],
    of: Callable[[Candidate], float],
    most: float,
    written: _Written,
    consequence: str,
) -> Difference | None:
    values = [of(frame) for frame in frames]
    if max(values) - min(values) <= most + 1e-9:
        return None
    return _difference(noun, frames, lambda frame: written(of(frame)), consequence, True)


def _stiffness(frames: Sequence[Candidate]) -> Difference | None:
    read = [frame.stiffness for frame in frames if frame.stiffness is not None]
    if not read or max(read) - min(read) <= _STIFFNESS_APART:
        return None
    return _difference(
        "stiffness",
        frames,
        lambda f: "" if f.stiffness is None else f"{f.stiffness:g}",
        "Weight does not change it; they will feel different with the same specs.",
        True,
    )


def _said(
    noun: str, frames: Sequence[Candidate], of: Callable[[Candidate], str], is_lasting: bool, consequence: str
) -> Difference | None:
    if len({of(frame) for frame in frames} - {""}) < 2:
        return None
    return _difference(noun, frames, of, consequence, is_lasting)


def _difference(
    noun: str, frames: Sequence[Candidate], of: Callable[[Candidate], str], consequence: str, is_lasting: bool
) -> Difference:
    by_value: dict[str, list[str]] = {}
    for frame in frames:
        by_value.setdefault(of(frame) or "not known", []).append(frame.label)
    values = tuple((value, tuple(labels)) for value, labels in by_value.items())
    return Difference(noun, values, consequence, is_lasting)
