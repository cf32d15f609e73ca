"""The practice bench: done move by move, scored once, with what would have been better and a record."""

import re

import pytest

from kentrobar.core.bench.practice.finding_slips import Slip
from kentrobar.web.practice import services
from kentrobar.web.practice.exercises import find_slip, predict, read_well, weighing
from kentrobar.web.practice.models import PracticeRun
from kentrobar.web.practice.queries import records_of
from kentrobar.web.practice.view_models import means_of
from tests.addresses import at
from tests.web.conftest import new_person, words

Task = PracticeRun.Task


def begun(client, task, level=2, sport="tennis"):
    page = client.post(at("practice:begin"), {"task": task, "level": level, "sport": sport})
    run = PracticeRun.objects.first()
    assert page.headers["Location"] == at("practice:run", run.pk)
    PracticeRun.objects.filter(pk=run.pk).update(seed=11)  # the same in every run of the tests
    run.refresh_from_db()
    return run


def act(client, run, **sent):
    run.refresh_from_db()
    return client.post(at("practice:run", run.pk), {"seen": len(run.moves)} | sent)


def stated(values, units=("g", "cm", "kg·cm²", "kg·cm²")):
    """Values as a form sends them."""
    sent = {"finish": "1"}
    for (key, value), unit in zip(values.items(), units, strict=False):
        sent |= {f"{key}_0": f"{value:.4f}", f"{key}_1": unit}
    return sent


def test_read_as_often_as_it_takes_and_state_the_means(client):
    run = begun(client, Task.READ, level=3)
    exercise = read_well(run)
    for key in ("mass_g", "balance_cm", "swingweight_kgcm2"):
        for _ in range(exercise.enough(key)):
            act(client, run, read=key)
    key, number = exercise.slip
    act(client, run, out=f"{key}/{number}")
    run.refresh_from_db()
    page = client.get(at("practice:run", run.pk))
    assert page.content.decode().count("is-out") == 1
    done = act(client, run, **stated(means_of(run)))
    assert done.status_code == 302
    run.refresh_from_db()
    assert run.points == exercise.score([m["read"] for m in run.moves if "read" in m], means_of(run)).points
    text = words(client.get(at("practice:run", run.pk)))
    assert f"<strong>{run.points}</strong> of 100" in text
    assert "Enough readings: static weight" in text
    assert "slipped, if you took it" in text


def test_a_reading_that_is_left_out_can_be_taken_in_again(client):
    run = begun(client, Task.READ)
    for _ in range(2):
        act(client, run, read="mass_g")
    run.refresh_from_db()
    both = means_of(run)
    act(client, run, out="mass_g/0")
    run.refresh_from_db()
    assert means_of(run) != both
    act(client, run, out="mass_g/0")
    run.refresh_from_db()
    assert means_of(run) == both


def test_the_slip_is_found(client):
    run = begun(client, Task.SLIP)
    entry, slip = find_slip(run).truth
    half = act(client, run, finish="1", entry="", slip="digits")
    assert half.status_code == 422
    assert "Choose an entry and what went wrong, or" in words(half)
    sent = {"entry": "" if slip is Slip.NONE else f"{entry.row}/{entry.key}", "slip": slip.value}
    act(client, run, finish="1", **sent)
    run.refresh_from_db()
    assert run.points == 100


def test_a_change_is_predicted_in_any_unit(client):
    run = begun(client, Task.PREDICT, level=3)
    truth = predict(run).truth()
    slip = act(client, run, **stated({"mass_g": 3.0}))
    assert slip.status_code == 422
    assert run.points is None
    truth["balance_cm"] *= 10
    act(client, run, **stated(truth, ("g", "mm", "kg·cm²", "kg·cm²")))
    run.refresh_from_db()
    assert run.points == 100
    assert "swing weight is weight times lever squared" in words(client.get(at("practice:run", run.pk)))


@pytest.mark.parametrize("sport", ["tennis", "pickleball"])
def test_two_are_matched_with_the_least_weight(client, sport):
    run = begun(client, Task.MATCH, level=1, sport=sport)
    best = weighing(run).best
    wrong = act(client, run, lay="1", **{f"{key}_0": "99" for key in best})
    assert wrong.status_code == 422
    assert "0 to 15.0 g" in words(wrong)
    act(client, run, lay="1", **{f"{key}_0": f"{grams}" for key, grams in best.items()})
    page = client.get(at("practice:run", run.pk))
    assert page.context["exercise"].of_task.is_within
    assert act(client, run, finish="1").status_code == 302
    run.refresh_from_db()
    assert run.points == 100
    assert "The least that does it" in words(client.get(at("practice:run", run.pk)))


