"""The demo: the Saltmarsh Rackets Club, its frames, plans and sets. All of it invented."""

from __future__ import annotations

import re
from datetime import timedelta
from decimal import Decimal
from typing import Any, NamedTuple

from django.db import transaction
from django.utils import timezone

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.body.specs import READ
from kentrobar.core.frame.outline import PaddleDimensions, RacketDimensions, head_from_size
from kentrobar.core.quantities.estimates import Estimate, Quantity
from kentrobar.core.quantities.units import CM2_PER_IN2
from kentrobar.core.reading.calibration import Finds, KnownBody, calibrate, rod_inertia_kgcm2
from kentrobar.web.frames.builds import fittings_in
from kentrobar.web.frames.models import Frame
from kentrobar.web.frames.services import (
    create_frame,
    fit_accessories,
    model_named,
    state_figures,
    string_with,
)
from kentrobar.web.kit.quantities import Typed
from kentrobar.web.matching.services import ask, create_set
from kentrobar.web.materials.models import Accessory, Material
from kentrobar.web.materials.queries import shelf_of
from kentrobar.web.materials.services import change_stock
from kentrobar.web.measuring.instruments.starting import connect_simulated_bench
from kentrobar.web.measuring.models import Calibration, Instrument
from kentrobar.web.measuring.services import TakenReading, Taking, record, record_calibration
from kentrobar.web.planning.board.actions import act
from kentrobar.web.planning.board.parameters import ActionRequest
from kentrobar.web.planning.models import Plan
from kentrobar.web.planning.services import create_plan, save_plan
from kentrobar.web.planning.stored import plan_state
from kentrobar.web.shops.models import Shop, User
from kentrobar.web.welcome.opening import open_shop

SIGN_IN = ("technician", "saltmarsh")


_Specs = tuple[float, float, float | None, float | None]


class Racket(NamedTuple):
    """A racket of the club; its specs in g, cm, kg·cm² about 10 cm, kg·cm² of twist."""

    label: str
    player: str
    mark: str
    head_in2: float
    beam_mm: float
    specs: _Specs | None  # g, cm, SW at 10 cm, TW
    build: str = "playing"
    notes: str = ""
    length_cm: float = 68.58
    complaint: str = ""
    must_keep: str = ""
    ceiling_g: float | None = None


class _Paddle(NamedTuple):
    label: str
    player: str
    mark: str
    size_cm: tuple[float, float, float]  # length, width, handle
    thickness_mm: float
    specs: _Specs | None  # g, cm, SW at 5 cm, TW
    notes: str = ""


GRIP_MM = 111.1  # 4 3/8 in

RACKETS = [
    Racket(
        "Reed 100 A1",
        "Ines",
        "IN-1",
        100,
        23,
        (308.6, 31.8, 305.0, 13.9),
        notes="Her favourite. The other two should play like this one.",
    ),
    Racket("Reed 100 A2", "Ines", "IN-2", 100, 23, (304.9, 32.1, 301.2, 13.7)),
    Racket("Reed 100 A3", "Ines", "IN-3", 100, 23, (306.3, 31.5, 297.8, 13.6)),
    Racket("Reed 100 A4", "club", "417", 100, 23, (310.0, 32.4, 318.0, 13.6)),
    Racket(
        "Reed 100 A5",
        "club",
        "418",
        100,
        23,
        None,
        notes="Just come in; it lies on the bench and nobody has read it yet.",
    ),
    Racket(
        "Sedge 98 Tour",
        "Tobias",
        "TB red",
        98,
        21.5,
        (326.4, 31.4, 312.5, 13.2),
        complaint="Flutters on off-centre hits.",
        must_keep="Grip size.",
    ),
    Racket("Sedge 98 Tour spare", "Tobias", "TB blue", 98, 21.5, (321.0, 31.9, 309.8, 12.9)),
    Racket(
        "Teasel 104 Light",
        "Wanda",
        "88",
        104,
        26,
        (279.5, 33.4, 295.6, 14.8),
        complaint="Volleys feel late.",
        ceiling_g=290.0,
    ),
    Racket("Curlew Junior 26", "Pim", "PIM", 100, 23, (246.2, 31.6, 240.3, 11.4), length_cm=66.0),
    Racket(
        "Marram 97 Players",
        "Odile",
        "OD 2",
        97,
        20,
        (331.8, 31.1, 318.7, 12.6),
        "strung",
        "Read strung, before the overgrip.",
    ),
    Racket(
        "Glasswort 100",
        "Bram",
        "0031",
        100,
        25,
        (301.4, 32.6, None, None),
        notes="Only scale and ruler at hand; the machine was away.",
    ),
]

