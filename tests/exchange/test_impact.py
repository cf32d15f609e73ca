"""``impact``: the numbers of the document's points agree with formulas written out here."""

import copy
import re
from pathlib import Path

import pytest

from kentrobar.exchange import models
from kentrobar.exchange.impacts import answer_impact
from tests.exchange.test_absurd import DOCUMENTS

PHYSICS = Path(__file__).parents[2] / "docs" / "physics.md"
# Weight, balance, recoil and twist weight, worked out apart from this project.
AS_IT_IS = (310.0, 32.4, 162.4544, 13.6)
WITH_PIECES = (317.0, 32.199369, 167.33964, 14.0465)


def answered(**changes):
    document = copy.deepcopy(DOCUMENTS["impact"]) | changes
    return answer_impact(models.ImpactRequest.model_validate(document))


def by_hand(specs, x, y):
    """Effective mass, rebound, ball speed and twist from mass, balance, recoil and twist weight."""
    mass, balance, recoil, twist = specs
    per_gram = 1 / mass + (y - balance) ** 2 / (1000 * recoil) + x**2 / (1000 * twist)
    ratio = 57.7 * per_gram
    rebound = (0.85 - ratio) / (1 + ratio)
    coming = 14 * (y - 10) / (balance - 10)
    impulse = 57.7 * 1.85 * (15 + coming) / (1 + ratio)  # g·m/s
    return (1 / per_gram, rebound, (1 + rebound) * coming + rebound * 15, impulse * 100 * x / (1000 * twist))


def test_points_before_and_after_agree_with_the_formulas():
    pieces = [
        {"kind": "point", "mass_g": 1.5, "y_cm": 52.0, "x_cm": 12.2, "mirrored": True},
        {"kind": "point", "mass_g": 4.0, "y_cm": 1.8},
    ]
    found = answered(pieces=pieces, points=[[0, 52], [4, 52.5], [-4, 45]])
    for told, specs in (
        (found.before, (310.0, 32.4, 162.454, 13.6)),
        (found.after, (317.0, 32.1994, 167.3396, 14.0465)),
    ):
        for point, (x, y) in zip(told.points, ((0, 52), (4, 52.5), (-4, 45)), strict=True):
            mass, rebound, speed, twist = by_hand(specs, x, y)
            assert point.effective_mass_g == pytest.approx(mass, rel=1e-5)
            assert point.apparent_restitution == pytest.approx(rebound, rel=1e-5)
            assert point.ball_speed_ms == pytest.approx(speed, rel=1e-5)
            assert point.twist_rad_s == pytest.approx(twist, rel=1e-4)
        mass, balance, recoil, _ = specs
        assert told.percussion_cm == pytest.approx(
            balance + 1000 * recoil / (mass * (balance - 10)), rel=1e-5
        )
    assert found.after.sweet_zone.width_cm > found.before.sweet_zone.width_cm


def test_the_worked_numbers_of_the_documentation_are_these():
    told = re.findall(r"^\| (as it is|with the pieces) \|(.*)\|$", PHYSICS.read_text(), re.MULTILINE)
    assert len(told) == 6
    for name, cells in told:
        x, y, *numbers = (float(cell.replace("−", "-")) for cell in cells.split("|"))
        specs = AS_IT_IS if name == "as it is" else WITH_PIECES
        assert numbers == pytest.approx(by_hand(specs, x, y), rel=2e-5, abs=1e-4)


def test_without_an_outline_there_is_no_zone():
    frame = {k: v for k, v in DOCUMENTS["impact"]["frame"].items() if k != "outline"}
    found = answered(frame=frame, pieces=[], points=[[0, 52]])
    assert found.after.sweet_zone is None
    assert found.after.points == found.before.points
