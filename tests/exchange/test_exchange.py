"""kentrobar/1: reading, refusing, answering, and the command line round it."""

import ctypes
import io
import json
import math
import sys
from pathlib import Path

import pytest
from hypothesis import assume, given

from kentrobar import cli
from kentrobar.core.solving import set_plans
from kentrobar.core.solving.matching import Match, Reason
from kentrobar.core.weight.pieces import effect_of
from kentrobar.exchange import convert, models
from kentrobar.exchange.documents import answer_predict
from kentrobar.exchange.reading import DocumentError, read_document
from tests.core.frames import RACKET, pieces

DOCS = Path(__file__).resolve().parents[2] / "docs"


def request(**changes):
    frame = {
        "label": "Reed 100 A4",
        "sport": "tennis",
        "length_cm": 68.58,
        "outline": {"head_length_cm": 34.5, "head_width_cm": 26.0, "beam_mm": 23},
        "measured": {
            "build": "playing",
            "mass_g": {"value": 310.0, "u": 0.1},
            "balance_cm": {"value": 32.4, "u": 0.1},
            "swingweight_kgcm2": {"value": 318.0, "u": 1.0, "axis_cm": 10.0},
            "twistweight_kgcm2": {"value": 13.6, "u": 0.2},
        },
    }
    laid = [
        {"kind": "point", "mass_g": 1.5, "y_cm": 52.0, "x_cm": 12.2, "mirrored": True, "label": "head"},
        {"kind": "point", "mass_g": 4.0, "y_cm": 1.8, "label": "butt"},
    ]
    return {"format": "kentrobar/1", "frame": frame, "pieces": laid, "axis_cm": 10.0} | changes


def strip_at(at, **options):
    return {"kind": "rim", "at": at, "length_cm": 10, "g_per_cm": 0.1, "mirrored": True} | options


def predict(document):
    data = document if isinstance(document, bytes) else json.dumps(document).encode()
    return answer_predict(read_document(data, models.PredictRequest))


def test_worked_numbers_through_the_format():
    answer = predict(request())
    assert answer.after.mass_g.value == pytest.approx(317.0)
    assert answer.after.balance_cm.value == pytest.approx(32.1994, abs=5e-5)
    assert answer.after.swingweight_kgcm2.value == pytest.approx(323.5610, abs=5e-5)
    assert answer.after.twistweight_kgcm2.value == pytest.approx(14.0465, abs=5.1e-5)
    assert answer.after.recoil_kgcm2.value == pytest.approx(167.3396, abs=5e-5)
    assert answer.before.points_headlight.value == pytest.approx(5.9528, abs=5e-5)
    assert [piece.label for piece in answer.pieces] == ["head", "butt"]


def test_missing_swing_weight_gives_changes_only():
    document = request()
    del document["frame"]["measured"]["swingweight_kgcm2"]
    answer = predict(document)
    assert answer.before.swingweight_kgcm2 is None
    assert answer.change.swingweight_kgcm2.value == pytest.approx(5.56096)
    assert answer.change.swingweight_kgcm2.axis_cm == 10.0


@given(pieces)
def test_pieces_survive_the_format(piece):
    """Written and read back, a piece moves no moment by more than the clock's rounding.

    But for a pair whose strips lie on each other: the rounding may part it, and it is objected to.
    """
    assume(not effect_of(piece, RACKET).overlaps)
    document = convert.piece_document(piece).model_dump_json(exclude_none=True)
    again = convert.piece(
        models.PredictRequest.model_validate(request(pieces=[json.loads(document)])).pieces[0]
    )
    assert effect_of(again, RACKET).moments == pytest.approx(
        effect_of(piece, RACKET).moments, rel=1e-5, abs=1e-3
    )


def test_bench_defaults_fill_what_is_not_stated():
    answer = predict(request(pieces=[strip_at({"clock": "3:00"})]))
    assert answer.change.mass_g.u == pytest.approx(((2 * 0.02) ** 2 + 2 * 0.01**2) ** 0.5, rel=0.3)
    assert predict(request(pieces=[strip_at({"y_cm": 52.0}, mass_g=1, g_per_cm=None)]))


