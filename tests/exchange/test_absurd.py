"""Documents that no frame can be behind: refused in one line that names the path, or said to be unusual."""

import copy
import json

import pytest

from kentrobar.cli import DOCUMENTS as VERBS
from kentrobar.exchange.reading import DocumentError, read_document

RACKET = {
    "label": "A1",
    "sport": "tennis",
    "length_cm": 68.58,
    "outline": {"head_length_cm": 34.5, "head_width_cm": 26.0},
    "measured": {
        "mass_g": 310.0,
        "balance_cm": 32.4,
        "twistweight_kgcm2": 13.6,
        "swingweight_kgcm2": {"value": 318.0, "axis_cm": 10.0},
    },
}
PADDLE = {
    "label": "P1",
    "sport": "pickleball",
    "length_cm": 41.0,
    "outline": {"width_cm": 19.0},
    "measured": {
        "mass_g": 225.0,
        "balance_cm": 23.8,
        "twistweight_kgcm2": 6.2,
        "swingweight_kgcm2": {"value": 112.0, "axis_cm": 5.0},
    },
}
POINT = {"kind": "point", "mass_g": 2, "y_cm": 50}
STRIP = {"kind": "rim", "at": {"clock": "3:00"}, "length_cm": 8, "g_per_cm": 0.2, "mirrored": True}
SLEEVE = {"kind": "sleeve", "mass_g": 10, "from_cm": 1, "to_cm": 17}
DOCUMENTS = {
    "predict": {"format": "kentrobar/1", "frame": RACKET, "pieces": [POINT, STRIP, SLEEVE], "axis_cm": 10},
    "paddle": {"format": "kentrobar/1", "frame": PADDLE, "pieces": [POINT | {"y_cm": 30}], "axis_cm": 5},
    "pendulum": {
        "format": "kentrobar/1",
        "mass_g": 300,
        "balance_cm": 32,
        "hang_cm": 65,
        "periods_s": [1.36, 1.37],
        "amplitude_deg": 5,
        "gravity_cms2": 981.2,
        "axis_cm": 10,
        "holder": {"mass_g": 40, "centre_cm": 1.5, "inertia_kgcm2": 0.6},
    },
    "match": {
        "format": "kentrobar/1",
        "frames": [RACKET, RACKET | {"label": "A2"}],
        "axis_cm": 10,
        "target": {"mass_g": 314, "balance_cm": 32.4, "swingweight_kgcm2": {"value": 322, "axis_cm": 10}},
        "sites": [
            POINT | {"label": "tip", "y_cm": 67, "step_g": 0.1},
            {
                "label": "sides",
                "kind": "rim",
                "from": {"clock": "2:00"},
                "to": {"clock": "4:00"},
                "g_per_cm": 0.2,
            },
        ],
        "removals": [SLEEVE],
        "seconds": 5,
    },
    "rounds": {
        "format": "kentrobar/1",
        "frame": RACKET,
        "axis_cm": 10,
        "chance": 0.95,
        "target": {"mass_g": 315.2, "swingweight_kgcm2": {"value": 323, "axis_cm": 10}},
        "errors": {"density_rel": 0.02, "place_cm": 0.2, "length_cm": 0.1},
        "events": [
            {"laid": [{"id": "a", "piece": STRIP}, {"id": "b", "piece": POINT}]},
            {"read": {"mass_g": 315.3, "swingweight_kgcm2": {"value": 328.5, "axis_cm": 10}}},
            {"trimmed": {"id": "a", "length_cm": 7.5}},
            {"trimmed": {"id": "b", "mass_g": 1.5}},
            {"taken_off": "b"},
        ],
    },
    "impact": {
        "format": "kentrobar/1",
        "frame": RACKET,
        "pieces": [POINT, STRIP],
        "ball": {"mass_g": 57.7, "restitution": 0.85, "speed_ms": 15},
        "swing": {"speed_ms": 14, "axis_cm": 10},
        "points": [[0, 52], [4, 52.5]],
    },
    "trials": {
        "format": "kentrobar/1",
        "of": ["swingweight_kgcm2"],
        "setups": [
            {
                "label": f"{2 * i} g",
                "mass_g": 305 + 2 * i,
                "balance_cm": 31.8 + 0.1 * i,
                "swingweight_kgcm2": 302 + 4.5 * i,
            }
            for i in range(7)
        ],
        "answers": [{"a": "0 g", "b": "6 g", "said": "b"}, {"a": "12 g", "b": "6 g", "said": "same"}],
        "ratings": [{"setup": "4 g", "rated": 6}],
    },
}
del DOCUMENTS["match"]["sites"][0]["mass_g"]
PREDICT = json.dumps(DOCUMENTS["predict"])

