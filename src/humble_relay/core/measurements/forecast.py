"""What measurements say of an evening to come: their low end with its uncertainty, and on how probability a line carries what is
asked."""

from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from humble_relay.core.measurements.evening_model import NEVER_SEEN_AT_WORST, lines_drawn
from humble_relay.core.measurements.weighed import Weighed

DRAWS_OF_AN_HOUR, DRAWS = 400, 2000
"""How many lines are drawn that the measurements leave possible: for the low end of an hour, and for the whole show."""
WITHIN = (5.0, 95.0)
"""The percentiles that an interval runs between: nine in ten."""
HIGH_OF_SEVERAL = 97.5
"""The upper end where several hours must hold: with nothing said beforehand of each hour's middle, their product comes out too
low (found by the lines that this is held against)."""


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
    """Between which two uploads (Mb/s) the `percent` quantile of such evenings lies: its 90 % interval, by the lines that the
    measurements leave possible. The same for the same seed."""
    if len(set(of.ups)) == 1 and len(of.ups) > 1 and of.ups[0] <= 0:
        return 0.0, 0.0
    drawn = lines_drawn((of,), seed, DRAWS_OF_AN_HOUR, NEVER_SEEN_AT_WORST)
    found = np.concatenate([lines.quantile(percent) for lines in drawn])
    low, high = np.percentile(found, WITHIN)
    return float(low), float(high)


DIPS, DIPPED = 0.1, 0.72
"""What a dip is here: at least one measurement in ten, or it does not move the 10th percentile; below so much of the middle."""


def dip_missed(of: Weighed) -> float | None:
    """How likely (0 to 1) measurements are to miss a dip of a line that dips in one measurement of ten, 0.9ⁿ; None where one of them
    was a dip, or where they are as many as tell a 10th percentile without any shape of line taken for granted (Wilks 1941: 22 for
    nine in ten). Such an interval of the low end holds only for lines that do not dip.

    >>> dip_missed(Weighed((20.0, 21.0, 19.5), (1.0, 1.0, 1.0)))
    0.729
    >>> dip_missed(Weighed((20.0, 21.0, 8.0), (1.0, 1.0, 1.0)))
    """
    missed = (1 - DIPS) ** of.effective
    if not of.ups or missed <= DIPS or min(of.ups) < DIPPED * quantile(of, 50):
        return None
    return float(round(missed, 4))


class HoldEstimate(NamedTuple):
    """On how many of a hundred evenings it holds: the middle of what is likely, the two ends of nine in ten, and what is to be
    expected."""

    low: float
    middle: float
    high: float
    expected: float
    """The mean of what is likely: of all nights of which this is said, so many in a hundred hold."""


def chance_to_hold(
    hours: Sequence[Weighed], asked_mbps: float, settles_per_hour: float, seed: str
) -> HoldEstimate | None:
    """On how many of a hundred evenings every hour carries what is asked, so many times an hour, by the lines that the measurements
    leave possible. None where nothing was measured, or nothing is asked."""
    return _chance(tuple(h for h in hours if h.ups and h.effective > 0), asked_mbps, settles_per_hour, seed)


@lru_cache(maxsize=256)
def _chance(
    hours: tuple[Weighed, ...], asked_mbps: float, settles_per_hour: float, seed: str
) -> HoldEstimate | None:
    if not hours or asked_mbps <= 0:
        return None
    drawn = lines_drawn(hours, seed, DRAWS)
    held = 100 * np.concatenate([lines.holds(asked_mbps, settles_per_hour) for lines in drawn])
    ends = (WITHIN[0], 50.0, WITHIN[1] if len(hours) == 1 else HIGH_OF_SEVERAL)
    low, middle, high = np.percentile(held, ends)
    return HoldEstimate(float(low), float(middle), float(high), float(held.mean()))
