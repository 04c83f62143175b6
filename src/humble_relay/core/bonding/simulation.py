"""Several lines bonded to one: what they carry together on an evening, by simulation, and what is left when some go.

Every minute each line's upload is drawn about its middle, as widely as it was measured. What moves lines together is drawn
once for all it moves: a carrier, a mast, and the crowd that comes. Lines drop for a while, alone or with their carrier.
Same seed, same evenings.
"""

import zlib
from collections.abc import Sequence
from functools import lru_cache
from itertools import combinations
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

EVENINGS, FEWEST = 600, 100
"""How many evenings are simulated: fewer of a long show or of many lines, so that it stays under a second."""
_CELLS = 360_000
"""Evenings × minutes × lines, beyond which there are fewer."""
CARRIER, MAST, CROWD = 0.35, 0.25, 0.2
"""What part of a mobile line's variance is its carrier's, its mast's and the crowd's; the rest is its own (common practice, no
source: set it by measuring the modems at the same moments)."""
REMEMBERS_MIN = 5.0
"""How long what moves a line lasts, in minutes (common practice, no source)."""
OWN_DROPS, OWN_DROP_MIN = 0.2, 1.0
"""How often a mobile line drops for itself, an hour, and for how many minutes (common practice, no source)."""
CARRIER_DROPS, CARRIER_DROP_MIN = 0.02, 10.0
"""The same of a whole carrier."""
UNMEASURED_SPREAD = 0.35
"""Of a line measured fewer than three times: the standard deviation of the logarithm of its upload (common practice, no source)."""
Evenings = NDArray[np.float64]


class Part(NamedTuple):
    """A line of a bond: its middle upload in Mb/s, how widely the logarithm of it spreads, and how many measurements that rests
    on; what moves it together with others (empty: nothing known); its round trip in ms."""

    id: str
    middle_mbps: float
    spread: float
    worth: float
    mobile: bool = True
    carrier: str = ""
    mast: str = ""
    rtt_ms: float | None = None


class BondWithout(NamedTuple):
    """What is left when some lines are gone: the low end of the total in Mb/s."""

    gone: tuple[str, ...]
    low_mbps: float


class Bonded(NamedTuple):
    """The total of a bond in Mb/s over all minutes of all evenings: percentiles 1 to 99, and each line's share of it on average."""

    percentiles: tuple[float, ...]
    shares: tuple[float, ...]
    without_one: tuple[BondWithout, ...]
    without_two: tuple[BondWithout, ...]
    without_a_carrier: tuple[BondWithout, ...]
    lowest: tuple[float, ...]
    """The lowest minute of each evening, in Mb/s, in order."""

    def at(self, percent: int) -> float:
        """The total that so many percent of the minutes are below."""
        return self.percentiles[percent - 1]

    def holds_on(self, asked_mbps: float) -> float:
        """On how many of a hundred evenings no minute is below what is asked."""
        return float(100 * np.mean(np.array(self.lowest) >= asked_mbps))


@lru_cache(maxsize=64)
def bonded(parts: tuple[Part, ...], minutes: int, efficiency: float, seed: str = "") -> Bonded:
    """The evenings of a bond: `minutes` long; `efficiency` is the share that is left of the sum for pictures."""
    draw = np.random.default_rng(zlib.crc32(seed.encode()))
    lines = _lines(parts, minutes, draw)
    total = efficiency * lines.sum(axis=0)

    def left(gone: Sequence[int]) -> BondWithout:
        kept = [n for n in range(len(parts)) if n not in gone]
        low = float(np.percentile(efficiency * lines[kept].sum(axis=0), 10)) if kept else 0.0
        return BondWithout(tuple(parts[n].id for n in gone), low)

    carriers = dict.fromkeys(p.carrier for p in parts if p.carrier and p.mobile)
    of = {c: [n for n, p in enumerate(parts) if p.carrier == c and p.mobile] for c in carriers}
    return Bonded(
        percentiles=tuple(np.percentile(total, np.arange(1, 100)).tolist()),
        shares=tuple((lines.mean(axis=(1, 2)) / lines.mean(axis=(1, 2)).sum()).tolist()),
        without_one=tuple(left([n]) for n in range(len(parts))),
        without_two=tuple(left(pair) for pair in combinations(range(len(parts)), 2))
        if len(parts) > 2
        else (),
        without_a_carrier=tuple(left(which) for which in of.values() if len(which) > 1),
        lowest=tuple(np.sort(total.min(axis=1)).tolist()),
    )


