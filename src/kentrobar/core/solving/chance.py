"""The chance that a plan does what it is to do: that all specs truly come to lie within their bands.

The lightest plan sits on the edge of a band, where half of all frames fall outside; how surely a frame was
read and can be laid then says as much as the plan itself. The specs err together, by the covariance of their
readings and of the pieces.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

import numpy as np

from kentrobar.core.body.specs import READ_BY_KEY
from kentrobar.core.quantities.estimates import Estimate
from kentrobar.core.weight.prediction import Prediction, as_measured

_LEAST_U: Final = 1e-9  # what is surer counts as sure
_SEED: Final = (
    11  # the integral over four specs is sampled; the same plan has the same chance each time
)


def chance_within(prediction: Prediction, bands: Mapping[str, tuple[float, float]]) -> float:
    """The chance, 0 to 1, that each spec named in ``bands`` lies between its two ends after a plan.

    A spec that was not read can lie anywhere: then the chance is 0.
    """
    from scipy.stats import multivariate_normal  # loaded late: it takes half a second

    after = as_measured(prediction)
    specs = [READ_BY_KEY[name] for name in bands]
    read = [after.of(spec) for spec in specs]
    known = [q for q in read if isinstance(q, Estimate)]
    if len(known) < len(read):
        return 0.0
    if not known:
        return 1.0
    us = np.array([max(q.u, _LEAST_U) for q in known])
    together = np.array([[after.correlation(a, b) for b in specs] for a in specs])
    means = np.array([q.value for q in known])
    lows, highs = (np.array([bands[s.key][end] for s in specs]) for end in (0, 1))
    found = multivariate_normal(np.zeros(len(us)), together, allow_singular=True, seed=_SEED).cdf(
        (highs - means) / us, lower_limit=(lows - means) / us
    )
    return float(np.clip(found, 0.0, 1.0))