# By document: path to the value that is changed, and what it becomes.
HOSTILE = {
    "predict": {
        "frame.length_cm": [True, "310", [310], {"value": "310"}, 680, 6.8, -68],
        "frame.measured.mass_g": [
            True,
            "310",
            [310],
            {"value": "310"},
            0,
            -310,
            5000,
            0.31,
            {"value": 310, "u": 500},
            {"value": 310, "u": -1},
        ],
        "pieces.0.y_cm": [True, "310", [310], {"value": "310"}, -1.5, 70.0],
        "axis_cm": [True, "310", [310], {"value": "310"}, 90, -30, 1000000000.0],
        "pieces.1.mirrored": ["yes", 1],
        "pieces.1.layers": [1.5, True, 7],
        "pieces.1.gap_cm": [-1],
        "pieces.0.x_cm": [14.5, -14.5],
        "pieces.0.z_cm": [3.0],
        "pieces.2.to_cm": [19.5, 0.5],
        "pieces.2.from_cm": [-2],
        "pieces.2.radius_cm": [3],
        "pieces.1.length_cm": [150, -3, {"value": 0}],
        "pieces.1.at": [{"y_cm": 20}, {"clock": "13:00"}, {"clock": "3:75"}],
        "frame.measured.balance_cm": [70, -3, 0],
        "frame.measured.swingweight_kgcm2.value": [1318, 150],
        "frame.measured.twistweight_kgcm2": [60, 0, 0.1],
        "pieces.0": [{"kind": "point", "mass_g": 190, "y_cm": 60, "removed": True}],
        "pieces": [
            [
                {"kind": "point", "mass_g": 160, "y_cm": 30, "removed": True},
                {"kind": "point", "mass_g": 160, "y_cm": 30, "removed": True},
            ],
            [{"kind": "point", "mass_g": 100, "y_cm": 66, "removed": True}],
            [{"kind": "point", "mass_g": 50, "y_cm": 52, "x_cm": 12.9, "mirrored": True, "removed": True}],
        ],
        "frame.measured": [{"balance_cm": 900}],
        "frame.measured.swingweight_kgcm2.axis_cm": [90],
        "frame.measured.swingweight_kgcm2": [{"value": 318}],
        "pieces.0.mass_g": [0, 900, -2, {"value": 2, "u": 100000.0}],
        "pieces.1.g_per_cm": [0, 90],
        "frame.outline.head_width_cm": [60],
        "frame.outline.head_length_cm": [3],
        "frame.outline.beam_mm": [230],
        "frame.outline.handle_length_cm": [40],
        "frame.outline.head_size_cm2": [6000],
        "frame.outline": [{"width_cm": 19}],
    },
    "paddle": {
        "pieces.0.y_cm": [43],
        "pieces.0.x_cm": [11],
        "pieces.0.z_cm": [2.5],
        "pieces.0": [
            {"kind": "plug", "mass_g": 5, "from_cm": 3, "to_cm": 16},
            {
                "kind": "rim",
                "at": {"clock": "3:00"},
                "length_cm": 8,
                "g_per_cm": 0.2,
                "mirrored": True,
                "face": "bumper",
            },
            {"kind": "strings", "mass_g": 16},
        ],
        "frame.outline.thickness_mm": [160],
        "frame.outline.corner_radius_cm": [40],
        "frame.sport": ["padel"],
        "frame.label": ["x" * 300, "a\0b"],
    },
    "pendulum": {
        "hang_cm": [200, -8, 32.2],
        "balance_cm": [80, -1],
        "mass_g": [3, 9000],
        "holder.inertia_kgcm2": [0.05],
        "holder.mass_g": [-4],
        "holder.centre_cm": [400],
        "periods_s": [[1.37, 2.74], [1.37, 0], [-1.37], [0.7], [2.6], [40], [True]],
        "amplitude_deg": [90, -5],
        "gravity_cms2": [9.81, 1600],
        "latitude_deg": [50],
        "altitude_m": [4],
        "axis_cm": [True],
    },
    "match": {
        "frames.1.label": ["A1", ""],
        "frames": [[]],
        "target": [{}, {"mass_g": 99999}, {"label": "B"}],
        "target.balance_cm": [300],
        "target.swingweight_kgcm2.value": [3000],
        "target.twistweight_kgcm2": [14],
        "tolerance": [{"mass_g": None}, {"mass_g": 9999}, {"mass_g": -1}],
        "sites.0.y_cm": [80],
        "sites.0.x_cm": [20],
        "sites.0.max_g": [0, 900],
        "sites.0.step_g": [-0.1],
        "sites.1.step_cm": [0],
        "sites.1.g_per_cm": [0],
        "sites.1.from": [{"y_cm": 10}],
        "sites.1.layers": [0],
        "removals.0.to_cm": [30],
        "removals.0.mass_g": [300],
        "seconds": [0, True],
        "frames.0.sites": [[{"kind": "point", "label": "x", "y_cm": 99}]],
        "frames.0.measured.mass_g": [None],
    },
    "rounds": {
        "target": [{}, {"twistweight_kgcm2": 13.6}, {"mass_g": 99999}],
        "target.recoil_kgcm2": [163.0],
        "chance": [0, 1, "0.9"],
        "errors.density_rel": [-0.1, 3, True],
        "errors.place_cm": [-1],
        "frame.measured.mass_g": [3100],
        "events.0": [{}, {"taken_off": "a"}, {"laid": []}],
        "events.0.laid.1.id": ["a", ""],
        "events.0.laid.0.piece.length_cm": [150],
        "events.0.laid.1.piece.y_cm": [80],
        "events.1.read.mass_g": [True, 5],
        "events.1.read.swingweight_kgcm2": [{"value": 318}],
        "events.2.trimmed": [{"id": "a"}, {"id": "a", "length_cm": 3, "mass_g": 2}, {"id": "x", "mass_g": 2}],
        "events.2.trimmed.length_cm": [-1, 0],
        "events.3.trimmed": [{"id": "b", "length_cm": 4}],
        "events.4.taken_off": ["c", 4],
        "events.4": [{"taken_off": "b", "read": {"mass_g": 310}}],
    },
    "impact": {
        "ball.mass_g": [0, 5000, True, "57"],
        "ball.restitution": [1.2, -0.1],
        "ball.speed_ms": [-3, 400],
        "swing.speed_ms": [-3, 400, None],
        "swing.axis_cm": [90, 32.36, "10"],
        "points.1": [[20, 52], [0, 80], [0, -4], [4], [4, 52, 1], "middle"],
        "frame.measured.twistweight_kgcm2": [None],
        "frame.measured.swingweight_kgcm2": [None],
        "pieces.0.y_cm": [80],
    },
    "trials": {
        "of": [[], ["colour"], ["twistweight_kgcm2"], ["mass_g", "mass_g"]],
        "setups.1.label": ["0 g", ""],
        "setups.2.swingweight_kgcm2": [None, -3, "310"],
        "setups": [[], [{"label": "one", "swingweight_kgcm2": 310}]],
        "answers.0.a": ["9 g", 4],
        "answers.0.said": ["better", None],
        "ratings.0.setup": ["none"],
        "ratings.0.rated": [0, 8, True],
    },
}
CASES = [
    (name, path, value)
    for name, paths in HOSTILE.items()
    for path, values in paths.items()
    for value in values
]


