"""A plan under a hit: the frame as it is and with what is laid, the zones of both, what is told of them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import Final, NamedTuple

from kentrobar.core.editing.plan import PlanState
from kentrobar.core.frame.outline import Outline
from kentrobar.core.play.impact import Ball, FreeBody, HitFrame, StrokeSwing, require_swing
from kentrobar.core.play.maps import FaceMap, Measure, face_map
from kentrobar.core.play.strokes import HOLD_CM, falling_off, swing_of
from kentrobar.core.play.sweet_zone import (
    HittingFace,
    SweetZone,
    hitting_face,
    zone_of_rebound,
    zone_of_speed,
)
from kentrobar.core.play.zone_plans import hit_frame_of
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.frames.baselines import baseline_of, ready_to_play
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.play.impact.asking import HitChoice

MISS_CM: Final = 3.0  # beside the long axis: a hit that a player calls off centre
_NONE: Final = float("nan")


class ImpactFigures(NamedTuple):
    """What is told of a frame under a hit, each with its ±; NaN where there is no zone."""

    zone_y_cm: Estimate
    zone_height_cm: Estimate
    zone_width_cm: Estimate
    middle_ball_ms: Estimate
    middle_mass_g: Estimate
    miss_rad_s: Estimate
    percussion_cm: Estimate


@dataclass(frozen=True)
class Setting:
    """A stroke made with frames of one outline."""

    outline: Outline
    choice: HitChoice

    @property
    def face(self) -> HittingFace:
        return hitting_face(self.outline)

    def swing(self, body: FreeBody) -> StrokeSwing:
        """The stroke's swing of a body: the middle of the face comes as fast, whatever is laid."""
        return swing_of(self.choice.face_ms, body, self.outline, self.choice.axis_cm.value)

    def turning_at(self, axis_cm: float) -> Setting:
        """The same stroke about another axis, taken as known."""
        return replace(self, choice=self.choice._replace(axis_cm=Estimate(axis_cm)))

    @cached_property
    def ball(self) -> Ball:
        """The ball that was chosen, off this face, which gives less toward the frame."""
        return falling_off(self.choice.ball, self.outline.sport, self.face)

    def zone(self, body: FreeBody) -> SweetZone | None:
        """Where ball speed, or else rebound, is near its best."""
        if self.choice.measure is Measure.BALL_SPEED:
            return zone_of_speed(body, self.ball, self.swing(body), self.face)
        return zone_of_rebound(body, self.ball, self.face)

    def map_of(self, body: FreeBody) -> FaceMap:
        """The measure asked for over the face."""
        return face_map(self.choice.measure, body, self.ball, self.swing(body), self.face)

    def numbers(self, body: FreeBody) -> Sequence[float]:
        """What is told of a body, in the order of :class:`ImpactFigures`."""
        middle, ball = self.outline.centre_y_cm, self.ball
        swing, zone = self.swing(body), self.zone(body)
        size = (zone.y_cm, zone.height_cm, zone.width_cm) if zone else (_NONE,) * 3
        return [
            *size,
            float(body.ball_speed_ms(ball, swing, 0.0, middle)),
            float(body.effective_mass_g(0.0, middle)),
            float(body.twist_rad_s(ball, swing, MISS_CM, middle)),
            body.percussion_cm(HOLD_CM[self.outline.sport]),
        ]


@lru_cache(maxsize=256)
def figures_of(setting: Setting, frame: HitFrame) -> ImpactFigures:
    """The numbers of one frame under the hit; kept, since a moving hand asks for the unstrung frame's again."""
    found = frame.estimates(setting.numbers)
    axis_cm = setting.choice.axis_cm
    if not axis_cm.u:
        return ImpactFigures(*found)
    ends = (axis_cm.value - axis_cm.u, axis_cm.value + axis_cm.u)
    behind, before = (setting.turning_at(end).numbers(frame.body) for end in ends)
    by_axis = [abs(far - near) / 2 for far, near in zip(behind, before, strict=True)]
    return ImpactFigures(
        *(Estimate(e.value, math.hypot(e.u, by)) for e, by in zip(found, by_axis, strict=True))
    )


@dataclass(frozen=True)
class Impact:
    """One plan looked at with one stroke."""

    plan: PlanState
    setting: Setting
    before: HitFrame
    after: HitFrame

    @property
    def choice(self) -> HitChoice:
        return self.setting.choice

    @property
    def is_changed(self) -> bool:
        return bool(self.plan.placed)

    @property
    def shows_before(self) -> bool:
        return self.choice.shown == "before"

    @property
    def is_difference(self) -> bool:
        return self.choice.shown == "change" and self.is_changed

    @property
    def shown_body(self) -> FreeBody:
        """The body whose zone and centre of percussion the map shows."""
        return (self.before if self.shows_before else self.after).body

    @cached_property
    def map(self) -> FaceMap:
        """What is shown: with the plan, without it, or what it changes."""
        found = self.setting.map_of(self.shown_body)
        if self.is_difference:
            return found.minus(self.setting.map_of(self.before.body))
        return found

    @property
    def figures_before(self) -> ImpactFigures:
        """The numbers of the frame as it is."""
        return figures_of(self.setting, self.before)

    @property
    def figures_after(self) -> ImpactFigures:
        """The numbers of the frame with the plan."""
        return figures_of(self.setting, self.after)


def bare_plan(frame: Frame) -> PlanState:
    """A frame ready to play, on the readings that count; asks its fittings, which may be fetched before.

    Raises:
        PieceError: it was read in another setup, and what it takes to turn it was never noted.
    """
    return ready_plan(plan_as_read(frame), frame, frame.specs)


def plan_as_read(frame: Frame) -> PlanState:
    """A frame with nothing on it, in the setup it was read in; asks its fittings."""
    return PlanState(baseline_of(frame, frame.specs), frame.label, frame.measured.axis_cm)


def ready_plan(plan: PlanState, frame: Frame, sheet: SpecSheet | None) -> PlanState:
    """A plan on the readings of ``sheet``, on its frame ready to play. Raises as :func:`bare_plan`."""
    return replace(plan, baseline=ready_to_play(plan.baseline, frame, sheet))


def impact_of(plan: PlanState, choice: HitChoice) -> Impact:
    """A plan under a hit.

    Raises:
        SpecError: a spec that a hit needs was not read, or a swing about the balance point.
    """
    before, after = hit_frame_of(replace(plan, placed=())), hit_frame_of(plan)
    setting = Setting(plan.outline, choice)
    for frame in (before, after):
        require_swing(frame.body, setting.swing(frame.body))
    return Impact(plan, setting, before, after)
