"""Whatever is sent, the answer is a page, a refusal in words or a 404: never a 500, never for long."""

import json
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError, connection
from django.test import Client
from django.urls import reverse

from kentrobar.web.frames.models import Frame
from kentrobar.web.matching.services import create_set
from kentrobar.web.planning.board.actions import ACTIONS
from kentrobar.web.shops.models import Shop, User
from tests.web.conftest import new_frame, new_person
from tests.web.test_frames import RACKET, SPECS
from tests.web.test_intake import SHARED, SIX, rows
from tests.web.test_sets import form as set_form
from tests.web.typing_in import form_of

COUNT = 2  # over some fifty addresses and all actions; 60 was tried: 3,300 bodies

NASTY = [
    "",
    " ",
    "\x00",
    "a\x00b",
    "²",
    "٣",
    "½",
    "-1",
    "0",
    "1e999",
    "-1e999",
    "nan",
    "inf",
    "1e-320",
    "9" * 30,
    "9" * 5000,
    "1" * 27,
    "1" * 142,
    "1 " * 200,
    "1," * 300,
    "0x10",
    "1_000",
    "+5",
    "1.2.3",
    "'",
    '"',
    "<b>",
    "{{ 7 }}",
    "%s%n",
    "../../etc/passwd",
    "\ud83c".encode("utf-8", "replace").decode(),
    "𝟏𝟎",
    "\u202e10",
    "None",
    "true",
    "[]",
    "{}",
    '{"a":' * 500,
    "[" * 5000,
    "a" * 5000,
    "12:61",
    "25:00",
    "://",
    "//x.y",
    "\\",
    "http://[",
    "javascript:alert(1)",
    "10 g g",
    "g",
    "1/0",
    "1 1/0 in",
    "999999999999 km",
    "6T " * 100,
]