BAD = {
    "wrong format name": (request(format="kentrobar/2"), "format", "must be"),
    "unknown key": (request(colour="red"), "colour", "not a key"),
    "misspelt key": (request(pieces=[strip_at({"clok": "3:00"})]), "pieces.0.at.clok", "not a key"),
    "missing key": ({"format": "kentrobar/1"}, "frame", "missing"),
    "no number": (request(axis_cm="ten"), "axis_cm", "number"),
    "bad clock": (request(pieces=[strip_at({"clock": "13:00"})]), "pieces.0.at", "clock position"),
    "too long": (request(pieces=[strip_at({"clock": "3:00"}, length_cm=150)]), "pieces.0.length_cm", "rim"),
    "negative mass": (
        request(pieces=[{"kind": "point", "mass_g": -1, "y_cm": 3}]),
        "pieces.0.mass_g",
        "above|more than 0",
    ),
    "weight twice": (
        request(pieces=[strip_at({"clock": "3:00"}, mass_g=1)]),
        "pieces.0.g_per_cm",
        "not both",
    ),
    "unknown kind": (request(pieces=[{"kind": "blob"}]), "pieces.0", "point"),
    "paddle bumper": (
        request(
            frame={"sport": "pickleball", "length_cm": 41.9, "outline": {"width_cm": 19}},
            pieces=[strip_at({"clock": "1:00"}, face="bumper")],
        ),
        "pieces.0.face",
        "bumper",
    ),
}


@pytest.mark.parametrize(("document", "path", "sentence"), BAD.values(), ids=BAD.keys())
def test_bad_documents_name_path_and_fix(document, path, sentence):
    with pytest.raises(DocumentError, match=sentence) as refused:
        predict(document)
    assert refused.value.field == path
    assert "\n" not in refused.value.message


@pytest.mark.parametrize(
    ("data", "sentence"),
    [
        (b"{", "not valid JSON"),
        (b"", "not valid JSON"),
        (b"[" * 100_000, "not valid JSON"),
        (b"\xff\xfe{}", "not valid JSON"),
        (b" " * 2_000_001, "MB"),
        (json.dumps(request(axis_cm=float("nan"))).encode(), "NaN"),
        (json.dumps(request(axis_cm=float("inf"))).encode(), "NaN or infinity"),
        (json.dumps(request()).replace("310.0", "1e999").encode(), "NaN or infinity"),
    ],
)
def test_hostile_documents_are_refused_in_one_sentence(data, sentence):
    with pytest.raises(DocumentError, match=sentence):
        predict(data)


def test_impossible_frame_names_its_reading():
    document = request()
    document["frame"]["measured"]["swingweight_kgcm2"]["value"] = 1318
    with pytest.raises(DocumentError, match=r"^frame.measured.swingweight_kgcm2: ") as refused:
        predict(document)
    assert "518.9" in refused.value.message


def run(monkeypatch, capsys, data, *arguments):
    monkeypatch.setattr(sys, "stdin", io.TextIOWrapper(io.BytesIO(data)))
    status = cli.main(arguments)
    return status, capsys.readouterr()


def test_command_line_reads_standard_input_and_prints_the_answer(monkeypatch, capsys):
    data = json.dumps(request()).encode()
    status, printed = run(monkeypatch, capsys, data, "predict", "-")
    assert status == 0
    assert json.loads(printed.out)["after"]["swingweight_kgcm2"]["value"] == pytest.approx(323.56096)
    assert printed.err == ""


def test_command_line_refuses_with_2_and_one_line(monkeypatch, capsys, tmp_path):
    status, printed = run(monkeypatch, capsys, b'{"format": 1}', "predict", "-")
    assert (status, printed.out) == (2, "")
    assert printed.err.count("\n") == 1
    assert printed.err.startswith("format: ")
    status, printed = run(monkeypatch, capsys, b"", "predict", str(tmp_path / "none.json"))
    assert status == 2
    assert "No such file" in printed.err
    huge = tmp_path / "huge.json"
    with huge.open("wb") as file:
        file.truncate(50_000_000)
    status, printed = run(monkeypatch, capsys, b"", "predict", str(huge))
    assert (status, "MB" in printed.err) == (2, True)


def test_shipped_schema_is_that_of_the_models():
    shipped = json.loads((DOCS / "kentrobar-1.schema.json").read_text())
    assert shipped == json.loads(json.dumps(cli.schema()))


HANGING = {
    "format": "kentrobar/1",
    "mass_g": 300.0,
    "balance_cm": {"value": 32.0, "u": 0.05},
    "hang_cm": 65.0,
    "gravity_cms2": 980.665,
    "axis_cm": 10.0,
}


def swing(monkeypatch, capsys, **changes):
    data = json.dumps({k: v for k, v in (HANGING | changes).items() if v is not None}).encode()
    return run(monkeypatch, capsys, data, "pendulum", "-")


