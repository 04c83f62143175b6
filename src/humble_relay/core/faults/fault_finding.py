"""A fault as far as it is understood: what it may be, what to look at next, and how the show goes on meanwhile."""

from collections.abc import Iterable, Sequence
from datetime import datetime, timedelta
from typing import NamedTuple

from humble_relay.core.egress.outbound import router_out
from humble_relay.core.faults.causes import Cause, causes_of, path_of_picture, weights
from humble_relay.core.faults.fault_log import FaultAttempt
from humble_relay.core.faults.fault_tests import FaultTest, fault_tests
from humble_relay.core.faults.probe_search import Probe, ProbeOutcome, narrowed, ranked
from humble_relay.core.judging.case import Case
from humble_relay.core.log.entries import FaultBegun
from humble_relay.core.plan import Device, Stream
from humble_relay.core.plan.vocabulary import MIXERS, is_public
from humble_relay.core.setup.day import SetupDay
from humble_relay.core.setup.seen_pictures import SeenPicture, seen_pictures
from humble_relay.core.show.day_jobs import walk_of


class NextTest(NamedTuple):
    """A test, and how long it takes with the way there, in min."""

    test: FaultTest
    minutes: float


class Understood(NamedTuple):
    """What is known of a fault."""

    causes: tuple[Cause, ...]
    odds: dict[str, float]
    """How likely each cause is, out of 1."""
    tests: tuple[NextTest, ...]
    """Every test, the best first."""


def find_out(
    case: Case,
    picture: SeenPicture,
    begun: FaultBegun,
    day: SetupDay,
    attempts: Sequence[FaultAttempt] = (),
    here: str | None = None,
) -> Understood:
    """What a fault may be after the attempts, and what tells most for its minutes, from the place where one stands: that of the last
    attempt, or where the picture is looked at."""
    causes = causes_of(case, picture, begun.symptom)
    tests = fault_tests(case, picture, begun.symptom, causes)
    by_id = {t.id: t for t in tests}
    made = [ProbeOutcome(a.test, a.answer) for a in attempts]
    if here is None:
        last = next((by_id[a.test].place for a in reversed(attempts) if a.test in by_id), None)
        here = last if last is not None else case.devices[picture.device].place or ""
    walk = walk_of(case)
    minutes = {t.id: t.minutes + walk(here, t.place) for t in tests}
    probes = [Probe(t.id, minutes[t.id], t.bad_if, t.mends) for t in tests]
    odds = narrowed(weights(case, picture, begun, causes, day), probes, made)
    order = ranked(odds, probes, made)
    return Understood(causes, odds, tuple(NextTest(by_id[t.id], minutes[t.id]) for t in order))


_TRIED, _PATIENCE = 2, timedelta(minutes=5)
"""After so many tests that found nothing, or so long, the show goes on another way."""


def is_long(since: datetime | None, attempts: Sequence[FaultAttempt], now: datetime) -> bool:
    """Whether a fault has lasted long enough that the workaround comes first."""
    in_vain = sum(a.test.startswith("mend:") or a.answer != "bad" for a in attempts)
    return in_vain >= _TRIED or (since is not None and now - since >= _PATIENCE)


def workarounds(case: Case, picture: SeenPicture, day: SetupDay) -> tuple[str, ...]:
    """How the show goes on without this picture, those that need nothing first."""
    return tuple(dict.fromkeys(_workarounds(case, picture, day)))


def is_relay(device: Device) -> bool:
    """Whether it is a service that passes one push on to several destinations."""
    return device.ingest is not None and device.encoding is not None and device.encoding.destinations > 1


def _workarounds(case: Case, picture: SeenPicture, day: SetupDay) -> Iterable[str]:
    end = case.devices[picture.device]
    streams = [link for h in picture.hops if isinstance(link := case.links[h.link], Stream)]
    if end.kind in MIXERS:
        others = [p for p in seen_pictures(case) if p.device == end.id and p.id != picture.id]
        for other in sorted(others, key=lambda p: day.pictures[p.id].state == "open")[:2]:
            seen = "" if day.pictures[other.id].state == "open" else ", which was seen today"
            yield f"Cut to {case.devices[path_of_picture(other)[0]].name}{seen}"
        yield f"Show a slate from {end.name}, and keep the sound"
    elif end.ingest:
        relays = [d for d in case.devices.values() if is_relay(d) and d.id != end.id]
        relays.sort(key=lambda d: -(d.encoding.destinations if d.encoding else 0))
        others_live = [
            p
            for p in seen_pictures(case)
            if p.device != end.id and case.devices[p.device].ingest and not case.devices[p.device].encoding
        ]
        if others_live:
            yield f"Tell viewers to watch on {case.devices[others_live[0].device].name}"
        if relays:
            yield f"Push to {relays[0].name}, and let it pass the picture on to {end.name}"
        for stream in streams:
            router = router_out(case, case.devices[stream.from_device])
            if router and len(router.uplinks) > 1:
                yield f"Change {router.name} to {case.uplinks[router.uplinks[1]].name}"
        yield "Send a slate with the sound, at half the bitrate"
    else:
        where = case.places[end.place].name if end.place in case.places else end.name
        if any(is_public(d) and case.streams_to.get(d.id) for d in case.devices.values()):
            yield f"Open the public stream on a laptop, {where}: later, but a picture"
        yield "Bring the sound alone: a telephone on the loudspeaker"