def changed(name, path, value):
    document = copy.deepcopy(DOCUMENTS[name])
    *parents, last = [int(part) if part.isdigit() else part for part in path.split(".")]
    holder = document
    for parent in parents:
        holder = holder[parent]
    holder[last] = value
    return document


def answer(name, document):
    verb = "predict" if name == "paddle" else name
    kind, answer_to, _ = VERBS[verb]
    data = document if isinstance(document, bytes) else json.dumps(document).encode()
    return answer_to(read_document(data, kind))


@pytest.mark.parametrize("name", DOCUMENTS)
def test_the_documents_that_are_made_absurd_are_sound(name):
    assert getattr(answer(name, DOCUMENTS[name]), "warnings", []) == []


@pytest.mark.parametrize(("name", "path", "value"), CASES)
def test_what_cannot_be_is_refused_with_its_path(name, path, value):
    with pytest.raises(DocumentError) as refused:
        answer(name, changed(name, path, value))
    told = refused.value
    near = path.split(".")[0]
    elsewhere = {
        "tolerance": ("tolerance", "target"),
        "target": ("target", "tolerance"),
        "frames": ("frames",),
        "of": ("of", "setups"),
        "events": ("events", "target"),
    }
    starts = (*elsewhere.get(near, (near,)), "document" if name == "pendulum" else near)
    assert told.field.startswith(starts), told.message
    assert "\n" not in told.message
    assert len(told.message) < 300


