"""What is known of a frame before it is read: an earlier reading, its siblings, the maker's figures."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.errors import KentrobarError
from kentrobar.core.reading.slips import Reference, expect_earlier, expect_model, mean_of_siblings
from kentrobar.core.weight.builds import Build, Fitting, change_build, fitted_in
from kentrobar.web.frames.builds import builds_of, fittings_in, in_build
from kentrobar.web.frames.models import Frame
from kentrobar.web.measuring.queries import sibling_specs


def expectation(
    frame: Frame, build: str, wanted: Sequence[Fitting], axis_cm: float, *, was_changed: bool
) -> Reference | None:
    """The sharpest expectation there is for a reading of the frame with ``wanted`` fitted.

    ``was_changed``: weight was added or taken away since the last reading, which then tells nothing.
    """
    if frame.specs and frame.specs.measured.knows_mass and not was_changed:
        return _from_earlier(frame, build, wanted, axis_cm)
    mean = mean_of_siblings(sibling_specs(frame, build), axis_cm)
    if mean.knows_mass:
        return expect_model(f"the other frames of {frame.model}", mean)
    if frame.model and frame.model.stated.knows_mass:
        return _from_stated(frame, wanted, axis_cm)
    return None


def _from_earlier(frame: Frame, build: str, wanted: Sequence[Fitting], axis_cm: float) -> Reference | None:
    assert frame.specs  # noqa: S101 - asked by the caller
    day = f"{frame.specs.taken_at:%-d %B}"
    source = f"the reading of {day}"
    expected = _converted(frame, build, wanted, axis_cm)
    if expected is None:
        # A reading of another build that cannot be converted tells nothing of this one.
        same = frame.specs.build == build
        return expect_earlier(source, frame.measured) if same else None
    if frame.specs.build != build:
        source += f", converted from “{frame.specs.setup_text}”"
    others = {
        str(other.value): expect_earlier(source, specs)
        for other in builds_of(frame)
        if other != build
        and (specs := _converted(frame, other.value, fittings_in(frame, other), axis_cm)) is not None
        and specs != expected
    }
    return replace(expect_earlier(source, expected), builds=others)


def _converted(frame: Frame, build: str, wanted: Sequence[Fitting], axis_cm: float) -> MeasuredSpecs | None:
    try:
        return in_build(frame, build, wanted, axis_cm).measured
    except KentrobarError:
        return None


def _from_stated(frame: Frame, wanted: Sequence[Fitting], axis_cm: float) -> Reference | None:
    assert frame.model  # noqa: S101 - asked by the caller
    stated = frame.model.stated
    fitted = fitted_in(Build(frame.model.stated_build), wanted)
    try:
        changed = change_build(stated, fitted, wanted, outline=frame.outline, axis_cm=axis_cm)
    except KentrobarError:
        return None
    return expect_model(f"the maker's figures for {frame.model}", changed.measured)
