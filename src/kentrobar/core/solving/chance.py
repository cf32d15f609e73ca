"""The chance that a plan does what it is to do: that all specs truly come to lie within their bands.

The lightest plan sits on the edge of a band, where half of all frames fall outside; how surely a frame was
read and can be laid then says as much as the plan itself. The specs err together, by the covariance of their
readings and of the pieces; the frames of a set by what comes off one roll.
"""

from __future__ import annotations

from collections.abc import Hashable, Mapping, Sequence
from typing import Final, NamedTuple

import numpy as np
from numpy.typing import NDArray

from kentrobar.core.body.target import NO_BANDS, Bands
from kentrobar.core.quantities.estimates import PAIRS, Covariance
from kentrobar.core.weight.prediction import Prediction, gradients_of

_LEAST_U: Final = 1e-9  # what is surer counts as sure
# The integral over several specs is sampled; the same plan has the same chance each time.
_SEED: Final = 11
_DRAWS: Final = 20_000  # of a whole set: the chance to 0.3 % and better

Vector = NDArray[np.float64]


class _After(NamedTuple):
    """Specs after a plan: means, covariance, and what one standard deviation of each roll does to them."""

    means: Vector
    covariance: Vector
    shared: Mapping[Hashable, Vector]

    @property
    def apart(self) -> Vector:
        """The covariance without what errs together on all frames."""
        together = sum((np.outer(v, v) for v in self.shared.values()), np.zeros_like(self.covariance))
        return self.covariance - together

    def drawn(self, random: np.random.Generator, of_rolls: Mapping[Hashable, Vector]) -> NDArray[np.float64]:
        """Specs as they may come out, a row a draw; ``of_rolls`` are the draws of each roll's density."""
        if not len(self.means):
            return np.zeros((_DRAWS, 0))
        found = random.multivariate_normal(self.means, self.apart, _DRAWS, check_valid="ignore")
        for key, vector in self.shared.items():
            found += np.outer(of_rolls[key], vector)
        return found


def chance_within(prediction: Prediction, bands: Bands, changes: Bands = NO_BANDS) -> float:
    """The chance, 0 to 1, that each spec named in ``bands`` lies between its two ends after a plan.

    A spec that was not read can lie anywhere: then the chance is 0. Of ``changes``, the bands of what is
    added to a spec that was not read, only the pieces decide.
    """
    from scipy.stats import multivariate_normal  # loaded late: it takes half a second

    after = _after(prediction, list(bands), list(changes))
    if after is None:
        return 0.0
    bands = {**bands, **changes}
    if not bands:
        return 1.0
    us = np.maximum(np.sqrt(np.diag(after.covariance)), _LEAST_U)
    together = after.covariance / np.outer(us, us)
    np.fill_diagonal(together, 1.0)
    lows, highs = (np.array([band[end] for band in bands.values()]) for end in (0, 1))
    found = multivariate_normal(np.zeros(len(us)), together, allow_singular=True, seed=_SEED).cdf(
        (highs - after.means) / us, lower_limit=(lows - after.means) / us
    )
    return float(np.clip(found, 0.0, 1.0))


def chance_all_within(predictions: Sequence[Prediction], bands: Sequence[Bands]) -> float:
    """The chance, 0 to 1, that each frame of a set comes to lie within its bands after its plan.

    Frames that share no roll err apart: then it is the product of theirs. Else it is counted over draws.
    """
    if not _share_a_roll(predictions):
        return float(np.prod([chance_within(p, b) for p, b in zip(predictions, bands, strict=True)]))
    drawn = _drawn(predictions, bands)
    if drawn is None:
        return 0.0
    within = np.ones(_DRAWS, dtype=bool)
    for values, mine in zip(drawn, bands, strict=True):
        for i, (low, high) in enumerate(mine.values()):
            within &= (values[:, i] >= low) & (values[:, i] <= high)
    return float(within.mean())


def chance_alike(predictions: Sequence[Prediction], tolerances: Sequence[Mapping[str, float]]) -> float:
    """The chance, 0 to 1, that after their plans all frames lie within each tolerance of each other.

    ``tolerances`` are those that each frame has to meet, by spec; counted over draws of all of them.
    """
    drawn = _drawn(predictions, tolerances)
    if drawn is None:
        return 0.0
    of_spec: dict[str, list[Vector]] = {}
    allowed: dict[str, float] = {}
    for values, mine in zip(drawn, tolerances, strict=True):
        allowed |= mine
        for i, name in enumerate(mine):
            of_spec.setdefault(name, []).append(values[:, i])
    within = np.ones(_DRAWS, dtype=bool)
    for name, columns in of_spec.items():
        within &= np.ptp(columns, axis=0) <= allowed[name]
    return float(within.mean())


def _share_a_roll(predictions: Sequence[Prediction]) -> bool:
    rolls = [key for each in predictions for key in each.shared]
    return len(rolls) > len(set(rolls))


def _drawn(
    predictions: Sequence[Prediction], names: Sequence[Mapping[str, object]]
) -> list[NDArray[np.float64]] | None:
    """Draws of the named specs of each frame; None where one of them was not read."""
    random = np.random.default_rng(_SEED)
    rolls = dict.fromkeys(key for each in predictions for key in each.shared)
    of_rolls = {key: random.standard_normal(_DRAWS) for key in rolls}
    found = []
    for prediction, mine in zip(predictions, names, strict=True):
        after = _after(prediction, list(mine))
        if after is None:
            return None
        found.append(after.drawn(random, of_rolls))
    return found


def matrix_of(covariance: Covariance) -> NDArray[np.float64]:
    """The covariance of the five moments as a matrix: both halves of it."""
    found = np.zeros((5, 5))
    for (i, j), c in zip(PAIRS, covariance, strict=True):
        found[i, j] = found[j, i] = c
    return found


def _after(prediction: Prediction, names: Sequence[str], changes: Sequence[str] = ()) -> _After | None:
    """What is known of specs after a plan, and of the changes of specs not read; None where one is not.

    In the covariance of the moments a spec that was not read has no part, so that of its change is the same.
    """
    known = [q for name in names if (q := getattr(prediction.after, name))]
    known += [q for name in changes if (q := getattr(prediction.change, name))]
    names = [*names, *changes]
    if len(known) < len(names):
        return None
    of_moments = matrix_of(prediction.covariance)
    gradients = gradients_of(prediction)
    rows = np.array([gradients[name] for name in names]).reshape(-1, 5)
    return _After(
        np.array([q.value for q in known]),
        rows @ of_moments @ rows.T,
        {key: rows @ np.array(vector) for key, vector in prediction.shared.items()},
    )
