"""The order in which the places of a show are walked: the shortest walk from the desk."""

from itertools import pairwise

from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.places.distances import distance_m
from humble_relay.core.plan.vocabulary import MIXERS


@analysis
def walking_order(case: Case) -> list[tuple[str, float | None]]:
    """The places in the order of the shortest walk from the desk, each with the metres from the one before; those that no known distance
    leads to last.

    Of up to nine places the shortest of all walks (dynamic programming; Held and Karp, 1962); of more, always on to the nearest.
    """
    places = list(case.places)
    if not places:
        return []
    desk = (
        next((d.place for d in case.devices.values() if d.kind in MIXERS and d.place in case.places), None)
        or places[0]
    )

    def metres(a: str, b: str) -> float | None:
        direct = distance_m(case, a, b)
        if direct is not None:
            return direct
        back, out = distance_m(case, a, desk), distance_m(case, desk, b)
        return None if back is None or out is None else back + out  # by way of the desk

    known = [p for p in places if p != desk and metres(desk, p) is not None]
    apart = {(a, b): metres(a, b) or 0.0 for a in (desk, *known) for b in known if a != b}
    walk = _shortest(desk, known, apart) if len(known) < _EXACT else _nearest(desk, known, apart)
    steps = [(b, apart[a, b]) for a, b in pairwise((desk, *walk))]
    return [(desk, 0.0), *steps, *((p, None) for p in places if p != desk and p not in known)]


_EXACT = 10
_Apart = dict[tuple[str, str], float]


def _shortest(start: str, places: list[str], apart: _Apart) -> list[str]:
    best: dict[tuple[frozenset[str], str], tuple[float, list[str]]] = {
        (frozenset((p,)), p): (apart[start, p], [p]) for p in places
    }
    for _ in places[1:]:
        longer: dict[tuple[frozenset[str], str], tuple[float, list[str]]] = {}
        for (seen, last), (far, walk) in best.items():
            for p in places:
                if p not in seen:
                    key, found = (seen | {p}, p), (far + apart[last, p], [*walk, p])
                    longer[key] = min(longer.get(key, found), found)
        best = longer
    return min(best.values())[1] if best else []


def _nearest(start: str, places: list[str], apart: _Apart) -> list[str]:
    left, walk = list(places), list[str]()
    while left:
        here = walk[-1] if walk else start
        walk.append(min(left, key=lambda p: apart[here, p]))
        left.remove(walk[-1])
    return walk
