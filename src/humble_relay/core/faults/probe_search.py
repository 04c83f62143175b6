"""Which test to make next: the one that tells most about the causes for the minutes it takes (information theory; Shannon 1948)."""

from collections.abc import Iterable, Mapping, Sequence
from math import log2
from typing import NamedTuple

from humble_relay.core.log.fault_kinds import FaultAnswer

_TRUST = 0.93
"""How often an answer is as it should be by the cause: some are misread, and some causes show otherwise than usual."""
_MEND_TRUST = 0.98
"""The same of a repair: the picture is back, or it is not."""
_SURE = 0.55
"""From here on a cause is mended at once, where that is what tells most."""


class Probe(NamedTuple):
    """A test as the search sees it: its minutes, and the causes by which its answer is bad. A repair is one, whose cause it is."""

    id: str
    minutes: float
    bad_if: frozenset[str]
    mends: str = ""
    """The cause that it mends; its answer is good where the picture is back."""


class ProbeOutcome(NamedTuple):
    """What a test showed."""

    test: str
    answer: FaultAnswer


def narrowed(
    weights: Mapping[str, float], probes: Iterable[Probe], outcomes: Iterable[ProbeOutcome]
) -> dict[str, float]:
    """How likely each cause is after what was tried (Bayes); an answer that nobody could tell says nothing."""
    by_id = {t.id: t for t in probes}
    found = dict(weights)
    for outcome in outcomes:
        probe = by_id.get(outcome.test)
        if probe is None or outcome.answer == "cannot-tell":
            continue
        found = _after(found, probe, outcome.answer)
    return found


def _after(weights: Mapping[str, float], probe: Probe, answer: FaultAnswer) -> dict[str, float]:
    if probe.mends:
        found = {
            id: w * (_MEND_TRUST if (id == probe.mends) == (answer == "good") else 1 - _MEND_TRUST)
            for id, w in weights.items()
        }
    else:
        found = {
            id: w * (_TRUST if (id in probe.bad_if) == (answer == "bad") else 1 - _TRUST)
            for id, w in weights.items()
        }
    whole = sum(found.values()) or 1
    return {id: w / whole for id, w in found.items()}


def ranked(
    weights: Mapping[str, float], probes: Sequence[Probe], outcomes: Sequence[ProbeOutcome]
) -> list[Probe]:
    """The tests, the one first that tells most for a minute; of those that were made, again only what may have been misread."""
    made = {o.test for o in outcomes}
    most = max(weights, key=lambda id: weights[id], default="")
    scored = []
    for n, probe in enumerate(probes):
        gain = _gain(weights, probe)
        if probe.id in made:
            gain *= 0.3
        if probe.mends:
            # It is worth more than what it tells: where it is the cause, the picture is back.
            gain += weights.get(probe.mends, 0) * (
                1.0 if probe.mends == most and weights[most] >= _SURE else 0.2
            )
        scored.append((-gain / max(probe.minutes, 0.25), n, probe))
    return [probe for _, _, probe in sorted(scored)]


def _gain(weights: Mapping[str, float], probe: Probe) -> float:
    """How many bits a test tells, on average."""
    trust = _MEND_TRUST if probe.mends else _TRUST
    inside = sum(w for id, w in weights.items() if id in (probe.bad_if or {probe.mends}))
    says_so = inside * trust + (1 - inside) * (1 - trust)
    return _bits(says_so) - _bits(trust)


def _bits(p: float) -> float:
    return 0.0 if p <= 0 or p >= 1 else -p * log2(p) - (1 - p) * log2(1 - p)
