"""The places of each site as they lie, and every two of them with what is known of the way between."""

from collections.abc import Iterator
from itertools import combinations

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.places.distances import distance_m, span_between
from humble_relay.core.places.spans import where_it_is_said
from humble_relay.core.plan import Place
from humble_relay.core.plan.edits import Edit

MOST_PAIRS = 45
"""Of how many pairs of places each is listed, whether something was said of it or not: ten places."""


class Spot(Frozen):
    """A place as it lies in its site, in metres east and north of the corner that was chosen; on which floor."""

    place: str
    name: str
    x_m: float
    y_m: float
    floor: int


class Between(Frozen):
    """Two places and the way between them. `first` makes the way where nobody spoke of it yet."""

    span: str
    a: str
    b: str
    a_name: str
    b_name: str
    said: bool
    """Whether something was said of the way."""
    reckoned_m: float | None
    """How far it is by coordinates, in metres; None where they are not known."""
    first: tuple[Edit, ...]


class Ground(Frozen):
    """A site with the places whose position is known, and the names of those whose position is not."""

    site: str
    name: str
    spots: tuple[Spot, ...]
    nowhere: tuple[str, ...]


def grounds(case: Case) -> tuple[Ground, ...]:
    """Every site that has places, in the plan's order."""
    found = []
    for site in case.sites.values():
        places = [p for p in case.places.values() if p.site == site.id]
        spots = (
            Spot(place=p.id, name=p.name, x_m=p.x_m, y_m=p.y_m, floor=p.floor)
            for p in places
            if p.x_m is not None and p.y_m is not None
        )
        nowhere = tuple(p.name for p in places if p.x_m is None or p.y_m is None)
        if places:
            found.append(Ground(site=site.id, name=site.name, spots=tuple(spots), nowhere=nowhere))
    return tuple(found)


def ways_between(case: Case) -> tuple[Between, ...]:
    """The ways that were stated and, of a few places, every other pair within a site."""
    pairs = list(_pairs(case))
    if len(pairs) > MOST_PAIRS:
        pairs = [(a, b) for a, b in pairs if span_between(case, a.id, b.id)]
    named = {frozenset((a.id, b.id)) for a, b in pairs}
    for span in case.plan.spans:
        if frozenset((span.a, span.b)) not in named:
            pairs.append((case.places[span.a], case.places[span.b]))
    return tuple(_between(case, a, b) for a, b in pairs)


def _pairs(case: Case) -> Iterator[tuple[Place, Place]]:
    return ((a, b) for a, b in combinations(case.places.values(), 2) if a.site == b.site)


def _between(case: Case, a: Place, b: Place) -> Between:
    thing, first = where_it_is_said(case, a.id, b.id)
    span = span_between(case, a.id, b.id)
    by_coordinates = span is None or span.distance_m is None
    reckoned = distance_m(case, a.id, b.id) if by_coordinates else None
    return Between(
        span=thing.id,
        a=a.id,
        b=b.id,
        a_name=a.name,
        b_name=b.name,
        said=span is not None,
        reckoned_m=None if reckoned is None else round(reckoned, 1),
        first=first,
    )
