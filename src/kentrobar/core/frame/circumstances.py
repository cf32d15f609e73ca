"""What is known of one frame that bears on where weight can lie: handle, bumper, what must stay clear."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Final, NamedTuple

from kentrobar.core.body.sport import Sport
from kentrobar.core.frame.anatomy import BUMPER_PART, OFFSET_POSTS_CM, POST_HALF_CM
from kentrobar.core.frame.blocked import BlockedStretch
from kentrobar.core.frame.outline import Outline
from kentrobar.core.frame.places import RimStretch
from kentrobar.core.frame.rim import Face, RimLine


class HandleBuild(StrEnum):
    UNKNOWN = "unknown"
    HOLLOW = "hollow"
    TRAP_DOOR = "trap_door"
    FOAM = "foam"
    FOAM_TRAP_DOOR = "foam_trap_door"

    @property
    def is_foam(self) -> bool:
        """Whether foam fills it, so that nothing else does."""
        return self in (HandleBuild.FOAM, HandleBuild.FOAM_TRAP_DOOR)

    @property
    def has_trap_door(self) -> bool:
        """Whether it opens without taking the cap off."""
        return self in (HandleBuild.TRAP_DOOR, HandleBuild.FOAM_TRAP_DOOR)

    @property
    def has_cavity(self) -> bool:
        """Whether it is known to be hollow."""
        return self in (HandleBuild.HOLLOW, HandleBuild.TRAP_DOOR)


class PostHold(StrEnum):
    """How the stringing machine holds the head."""

    UNKNOWN = "unknown"
    CENTRE = "centre"
    OFFSET = "offset"


@dataclass(frozen=True)
class Circumstances:
    """What is known of one frame that bears on where weight can lie.

    ``bumper_reach_cm`` is how far down bumper and grommet strip reach, from the butt; None: as usual.
    ``grip_mm`` is the circumference of the grip; None where nobody measured it.
    """

    handle: HandleBuild = HandleBuild.HOLLOW
    is_used: bool = False
    post: PostHold = PostHold.UNKNOWN
    blocked: tuple[BlockedStretch, ...] = ()
    bumper_reach_cm: float | None = None
    has_edge_tape: bool = False
    grip_mm: float | None = None


ANYWHERE: Final = Circumstances()


class KeepOut(NamedTuple):
    """A stretch of a rim line that should stay clear, by arc length, ``start`` ≤ ``end``."""

    start: float
    end: float
    code: str
    name: str


def keep_outs(circumstances: Circumstances, outline: Outline, face: Face) -> list[KeepOut]:
    """The stretches of one face's line that should stay clear of tape."""
    line = outline.rim(face)
    found = [_blocked(stretch, line) for stretch in circumstances.blocked]
    if outline.sport is Sport.TENNIS and face is Face.INNER:  # posts hold the hoop from inside
        centres = {PostHold.CENTRE: (0.0,), PostHold.OFFSET: (-OFFSET_POSTS_CM, OFFSET_POSTS_CM)}
        for centre in centres.get(circumstances.post, ()):
            name = "the machine’s post" if centre == 0 else "the machine’s retainers"
            found.append(KeepOut(centre - POST_HALF_CM, centre + POST_HALF_CM, "post", name))
    return found


def _blocked(stretch: BlockedStretch, line: RimLine) -> KeepOut:
    start, end = line.at_clock(stretch.from_min), line.at_clock(stretch.to_min)
    if end < start:
        end += line.length
    return KeepOut(start, end, "blocked", stretch.name)


def free_stretches(start: float, end: float, outs: Iterable[KeepOut], circuit_cm: float) -> list[RimStretch]:
    """What is left of a stretch beside the keep-outs; ``circuit_cm`` is the length of a closed line, or 0."""
    left = [RimStretch(start, end)]
    for out in outs:
        for shift in {-circuit_cm, 0.0, circuit_cm}:
            low, high = out.start + shift, out.end + shift
            left = [
                part
                for s, e in left
                for part in (RimStretch(s, min(e, low)), RimStretch(max(s, high), e))
                if part.end - part.start > 1e-6
            ]
    return sorted(left)


def both_sides(outs: Iterable[KeepOut]) -> list[KeepOut]:
    """The keep-outs of both sides: keeps left and right equal."""
    outs = list(outs)
    return outs + [out._replace(start=-out.end, end=-out.start) for out in outs]


def bumper_reach_s(circumstances: Circumstances, outline: Outline) -> float:
    """How far from the tip the bumper and grommet strip reach, by arc length."""
    line = outline.rim(Face.BUMPER)
    reach = circumstances.bumper_reach_cm
    bottom = line.point(line.half_length).y
    if reach is None or not bottom <= reach <= outline.length_cm:
        return BUMPER_PART * line.half_length
    return line.at_y(min(reach, line.point(0.0).y))