# Six rackets of the team as they were delivered, and three that cannot be made alike.
TEAM = [
    Racket(f"Bittern 99 T{i}", "team", f"T{i}", 99, 22.5, specs)
    for i, specs in enumerate(
        [
            (309.6, 32.05, 306.3, 13.4),
            (306.9, 32.35, 307.9, 13.5),
            (311.8, 31.95, 308.8, 13.6),
            (305.2, 32.30, 304.1, 13.3),
            (308.1, 32.45, 310.6, 13.5),
            (307.4, 32.00, 303.5, 13.4),
        ],
        1,
    )
]
UNLIKE = [
    Racket("Dunlin 102 old", "Maren", "M old", 102, 24, (318.4, 33.6, 337.0, 14.9)),
    Racket("Dunlin 102 new", "Maren", "M new", 102, 24, (299.2, 31.2, 288.5, 13.2)),
    Racket("Dunlin 102 newer", "Maren", "M newer", 102, 24, (297.6, 31.5, 287.1, 13.1)),
]

# Sets that do not match yet: name, frames by label, what they are made like.
SETS: list[tuple[str, list[str], str]] = [
    ("Team rackets, season", [f"Bittern 99 T{i}" for i in range(1, 7)], "least"),
    ("Ines: three to play alike", ["Reed 100 A1", "Reed 100 A2", "Reed 100 A3"], "frame"),
    ("Maren: old and new", ["Dunlin 102 new", "Dunlin 102 newer", "Dunlin 102 old"], "frame"),
]

PADDLES = [
    _Paddle(
        "Mudlark 16",
        "Rosa",
        "R1",
        (41.9, 19.0, 13.3),
        16,
        (225.0, 23.8, 112.0, 6.1),
        "Too quick to twist on blocks near the edge.",
    ),
    _Paddle("Mudlark 16 second", "Rosa", "R2", (41.9, 19.0, 13.3), 16, (221.4, 23.6, 108.4, 5.9)),
    _Paddle("Plover 14 Elongated", "Gus", "G", (42.5, 18.7, 14.0), 14, (231.3, 24.6, 121.5, 5.6)),
    _Paddle("Samphire Wide", "Lena", "LE 5", (40.0, 20.3, 12.5), 13, (218.0, 22.5, 98.0, 6.9)),
    _Paddle(
        "Oyster Control",
        "Matthis",
        "M",
        (41.0, 19.5, 13.0),
        16,
        (236.8, 23.3, None, None),
        "Weighed on the kitchen scale, 8 3/8 oz.",
    ),
]

# Material, price of a package, and what is left: cm of tape, g of putty, pieces.
SHELF = [
    ("Lead tape, quarter inch", "14.00", 640.0),
    ("Lead tape, half inch", "3.20", 121.9),
    ("Tungsten tape", "9.50", 45.7),
    ("Copper tape", "6.00", 310.0),
    ("Protective edge tape", "8.00", 220.0),
    ("Tungsten putty", "19.00", 21.0),
    ("Removable putty", "4.00", 48.0),
    ("Silicone", "7.50", 80.0),
    ("Overgrip", "6.00", 11.0),
    ("Leather grip", "16.00", 2.0),
    ("Cotton plug", "2.00", 34.0),
]

Step = tuple[str, str, str, bool]  # material, amount, site, both sides