def _lines(parts: tuple[Part, ...], minutes: int, draw: np.random.Generator) -> Evenings:
    """The upload of each line, in Mb/s, by evening and minute."""
    evenings = min(EVENINGS, max(FEWEST, _CELLS // (minutes * max(1, len(parts)))))
    shape = (evenings, minutes)
    crowd, common, down = _wandering(shape, draw), dict[str, Evenings](), dict[str, NDArray[np.bool_]]()
    for kind in ("carrier", "mast"):
        for name in dict.fromkeys(getattr(p, kind) for p in parts if p.mobile and getattr(p, kind)):
            common[f"{kind} {name}"] = _wandering(shape, draw)
    for name in dict.fromkeys(p.carrier for p in parts if p.mobile and p.carrier):
        down[name] = _drops(shape, CARRIER_DROPS, CARRIER_DROP_MIN, draw)
    found = []
    for part in parts:
        worth = max(part.worth, 1.0)
        middle = np.log(max(part.middle_mbps, 0.01)) + part.spread / np.sqrt(worth) * draw.standard_normal(
            (evenings, 1)
        )
        moved, own = np.zeros(shape), 1.0
        if part.mobile:
            for weight, by in (
                (CARRIER, common.get(f"carrier {part.carrier}")),
                (MAST, common.get(f"mast {part.mast}")),
                (CROWD, crowd),
            ):
                if by is not None:
                    moved, own = moved + np.sqrt(weight) * by, own - weight
        upload = np.exp(middle + part.spread * (moved + np.sqrt(own) * _wandering(shape, draw)))
        if part.mobile:
            upload[_drops(shape, OWN_DROPS, OWN_DROP_MIN, draw)] = 0.0
            if part.carrier in down:
                upload[down[part.carrier]] = 0.0
        found.append(upload)
    return np.stack(found)


def _wandering(shape: tuple[int, int], draw: np.random.Generator) -> Evenings:
    """Normal noise that remembers (an AR(1) process of unit variance)."""
    keep = np.exp(-1 / REMEMBERS_MIN)
    fresh = draw.standard_normal(shape)
    for minute in range(1, shape[1]):
        fresh[:, minute] = keep * fresh[:, minute - 1] + np.sqrt(1 - keep * keep) * fresh[:, minute]
    return fresh


def _drops(
    shape: tuple[int, int], an_hour: float, last_min: float, draw: np.random.Generator
) -> NDArray[np.bool_]:
    """The minutes in which it is down: it goes down at random, and comes back at random."""
    goes, comes = an_hour / 60, 1 - np.exp(-1 / last_min)
    chance = draw.random(shape)
    down = np.zeros(shape, dtype=bool)
    down[:, 0] = chance[:, 0] < goes / (goes + comes)
    for minute in range(1, shape[1]):
        before = down[:, minute - 1]
        down[:, minute] = np.where(before, chance[:, minute] >= comes, chance[:, minute] < goes)
    return down


def buffer_ms(parts: Sequence[Part]) -> float | None:
    """How long packets must be held to be put in order, in ms: until the slowest line's have come, and what was lost on it once
    more by the slowest; half a round trip apart and a round trip. None where a round trip is not known."""
    trips = [p.rtt_ms for p in parts]
    if not trips or None in trips:
        return None
    known = [t for t in trips if t is not None]
    return (max(known) - min(known)) / 2 + max(known)
