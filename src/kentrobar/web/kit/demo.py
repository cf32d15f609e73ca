"""The demo: the Saltmarsh Rackets Club, its frames and its plans. All of it invented."""

from __future__ import annotations

from typing import NamedTuple

from django.db import transaction

from kentrobar.core.estimates import NOT_MEASURED, Estimate, Quantity
from kentrobar.core.outline import PaddleDimensions, RacketDimensions, head_from_size
from kentrobar.core.specs import MeasuredSpecs
from kentrobar.core.units import CM2_PER_IN2
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.services import create_frame, plain_typing, record_specs
from kentrobar.web.materials.models import Material
from kentrobar.web.planning.actions import Hand, act
from kentrobar.web.planning.board import Board
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.services import create_plan, save_board
from kentrobar.web.shops.models import Shop, User
from kentrobar.web.shops.services import open_shop

SIGN_IN = ("technician", "saltmarsh")


class _Racket(NamedTuple):
    label: str
    player: str
    mark: str
    head_in2: float
    beam_mm: float
    specs: tuple[float, float, float | None, float | None]  # g, cm, SW at 10 cm, TW
    build: str = "playing"
    notes: str = ""
    length_cm: float = 68.58


class _Paddle(NamedTuple):
    label: str
    player: str
    mark: str
    size_cm: tuple[float, float, float]  # length, width, handle
    thickness_mm: float
    specs: tuple[float, float, float | None, float | None]  # g, cm, SW at 5 cm, TW
    notes: str = ""


RACKETS = [
    _Racket("Reed 100 A1", "Ines", "IN-1", 100, 23, (308.6, 31.8, 305.0, 13.9),
            notes="Her favourite. The other two should play like this one."),
    _Racket("Reed 100 A2", "Ines", "IN-2", 100, 23, (304.9, 32.1, 301.2, 13.7)),
    _Racket("Reed 100 A3", "Ines", "IN-3", 100, 23, (306.3, 31.5, 297.8, 13.6)),
    _Racket("Reed 100 A4", "club", "417", 100, 23, (310.0, 32.4, 318.0, 13.6)),
    _Racket("Sedge 98 Tour", "Tobias", "TB red", 98, 21.5, (326.4, 31.4, 312.5, 13.2),
            notes="Wants it steadier on off-centre hits; grip size must stay."),
    _Racket("Sedge 98 Tour spare", "Tobias", "TB blue", 98, 21.5, (321.0, 31.9, 309.8, 12.9)),
    _Racket("Teasel 104 Light", "Wanda", "88", 104, 26, (279.5, 33.4, 295.6, 14.8),
            notes="Volleys feel late. Nothing heavier than 290 g."),
    _Racket("Curlew Junior 26", "Pim", "PIM", 100, 23, (246.2, 31.6, 240.3, 11.4),
            length_cm=66.0),
    _Racket("Marram 97 Players", "Odile", "OD 2", 97, 20, (331.8, 31.1, 318.7, 12.6), "strung",
            "Read strung, before the overgrip."),
    _Racket("Glasswort 100", "Bram", "0031", 100, 25, (301.4, 32.6, None, None),
            notes="Only scale and ruler at hand; the machine was away."),
]  # fmt: skip

PADDLES = [
    _Paddle("Mudlark 16", "Rosa", "R1", (41.9, 19.0, 13.3), 16, (225.0, 23.8, 112.0, 6.1),
            "Too quick to twist on blocks near the edge."),
    _Paddle("Mudlark 16 second", "Rosa", "R2", (41.9, 19.0, 13.3), 16, (221.4, 23.6, 108.4, 5.9)),
    _Paddle("Plover 14 Elongated", "Gus", "G", (42.5, 18.7, 14.0), 14, (231.3, 24.6, 121.5, 5.6)),
    _Paddle("Samphire Wide", "Lena", "LE 5", (40.0, 20.3, 12.5), 13, (218.0, 22.5, 98.0, 6.9)),
    _Paddle("Oyster Control", "Matthis", "M", (41.0, 19.5, 13.0), 16, (236.8, 23.3, None, None),
            "Weighed on the kitchen scale, 8 3/8 oz."),
]  # fmt: skip

_Step = tuple[str, str, str, bool]  # material, amount, site, both sides

