"""A pasted block of a spreadsheet: whatever its heads, its columns find their fields and units."""

import pytest

from kentrobar.core.reading.pasted import read_pasted


@pytest.mark.parametrize(
    ("head", "fields"),
    [
        ("Frame\tWeight (g)\tBalance mm\tSwing weight", ["mark", "mass", "balance", "swingweight"]),
        ("serial;static weight, oz;balance [in];SW kgcm2", ["mark", "mass", "balance", "swingweight"]),
        (
            "No,Mass,Bal,SW,Twist weight,Colour",
            ["mark", "mass", "balance", "swingweight", "twistweight", "colour"],
        ),
        (
            'frame,mark,"static weight, g","swing weight at 10 cm, kg·cm²","static weight, g, after"',
            ["mark", "", "mass", "swingweight", ""],
        ),
        ("Notes|Racquet|Weight in grams", ["", "mark", "mass"]),
    ],
)
def test_heads_find_their_fields(head, fields):
    delimiter = next(d for d in "\t;|," if d in head)
    row = delimiter.join(["1"] * len(fields))
    assert [column.field for column in read_pasted(f"{head}\n{row}")] == fields


@pytest.mark.parametrize(
    ("head", "field", "text"),
    [
        ("Weight (oz)", "mass", "10.9 oz"),
        ("weight in grams", "mass", "10.9 g"),
        ("Balance [mm]", "balance", "10.9 mm"),
        ("balance points", "balance", "10.9 pt"),
        ("SW kgcm2", "swingweight", "10.9 kg·cm²"),
        ("TW, kg·cm²", "twistweight", "10.9 kg·cm²"),
        ("Weight", "mass", "10.9"),
        ("Weight (g)", "balance", "10.9"),  # a unit of something else is left off
    ],
)
def test_a_bare_number_gets_the_unit_of_its_head(head, field, text):
    _, column = read_pasted(f"Frame\t{head}\nA\t10.9")
    assert column.texts(field) == [text]


def test_a_number_with_its_own_unit_keeps_it():
    _, column = read_pasted("Frame\tWeight (g)\nA\t10.9 oz\nB\t\nC\t309")
    assert column.texts("mass") == ["10.9 oz", "", "309 g"]


def test_rows_without_a_head_are_rows():
    columns = read_pasted("417\t308.6\n418\t304.9\n")
    assert [column.cells for column in columns] == [("417", "418"), ("308.6", "304.9")]
    assert [column.field for column in columns] == ["", ""]


@pytest.mark.parametrize("text", ["", "\n\n", "\t\t\n;;"])
def test_nothing_is_nothing(text):
    assert all(not column.example for column in read_pasted(text))


def test_too_much_is_cut_off():
    columns = read_pasted("\n".join("\t".join("1" * 50) for _ in range(500)))
    assert len(columns) == 30
    assert len(columns[0].cells) == 60


def test_uneven_rows_and_quotes_do_no_harm():
    columns = read_pasted('Frame,Weight\n"A, old",308.6,more\nB')
    assert columns[0].cells == ("A, old", "B")
    assert columns[1].cells == ("308.6", "")
