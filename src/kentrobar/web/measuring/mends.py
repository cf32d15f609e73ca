"""A likely slip put right in one click: what a button says, and the fields it fills.

One format for every page: the fields of its form by name, each with the text that goes into it.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping
from typing import NamedTuple

from kentrobar.core.reading.slips import Mend, TypedNumber

Fill = Mapping[str, str]


class MendButton(NamedTuple):
    """A button: its sentence, and its order for the page's script."""

    sentence: str
    order: str


def button(sentence: str, fill: Fill) -> MendButton:
    """A button that puts these texts into these fields."""
    return MendButton(sentence, json.dumps(fill, ensure_ascii=False))


def buttons(mends: Iterable[Mend], fill_of: Callable[[Mend], Fill]) -> list[MendButton]:
    """The mends that a page has fields for; ``fill_of`` says which, and is empty where it has none."""
    filled = ((mend.sentence, fill_of(mend)) for mend in mends)
    return [button(sentence, fill) for sentence, fill in filled if fill]


def quantity_fill(changes: Mapping[str, TypedNumber]) -> Fill:
    """The fields of quantities that are boxes with a unit beside them, by the field's name."""
    fill: dict[str, str] = {}
    for name, typed in changes.items():
        fill |= {f"{name}_0": typed.text, f"{name}_1": typed.unit}
    return fill
