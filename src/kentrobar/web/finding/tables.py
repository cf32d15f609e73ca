"""Every table of a shop as it is taken out: its name, its heads, its rows; base units, named in the heads."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import datetime
from types import MappingProxyType
from typing import Any, Final, NamedTuple

from django.db.models import QuerySet
from django.utils import timezone

from kentrobar.core.body.specs import READ
from kentrobar.exchange.tables import Cell
from kentrobar.web.bench.models import BenchEvent, RollFinding
from kentrobar.web.frames.models import Frame, SpecSheet, spread_columns
from kentrobar.web.frames.queries import frames_of
from kentrobar.web.matching.queries import sets_of
from kentrobar.web.materials.queries import materials_of
from kentrobar.web.measuring.models import Reading
from kentrobar.web.measuring.queries import instruments_of
from kentrobar.web.orders.models import QUALITIES, SignOff
from kentrobar.web.orders.queries import jobs_of, play_tests_of
from kentrobar.web.planning.queries import plans_of
from kentrobar.web.shops.models import Client, User

Row = Sequence[Cell]

_SPEC_COLUMNS: Final = tuple(column for spec in READ for column in spread_columns(spec))
_SPEC_HEADS: Final = tuple(
    head for spec in READ for head in (f"{spec.noun}, {spec.unit}", f"± of {spec.noun}, {spec.unit}")
)


class Table(NamedTuple):
    """One table: its title, its heads, the rows of a person's shop, how each is written."""

    title: str
    heads: Sequence[str]
    rows: Callable[[User], Iterable[Any]]
    written: Callable[[Any], Row]


def _day(moment: datetime | None) -> str | None:
    return None if moment is None else timezone.localtime(moment).strftime("%Y-%m-%d %H:%M")


def frame_row(frame: Frame) -> Row:
    """A frame with the readings that count."""
    sheet = frame.specs
    return [
        frame.label,
        frame.player,
        frame.model.name if frame.model else "",
        frame.mark,
        frame.colour,
        frame.get_sport_display(),
        frame.length_cm,
        sheet.setup_text if sheet else "",
        *_specs(sheet),
        _day(sheet.taken_at) if sheet else None,
        frame.notes,
    ]


def _specs(sheet: SpecSheet | None) -> list[Cell]:
    if sheet is None:
        return [None] * (len(_SPEC_COLUMNS) + 1)
    return [*(getattr(sheet, column) for column in _SPEC_COLUMNS), sheet.axis_cm]


def _sheets(user: User) -> QuerySet[SpecSheet]:
    return SpecSheet.objects.filter(frame__shop=user.shop_id).select_related("frame", "taken_by")


def _readings(user: User) -> QuerySet[Reading]:
    of_shop = Reading.objects.filter(sheet__frame__shop=user.shop_id)
    return of_shop.select_related("sheet__frame", "sheet__taken_by", "instrument")


def _steps(user: User) -> QuerySet[BenchEvent]:
    of_shop = BenchEvent.objects.filter(work__plan__shop=user.shop_id)
    return of_shop.select_related("work__plan__frame", "made_by")


_FRAME_HEADS: Final = (
    "frame",
    "player",
    "model",
    "mark",
    "colour",
    "sport",
    "length, cm",
    "read in",
    *_SPEC_HEADS,
    "swing axis, cm",
    "read at",
    "notes",
)