@pytest.fixture
def house(technician, racket, paddle, plan, hand):
    """Every address with what it is usually sent."""
    hand.lay()
    shop = technician.shop
    tape = shop.materials.get(name="Lead tape, quarter inch").pk
    grip = shop.accessories.get(kind="grip").pk
    machine = shop.instruments.filter(kind="machine").first().pk
    other = new_frame(technician, "Reed 100 B").pk
    pk, on = racket.pk, {"piece": 1, "base": 1}
    of = create_set([racket, Frame.objects.get(pk=other)], technician)
    aim = {
        "search": "plans",
        "goal": "hold",
        "mass_0": "312",
        "mass_1": "g",
        "mass_tolerance_0": "1",
        "swingweight_0": "300",
        "balance_0": "318",
        "balance_1": "mm",
        "axis_0": "10",
        "axis_1": "cm",
    }
    reading = {
        "build": "playing",
        "axis": "10",
        "axis_unit": "cm",
        "mass_1": "308",
        "mass_unit": "g",
        "balance_1": "318",
        "balance_unit": "mm",
        "swingweight_1": "300",
        "fitted": [1],
        "added": "1",
        "swingweight_instrument": machine,
        "mass_spread": "0.1",
    }
    timed = {
        "hang_0": "65",
        "hang_1": "cm",
        "taps": "[0, 1.4, 2.8, 4.2, 5.6]",
        "axis_0": "10",
        "axis_1": "cm",
        "instrument": "1",
        "amplitude": "5",
        "swings": "10",
        "period": "1.4",
    }
    gets = {
        "/frames/": {"q": "reed", "sport": "tennis", "page": "1", "per_page": "25", "sort": "label"},
        "/plans/": {"page": "1", "archived": ""},
        f"/frames/{pk}/fittings": {"build": "bare", "axis": "10 cm"},
        "/frames/take-in/tennis": {"model_name": "Reed", "player": "Ines"},
        "/measure/compare": {"frame": [pk, other], "build": "bare", "axis": "10 cm", "reference": pk},
        f"/plans/aim/{pk}": aim,
        f"/plans/possible/{pk}": {"most": "10 g", "second": "balance_cm", "mass": "312"},
        f"/plans/gram/{pk}": {"spec": "balance_cm", "gram": "1"},
        "/plans/compare": {"plan": [plan.pk, plan.pk]},
        f"/plans/{plan.pk}/parts": {"version": "2"},
        "/you/": {"next": "/frames/"},
        "/sets/": {"archived": ""},
        f"/sets/{of.pk}/costs": {"mass_g": "310", "balance_cm": "32", "swingweight_kgcm2": "318"},
        f"/measure/frames/{pk}/swing/pendulum": {"instrument": "1"},
        "/materials/new": {"kind": "lead_tape"},
        "/measure/instruments/board-plan": {
            "offset_0": "10",
            "offset_1": "cm",
            "rod_0": "60",
            "rod_1": "cm",
            "reading_0": "20",
            "turned_0": "20.2",
        },
    }
    posts = {
        "/frames/new/tennis": RACKET | SPECS,
        f"/frames/{pk}/edit": RACKET
        | {"grip_size": "L3", "pallet": "round", "ceiling_0": "330", "ceiling_1": "g"},
        "/frames/take-in/tennis": SHARED | rows(*SIX[:2]) | {"fitted": [grip]},
        f"/frames/{pk}/fittings": {
            "accessory": grip,
            "mass_0": "10",
            "mass_1": "g",
            "gauge_0": "1.25",
            "gauge_1": "mm",
            "material": "polyester",
            "y_0": "3",
            "label": "x",
        },
        f"/measure/frames/{pk}/": reading,
        f"/measure/frames/{pk}/summary": reading,
        f"/measure/frames/{pk}/swing/pendulum": timed,
        f"/measure/frames/{pk}/swing/pendulum/summary": timed,
        f"/measure/frames/{pk}/swing/cords": timed,
        f"/measure/instruments/{machine}/": {
            "name": "M",
            "resolution": "0.1",
            "repeatability": "0.4",
            "axis_cm": "10",
            "due_after_days": "90",
            "address": "",
            "pattern": "(?P<value>1)",
            "baud": "9600",
        },
        f"/measure/instruments/{machine}/calibrate": {"mass_1": "400", "length_1": "80", "reading_1": "209"},
        "/materials/new?kind=lead_tape": {
            "name": "T",
            "weight_0": "0.1",
            "weight_1": "g/cm",
            "weight_2": "0.01",
            "sold_0": "10",
            "sold_1": "m",
            "price": "3",
            "hardness": "soft",
            "undo": "clean",
            "note": "n",
        },
        f"/materials/{tape}/cuts": {"cuts": "20 cm 2.05 g\\n30 cm 3 g"},
        f"/materials/{tape}/stock": {"why": "bought", "amount_0": "10", "amount_1": "cm", "note": "x"},
        "/materials/fittings": {"kind": "grip", "name": "Thin"},
        f"/materials/fittings/{grip}/weigh": {
            f"a{grip}-weighings": "5.2 5.4 g",
            f"a{grip}-note": "dry",
            f"a{grip}-thickness": "0.6 mm",
        },
        "/materials/new?kind=copper_tape": {
            "name": "B",
            "rule": "2 in a gram",
            "sold_0": "8",
            "sold_1": "in",
        },
        "/plans/new": {"frame": pk},
        f"/plans/{plan.pk}/copy": {"revision": "1"},
        f"/plans/{plan.pk}/order": {"order": "at_once"},
        f"/plans/{plan.pk}/move": {"frame": other},
        f"/plans/{plan.pk}/change": {
            "action": "add",
            "base": "2",
            "mark": "m",
            "material": tape,
            "amount": "5 cm",
            "site": "twelve",
            "mirrored": "1",
            "face": "inner",
            "layers": "1",
            "place": "3:00",
            "y": "50",
        },
        f"/plans/{plan.pk}/preview": on | {"action": "drag", "x": "9", "y": "60"},
        f"/plans/aim/{pk}/lay": {"signed": "x"},
        "/frames/import": {"file": ""},
        "/you/": {
            "mass_unit": "g",
            "length_unit": "cm",
            "balance_unit": "mm",
            "theme": "dark",
            "next": "/frames/",
        },
        "/you/shop": {
            "name": "S",
            "latitude_deg": "50",
            "altitude_m": "3",
            "felt_mass_g": "2",
            "felt_balance_cm": "0.3",
            "felt_swingweight_kgcm2": "5",
            "felt_twistweight_kgcm2": "0.5",
        },
        "/sets/new": {"frame": [pk, other]},
        f"/sets/{of.pk}/": set_form(of),
        f"/sets/{of.pk}/preset": {"preset": "swing"},
        f"/sets/{of.pk}/name": {"name": "A"},
        f"/sets/{of.pk}/target": {"mass_g": "310", "balance_cm": "32"},
        f"/sets/{of.pk}/add": {"frame": pk},
        f"/sets/{of.pk}/within": {"mass_g": "2"},
        f"/sets/{of.pk}/search": {"way": "least"},
        f"/sets/{of.pk}/leave-out/{pk}": {"out": "1"},
        f"/sets/{of.pk}/all": {"on": grip, "blocked": "6T"},
        "/frames/take-in/pickleball": {"fill": "1", "pasted": "a\tWeight (g)\nb\t300", "column_0": "mark"},
        "/accounts/login/": {"login": "x", "password": "y"},
    }
    return gets, posts


