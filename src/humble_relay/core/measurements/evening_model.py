"""What measurements leave possible of an evening to come: a line has its evenings, good ones and bad ones, and moves within each.

A power of the upload is taken for normal (Box and Cox 1964): a middle for each hour, a spread from evening to evening, and one within an
evening (variance components; Box and Tiao 1973 §5). Beside the powers stands a line of two states, up and down. What of this the
measurements cannot tell is drawn from what they leave possible, with the usual spread of lines as if that had been seen on a few evenings.
"""

import zlib
from functools import lru_cache
from typing import NamedTuple

import numpy as np
import scipy
from numpy.typing import NDArray

from humble_relay.core.measurements.weighed import Weighed, effective

Floats = NDArray[np.float64]


SHAPES = ((0.0, 1.0), (0.5, 1.0), (1.0, 1.0), (2.0, 0.3), (4.0, 0.1))
"""The powers by which uploads may be spread evenly, and how likely each is beforehand: 0 is their logarithm, 1 as they are, more a line
that is mostly at its best and dips."""
TWO_STATES = 0.3
"""How likely a line of two states is beforehand, against any of the first powers."""
EVENING_SPREAD = 0.15
"""The usual spread between evenings, as a share of the middle: half of all lines are beforehand taken to have less."""
SAMPLES_BEFORE, SAMPLE_SPREAD = 2.0, 0.1
"""The same of measurements within an evening."""
NEVER_SEEN = 0.1
NEVER_SEEN_AT_WORST = 0.2
"""How likely a line is one that dips now and then though no measurement caught it: to any depth, as often as the measurements allow; and
how likely for a low end that is to be wide enough for lines that do dip.
All of these: common practice, no source; held against drawn lines of six kinds (tests/core/measurements)."""
_APART, _WORTH_OF_A_STATE = 0.1, 0.5
"""How far apart two states are at least, as a share of the middle, and how many measurements each must be worth."""
_STEPS, _MOST, _WITHINS = 24, 0.75, 96
"""Into how many spreads of equal chance the Half-Cauchy is parted, and which part of it there is: a spread above some two and a half times the
usual one is none of a line."""
_NODES, _SHARES = np.polynomial.hermite_e.hermegauss(9)
_SHARES = _SHARES / _SHARES.sum()


class LineDraws(NamedTuple):
    """Lines as the measurements leave them possible, all of one shape: n of them, over h hours. Uploads are `evened`."""

    power: float
    geometric: float
    """The middle upload that `evened` is scaled by, in Mb/s."""
    middles: Floats
    """h × n."""
    within: Floats
    between: Floats
    """Spreads within an evening and from evening to evening, n each."""
    down_share: Floats
    down_by: Floats
    """Of a line of two states: how often it is down, and by how much, n each; 0 of others."""
    unseen: Floats
    """How often it dips though nobody saw it, n."""
    lowest: float
    """The lowest upload that was measured, in Mb/s."""

    def holds(self, asked_mbps: float, settles: float) -> Floats:
        """For each line, how likely an evening is on which it carries so much every time it settles, so many times an hour."""
        asked = evened(np.array([max(asked_mbps, 0.001)]), self.power, self.geometric)[0]
        at = self.middles[:, :, None] + self.between[None, :, None] * _NODES - asked
        up = scipy.special.ndtr(at / self.within[None, :, None])
        down = scipy.special.ndtr((at - self.down_by[None, :, None]) / self.within[None, :, None])
        share = self.down_share[None, :, None]
        carried = np.prod(((1 - share) * up + share * down) ** settles, axis=0) @ _SHARES
        dips = self.unseen * min(1.0, max(0.0, asked_mbps / self.lowest))
        found: Floats = carried * (1 - dips) ** (settles * len(self.middles))
        return found

    def quantile(self, percent: float) -> Floats:
        """For each line, the upload in Mb/s below which it is so many times in a hundred, at the first hour."""
        p, spread = percent / 100, np.hypot(self.within, self.between)
        often = self.down_share > p
        safe = np.clip(np.where(often, p / np.maximum(self.down_share, p), (p - self.down_share) / (1 - self.down_share)), 1e-6, 1 - 1e-6)  # fmt: skip
        by = spread * scipy.special.ndtri(safe)
        below = np.where(often, np.minimum(by - self.down_by, 0), np.where(self.down_by > 0, np.maximum(by, -self.down_by), by))  # fmt: skip
        found = _as_upload(self.middles[0] + below, self.power, self.geometric)
        return np.where(
            self.unseen > p, np.minimum(found, self.lowest * p / np.maximum(self.unseen, p)), found
        )


