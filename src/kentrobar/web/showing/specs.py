"""What a frame comes to, spec by spec."""

from __future__ import annotations

from kentrobar.core.weight.prediction import Prediction
from kentrobar.web.frames.models import Frame
from kentrobar.web.kit.numbers import Units, shown_specs
from kentrobar.web.kit.spec_rows import SpecRow, cell_of, row_of


def prediction_rows(prediction: Prediction, frame: Frame, units: Units) -> list[SpecRow]:
    """Each spec with its ± and its change."""
    units = units.of_sport(frame.sport)
    return [
        row_of(spec, cell_of(spec, None, prediction.after, prediction.change, units))
        for spec in shown_specs(units)
    ]
