"""Which build a frame was read in, what is fitted in it, and its specs in any other build."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.weight.builds import Build, BuildChange, Fitting, FittingKind, change_build, fitted_in
from kentrobar.web.frames.models import BARE_PADDLE, Frame, SpecSheet

NAMED_BUILDS = (Build.BARE, Build.STRUNG, Build.PLAYING)
BUILD_NAMES = dict(SpecSheet.SheetBuild.choices)


def build_name(build: str, sport: str) -> str:
    """A setup as one says it of a sport: nobody strings a paddle."""
    is_bare_paddle = build == Build.BARE and sport == Frame.SportChoice.PICKLEBALL
    return BARE_PADDLE if is_bare_paddle else BUILD_NAMES[build]


def builds_of(frame: Frame) -> tuple[Build, ...]:
    """The named builds that a frame has: nothing is strung on a paddle."""
    return builds_for(frame.sport)


def builds_for(sport: str) -> tuple[Build, ...]:
    is_racket = sport == Frame.SportChoice.TENNIS
    return NAMED_BUILDS if is_racket else (Build.BARE, Build.PLAYING)


def all_fittings(frame: Frame) -> list[Fitting]:
    """All that is or ever was on the frame; ``frame.fittings`` may be fetched before."""
    return [fitting.fitting(frame) for fitting in frame.fittings.all()]


def fittings_now(frame: Frame) -> list[Fitting]:
    """What belongs to the frame now, in whatever build it is read."""
    return [fitting.fitting(frame) for fitting in frame.fittings.all() if fitting.is_on]


def fittings_in(frame: Frame, build: str, chosen: Collection[int] = ()) -> list[Fitting]:
    """What is on the frame in a build; for a mix, what was ``chosen`` of it by key."""
    if build == Build.MIX:
        return [fitting for fitting in fittings_now(frame) if fitting.key in chosen]
    return list(fitted_in(Build(build), fittings_now(frame)))


def fitted_at(frame: Frame, sheet: SpecSheet) -> list[Fitting]:
    """What was on the frame when a sheet was read."""
    noted_late = {each.pk for each in frame.fittings.all() if each.noted_for_id == sheet.pk}
    if sheet.fitting_ids is None:
        known = {fitting.key for fitting in fittings_in(frame, sheet.build)}
    else:
        known = set(sheet.fitting_ids)
    fitted = [fitting for fitting in all_fittings(frame) if fitting.key in known | noted_late]
    if any(each.kind == FittingKind.STRINGS and each.key in noted_late for each in fitted):
        # There is one bed of strings: it was these already.
        fitted = [each for each in fitted if each.kind != FittingKind.STRINGS or each.key in noted_late]
    return fitted


def in_build(
    frame: Frame, build: str, wanted: Sequence[Fitting], axis_cm: float, sheet: SpecSheet | None = None
) -> BuildChange:
    """The frame's readings, or those of ``sheet``, converted into ``build``, with ``wanted`` fitted in it.

    Raises:
        PieceError, OutlineError: a fitting that cannot be on this frame; builds that nobody told apart.
    """
    sheet = sheet or frame.specs
    if sheet:
        require_distinct(frame, sheet.build, build)
    fitted = fitted_at(frame, sheet) if sheet else list(wanted)
    measured = sheet.measured if sheet else frame.measured
    return change_build(measured, fitted, wanted, outline=frame.outline, axis_cm=axis_cm)


def require_distinct(frame: Frame, one: str, other: str) -> None:
    """Refuse to convert a racket between bare and strung where nobody noted its strings.

    Raises:
        PieceError: without strings the two would come out equal, which no strung racket is.
    """
    is_over_strings = (one == Build.BARE) != (other == Build.BARE)
    has_strings = any(fitting.kind == FittingKind.STRINGS for fitting in frame.fittings.all())
    if frame.is_racket and is_over_strings and Build.MIX not in (one, other) and not has_strings:
        raise PieceError(
            "The strings of this racket are unknown, so it cannot be converted. Add them: gauge and material will do.",
            code="strings_unknown",
        )


def same_build(frame: Frame, sheet: SpecSheet, wanted: Sequence[Fitting]) -> bool:
    """Whether a sheet was read with just these fittings on."""
    return {f.key for f in fitted_at(frame, sheet)} == {f.key for f in wanted}
