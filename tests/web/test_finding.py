"""All is found by words, ranges, material and days; tables go out safely and come in with a preview."""

import csv
import io
import json
import re

import pytest
from django.test import Client

from kentrobar.core.body.measured import MeasuredSpecs
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.web.finding.tables import TABLES
from kentrobar.web.frames.models import Frame
from kentrobar.web.matching.services import create_set
from kentrobar.web.orders.jobs import services as orders
from kentrobar.web.welcome.importing import import_set
from tests.addresses import at
from tests.web.conftest import new_frame, new_person, words
from tests.web.test_jobs import done_at_bench, lay_plan


@pytest.fixture
def frames(technician):
    return [
        new_frame(
            technician,
            f"Reed 100 A{i}",
            measured=MeasuredSpecs(
                Estimate(300 + 5 * i, 0.1), Estimate(31.8, 0.05), Estimate(280 + 10 * i, 1.0), 10.0
            ),
        )
        for i in range(1, 4)
    ]


def rows(response):
    text = response.content.decode("utf-8-sig")
    return list(csv.DictReader(io.StringIO(text)))


class TestSearch:
    @pytest.mark.parametrize(
        ("query", "found"),
        [
            ({"q": "reed a2"}, ["A2"]),
            ({"mass": "304-311"}, ["A1", "A2"]),
            ({"mass": "over 309 g"}, ["A2", "A3"]),
            ({"swingweight": "300"}, ["A2"]),
            ({"mass": "under 11 oz", "q": "reed"}, ["A1", "A2"]),
            ({"balance": "317 to 319"}, ["A1", "A2", "A3"]),
            ({"q": "INES"}, ["A1", "A2", "A3"]),
            ({"mass": "100-200"}, []),
            ({"until": "2020-01-01"}, []),
        ],
    )
    def test_frames_are_found_by_words_and_ranges(self, client, frames, query, found):
        answer = client.get(at("finding:search"), query)
        group = answer.context["groups"]
        hits = [text for each in group if each.name == "Frames" for text, _, _ in each.hits]
        assert hits == [f"Reed 100 {name}" for name in found]

    def test_other_kinds_are_found_too(self, client, technician, frames, plan):
        orders.take_job(technician, client="Ines", frames=frames, brief="Steadier off centre")
        groups = client.get(at("finding:search"), {"q": "ines"}).context["groups"]
        names = {group.name for group in groups if group.hits}
        assert names == {"Clients", "Frames", "Jobs"}
        assert "Jobs" in words(client.get(at("finding:search"), {"q": "steadier"}))
        assert "Materials" in words(client.get(at("finding:search"), {"q": "tungsten"}))

    def test_what_was_laid_of_a_material_is_found(self, client, technician, hand, plan):
        hand.lay()
        plan.refresh_from_db()
        done_at_bench(technician, plan)
        found = client.get(at("finding:search"), {"material": "quarter inch"}).context["groups"][0].hits
        assert [text for text, _, _ in found] == [plan.frame.label]
        assert not client.get(at("finding:search"), {"material": "copper"}).context["groups"][0].hits

    def test_a_bad_range_is_said_at_its_field(self, client):
        answer = client.get(at("finding:search"), {"mass": "320-310"})
        assert answer.status_code == 422
        assert "from its lower to its higher end" in words(answer)
        assert 'value="320-310"' in words(answer)

    def test_nobody_finds_what_is_of_another_shop(self, frames, db):
        stranger = Client()
        stranger.force_login(new_person("stranger"), backend="django.contrib.auth.backends.ModelBackend")
        assert not any(
            group.hits for group in stranger.get(at("finding:search"), {"q": "reed"}).context["groups"]
        )
        assert rows(stranger.get(at("finding:table", "frames"))) == []