@pytest.mark.parametrize(
    ("document", "path"),
    [
        (b'{"format": "kentrobar/1", "format": "kentrobar/1"', "document"),
        (PREDICT.replace('"axis_cm": 10}', '"axis_cm": 10, "axis_cm": 5}'), "axis_cm"),
        (PREDICT.replace('"mass_g": 310.0', '"mass_g": 310.0, "mass_g": 300'), "frame.measured.mass_g"),
        (PREDICT.replace('"y_cm": 50', '"y_cm": 50, "y_cm": 51'), "pieces.0.y_cm"),
    ],
)
def test_a_key_that_stands_twice_is_refused(document, path):
    data = document if isinstance(document, bytes) else document.encode()
    with pytest.raises(DocumentError) as refused:
        answer("predict", data)
    assert refused.value.field == path


@pytest.mark.parametrize(
    ("name", "path", "value"),
    [
        ("predict", "frame.measured", {"mass_g": 460}),
        ("predict", "frame.measured", {"mass_g": 310, "balance_cm": 44}),
        ("paddle", "frame.measured", {"mass_g": 130}),
        ("pendulum", "mass_g", 460),
        ("match", "frames.0.measured.mass_g", 440),
    ],
)
def test_what_is_merely_unusual_is_answered_with_a_warning(name, path, value):
    assert any("unusual" in each for each in answer(name, changed(name, path, value)).warnings)


def test_a_frame_may_bring_its_own_sites_and_removals():
    """What comes off comes off whole, and only where it was allowed."""
    target = {"mass_g": 300, "balance_cm": 33.2}
    document = DOCUMENTS["match"] | {"target": target, "tolerance": {"mass_g": 1, "balance_cm": 0.3}}
    document["frames"] = [RACKET, RACKET | {"label": "A2", "removals": []}]
    found = answer("match", document)
    first, second = found.frames
    assert found.status == "infeasible"
    assert [piece.kind for piece in first.removed] == ["sleeve"]
    assert first.removed[0].removed
    assert first.after.mass_g.value == pytest.approx(300, abs=1)
    assert second.removed == []
    assert [reason.partition(":")[0] for reason in found.reasons] == ["A2"]


def test_a_paddle_among_rackets_is_refused_with_its_path():
    other = PADDLE | {"label": "P1"}
    document = DOCUMENTS["match"] | {"frames": [*DOCUMENTS["match"]["frames"], other]}
    with pytest.raises(DocumentError, match="rackets and paddles") as refused:
        answer("match", document)
    assert refused.value.field == f"frames.{len(document['frames']) - 1}.sport"
