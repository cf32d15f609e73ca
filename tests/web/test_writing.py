"""Two writes at once: neither is lost, none counts twice, no row is left locked."""

import itertools
from concurrent.futures import ThreadPoolExecutor
from functools import partial

import pytest
from django.db import connection
from django.db.models import Sum
from django.forms import model_to_dict

from kentrobar.core.bench.steps import OrderOfWork
from kentrobar.core.quantities.errors import PieceError
from kentrobar.core.quantities.units import LINE_DENSITY
from kentrobar.web.frames import services as frames
from kentrobar.web.frames.models import Frame, SpecSheet
from kentrobar.web.kit.archive import set_archived
from kentrobar.web.kit.quantities import Typed
from kentrobar.web.kit.records import save_form
from kentrobar.web.matching.services import create_set
from kentrobar.web.materials import services as materials
from kentrobar.web.materials.models import Material, StockChange
from kentrobar.web.measuring.instruments.forms import InstrumentForm
from kentrobar.web.measuring.models import Instrument
from kentrobar.web.measuring.services import Taking, as_readings, record
from kentrobar.web.planning import services as plans
from kentrobar.web.planning.models import Plan
from kentrobar.web.shops.forms import PreferencesForm
from kentrobar.web.shops.models import User
from kentrobar.web.welcome.demo import lay_plan
from tests.web.conftest import new_frame, new_person

PAIRS = 12


def fresh(row):
    return type(row)._base_manager.get(pk=row.pk)


def edit(frame, notes="edited"):
    frames.change_frame(frame, about={"notes": notes}, dimensions=frame.dimensions, typed={})


def read(frame):
    measured = frame.measured
    record(frame, Taking(measured, "playing", as_readings(measured)), None)


def take_every_other_row(first, second, *rows):
    """Both writes begin from the rows as they were, in either order."""
    for one, other in ((first, second), (second, first)):
        held = [tuple(map(fresh, rows)) for _ in range(2)]
        one(*held[0])
        other(*held[1])


def test_an_edit_keeps_the_reading_beside_it(racket):
    seen = racket.specs_id
    take_every_other_row(lambda f: edit(f), read, racket)
    racket = fresh(racket)
    assert racket.notes == "edited"
    assert racket.spec_sheets.count() == 3
    assert racket.specs_id == max(sheet.pk for sheet in racket.spec_sheets.all()) > seen


def test_what_is_said_of_a_material_keeps_its_stock_and_weight(technician):
    tape = technician.shop.materials.get(name="Lead tape, quarter inch")
    weight = Typed("0.11", "g/cm", LINE_DENSITY.to_base(0.11, "g/cm"), None)
    writes = [
        lambda m: materials.change_stock(m, "counted", 336.0, technician),
        lambda m: materials.change_about(m, {"note": "from the new box"}),
        lambda m: materials.change_weight(m, weight),
    ]
    for first, second, third in itertools.permutations(writes):
        materials.change_stock(tape, "counted", 5.0, technician)
        materials.change_about(tape, {"note": ""})
        rows = [fresh(tape) for _ in range(3)]
        first(rows[0]), second(rows[1]), third(rows[2])
        now = fresh(tape)
        assert (now.left_amount, now.note) == (336.0, "from the new box")
        assert now.g_per_cm == pytest.approx(0.11)


def test_order_and_archive_of_a_plan_keep_what_was_laid(hand, plan, technician):
    held = fresh(plan)
    hand.lay()
    plans.set_order_of_work(held, OrderOfWork.AT_ONCE)
    set_archived(held, True)
    now = fresh(plan)
    assert len(now.pieces) == 1
    assert (now.version, now.order_of_work) == (2, "at_once")
    assert now.archived_at


def test_preferences_and_instruments_write_their_own_fields(technician):
    held = User.objects.get(pk=technician.pk)
    technician.set_password("another-long-password")
    technician.save()
    form = PreferencesForm(
        {
            "mass_unit": "oz",
            "length_unit": "in",
            "balance_unit": "pt",
            "inertia_unit": "kg·cm²",
            "theme": "dark",
        },
        instance=held,
    )
    assert form.is_valid(), form.errors
    save_form(form)
    now = fresh(technician)
    assert now.mass_unit == "oz"
    assert now.check_password("another-long-password")

    scale = Instrument.objects.filter(shop=technician.shop, kind="scale").first()
    typed = model_to_dict(scale) | {"name": "Old scale"}
    form = InstrumentForm({k: v for k, v in typed.items() if v is not None}, instance=fresh(scale))
    assert form.is_valid(), form.errors
    Instrument.objects.filter(pk=scale.pk).update(is_simulated=True)
    save_form(form)
    assert (fresh(scale).name, fresh(scale).is_simulated) == ("Old scale", True)


