"""Whether what is laid between two places is as long as the way between them."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.frozen import free_id
from humble_relay.core.judging.answer import (
    HOLDS,
    DependsOn,
    Numbers,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    fails,
    waits,
    wants,
    within,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.working import number
from humble_relay.core.places.distances import cable_can_go, distance_m, length_of, span_between
from humble_relay.core.plan import Cable, Place, Radio, Span
from humble_relay.core.plan.edits import Addition, added

_ROUNDED_M = 0.1
"""Lengths and distances are written to the tenth of a metre."""


class Laid(NamedTuple):
    """A cable or radio link between two places, and its length or distance as planned, in metres."""

    link: Cable | Radio
    a: Place
    b: Place
    length_m: float | None


def _laid(case: Case) -> Iterator[tuple[Thing, Laid]]:
    for link in case.joins:
        a, b = (case.places.get(case.device_of(ref).place or "") for ref in (link.from_port, link.to_port))
        if a and b and a.id != b.id:
            yield Thing("link", link.id), Laid(link, a, b, length_of(case, link))


BETWEEN_PLACES: SubjectKind[Laid] = SubjectKind("cable or radio link between two places", _laid)


@check(
    "shorter-than-the-way", BETWEEN_PLACES, "signal", "Is it as long as the way between its two ends?", "arithmetic"
)  # fmt: skip
def shorter_than_the_way(case: Case, what: Laid) -> Verdict:
    """Whether a cable's length, or a radio link's distance (m), is at least the way between its places.

    A tenth less is doubtful, for positions are paced and not surveyed (common practice, no source); so is a cable of no more
    than the straight line, which lies over rises and round corners. A way that nobody measured, between places without
    coordinates or in two sites, is not known. A radio distance that contradicts its places is a doubt: its range is judged by
    the longer of the two.
    """
    link, a, b, length = what
    own = link.length_m if isinstance(link, Cable) else link.distance_m
    if isinstance(link, Cable) and not cable_can_go(case, a.id, b.id):
        return fails(lambda: _barred(case, what))
    apart = distance_m(case, a.id, b.id)
    if apart is None and isinstance(link, Cable) and a.site != b.site and _ends_within_a_site(case, link):
        return fails(lambda: _between_sites(case, what))
    if apart is None or length is None:
        thing, first = where_it_is_said(case, a.id, b.id)
        return wants(Want(thing, "distance_m", f"How far is it from {a.name} to {b.name}?", "m", first=first))
    if own is None:
        return HOLDS  # it is cut to the way
    laid = apart * (case.figures["rise"] if isinstance(link, Cable) else 1)
    numbers = Numbers(
        length, laid - _ROUNDED_M, apart * case.figures["paced"] - _ROUNDED_M, "m", at_least=True
    )
    if isinstance(link, Radio):
        return HOLDS if length >= apart * case.figures["paced"] - _ROUNDED_M else doubtful(lambda: _two_distances(case, what, apart), numbers)  # fmt: skip

    def say() -> Words:
        return Words(
            f"{case.link_name(link.id)} is {length:g} m, and from {a.name} to {b.name} it is {number(apart)} m in a straight line.",
            "The cable does not reach, and the day is spent looking for another."
            if length < apart
            else "Nothing is left for the drop from the table, the corner and the loop at each end.",
            "Plan the length that the way takes, rise and corners included.",
        )

    return within(numbers, say)


def _two_distances(case: Case, what: Laid, apart: float) -> Words:
    return Words(
        f"{case.link_name(what.link.id)} is planned over {what.length_m:g} m, and {what.a.name} and {what.b.name} are {number(apart)} m apart.",
        f"One of the two is wrong: its range is judged for {number(apart)} m.",
        "Put in the distance between the two places, or move the place to where the device stands.",
    )


def length_unknown(case: Case, join: Cable | Radio) -> Verdict:
    """That it is not known how long a cable or radio link is: until the way between its places is, else of itself."""
    a, b = (case.places.get(case.device_of(ref).place or "") for ref in (join.from_port, join.to_port))
    if a and b and a.id != b.id:
        return waits(DependsOn(shorter_than_the_way, Thing("link", join.id)))
    cable = isinstance(join, Cable)
    asked = f"How {'long' if cable else 'far'} is it from {case.port_name(join.from_port)} to {case.port_name(join.to_port)}?"
    return wants(Want(Thing("link", join.id), "length_m" if cable else "distance_m", asked, "m"))


def where_it_is_said(case: Case, a: str, b: str) -> tuple[Thing, tuple[Addition, ...]]:
    """The way between two places as a thing that facts are typed into, and what makes it where nobody spoke of it yet."""
    span = span_between(case, a, b)
    if span:
        return Thing("span", span.id), ()
    id = free_id("-".join(sorted((a, b)))[:50].strip("-"), {s.id for s in case.plan.spans})
    return Thing("span", id), (added(Span(id=id, a=a, b=b)),)


_ONE_SITE_M = 50
"""A kind of cable that is hopeless beyond this stays within a site: two sites have internet lines of their own."""


def _ends_within_a_site(case: Case, cable: Cable) -> bool:
    """Whether a kind of cable carries so short a way that it joins no two sites, unless it was measured how near they are."""
    if cable.cable not in ("hdmi", "usb2", "usb3", "vga"):
        return False
    most = case.figures[f"{cable.cable}-reach"] * case.figures[f"{cable.cable}-hopeless"]
    return most * (cable.repeaters + 1) <= _ONE_SITE_M


def _between_sites(case: Case, what: Laid) -> Words:
    sites = [case.sites[place.site].name for place in (what.a, what.b)]
    return Words(
        f"{case.link_name(what.link.id)} runs from {what.a.name} ({sites[0]}) to {what.b.name} ({sites[1]}): two sites, each with an internet line of its own.",
        "No cable of this kind reaches from the one to the other.",
        "Send it as a stream, or move the place to the site where it is. If the two are neighbours, say how far they are apart.",
    )


def _barred(case: Case, what: Laid) -> Words:
    return Words(
        f"{case.link_name(what.link.id)} runs from {what.a.name} to {what.b.name}, where no cable can go.",
        "It cannot be laid, whatever its length.",
        "Go by radio, over the network, or by another place.",
    )


CHECKS = (shorter_than_the_way,)