def mutated(usual, random):
    """The usual content with one or two of its values, or one more, made nasty."""
    sent = dict(usual)
    for _ in range(random.integers(1, 3)):
        name = random.choice([*sent, "unheard"])
        nasty = str(random.choice(NASTY))
        sent[name] = [nasty, nasty] if random.random() < 0.1 else nasty
    return sent


def answers(send, address, usual, random, count):
    """The mutated contents of one address that broke it."""
    for _ in range(count):
        sent = mutated(usual, random)
        if send(address, sent).status_code >= 500:
            changed = {name: value for name, value in sent.items() if usual.get(name) != value}
            yield send.__name__, address, repr(changed)[:120]


def test_no_mutated_body_breaks_a_page(client, house):
    client.raise_request_exception = False
    random, broken = np.random.default_rng(0), []
    for send, addresses in zip((client.get, client.post), house, strict=True):
        for address, usual in addresses.items():
            broken += answers(send, address, usual, random, COUNT)
    assert not broken, "\n".join(map(str, broken))


def test_no_mutated_action_breaks_the_board(client, hand, plan):
    client.raise_request_exception = False
    random, broken = np.random.default_rng(18), []
    usual = {
        "piece": "1",
        "x": "9",
        "y": "60",
        "by_cm": "1",
        "toward": "tip",
        "steps": "1",
        "code": "",
        "amount": "2 cm",
        "value": "5 cm",
        "fix": "",
        "at": "",
        "fitting": "1",
        "mark": "m",
        "shelf": "",
        "material": hand.material["Lead tape, quarter inch"],
    }
    hand.lay()
    for action in ACTIONS:
        plan.refresh_from_db()
        sent = usual | {"action": action, "base": plan.version}
        for end in ("change", "preview"):
            broken += answers(client.post, f"/plans/{plan.pk}/{end}", sent, random, COUNT)
    assert not broken, "\n".join(map(str, broken))


@pytest.mark.parametrize(
    "content",
    [
        b"",
        b"\x00",
        b"\xff\xfe{}",
        b"[" * 100_000,
        b'{"a":' * 50_000,
        b"null",
        b"1e999",
        b"[]",
        b'"x"',
        b'{"format": "kentrobar/1"}',
        b'{"format": "kentrobar/1", "frame": {"label": "\\u0000"}, "pieces": []}',
        b'{"format": "kentrobar/1", "frame": 1, "pieces": {}}',
        b"9" * 10_000,
    ],
)
def test_no_file_breaks_the_import(client, content):
    client.raise_request_exception = False
    answer = client.post("/frames/import", {"file": SimpleUploadedFile("plan.json", content)})
    assert answer.status_code == 422


def test_a_document_whose_words_hold_a_nul_is_refused(client, plan):
    client.raise_request_exception = False
    document = json.loads(client.get(reverse("planning:export", args=[plan.pk])).content)
    document["frame"]["label"] = "a\x00b"
    file = SimpleUploadedFile("plan.json", json.dumps(document).encode())
    answer = client.post("/frames/import", {"file": file})
    assert answer.status_code == 422
    assert "frame.label" in answer.content.decode()


@pytest.mark.parametrize("key", ["0", "9" * 18, "9" * 19, "9" * 30, "9" * 5000, "-1", "²", "1.0", "%00"])
def test_an_address_of_nothing_is_not_found(client, key):
    for address in ("/frames/{}/", "/plans/{}/", "/materials/{}/", "/measure/frames/{}/", "/plans/aim/{}"):
        assert client.get(address.format(key)).status_code == 404


