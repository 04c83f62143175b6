"""Whether a service on the internet is used where it is nearest to where its pictures go."""

from collections.abc import Iterator
from math import asin, cos, inf, radians, sin, sqrt
from typing import NamedTuple

from humble_relay.core.egress.outbound import in_the_cloud
from humble_relay.core.judging.answer import (
    HOLDS,
    Choice,
    Numbers,
    Thing,
    Verdict,
    Want,
    Words,
    wants,
    within,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import listed
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.plan import Device, Site
from humble_relay.core.plan.devices import Zone

EARTH_KM = 6371.0
"""The mean radius of the earth (IUGG, 6371.0 km)."""
WORTH_MS = 5.0
"""A round trip shorter by less than this is no reason to move; light in fibre goes 100 km and back in 1 ms (common practice,
no source; refractive index 1.47, from memory)."""
WORTH_KM = WORTH_MS * 100


class Served(NamedTuple):
    """A service that can be had in several zones, and the sites that its pictures go to."""

    service: Device
    zones: tuple[Zone, ...]
    sites: tuple[Site, ...]


def distance_km(a: tuple[float, float], b: tuple[float, float]) -> float:
    """The way over the ground between two points, each latitude and longitude in degrees, in km (haversine).

    A quarter of the way round the earth, from a pole to the equator, is 10 007.5 km:

    >>> round(distance_km((90, 0), (0, 45)), 1)
    10007.5
    """
    lat_a, lat_b = radians(a[0]), radians(b[0])
    h = sin((lat_b - lat_a) / 2) ** 2 + cos(lat_a) * cos(lat_b) * sin(radians(b[1] - a[1]) / 2) ** 2
    return 2 * EARTH_KM * asin(min(1.0, sqrt(h)))


def _served(case: Case) -> Iterator[tuple[Thing, Served]]:
    for device in case.devices.values():
        if not in_the_cloud(device) or not device.ingest or len(device.ingest.zones) < 2:
            continue
        out = [case.site_of(case.devices[s.to_device]) for s in case.streams_from.get(device.id, ())]
        in_ = [case.site_of(case.devices[s.from_device]) for s in case.streams_to.get(device.id, ())]
        sites = [s for s in out if s] or [s for s in in_ if s]
        if out or in_:
            yield (
                Thing("device", device.id, "zone"),
                Served(device, device.ingest.zones, tuple(dict.fromkeys(sites))),
            )


SERVED: SubjectKind[Served] = SubjectKind("service on the internet that can be had in several zones", _served)


def nearest_zone(what: Served) -> tuple[Zone, dict[str, float], str] | None:
    """The nearest zone to where the pictures go, how far each is, and the unit: by measured round trip (ms) where every zone
    has one, by distance (km, the mean over the sites) where not; None where neither is known of all."""
    if all(z.round_trip_ms is not None for z in what.zones):
        far = {z.name: z.round_trip_ms or 0.0 for z in what.zones}
        return min(what.zones, key=lambda z: far[z.name]), far, "ms"
    points = [
        (s.latitude, s.longitude) for s in what.sites if s.latitude is not None and s.longitude is not None
    ]
    if not what.sites or len(points) < len(what.sites):
        return None
    far = {}
    for zone in what.zones:
        if zone.latitude is None or zone.longitude is None:
            return None
        there = (zone.latitude, zone.longitude)
        far[zone.name] = sum(distance_km(there, p) for p in points) / len(points)
    return min(what.zones, key=lambda z: far[z.name]), far, "km"


@check(
    "zone-far", SERVED, "addresses", "Is it used in the zone nearest to where its pictures go?",
    "common practice, no source", "plan", tried=True,
)  # fmt: skip
def zone_far(case: Case, what: Served) -> Verdict:
    """Whether the zone in use is about as near as the nearest (round trip in ms, or distance in km where nobody measured)."""
    service = what.service
    assert service.ingest
    thing = Thing("device", service.id)
    used = next((z for z in what.zones if z.host and z.host == service.ingest.host), None)
    found = nearest_zone(what)
    if used is None:
        there = tuple(Choice(value=z.host, words=f"{z.name}, {z.host}") for z in what.zones if z.host)
        near = f" {found[0].name} is nearest to where its pictures go." if found else ""
        return wants(
            Want(thing, "ingest.host", f"In which zone is {service.name} used?{near}", choices=there)
        )
    if found is None:
        if len(what.sites) == 0:
            return HOLDS
        asked = f"What is the round trip from {listed(s.name for s in what.sites)} to each zone of {service.name}?"
        return wants(Want(thing, "ingest.zones", asked, "ms"))
    best, far, unit = found
    numbers = Numbers(
        round(far[used.name], 1),
        round(far[best.name] + (WORTH_MS if unit == "ms" else WORTH_KM), 1),
        inf,
        unit,
    )

    def say() -> Words:
        how = "as measured" if unit == "ms" else "by distance: nobody measured the round trips"
        steps = tuple(Step(name=z.name, value=round(far[z.name], 1), unit=unit, source="measured" if unit == "ms" else "arithmetic (haversine)") for z in sorted(what.zones, key=lambda z: far[z.name]))  # fmt: skip
        return Words(
            f"{service.name} is used in {used.name}, {number(far[used.name])} {unit} from {listed(s.name for s in what.sites) or 'where it is sent from'}; {best.name} is {number(far[best.name])} {unit} from there, {how}.",
            "Every picture goes the longer way, and waits longer for what is lost on it.",
            f"Choose {best.name} before going live: the zone cannot be changed while live.",
            Working(name="Nearest zone", value=round(far[best.name], 1), unit=unit, steps=steps),
        )

    return within(numbers, say)


CHECKS = (zone_far,)