def test_pendulum_answers_the_worked_number(monkeypatch, capsys):
    status, printed = swing(monkeypatch, capsys, period_s=1.37)
    answer = json.loads(printed.out)
    assert status == 0
    assert answer["swingweight_kgcm2"]["value"] == pytest.approx(280.0697, abs=5e-5)
    assert answer["swingweight_kgcm2"]["axis_cm"] == 10.0
    assert answer["recoil_kgcm2"]["value"] == pytest.approx(134.8697, abs=5e-5)
    several = json.loads(swing(monkeypatch, capsys, periods_s=[1.36, 1.37, 1.38])[1].out)
    assert several["swingweight_kgcm2"]["value"] == pytest.approx(280.0697, abs=5e-5)
    assert several["swingweight_kgcm2"]["u"] > answer["swingweight_kgcm2"]["u"]


@pytest.mark.parametrize(
    ("changes", "line"),
    [
        ({}, "document: give either period_s or periods_s"),
        ({"period_s": 1.37, "latitude_deg": 50}, "document: give either gravity"),
        ({"period_s": 0.9}, "period_s: A period of 0.9"),
        ({"periods_s": [0.9]}, "periods_s: A period of 0.9"),
        ({"periods_s": []}, "periods_s: "),
        ({"period_s": 1.37, "hang_cm": 32.1}, "hang_cm: A frame that hangs"),
        ({"period_s": 1.37, "gravity_cms2": None, "latitude_deg": 95}, "latitude_deg: Latitude"),
        ({"period_s": 1.37, "holder": {"mass_g": 1}}, "holder.centre_cm: "),
        ({"period": 1.37}, "period: “period” is not a key"),
    ],
)
def test_pendulum_refuses_in_one_line(monkeypatch, capsys, changes, line):
    status, printed = swing(monkeypatch, capsys, **changes)
    assert (status, printed.out, printed.err.count("\n")) == (2, "", 1)
    assert printed.err.startswith(line)


def test_a_recording_is_answered_or_refused_with_its_reason(monkeypatch, capsys):
    t = [i / 50 for i in range(1000)]
    rows = "\n".join(f"{at:.2f};{math.sin(4.5 * at):.4f}".replace(".", ",") for at in t)
    status, printed = run(monkeypatch, capsys, f"time;gyro (rad/s)\n{rows}".encode(), "recording", "-")
    answer = json.loads(printed.out)
    assert status == 0
    assert answer["period_s"]["value"] == pytest.approx(2 * math.pi / 4.5, abs=1e-3)
    assert answer["amplitude_deg"]["value"] == pytest.approx(math.degrees(1 / 4.5), rel=0.01)
    assert (answer["signal"], answer["notes"]) == ("gyro (rad/s)", [])
    passes = "\n".join(f"{0.7 * i:.3f}" for i in range(20)).encode()
    gate = json.loads(run(monkeypatch, capsys, passes, "recording", "-")[1].out)
    assert gate["period_s"]["value"] == pytest.approx(1.4)
    assert (gate["signal"], gate["amplitude_deg"]) == ("passes", None)
    assert "there and back" in gate["notes"][-1]
    status, printed = run(monkeypatch, capsys, b"one\ntwo\n", "recording", "-")
    assert (status, printed.out, printed.err.count("\n")) == (2, "", 1)


SPARE = {
    "label": "A2",
    "sport": "tennis",
    "length_cm": 68.58,
    "outline": {"head_length_cm": 34.5, "head_width_cm": 26.0},
    "measured": {
        "mass_g": 304.9,
        "balance_cm": 32.1,
        "twistweight_kgcm2": 13.7,
        "swingweight_kgcm2": {"value": 301.2, "axis_cm": 10},
    },
}
FAVOURITE = SPARE | {
    "label": "A1",
    "measured": {
        "mass_g": 308.6,
        "balance_cm": 31.8,
        "twistweight_kgcm2": 13.9,
        "swingweight_kgcm2": {"value": 305.0, "axis_cm": 10},
    },
}
MATCH = {
    "format": "kentrobar/1",
    "frames": [SPARE],
    "target": {"mass_g": 308.6, "balance_cm": 31.8, "swingweight_kgcm2": {"value": 305, "axis_cm": 10}},
    "sites": [
        {
            "label": "3 and 9",
            "kind": "rim",
            "from": {"clock": "2:00"},
            "to": {"clock": "4:00"},
            "mirrored": True,
            "g_per_cm": 0.1,
            "step_cm": 0.5,
        },
        {"label": "butt cap", "kind": "point", "y_cm": 1.2, "step_g": 0.1},
    ],
}


def matched(monkeypatch, capsys, **changes):
    data = json.dumps(MATCH | changes).encode()
    return run(monkeypatch, capsys, data, "match", "-")


