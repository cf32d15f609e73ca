"""A kind of piece that the application does not know: one class, and every room can use it."""

from dataclasses import dataclass, replace

import pytest

from kentrobar.core.bench.appraisal import Use, appraise
from kentrobar.core.bench.steps import OrderOfWork, steps_of
from kentrobar.core.body.moments import Moments
from kentrobar.core.editing import actions
from kentrobar.core.editing.warnings import warnings_for
from kentrobar.core.frame.circumstances import Circumstances
from kentrobar.core.frame.places import Toward
from kentrobar.core.frame.rim import RimPoint
from kentrobar.core.quantities.estimates import Estimate, covariance_of
from kentrobar.core.quantities.units import Ruler
from kentrobar.core.weight.materials import MaterialKind
from kentrobar.core.weight.piece_of_material import PieceOfMaterial
from kentrobar.core.weight.pieces import Cover, Effect, Piece
from tests.core.frames import RACKET, plan, stock, strip


@dataclass(frozen=True, kw_only=True)
class Bar(Piece):
    """A bar across the face: half of its length on either side of the long axis."""

    mass_g: Estimate
    y_cm: float
    length_cm: float

    @property
    def one_mass_g(self):
        return self.mass_g.value

    def body(self, outline):
        m, y, across = self.mass_g.value, self.y_cm, self.length_cm**2 / 12
        own = [(self.mass_g.u * c) for c in (1.0, y, y * y, across, 0.0)]
        return Effect(Moments(m, m * y, m * y * y, m * across, 0.0), covariance_of([tuple(own)]), {})

    def ends(self, outline):
        return self.y_cm, self.y_cm

    def anchor(self, outline):
        return RimPoint(0.0, self.y_cm)

    def shape(self, outline):
        return [(x, self.y_cm) for x in (-self.length_cm / 2, self.length_cm / 2)]

    def where(self, outline, ruler):
        return "across the face"

    def place(self, outline, ruler):
        return ruler.text(self.y_cm)

    def cover(self, outline):
        return next(iter(Cover))

    def at_height(self, outline, y_cm):
        return replace(self, y_cm=y_cm)

    def dragged(self, outline, x_cm, y_cm):
        return self.at_height(outline, y_cm)

    def nudged(self, outline, toward, by_cm):
        return self.at_height(outline, self.y_cm + by_cm * {"tip": 1, "butt": -1}[toward.value])

    def with_mass(self, mass_g):
        return replace(self, mass_g=self.mass_g._replace(value=mass_g))


NOWHERE = Circumstances()
BAR = Bar(mass_g=Estimate(6.0, 0.05), y_cm=40.0, length_cm=24.0)


def test_it_is_predicted_moved_told_and_appraised():
    laid = plan([strip(60, 8, mirrored=True), BAR])
    after, alone = laid.prediction.after, plan([strip(60, 8, mirrored=True)]).prediction.after
    assert after.mass_g.value - alone.mass_g.value == pytest.approx(6.0)
    assert after.swingweight_kgcm2.value - alone.swingweight_kgcm2.value == pytest.approx(5.4)
    assert after.twistweight_kgcm2.value - alone.twistweight_kgcm2.value == pytest.approx(0.288)
    dragged = actions.drag(laid, 2, 3.0, 50.0).plan
    assert dragged.pieces[1].ends(RACKET) == (50.0, 50.0)
    nudged = actions.nudge(dragged, 2, Toward.TIP, 0.5).plan
    assert nudged.pieces[1].place(RACKET, Ruler(str, "cm")) == "50.5 cm"
    assert actions.set_mass(nudged, 2, 3.0).plan.pieces[1].total_mass_g == 3.0
    assert [o.code for o in warnings_for([PieceOfMaterial(BAR, MaterialKind.MODULE)], RACKET, NOWHERE)] == [
        "trial_only"
    ]
    assert appraise([Use(BAR, stock(MaterialKind.MODULE))], RACKET).trial == 1
    steps = steps_of(laid, OrderOfWork.AT_ONCE)
    assert steps[-1].expected.mass_g.value == pytest.approx(after.mass_g.value)