@lru_cache(maxsize=512)
def lines_drawn(
    hours: tuple[Weighed, ...], seed: str, count: int, never_seen: float = NEVER_SEEN
) -> tuple[LineDraws, ...]:
    """About so many lines that agree with what was measured at some hours, each shape as often as it is likely. The same for the same
    seed."""
    data = _Data.of(hours)
    fits = [*(_fit(data, power, beforehand) for power, beforehand in SHAPES)]
    if two := _two_states(data):
        fits.append(two)
    likely = np.array([fit.likely for fit in fits])
    chances = np.exp(likely - likely.max())
    counts = np.round(count * chances / chances.sum()).astype(int)
    draw = np.random.default_rng(zlib.crc32(seed.encode()))
    return tuple(
        _drawn(data, fit, int(n), draw, never_seen) for fit, n in zip(fits, counts, strict=True) if n
    )


class _Data(NamedTuple):
    """All measurements of some hours in a row: upload, weight, hour and evening of each, and what they are worth."""

    ups: Floats
    weights: Floats
    hour: NDArray[np.int64]
    evening: NDArray[np.int64]
    worth: Floats
    """By hour."""
    evenings: float
    """How many evenings they are worth."""
    share: Floats
    """Of each evening."""
    in_an_evening: float
    """How many measurements an evening is worth: the harmonic mean."""
    geometric: float

    @classmethod
    def of(cls, hours: tuple[Weighed, ...]) -> "_Data":
        ups = np.maximum(np.concatenate([np.array(h.ups, dtype=float) for h in hours]), 0.01)
        weights = np.concatenate([np.array(h.weights, dtype=float) for h in hours])
        hour = np.concatenate([np.full(len(h.ups), n) for n, h in enumerate(hours)])
        days = [h.evenings or tuple(range(1000 * n, 1000 * n + len(h.ups))) for n, h in enumerate(hours)]
        evening = np.unique(np.concatenate([np.array(d) for d in days]), return_inverse=True)[1]
        each = [weights[evening == e] for e in range(evening.max() + 1)]
        best = np.array([w.max() for w in each])
        share = best / best.sum()
        in_each = np.array([max(effective(w.tolist()), 1e-9) for w in each])
        worth = np.array([effective(weights[hour == n].tolist()) for n in range(len(hours))])
        geometric = float(np.exp(weights @ np.log(ups) / weights.sum()))
        return cls(
            ups, weights, hour, evening, worth, max(1.0, effective(best.tolist())), share,
            float(1 / np.sum(share / in_each)), geometric,
        )  # fmt: skip

    def spreads(self, y: Floats) -> "tuple[Floats, float, float, float]":
        """The middle of each hour, and the sums of squares in all, within evenings, and between them."""
        by_hour = np.array([np.average(y[self.hour == n], weights=self.weights[self.hour == n]) for n in range(len(self.worth))])  # fmt: skip
        left = y - by_hour[self.hour]
        by_evening = np.array([np.average(left[self.evening == e], weights=self.weights[self.evening == e]) for e in range(len(self.share))])  # fmt: skip
        common, n = float(self.share @ by_evening), self.worth.sum()
        within = n * np.average((left - by_evening[self.evening]) ** 2, weights=self.weights)
        between = self.evenings * float(self.share @ (by_evening - common) ** 2)
        return by_hour + common, float(n * np.average(left**2, weights=self.weights)), float(within), between

    @property
    def freedom(self) -> float:
        """What is left to tell the spread by, beyond the middles of the hours."""
        return float(max(self.worth.sum() - len(self.worth), 0.0))

    def usual(self, spread: float, power: float) -> float:
        """How far an upload lies from the middle that is less by such a share of it, where a power evens uploads."""
        return self.geometric * (
            float(-np.log(1 - spread)) if power == 0 else (1 - (1 - spread) ** power) / power
        )

    def before(self, power: float) -> float:
        """The sum of squares that counts beforehand."""
        return SAMPLES_BEFORE * self.usual(SAMPLE_SPREAD, power) ** 2


class _Fit(NamedTuple):
    """A shape as it fits: how likely, by which power, the middles and sums of squares; of two states, how many are down and up, and how
    far apart."""

    likely: float
    power: float
    middles: Floats
    within: float
    between: float
    down: float = 0.0
    up: float = 0.0
    apart: float = 0.0


def _fit(data: _Data, power: float, beforehand: float) -> _Fit:
    middles, every, within, between = data.spreads(evened(data.ups, power, data.geometric))
    likely = -(data.freedom + SAMPLES_BEFORE) / 2 * np.log(every + data.before(1.0)) + np.log(beforehand)
    return _Fit(float(likely), power, middles, within, between)