PLANS: list[tuple[str, str, list[Step]]] = [
    (
        "Reed 100 A2",
        "Up to the favourite",
        [
            ("Lead tape, quarter inch", "8 cm", "three_nine", True),
            ("Removable putty", "2.5 g", "butt_cap", False),
        ],
    ),
    (
        "Reed 100 A3",
        "Swing weight first, balance after",
        [("Lead tape, quarter inch", "12 cm", "twelve", True), ("Removable putty", "1.5 g", "cavity", False)],
    ),
    (
        "Sedge 98 Tour",
        "Steadier off centre",
        [("Lead tape, half inch", "7 cm", "three_nine", True), ("Tungsten putty", "4 g", "butt_cap", False)],
    ),
    (
        "Teasel 104 Light",
        "Quicker at the net",
        [("Tungsten putty", "6 g", "butt_cap", False), ("Removable putty", "3 g", "cavity", False)],
    ),
    (
        "Mudlark 16",
        "Wider sweet spot",
        [
            ("Tungsten tape", "6 cm", "sides", True),
            ("Tungsten tape", "3 cm", "top_corners", True),
            ("Removable putty", "2 g", "butt_cap", False),
        ],
    ),
    (
        "Plover 14 Elongated",
        "A little less head",
        [
            ("Grip sleeve", "16 g", "handle_middle", False),
            ("Lead tape, quarter inch", "5 cm", "bottom_corners", True),
        ],
    ),
    ("Glasswort 100", "Changes only, no machine", [("Lead tape, quarter inch", "6 cm", "ten_two", True)]),
]


@transaction.atomic
def load_demo() -> User:
    """Make the club, its technician, frames and plans. Answers the technician."""
    username, password = SIGN_IN
    technician = User.objects.create_user(username, password=password, first_name="Saltmarsh")
    shop = open_shop("Saltmarsh Rackets Club", technician)
    shop.latitude_deg, shop.altitude_m = 53.4, 4.0
    shop.price_of_an_hour = Decimal(38)
    shop.save()
    connect_simulated_bench(shop)
    _calibrate_club_machine(shop, technician)
    _state_models(shop)
    _count_shelf(shop, technician)
    frames = {racket.label: take_racket(shop, racket, technician) for racket in (*RACKETS, *TEAM, *UNLIKE)}
    frames |= {paddle.label: _take_paddle(shop, paddle, technician) for paddle in PADDLES}
    for label, name, steps in PLANS:
        lay_plan(frames[label], name, steps, technician)
    for name, labels, kind in SETS:
        _make_set(name, [frames[label] for label in labels], kind, technician)
    return technician


def _make_set(name: str, frames: list[Frame], kind: str, by: User) -> None:
    """A set of frames; where it is made like one of them, like the first."""
    made = create_set(frames, by, name)
    chosen = {"favourite_id": frames[0].pk} if kind == "frame" else {}
    ask(made, made.version, kind=kind, **chosen)


def _calibrate_club_machine(shop: Shop, by: User) -> None:
    """Three calibrations with two rods over a season; the last is overdue."""
    machine = Instrument.objects.get(shop=shop, name="Swing-weight machine")
    rods = [rod_inertia_kgcm2(420, 80), rod_inertia_kgcm2(310, 100)]
    today = timezone.now()
    for days_ago, scale, zero in ((560, 1.000, 0.2), (390, 1.004, 0.5), (230, 1.007, 0.9)):
        known = [KnownBody(truth, (truth - zero) / scale) for truth in rods]
        typed = [{"truth": k.truth, "reading": f"{k.reading:.1f}"} for k in known]
        made = record_calibration(machine, calibrate(known, 0.6, Finds.SCALE), typed, by)
        taken_at = today - timedelta(days=days_ago)
        Calibration.objects.filter(pk=made.pk).update(taken_at=taken_at)


def _count_shelf(shop: Shop, by: User) -> None:
    """What the club paid, and what is left on the shelf."""
    for name, price, left in SHELF:
        material = Material.objects.get(shop=shop, name=name)
        material.price = price
        material.save()
        change_stock(material, "counted", left, by)