PLANS: list[tuple[str, str, list[_Step]]] = [
    ("Reed 100 A2", "Up to the favourite", [
        ("Lead tape, quarter inch", "8 cm", "three_nine", True),
        ("Removable putty", "2.5 g", "butt_cap", False),
    ]),
    ("Reed 100 A3", "Swing weight first, balance after", [
        ("Lead tape, quarter inch", "12 cm", "twelve", True),
        ("Removable putty", "1.5 g", "cavity", False),
    ]),
    ("Sedge 98 Tour", "Steadier off centre", [
        ("Lead tape, half inch", "7 cm", "three_nine", True),
        ("Tungsten putty", "4 g", "butt_cap", False),
    ]),
    ("Teasel 104 Light", "Quicker at the net", [
        ("Tungsten putty", "6 g", "butt_cap", False),
        ("Removable putty", "3 g", "cavity", False),
    ]),
    ("Mudlark 16", "Wider sweet spot", [
        ("Tungsten tape", "6 cm", "sides", True),
        ("Tungsten tape", "3 cm", "top_corners", True),
        ("Removable putty", "2 g", "butt_cap", False),
    ]),
    ("Plover 14 Elongated", "A little less head", [
        ("Grip sleeve", "16 g", "handle_middle", False),
        ("Lead tape, quarter inch", "5 cm", "shoulders", True),
    ]),
    ("Glasswort 100", "Changes only, no machine", [
        ("Lead tape, quarter inch", "6 cm", "ten_two", True),
    ]),
]  # fmt: skip


@transaction.atomic
def load_demo() -> User:
    """Make the club, its technician, frames and plans. Answers the technician."""
    username, password = SIGN_IN
    technician = User.objects.create_user(username, password=password, first_name="Saltmarsh")
    shop = open_shop("Saltmarsh Rackets Club", technician)
    frames = {racket.label: _take_racket(shop, racket, technician) for racket in RACKETS}
    frames |= {paddle.label: _take_paddle(shop, paddle, technician) for paddle in PADDLES}
    for label, name, steps in PLANS:
        lay_plan(frames[label], name, steps, technician)
    return technician


def _take_racket(shop: Shop, racket: _Racket, by: User) -> Frame:
    size = racket.head_in2 * CM2_PER_IN2
    head_length, head_width = head_from_size(size)
    dimensions = RacketDimensions(
        length_cm=racket.length_cm,
        head_length_cm=round(head_length, 1),
        head_width_cm=round(head_width, 1),
        beam_mm=racket.beam_mm,
        handle_length_cm=18.0,
        head_size_cm2=size,
    )
    typed = {"head_size": {"text": f"{racket.head_in2:g}", "unit": "in²"}}
    frame = create_frame(shop, about=_about(racket), dimensions=dimensions, typed=typed)
    _record(frame, racket.specs, 10.0, racket.build, by)
    return frame


def _take_paddle(shop: Shop, paddle: _Paddle, by: User) -> Frame:
    length, width, handle = paddle.size_cm
    dimensions = PaddleDimensions(
        length_cm=length,
        width_cm=width,
        handle_length_cm=handle,
        thickness_mm=paddle.thickness_mm,
    )
    frame = create_frame(shop, about=_about(paddle), dimensions=dimensions, typed={})
    _record(frame, paddle.specs, 5.0, "playing", by)
    return frame


def _about(frame: _Racket | _Paddle) -> dict[str, str]:
    return {name: getattr(frame, name) for name in ("label", "player", "mark", "notes")}


def _record(
    frame: Frame,
    specs: tuple[float, float, float | None, float | None],
    axis_cm: float,
    build: str,
    by: User,
) -> None:
    mass_g, balance_cm, swingweight, twistweight = specs
    measured = MeasuredSpecs(
        mass_g=Estimate(mass_g, 0.1),
        balance_cm=Estimate(balance_cm, 0.05),
        swingweight_kgcm2=_read(swingweight, 1.0),
        axis_cm=axis_cm,
        twistweight_kgcm2=_read(twistweight, 0.2),
    )
    record_specs(frame, measured, build, plain_typing(measured), by)


def _read(value: float | None, u: float) -> Quantity:
    return NOT_MEASURED if value is None else Estimate(value, u)


def lay_plan(frame: Frame, name: str, steps: list[_Step], by: User) -> Plan:
    """A plan laid step by step, as a hand on the board would."""
    shelf = {material.name: material for material in Material.objects.filter(shop=frame.shop_id)}
    by_pk = {material.pk: material for material in shelf.values()}
    hand = Hand(by.units, by_pk.__getitem__)
    plan = create_plan(frame, by, name=name)
    for material, amount, site, mirrored in steps:
        parameters = {
            "material": str(shelf[material].pk),
            "amount": amount,
            "site": site,
            "mirrored": "1" if mirrored else "",
        }
        board, summary = act(Board.of(plan), "add", parameters, hand)
        save_board(plan, board, plan.version, summary, by)
    return plan