TABLES: Final[Mapping[str, Table]] = MappingProxyType(
    {
        "frames": Table("Frames", _FRAME_HEADS, frames_of, frame_row),
        "specs": Table(
            "Specs over time",
            ("frame", "build", *_SPEC_HEADS, "swing axis, cm", "taken at", "by"),
            _sheets,
            lambda s: [s.frame.label, s.setup_text, *_specs(s), _day(s.taken_at), str(s.taken_by or "")],
        ),
        "readings": Table(
            "Single readings",
            (
                "frame",
                "spec",
                "number",
                "as typed",
                "unit",
                "value",
                "left out",
                "instrument",
                "taken at",
                "by",
            ),
            _readings,
            lambda r: [
                r.sheet.frame.label,
                r.spec,
                r.number,
                r.text,
                r.unit,
                r.value,
                r.left_out,
                str(r.instrument or ""),
                _day(r.sheet.taken_at),
                str(r.sheet.taken_by or ""),
            ],
        ),
        "clients": Table(
            "Clients",
            ("client", "notes", "since"),
            lambda user: Client.objects.filter(shop=user.shop_id),
            lambda c: [c.name, c.notes, _day(c.created_at)],
        ),
        "jobs": Table(
            "Jobs",
            (
                "number",
                "client",
                "to be done",
                "promised",
                "waiting for",
                "material",
                "work",
                "taken at",
                "handed over",
                "called off",
                "notes",
            ),
            jobs_of,
            lambda j: [
                j.number,
                str(j.client or ""),
                j.brief,
                str(j.promised_on or ""),
                j.waiting_for,
                _money(j.price_material),
                _money(j.price_time),
                _day(j.created_at),
                _day(j.handed_over_at),
                _day(j.called_off_at),
                j.notes,
            ],
        ),
        "plans": Table(
            "Plans",
            ("plan", "frame", "player", "pieces", "swing axis, cm", "changed", "archived"),
            plans_of,
            lambda p: [
                p.name,
                p.frame.label,
                p.frame.player,
                len(p.pieces),
                p.axis_cm,
                _day(p.changed_at),
                _day(p.archived_at),
            ],
        ),
        "sets": Table(
            "Sets",
            ("set", "made like", "build", "swing axis, cm", "changed", "archived"),
            sets_of,
            lambda s: [
                s.name,
                s.get_kind_display(),
                s.setup_text,
                s.target.axis_cm,
                _day(s.changed_at),
                _day(s.archived_at),
            ],
        ),
        "steps": Table(
            "Steps at the bench",
            ("frame", "plan", "step", "piece", "done at", "by"),
            _steps,
            lambda e: [
                e.work.plan.frame.label,
                e.work.plan.name,
                e.get_kind_display(),
                e.piece,
                _day(e.made_at),
                str(e.made_by or ""),
            ],
        ),
        "sign-offs": Table(
            "Sign-offs",
            ("frame", "job", "signed off by", "chance", "remark", "at"),
            lambda user: SignOff.objects.filter(member__job__shop=user.shop_id).select_related(
                "member__frame", "member__job"
            ),
            lambda s: [
                s.member.frame.label,
                s.member.job.number,
                s.signed_as,
                s.chance,
                s.remark,
                _day(s.made_at),
            ],
        ),
        "play-tests": Table(
            "Player feedback",
            ("frame", "beside", "felt", *QUALITIES, "words", "blind", "at"),
            play_tests_of,
            lambda t: [
                t.frame.label,
                str(t.other or ""),
                t.get_alike_display(),
                *(t.ratings.get(quality) for quality in QUALITIES),
                t.words,
                t.is_blind,
                _day(t.made_at),
            ],
        ),
        "materials": Table(
            "Materials",
            (
                "material",
                "kind",
                "g/cm",
                "± of g/cm",
                "g/cm³",
                "g each",
                "price of a package",
                "left",
                "note",
            ),
            materials_of,
            lambda m: [
                m.name,
                m.get_kind_display(),
                m.g_per_cm,
                m.g_per_cm_u,
                m.density_g_cm3,
                m.each_g,
                _money(m.price),
                m.left_amount,
                m.note,
            ],
        ),
        "rolls": Table(
            "Insights into rolls",
            ("material", "frame", "taken for, g/cm", "factor", "±", "at"),
            lambda user: RollFinding.objects.filter(material__shop=user.shop_id).select_related(
                "material", "work__plan__frame"
            ),
            lambda f: [
                f.material.name,
                f.work.plan.frame.label,
                f.g_per_cm,
                f.factor,
                f.factor_u,
                _day(f.made_at),
            ],
        ),
        "instruments": Table(
            "Instruments",
            ("instrument", "kind", "smallest step", "scatter", "calibrated", "put away"),
            instruments_of,
            lambda i: [
                i.name,
                i.get_kind_display(),
                i.resolution,
                i.repeatability,
                _day(i.latest.taken_at) if i.latest else None,
                i.is_put_away,
            ],
        ),
    }
)


def _money(price: object) -> str | None:
    return None if price is None else str(price)