def _state_models(shop: Shop) -> None:
    """What the invented makers state of their models, strung frames without an overgrip bare."""
    for name, mass, balance, swing in (("Reed 100", 285, 32.0, 288), ("Sedge 98 Tour", 305, 31.0, 290)):
        model = model_named(shop, "tennis", name)
        if model:
            figures = MeasuredSpecs(Estimate(mass), Estimate(balance), Estimate(swing), 10.0)
            state_figures(model, figures, "bare", {})


def take_racket(shop: Shop, racket: Racket, by: User) -> Frame:
    """Take a racket in, fitted, strung and read."""
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
    about = _about(shop, racket, "tennis") | {
        "mains": 16,
        "crosses": 19,
        "complaint": racket.complaint,
        "must_keep": racket.must_keep,
        "ceiling_g": racket.ceiling_g,
        "grip_mm": GRIP_MM,
        "handle_build": "hollow",
        "blocked": "6T, 8T" if racket.head_in2 == 100 else "",
        "post_hold": "centre" if racket.beam_mm > 23 else "offset",
    }
    frame = create_frame(shop, about=about, dimensions=dimensions, typed=typed)
    _fit(frame, ("bumper", "butt_cap", "grip", "overgrip", "dampener"))
    string_with(frame, "polyester", Typed("1.25", "mm", 0.125))
    _record(frame, racket.specs, 10.0, racket.build, by)
    return frame


def _take_paddle(shop: Shop, paddle: _Paddle, by: User) -> Frame:
    length, width, handle = paddle.size_cm
    dimensions = PaddleDimensions(
        length_cm=length, width_cm=width, handle_length_cm=handle, thickness_mm=paddle.thickness_mm
    )
    about = _about(shop, paddle, "pickleball") | {"handle_build": "foam"}
    frame = create_frame(shop, about=about, dimensions=dimensions, typed={})
    _fit(frame, ("butt_cap", "grip", "overgrip", "edge_tape"))
    _record(frame, paddle.specs, 5.0, "playing", by)
    return frame


def _fit(frame: Frame, kinds: tuple[str, ...]) -> None:
    fit_accessories(frame, Accessory.objects.filter(shop=frame.shop_id, kind__in=kinds))


def _about(shop: Shop, frame: Racket | _Paddle, sport: str) -> dict[str, Any]:
    """What is said of a frame; its model is its name without the mark of one of several."""
    model = re.sub(r" ([ATH]\d|spare|second|old|new|newer)$", "", frame.label)
    said = {name: getattr(frame, name) for name in ("label", "player", "mark", "notes")}
    return said | {"model": model_named(shop, sport, model)}


def _record(frame: Frame, specs: _Specs | None, axis_cm: float, build: str, by: User) -> None:
    """Three readings of each spec, a little apart as readings are."""
    if specs is None:
        return
    apart = {"mass": 0.1, "balance": 0.05, "swingweight": 0.5, "twistweight": 0.05}
    us = {"mass": 0.1, "balance": 0.05, "swingweight": 1.0, "twistweight": 0.2}
    known: dict[str, Quantity] = {}
    readings = []
    for spec, value in zip(READ, specs, strict=True):
        if value is None:
            continue
        known[spec.key] = Estimate(value, us[spec.field])
        for step in (-1, 1, 0):
            text = f"{value + step * apart[spec.field]:.2f}"
            readings.append(TakenReading(spec.field, text, spec.unit, float(text)))
    keys = [fitting.key for fitting in fittings_in(frame, build)]
    record(frame, Taking(MeasuredSpecs.read_apart(known, axis_cm), build, readings, keys), by)
    frame.refresh_from_db()


def lay_plan(frame: Frame, name: str, steps: list[Step], by: User) -> Plan:
    """A plan laid step by step, as a hand on the board would."""
    shelf = shelf_of(by)
    keys = {stock.name: stock.key for stock in shelf}
    plan = create_plan(frame, by, name=name)
    for material, amount, site, mirrored in steps:
        parameters = {
            "material": str(keys[material]),
            "amount": amount,
            "site": site,
            "mirrored": "1" if mirrored else "",
        }
        chosen = ActionRequest(plan_state(plan), parameters, by.units, lambda: shelf)
        save_plan(plan, act("add", chosen), plan.version, by)
    return plan