def test_match_meets_its_target_and_predicts_the_same(monkeypatch, capsys):
    status, printed = matched(monkeypatch, capsys)
    answer = json.loads(printed.out)
    assert (status, answer["status"]) == (0, "optimal")
    (frame,) = answer["frames"]
    assert frame["after"]["mass_g"]["value"] == pytest.approx(308.6, abs=1)
    assert frame["after"]["balance_cm"]["value"] == pytest.approx(31.8, abs=0.1)
    assert frame["after"]["swingweight_kgcm2"]["value"] == pytest.approx(305, abs=1)
    assert answer["proven_lower_bound_g"] == pytest.approx(answer["added_mass_g"], abs=1e-3)
    # The pieces it prints are a document of their own.
    pieces = [{k: v for k, v in p.items() if v is not None} for p in frame["pieces"]]
    again = predict({"format": "kentrobar/1", "frame": SPARE, "pieces": pieces, "axis_cm": 10})
    assert again.after.swingweight_kgcm2.value == frame["after"]["swingweight_kgcm2"]["value"]


def test_match_to_a_frame_by_its_label_or_to_another_axis(monkeypatch, capsys):
    both = {"frames": [FAVOURITE, SPARE], "target": {"label": "A1"}}
    answer = json.loads(matched(monkeypatch, capsys, **both)[1].out)
    assert answer["target"]["mass_g"] == 308.6
    assert answer["frames"][0]["pieces"] == []
    assert answer["frames"][1]["pieces"]
    inch = MATCH["target"] | {"swingweight_kgcm2": {"value": 302.68, "axis_cm": 10.16}}
    turned = json.loads(matched(monkeypatch, capsys, target=inch)[1].out)
    assert turned["target"]["swingweight_kgcm2"]["value"] == pytest.approx(304.84, abs=0.02)
    alone = json.loads(matched(monkeypatch, capsys, target=None)[1].out)
    assert (alone["status"], alone["added_mass_g"]) == ("optimal", 0)


def test_a_set_without_a_target_is_made_alike_with_the_least_weight(monkeypatch, capsys):
    """To a target that is chosen too, or to each other; never with more than to a favourite."""
    both = {"frames": [FAVOURITE, SPARE], "target": None}
    free = json.loads(matched(monkeypatch, capsys, **both)[1].out)
    assert free["status"] == "optimal"
    to_favourite = json.loads(matched(monkeypatch, capsys, **both | {"target": {"label": "A1"}})[1].out)
    assert free["added_mass_g"] <= to_favourite["added_mass_g"]
    assert free["proven_lower_bound_g"] <= free["added_mass_g"]
    for spec, within in (("mass_g", 1), ("balance_cm", 0.1), ("swingweight_kgcm2", 1)):
        at = free["target"][spec] if spec != "swingweight_kgcm2" else free["target"][spec]["value"]
        for frame in free["frames"]:
            assert frame["after"][spec]["value"] == pytest.approx(at, abs=within + 1e-5)
    mutual = json.loads(matched(monkeypatch, capsys, **both, within="each_other")[1].out)
    one, other = (frame["after"] for frame in mutual["frames"])
    assert abs(one["mass_g"]["value"] - other["mass_g"]["value"]) <= 1 + 1e-5
    assert mutual["added_mass_g"] >= free["added_mass_g"]
    light = SPARE | {"measured": {"mass_g": 280}}
    odd = both | {"frames": [FAVOURITE, light], "tolerance": {"swingweight_kgcm2": 1}}
    status, printed = matched(monkeypatch, capsys, **odd)
    assert (status, printed.err[:43]) == (2, "frames.1.measured.swingweight_kgcm2: the sw")


