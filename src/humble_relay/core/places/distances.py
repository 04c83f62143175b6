"""How far apart two places are, how much cable that takes, and what lies between them."""

import math

from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Cable, Radio, Span

_NEAR_M = 2.0
"""A lead within one place, in metres (common practice, no source)."""


def span_between(case: Case, a: str | None, b: str | None) -> Span | None:
    """What was said of the way between two places."""
    return case.span_between.get(frozenset((a or "", b or "")))


def distance_m(case: Case, a: str | None, b: str | None) -> float | None:
    """How far two places are apart, in metres: as it was measured, else the straight line between their coordinates,
    storeys counted; None where neither is known. Each site has coordinates of its own."""
    span = span_between(case, a, b)
    if span and span.distance_m is not None:
        return span.distance_m
    first, second = case.places.get(a or ""), case.places.get(b or "")
    if not first or not second or first.site != second.site:
        return None
    if None in (first.x_m, first.y_m, second.x_m, second.y_m):
        return None
    up = (first.floor - second.floor) * case.figures["storey"]
    return math.hypot((first.x_m or 0) - (second.x_m or 0), (first.y_m or 0) - (second.y_m or 0), up)


def run_length_m(case: Case, a: str | None, b: str | None) -> float | None:
    """Metres of cable between two places: the distance plus slack; 2 m within one place. None where nobody knows how far
    they are apart, or where a box stands."""
    if a is not None and a == b:
        return _NEAR_M
    flat = distance_m(case, a, b)
    return None if flat is None else max(_NEAR_M, round(flat * (1 + case.figures["slack"] / 100)))


def length_of(case: Case, join: Cable | Radio) -> float | None:
    """The length of a cable, or the distance of a radio link, in metres: its own, else what the way between its places
    takes. None where nobody has measured either."""
    own = join.length_m if isinstance(join, Cable) else join.distance_m
    if own is not None:
        return own
    a, b = (case.device_of(ref).place for ref in (join.from_port, join.to_port))
    if isinstance(join, Cable):
        return run_length_m(case, a, b)
    return _NEAR_M if a is not None and a == b else distance_m(case, a, b)


def length_words(case: Case, join: Cable | Radio) -> str:
    """The length with its unit, or that it is to be measured."""
    length = length_of(case, join)
    return "measure" if length is None else f"{length:g} m"


def cable_can_go(case: Case, a: str | None, b: str | None) -> bool:
    """Whether a cable may be laid between two places: unless a look there said no."""
    span = span_between(case, a, b)
    return span is None or span.cable is not False


def walls_between(case: Case, a: str | None, b: str | None) -> int:
    """The walls and floors on the way between two places: those that were noted, or else at least one for each end that
    is indoors, when the places differ."""
    span = span_between(case, a, b)
    if span and span.between:
        return sum(x.kind in ("wall", "floor") for x in span.between)
    if a == b:
        return 0
    return sum(case.places[p].indoor for p in (a, b) if p in case.places)
