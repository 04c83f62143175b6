"""What measurements say of an evening to come: weighed by how like it they are, their low end with its uncertainty, and on how
probability a line carries what is asked."""

import zlib
from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

import numpy as np
import scipy
from numpy.typing import NDArray

REPLICATES = 400
"""Resamples of the bootstrap (Efron 1979); draws of the chance are five times as many."""
WITHIN = (5.0, 95.0)
"""The percentiles that an interval runs between: nine in ten."""
Floats = NDArray[np.float64]


class Weighed(NamedTuple):
    """Uploads in Mb/s, each with how much it counts, 0 to 1."""

    ups: tuple[float, ...]
    weights: tuple[float, ...]

    @property
    def effective(self) -> float:
        """How many measurements of full weight they are worth: (Σw)² ÷ Σw² (Kish 1965), never more than there are."""
        total = sum(self.weights)
        return (
            total * total / sum(w * w for w in self.weights) * min(1.0, max(self.weights)) if total else 0.0
        )


@lru_cache(maxsize=4096)
def quantile(of: Weighed, percent: float) -> float:
    """The upload below which `percent` of the weight lies, straight line between neighbours; with equal weights the usual one
    (Hyndman and Fan 1996, type 7).

    >>> quantile(Weighed((10, 20, 30, 40), (1, 1, 1, 1)), 50), quantile(Weighed((10, 20, 30), (1, 1, 0)), 100)
    (25.0, 20.0)
    """
    pairs = sorted((u, w) for u, w in zip(of.ups, of.weights, strict=True) if w > 0)
    steps = [(before[1] + after[1]) / 2 for before, after in pairwise(pairs)]
    left = percent / 100 * sum(steps)
    for (low, _), (high, _), step in zip(pairs, pairs[1:], steps, strict=False):
        if left <= step:
            return float(low + (high - low) * left / step)
        left -= step
    return float(pairs[-1][0])


@lru_cache(maxsize=1024)
def low_end(of: Weighed, percent: float, seed: str) -> tuple[float, float]:
    """Between which two uploads (Mb/s) the `percent` quantile of such evenings lies: its 90 % interval, by resampling as many as
    they are worth (bootstrap percentiles, Efron 1979). The same for the same seed."""
    count = max(1, round(of.effective))
    if len(set(of.ups)) == 1:
        return of.ups[0], of.ups[0]
    chance = np.array(of.weights) / sum(of.weights)
    draw = np.random.default_rng(zlib.crc32(seed.encode()))
    drawn = draw.choice(np.array(of.ups, dtype=float), size=(REPLICATES, count), p=chance)
    found = np.percentile(np.percentile(drawn, percent, axis=1), WITHIN)
    return float(found[0]), float(found[1])


class HoldEstimate(NamedTuple):
    """On how many of a hundred evenings it holds: the middle of what is likely, and the two ends of nine in ten."""

    low: float
    middle: float
    high: float


SHAPES = (0.0, 0.5, 1.0, 2.0, 4.0, 8.0, 16.0)
"""The powers by which uploads may be spread evenly: 0 is their logarithm, 1 as they are, 2 and more a line that is mostly at its
best and dips (Box and Cox 1964)."""


HIGH_OF_SEVERAL = 97.5
"""The upper end where several hours must hold: with nothing said beforehand of each hour's middle, their product comes out too
low (found by the 500 lines that this is held against)."""


def chance_to_hold(
    hours: Sequence[Weighed], asked_mbps: float, settles_per_hour: float, seed: str
) -> HoldEstimate | None:
    """On how many of a hundred evenings every hour carries what is asked, so many times an hour.

    A power of the upload is taken for normal, with a middle for each hour and one spread. Power, middles and spread are drawn
    from what the measurements leave possible: the powers alike beforehand (Box and Cox 1964 §3), the rest by the prior 1 ÷ σ
    (Box and Tiao 1973 §2.4). None where there are too few to tell a spread: fewer than one beyond the first of each hour.
    """
    return _chance(tuple(h for h in hours if h.ups and h.effective > 0), asked_mbps, settles_per_hour, seed)


@lru_cache(maxsize=256)
def _chance(
    hours: tuple[Weighed, ...], asked_mbps: float, settles_per_hour: float, seed: str
) -> HoldEstimate | None:
    sizes = np.array([h.effective for h in hours])
    freedom = float(sizes.sum() - len(hours))
    if not hours or freedom < 1 or asked_mbps <= 0:
        return None
    ups = [np.maximum(np.array(h.ups, dtype=float), 0.01) for h in hours]
    shares = [np.array(h.weights) / sum(h.weights) for h in hours]
    middle = float(
        np.exp(
            sum(n * float(s @ np.log(u)) for n, s, u in zip(sizes, shares, ups, strict=True)) / sizes.sum()
        )
    )
    fits = []
    for power in SHAPES:
        evened = [_evened(u, power, middle) for u in ups]
        means = np.array([s @ e for s, e in zip(shares, evened, strict=True)])
        squares = sum(
            n * float(s @ (e - m) ** 2) for n, s, e, m in zip(sizes, shares, evened, means, strict=True)
        )
        fits.append(
            (means, max(squares, 1e-9 * middle**2), float(_evened(np.array([asked_mbps]), power, middle)[0]))
        )
    likely = -freedom / 2 * np.log([squares for _, squares, _ in fits])
    likely = np.exp(likely - likely.max())
    draw = np.random.default_rng(zlib.crc32(seed.encode()))
    counts = np.round(5 * REPLICATES * likely / likely.sum()).astype(int)
    held = []
    for (means, squares, asked), count in zip(fits, counts, strict=True):
        spread = np.sqrt(squares / draw.chisquare(freedom, count))
        middles = (
            means[:, None] + draw.standard_normal((len(hours), count)) * spread / np.sqrt(sizes)[:, None]
        )
        held.append(np.prod(scipy.special.ndtr((middles - asked) / spread) ** settles_per_hour, axis=0))
    ends = (WITHIN[0], 50.0, WITHIN[1] if len(hours) == 1 else HIGH_OF_SEVERAL)
    low, middle_, high = np.percentile(100 * np.concatenate(held), ends)
    return HoldEstimate(float(low), float(middle_), float(high))


def _evened(ups: Floats, power: float, middle: float) -> Floats:
    """Box and Cox's transform, scaled by the geometric mean so that the likelihoods of the powers compare."""
    if power == 0:
        return middle * np.log(ups)
    found: Floats = (ups**power - 1) / (power * middle ** (power - 1))
    return found