def _two_states(data: _Data) -> _Fit | None:
    """The line as one that is up or down, parted where that is likeliest; None where no gap among few measurements says so."""
    y = evened(data.ups, 0.0, data.geometric)
    level = np.array([np.median(y[data.hour == n]) for n in range(len(data.worth))])
    order = np.argsort(y - level[data.hour])
    sorted_, n = (y - level[data.hour])[order], float(data.worth.sum())
    worth = data.weights[order] / data.weights.sum() * n
    best: tuple[float, int, float, float, float] | None = None
    for at in range(1, len(y) - 1) if len(y) >= 4 else ():
        if sorted_[at] - sorted_[at - 1] < _APART * data.geometric:
            continue
        down, up = worth[:at].sum(), worth[at:].sum()
        if min(down, up) < _WORTH_OF_A_STATE:
            continue
        low, high = np.average(sorted_[:at], weights=worth[:at]), np.average(sorted_[at:], weights=worth[at:])
        squares = worth[:at] @ (sorted_[:at] - low) ** 2 + worth[at:] @ (sorted_[at:] - high) ** 2
        likely = -(data.freedom - 1 + SAMPLES_BEFORE) / 2 * np.log(squares + data.before(1.0))
        likely += down * np.log(down / n) + up * np.log(up / n) - np.log(max(n, 2)) + np.log(TWO_STATES)
        if best is None or likely > best[0]:
            best = float(likely), at, float(down), float(up), float(high - low)
    if best is None:
        return None
    likely, at, down, up, apart = best
    raised = y.copy()
    raised[order[:at]] += apart
    middles, _, within, between = data.spreads(raised)
    return _Fit(likely, 0.0, middles, within, between, down, up, apart)


def _drawn(data: _Data, fit: _Fit, n: int, draw: np.random.Generator, never_seen: float) -> LineDraws:
    """So many lines of a shape, from what the measurements leave possible of its middles and spreads."""
    evenings, hours = data.evenings, len(data.worth)
    free = max(data.worth.sum() - evenings - (hours - 1), 0.0)
    within = (data.before(fit.power) + fit.within) / draw.chisquare(SAMPLES_BEFORE + free, n)
    within, between = _spreads_drawn(data, fit, within, draw)
    differ = between**2 + within / data.in_an_evening
    common = draw.standard_normal(n) * np.sqrt(differ / evenings)
    own = draw.standard_normal((hours, n)) * np.sqrt(within / data.worth[:, None]) * (hours > 1)
    spread, nothing = np.sqrt(within), np.zeros(n)
    unseen = draw.beta(0.5, data.worth.sum() + 0.5, n) * (draw.random(n) < never_seen)
    share = draw.beta(fit.down + 0.5, fit.up + 0.5, n) if fit.apart else nothing
    by = fit.apart + draw.standard_normal(n) * spread * np.sqrt(1 / fit.down + 1 / fit.up) if fit.apart else nothing  # fmt: skip
    middles = fit.middles[:, None] + common + own
    return LineDraws(fit.power, data.geometric, middles, spread, between, share, by, unseen, float(data.ups.min()))  # fmt: skip


def _spreads_drawn(
    data: _Data, fit: _Fit, within: Floats, draw: np.random.Generator
) -> tuple[Floats, Floats]:
    """So many pairs of a variance within an evening and a standard deviation between evenings as agree with how far the evenings that
    were measured lie apart, of such variances within as are likely. Half-Cauchy beforehand (Gelman 2006, "Prior distributions for
    variance parameters in hierarchical models", §4.3)."""
    spreads = EVENING_SPREAD * np.tan(np.pi / 2 * (np.arange(_STEPS) + 0.5) / _STEPS * _MOST)
    apart = np.array([data.usual(min(float(s), 0.95), fit.power) for s in spreads])
    few = within[:_WITHINS]  # drawn by chance: the first are as good as any
    differ = apart[None, :] ** 2 + few[:, None] / data.in_an_evening
    fits = -(data.evenings - 1) / 2 * np.log(differ) - fit.between / (2 * differ)
    chances = np.cumsum(np.exp(fits - fits.max()))
    at = np.searchsorted(chances, chances[-1] * (np.arange(len(within)) + draw.random()) / len(within))
    at = np.minimum(draw.permutation(at), chances.size - 1)
    return few[at // _STEPS], apart[at % _STEPS]


def evened(ups: Floats, power: float, geometric: float) -> Floats:
    """Box and Cox's transform, scaled by the geometric mean so that the likelihoods of the powers compare."""
    if power == 0:
        return geometric * np.log(ups)
    found: Floats = (ups**power - 1) / (power * geometric ** (power - 1))
    return found


def _as_upload(y: Floats, power: float, geometric: float) -> Floats:
    """The upload in Mb/s that is `evened` to y."""
    if power == 0:
        return np.exp(np.minimum(y / geometric, 30.0))
    found: Floats = np.maximum(1e-9, 1 + y * power * geometric ** (power - 1)) ** (1 / power)
    return found