def test_rounds_are_read_with_scatter_and_scored_by_the_truth(client):
    run = begun(client, Task.FINISH, level=2)
    exercise = weighing(run)
    exact = {key: grams / exercise._factor(key) for key, grams in exercise.best.items()}
    nudged = ({key: round(g * part, 2) for key, g in exact.items()} for part in (1, 1.01, 1.02, 1.04, 0.99))
    second = next(doses for doses in nudged if exercise.is_within(exercise.true(doses)))
    for grams in (exercise.best, second):
        act(client, run, lay="1", **{f"{key}_0": f"{value:.4f}" for key, value in grams.items()})
    act(client, run, finish="1")
    run.refresh_from_db()
    assert run.points >= 90
    assert "Your last one truly comes to" in words(client.get(at("practice:run", run.pk)))


def test_what_is_over_is_over_and_two_pages_do_not_mix(client):
    run = begun(client, Task.READ)
    act(client, run, read="mass_g")
    late = client.post(at("practice:run", run.pk), {"seen": 0, "read": "mass_g"})
    assert late.status_code == 422
    assert "on another page meanwhile" in words(late)
    act(client, run, **stated({"mass_g": 300, "balance_cm": 32, "swingweight_kgcm2": 310}))
    run.refresh_from_db()
    points = run.points
    again = act(client, run, **stated({"mass_g": 310, "balance_cm": 33, "swingweight_kgcm2": 300}))
    assert "is over" in words(again)
    run.refresh_from_db()
    assert run.points == points
    assert act(client, run, read="twist").status_code == 422


def test_the_record_tells_best_and_lately(client, technician):
    for points in (40, 90, 70):
        run = services.begin(technician, task=Task.SLIP, level=1, sport="tennis")
        PracticeRun.objects.filter(pk=run.pk).update(points=points, finished_at=run.started_at)
    record = records_of(technician)[Task.SLIP]
    assert (record.best, round(record.lately)) == (90, 67)
    page = client.get(at("practice:home"))
    assert "Best <strong>90</strong>, lately <strong>67</strong>" in words(page)
    assert page.content.decode().count("<polyline") == 1


def test_nobody_sees_anothers_exercise(client, technician):
    run = begun(client, Task.SLIP)
    client.force_login(new_person("other"))
    assert client.get(at("practice:run", run.pk)).status_code == 404
    assert client.get(at("practice:home")).context["runs"].count() == 0
    assert client.post(at("practice:begin"), {"task": "dance", "level": 9}).headers["Location"] == at(
        "practice:home"
    )


@pytest.mark.parametrize("task", Task.values)
def test_ounces_and_inches_are_practised_in_them(client, technician, task):
    technician.mass_unit, technician.length_unit, technician.balance_unit = "oz", "in", "pt"
    technician.inertia_unit = "oz·in²"
    technician.save()
    run = begun(client, task, sport="pickleball")
    if task == Task.READ:
        act(client, run, read="balance_cm")
    if task in (Task.MATCH, Task.FINISH):
        act(client, run, lay="1", **{f"{weighing(run).sites[0].key}_0": "0.1 oz"})
    assert foreign(client, run) == []
    run.refresh_from_db()
    services.finish(run, len(run.moves), ANSWERS.get(task, {}))
    assert foreign(client, run) == []


def foreign(client, run):
    """What a run's page tells in grams and centimetres; the axis alone may be round in them."""
    text = re.sub(r"<option.*?</option>", "", words(client.get(at("practice:run", run.pk))))
    told = re.findall(r"[^<>]*\d (?:g|cm|mm|kg·cm²)\b[^<>]*", text)
    return [each for each in told if "5 cm" not in each]


ANSWERS = {
    Task.READ: {"mass_g": 1.0, "balance_cm": 1.0, "swingweight_kgcm2": 1.0},
    Task.SLIP: {"entry": "", "slip": "none"},
    Task.PREDICT: {"mass_g": 1.0, "balance_cm": 1.0, "swingweight_kgcm2": 1.0, "twistweight_kgcm2": 0.0},
}