class TestTables:
    @pytest.mark.parametrize("name", sorted(TABLES))
    def test_every_table_has_a_row_for_each_of_its_records(self, client, technician, frames, plan, name):
        orders.take_job(technician, client="Ines", frames=frames, brief="=HYPERLINK(1)")
        done_at_bench(technician, lay_plan(technician, frames[0]))
        create_set(frames, technician)
        told = rows(client.get(at("finding:table", name)))
        assert len(told) == len(list(TABLES[name].rows(technician)))
        for row in told:
            assert not any(value.startswith(tuple("=+@")) for value in row.values())

    def test_numbers_of_a_frame_are_those_that_count(self, client, frames):
        told = {row["frame"]: row for row in rows(client.get(at("finding:table", "frames")))}
        assert float(told["Reed 100 A2"]["static weight, g"]) == 310
        assert float(told["Reed 100 A2"]["swing axis, cm"]) == 10

    def test_a_search_is_taken_out_as_table_and_as_document(self, client, technician, frames):
        told = rows(client.get(at("finding:table", "frames"), {"mass": "304-311"}))
        assert [row["frame"] for row in told] == ["Reed 100 A1", "Reed 100 A2"]
        document = client.get(at("finding:frames_file"), {"mass": "304-311"}).content
        assert len(json.loads(document)["frames"]) == 2
        made = import_set(technician, document)
        weights = sorted(member.frame.specs.mass_g for member in made.members.all())
        assert weights == [305, 310]

    def test_an_unknown_table_is_not_there(self, client):
        assert client.get(at("finding:table", "secrets")).status_code == 404


class TestReadingsFromATable:
    TABLE = (
        "frame;weight, g;balance, mm;swing weight\nReed 100 A1;307,2;318;291\n"
        "Reed 100 A9;300;;\nreed 100 a2;;;302,5"
    )

    def send(self, client, text, **more):
        about = {"text": text, "build": "playing", "axis_0": "10", "axis_1": "cm"}
        return client.post(at("finding:read_in"), about | more)

    def record(self, client, answer):
        (carried,) = re.findall(r'name="carried" value="([^"]+)"', words(answer))
        return client.post(at("finding:record"), {"carried": carried}, follow=True)

    def test_it_is_shown_first_and_recorded_then(self, client, frames):
        answer = self.send(client, self.TABLE)
        page = words(answer)
        assert "Nothing is recorded yet. 2 of 3 rows" in page
        assert "no frame has this name" in page
        assert Frame.objects.get(label="Reed 100 A1").specs.mass_g == 305
        assert "2 frames are recorded" in words(self.record(client, answer))
        first, second = (Frame.objects.get(label=f"Reed 100 A{i}").specs for i in (1, 2))
        assert (first.mass_g, first.balance_cm, first.swingweight_kgcm2) == (307.2, 31.8, 291)
        assert [reading.text for reading in first.readings.order_by("spec")] == ["318 mm", "307,2 g", "291"]
        assert (second.mass_g, second.swingweight_kgcm2) == (310, 302.5)

    def test_what_cannot_be_stays_out_with_its_reason(self, client, frames):
        page = words(
            self.send(client, "frame,weight,swing weight\nReed 100 A1,305,900\nReed 100 A2,heavy,290")
        )
        assert "0 of 2 rows" in page
        assert "not a number" in page
        assert 'name="carried"' not in page

    def test_a_mark_that_several_have_is_asked_about(self, client, frames):
        assert "3 frames have this name" in words(self.send(client, "mark,weight\nIN-1,305"))

    @pytest.mark.parametrize("text", ["", "a,b\n1,2", "frame\nReed"])
    def test_a_table_without_heads_or_rows_is_refused(self, client, frames, text):
        assert self.send(client, text).status_code == 422

    def test_a_preview_that_was_made_up_records_nothing(self, client, frames):
        answer = client.post(at("finding:record"), {"carried": "sample racket"}, follow=True)
        assert "This preview has expired. Send the table" in words(answer)

    def test_a_file_in_another_encoding_is_read(self, client, frames):
        file = io.BytesIO("frame;weight\nReed 100 A1;306,4".encode("utf-16"))
        file.name = "readings.csv"
        assert "1 of 1 rows" in words(self.send(client, "", file=file))

    def test_frames_are_taken_in_from_a_file(self, client):
        file = io.BytesIO(b"mark,weight\nX1,305.2\nX2,307")
        file.name = "frames.csv"
        page = words(
            client.post(at("taking_in:take_in", "tennis"), {"fill": "1", "pasted": "", "pasted_file": file})
        )
        assert 'value="X1"' in page
        assert 'value="305.2"' in page