# -- truly at once ------------------------------------------------------------------------


@pytest.fixture
def together(transactional_db):
    """Runs calls at the same time, each on a connection of its own; answers what they raised."""

    def run(*calls):
        def one(call):
            try:
                call()
            except PieceError as error:
                return error.code
            finally:
                connection.close()
            return ""

        return list(pool.map(one, calls))

    with ThreadPoolExecutor(2) as pool:
        yield run


def test_pairs_of_writes_at_once_lose_and_double_nothing(together):
    technician = new_person("hand")
    racket = new_frame(technician)
    tape = technician.shop.materials.get(name="Lead tape, quarter inch")
    materials.change_stock(tape, "counted", 1000.0, technician)
    before = SpecSheet.objects.count()
    for number in range(PAIRS):
        for calls in (
            [partial(edit, fresh(racket), f"note {number}"), partial(read, fresh(racket))],
            [partial(read, fresh(racket)) for _ in range(2)],
            [partial(materials.change_stock, fresh(tape), "cut", 3.0, technician) for _ in range(2)],
        ):
            assert together(*calls) == ["", ""]
    frame = Frame.objects.get(pk=racket.pk)
    assert frame.notes == f"note {PAIRS - 1}"
    assert SpecSheet.objects.count() == before + 3 * PAIRS
    # Each reading replaces the one before it, in one unbroken line to the one that counts.
    chain, sheet = 0, frame.specs
    while sheet:
        chain, sheet = chain + 1, sheet.replaces
    assert chain == SpecSheet.objects.filter(frame=frame).count()
    assert Material.objects.get(pk=tape.pk).left_amount == pytest.approx(1000 - 6 * PAIRS)
    cut = StockChange.objects.filter(material=tape, why="cut").aggregate(all=Sum("amount"))["all"]
    assert cut == pytest.approx(-6 * PAIRS)


def test_a_plan_is_cut_once_and_a_frame_strung_once_however_often_it_is_sent(together):
    technician = new_person("hand")
    racket = new_frame(technician)
    plan = lay_plan(racket, "Tip", [("Lead tape, quarter inch", "10 cm", "twelve", False)], technician)
    tape = technician.shop.materials.get(name="Lead tape, quarter inch")
    materials.change_stock(tape, "counted", 100.0, technician)
    strings = {"label": "Strings", "mass_g": 16.0, "mass_u_g": 0.5}
    for _ in range(10):
        Plan.objects.update(cut_revision=None)
        left = fresh(tape).left_amount
        takes = [partial(plans.take_from_stock, fresh(plan), technician) for _ in range(2)]
        assert sorted(together(*takes)) == ["", "cut_already"]
        assert fresh(tape).left_amount == pytest.approx(left - 10, abs=1e-6)
        restrings = [partial(frames.restring, fresh(racket), **strings) for _ in range(2)]
        assert together(*restrings) == ["", ""]
        assert racket.fittings.filter(kind="strings", is_on=True).count() == 1


@pytest.mark.parametrize("noun", ["frames", "plans", "sets", "materials", "materials/fittings"])
def test_archiving_sent_twice_is_done_once(client, racket, plan, technician, noun):
    """Both clicks of a double click say the same, so the second brings nothing back."""
    shop = technician.shop
    row = {
        "frames": lambda: racket,
        "plans": lambda: plan,
        "sets": lambda: create_set([racket, new_frame(technician, "Another")], technician),
        "materials": lambda: shop.materials.first(),
        "materials/fittings": lambda: shop.accessories.first(),
    }[noun]()
    for says, is_archived in (("1", True), ("0", False)):
        for _ in range(2):
            client.post(f"/{noun}/{row.pk}/archive", {"archived": says})
            assert fresh(row).is_archived is is_archived
    client.post(f"/{noun}/{row.pk}/archive", {"archived": "1"})
    since = fresh(row).archived_at
    client.post(f"/{noun}/{row.pk}/archive", {"archived": "1"})
    assert fresh(row).archived_at == since