STRINGS = [
    ("orders:calendar", "x"),
    ("orders:label_page", "x"),
    ("play:play", "x"),
    ("measuring:new_instrument", "x"),
]


@pytest.mark.parametrize(("name", "part"), STRINGS)
def test_a_nul_in_an_address_is_refused(client, name, part):
    address = reverse(name, args=[part])
    assert client.get(address.replace("/x", "/x%00")).status_code == 400


@pytest.mark.parametrize("times", ["[" * 20_000, "[1" + "0" * 400 + "]", "[[1]]", '{"a": 1}', "[1, null]"])
@pytest.mark.parametrize("page", ["swing", "swing_summary"])
def test_swing_times_that_are_none_are_refused(client, racket, times, page):
    address = reverse(f"measuring:{page}", args=[racket.pk, "pendulum"])
    assert client.post(address, {"times": times, "hang_0": "65", "hang_1": "cm"}).status_code < 500


@pytest.mark.parametrize(
    ("address", "field"), [("/readings/", "file"), ("/frames/take-in/tennis", "pasted_file")]
)
def test_a_nul_in_a_table_is_refused(client, address, field):
    table = SimpleUploadedFile("a.csv", b"frame;weight\nA\x00;310\n")
    answer = client.post(address, {field: table, "fill": "1"})
    assert "save the table as CSV" in answer.content.decode()
    assert not Frame.objects.exists()


def test_a_database_that_is_away_is_told_so(client, racket, monkeypatch):
    """On every page, also on those that begin without it; nothing is said of an error of ours."""

    def away(*_args, **_more):
        raise OperationalError("connection refused")

    client.raise_request_exception = False
    monkeypatch.setattr("django.db.models.sql.compiler.SQLCompiler.execute_sql", away)
    for address in (reverse("frames:detail", args=[racket.pk]), reverse("orders:today"), "/accounts/login/"):
        for answer in (client.get(address), client.post(address, {"login": "a", "password": "b"})):
            assert (answer.status_code, answer.headers["Retry-After"]) == (503, "10"), address


NAMED = {
    "material": ("/materials/new?kind=copper_tape", {"name": "Copper", "weight_0": "0.1"}, "materials"),
    "instrument": ("/measure/instruments/new/scale", {"name": "Pocket scale"}, "instruments"),
    "client": ("/jobs/new", {"brief": "Make two alike", "client": "Wanda"}, "clients"),
    "fitting": ("/materials/fittings", {"name": "Thick grip", "kind": "grip"}, "accessories"),
}


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("what", NAMED)
def test_two_who_give_the_same_new_name_at_once(what):
    """Whichever comes second is told that the name is taken, or means what the first made."""
    address, typed, made = NAMED[what]
    person = new_person("hand")

    def signed_in():
        client = Client(raise_request_exception=False)
        client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
        return client

    pages = [signed_in() for _ in range(4)]
    sent = [form_of(page.get(address), next(iter(typed))) | typed for page in pages]
    before = getattr(person.shop, made).count()

    def send(page, form):
        try:
            return page.post(address, form).status_code
        finally:
            connection.close()

    with ThreadPoolExecutor(4) as pool:
        statuses = sorted(pool.map(send, pages, sent))
    assert getattr(person.shop, made).count() == before + 1
    assert set(statuses) <= {302, 422}
    assert statuses[0] == 302


@pytest.mark.django_db(transaction=True)
def test_two_who_sign_up_under_one_name_at_once():
    """One is in; the other is told that the name is taken."""
    typed = {
        "username": "reedwarbler",
        "password1": "a-long-password",
        "password2": "a-long-password",
        "shop_name": "Reedbed",
    }

    def sign_up(_):
        try:
            page = Client(raise_request_exception=False).post("/accounts/signup/", typed)
            return page.status_code
        finally:
            connection.close()

    with ThreadPoolExecutor(4) as pool:
        statuses = sorted(pool.map(sign_up, range(4)))
    assert statuses == [200, 200, 200, 302]
    assert User.objects.count() == Shop.objects.count() == 1