def test_the_surest_plan_reaches_its_chance_with_the_least_weight(monkeypatch, capsys):
    """Deeper within the band than the lightest; where no plan does, it says why."""
    read = {
        "mass_g": {"value": 304.9, "u": 0.1},
        "balance_cm": {"value": 32.1, "u": 0.02},
        "swingweight_kgcm2": {"value": 301.2, "u": 0.3, "axis_cm": 10},
    }
    more = [
        {"label": name, "kind": "point", "y_cm": y, "step_g": 0.05} for name, y in (("top", 15), ("tip", 67))
    ]
    target = {"mass_g": 312, "balance_cm": 32.0, "swingweight_kgcm2": {"value": 309, "axis_cm": 10}}
    sure = {"frames": [SPARE | {"measured": read}], "seconds": 20.0, "target": target}
    sure |= {"sites": MATCH["sites"] + more}
    lightest = json.loads(matched(monkeypatch, capsys, **sure)[1].out)
    surest = json.loads(matched(monkeypatch, capsys, **sure, objective="surest")[1].out)
    assert lightest["chance"] < 0.8
    assert surest["chance"] >= 0.95
    assert surest["added_mass_g"] > lightest["added_mass_g"]
    assert surest["proven_lower_bound_g"] == lightest["proven_lower_bound_g"]
    assert (lightest["status"], surest["status"]) == ("optimal", "feasible")
    half = json.loads(matched(monkeypatch, capsys, **sure, objective="surest", chance=0.85)[1].out)
    assert lightest["added_mass_g"] <= half["added_mass_g"] <= surest["added_mass_g"]
    assert half["chance"] >= 0.85
    enough = lightest["chance"] - 0.01
    asked = matched(monkeypatch, capsys, **sure, objective="surest", chance=enough)[1].out
    assert json.loads(asked) == lightest
    coarse = json.loads(matched(monkeypatch, capsys, objective="surest", seconds=20.0)[1].out)
    assert coarse["chance"] < 0.95
    assert "The mean of 7 readings would do" in coarse["reasons"][-1]
    cramped = sure | {"sites": MATCH["sites"], "target": MATCH["target"]}
    few = json.loads(matched(monkeypatch, capsys, **cramped, objective="surest")[1].out)
    assert "allow more sites" in few["reasons"][-1]
    pair = {
        "frames": [FAVOURITE | {"measured": read | {"mass_g": 308.6}}, SPARE | {"measured": read}],
        "target": None,
        "seconds": 20.0,
        "sites": sure["sites"],
    }
    alike, surely = (
        json.loads(matched(monkeypatch, capsys, **pair, objective=each)[1].out)
        for each in ("lightest", "surest")
    )
    assert surely["chance"] >= 0.95 > alike["chance"]
    assert surely["added_mass_g"] >= alike["added_mass_g"]


def test_what_time_ran_out_on_is_not_called_infeasible(monkeypatch, capsys):
    """Neither plan nor proof is undecided; a plan without its proof is feasible."""
    for answer, status in (
        (Match(False, reason=Reason(()), is_proven=False), "undecided"),
        (Match(True, added_g=1.0, lower_bound_g=0.5, is_proven=False), "feasible"),
        (Match(False, reason=Reason(("mass_g",))), "infeasible"),
    ):
        with monkeypatch.context() as patched:
            patched.setattr(set_plans, "match", lambda *_, answer=answer, **__: answer)
            printed = json.loads(matched(monkeypatch, capsys)[1].out)
        assert printed["status"] == status
        assert status == "feasible" or printed["reasons"]


def test_match_says_why_not(monkeypatch, capsys):
    light = {"mass_g": 290}
    status, printed = matched(monkeypatch, capsys, target=light)
    answer = json.loads(printed.out)
    assert (status, answer["status"]) == (0, "infeasible")
    assert "already" in answer["reasons"][0]


@pytest.mark.parametrize(
    ("changes", "line"),
    [
        ({"target": {"label": "B"}}, "target.label: no frame"),
        ({"frames": []}, "frames: "),
        ({"frames": [FAVOURITE, FAVOURITE]}, "frames.1.label: “A1” is the label of an earlier frame"),
        ({"frames": [FAVOURITE, SPARE | {"label": " "}]}, "frames.1.label: this frame has no label"),
        ({"tolerance": {"mass_g": -1}}, "tolerance.mass_g: "),
        ({"target": {"swingweight_kgcm2": {"value": 300, "axis_cm": 5}}}, "target.swingweight_kgcm2.axis_cm"),
        ({"sites": [{"label": "x", "kind": "point", "y_cm": 1, "step": 1}]}, "sites.0.step"),
    ],
)
def test_match_refuses_in_one_line(monkeypatch, capsys, changes, line):
    status, printed = matched(monkeypatch, capsys, **changes)
    assert (status, printed.out, printed.err.count("\n")) == (2, "", 1)
    assert printed.err.startswith(line)


def test_nothing_but_the_answer_reaches_standard_output(capfd):
    """A library may print past Python, into a buffer of its own."""
    with cli.silent_libraries():
        ctypes.CDLL(None).printf(b"noise of a solver\n")
    print("answer", flush=True)
    assert capfd.readouterr().out == "answer\n"


def test_a_file_takes_as_many_frames_as_the_largest_set_and_says_where_it_ends():
    def of(count):
        frames = [SPARE | {"label": f"Spare {i}"} for i in range(count)]
        return read_document(json.dumps(MATCH | {"frames": frames}).encode(), models.MatchRequest)

    assert len(of(60).frames) == 60
    with pytest.raises(DocumentError, match="frames"):
        of(101)
