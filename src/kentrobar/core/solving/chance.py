"""The chance that a plan does what it is to do: that all specs truly come to lie within their bands.

The lightest plan sits on the edge of a band, where half of all frames fall outside; how surely a frame was
read and can be laid then says as much as the plan itself. The specs err together, by the covariance of their
readings and of the pieces.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Final

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.body.specs import READ_BY_KEY
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.prediction import Prediction, as_measured

_LEAST_U: Final = 1e-9  # what is surer counts as sure
# The integral over four specs is sampled; the same plan has the same chance each time.
_SEED: Final = 11
_DRAWS: Final = 20_000  # of a whole set: the chance to 0.2 % and better


def chance_within(prediction: Prediction, bands: Mapping[str, tuple[float, float]]) -> float:
    """The chance, 0 to 1, that each spec named in ``bands`` lies between its two ends after a plan.

    A spec that was not read can lie anywhere: then the chance is 0.
    """
    from scipy.stats import multivariate_normal  # loaded late: it takes half a second

    means, us, together = _specs_after(prediction, list(bands))
    if not len(means):
        return 0.0 if bands else 1.0
    lows, highs = (np.array([band[end] for band in bands.values()]) for end in (0, 1))
    found = multivariate_normal(np.zeros(len(us)), together, allow_singular=True, seed=_SEED).cdf(
        (highs - means) / us, lower_limit=(lows - means) / us
    )
    return float(np.clip(found, 0.0, 1.0))


def chance_alike(
    predictions: Sequence[Prediction], tolerances: Sequence[Mapping[str, float]]
) -> float:
    """The chance, 0 to 1, that after their plans all frames lie within each tolerance of each other.

    ``tolerances`` are those that each frame has to meet, by spec. The frames err apart, the specs of one
    frame together; counted over draws of all of them.
    """
    random = np.random.default_rng(_SEED)
    least: dict[str, NDArray[np.float64]] = {}
    most: dict[str, NDArray[np.float64]] = {}
    allowed: dict[str, float] = {}
    for prediction, mine in zip(predictions, tolerances, strict=True):
        means, us, together = _specs_after(prediction, list(mine))
        if len(means) < len(mine):
            return 0.0
        drawn = random.multivariate_normal(
            np.zeros(len(us)), together, _DRAWS, check_valid="ignore"
        )
        for i, (name, tolerance) in enumerate(mine.items()):
            values = means[i] + us[i] * drawn[:, i]
            least[name] = np.minimum(least.get(name, values), values)
            most[name] = np.maximum(most.get(name, values), values)
            allowed[name] = tolerance
    within = np.ones(_DRAWS, dtype=bool)
    for name, tolerance in allowed.items():
        within &= most[name] - least[name] <= tolerance
    return float(within.mean())


def _specs_after(
    prediction: Prediction, names: Sequence[str]
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """Means, ± and correlations of specs after a plan; empty where one of them is not known."""
    after = as_measured(prediction)
    specs = [READ_BY_KEY[name] for name in names]
    known = [q for q in map(after.of, specs) if isinstance(q, Estimate)]
    if len(known) < len(specs):
        return np.zeros(0), np.zeros(0), np.zeros((0, 0))
    return (
        np.array([q.value for q in known]),
        np.array([max(q.u, _LEAST_U) for q in known]),
        np.array([[after.correlation(a, b) for b in specs] for a in specs]),
    )
