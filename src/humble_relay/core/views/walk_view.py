"""What the crew carries about: what is to be found out place by place in walking order, what is plugged in there, the order of the day."""

from collections import defaultdict
from collections.abc import Iterator
from typing import Literal

from humble_relay.core.frozen import Frozen
from humble_relay.core.judgement import proven
from humble_relay.core.judging.answer import Choice
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.found import FoundAs
from humble_relay.core.judging.phrases import said_moment
from humble_relay.core.judging.wanted import Wanted, WantedThing
from humble_relay.core.places.distances import length_words
from humble_relay.core.places.walking import walking_order
from humble_relay.core.plan import Cable, Device, Link, Stream
from humble_relay.core.plan.vocabulary import ends_of
from humble_relay.core.show.go_live_order import order
from humble_relay.core.views.read_aloud import SpokenAddress, spoken_addresses
from humble_relay.core.views.trace_views import JourneyLine, reach_of


class WalkFact(Frozen):
    """A fact to find out: the question, how it is answered, and where each answer is written down."""

    id: str
    question: str
    unit: str
    typed: Literal["number", "text", "choice", "trial"]
    choices: tuple[Choice, ...]
    facts: tuple[FoundAs, ...]
    waits: int
    """How many required pictures wait for it."""


class WalkPlug(Frozen):
    """One plug of a device: its own, the way it goes, the other end, and what is on it."""

    own: str
    way: Literal["from", "to"]
    other: str
    carries: str
    stream: str = ""
    """Of a stream: which, among the calls."""


class WalkCall(Frozen):
    """How a stream gets from who calls to who is called, hop by hop."""

    stream: str
    traces: tuple[JourneyLine, ...]


class WalkDevice(Frozen):
    """A device where it stands: its plugs, and its addresses to read aloud."""

    id: str
    name: str
    plugs: tuple[WalkPlug, ...]
    addresses: tuple[SpokenAddress, ...]


class WalkPlace(Frozen):
    """A place: how far it is from the one before (m; None where nobody knows), what is to be found out there, and what stands there."""

    id: str
    name: str
    walk_m: float | None
    facts: tuple[WalkFact, ...]
    devices: tuple[WalkDevice, ...]


class WalkTask(Frozen):
    """A line of the run sheet."""

    id: str
    at: str
    what: str
    done: bool


class WalkView(Frozen):
    """A plan as the crew reads it. No key is in it."""

    plan: str
    show: str
    call: str
    zone: str
    """The show's time zone, by its IANA name; empty where only the offset of its start is known."""
    version: int
    places: tuple[WalkPlace, ...]
    """In walking order from the desk; what is of no place last."""
    calls: tuple[WalkCall, ...]
    tasks: tuple[WalkTask, ...]
    at_the_desk: tuple[str, ...]
    """What is to be found out, and answered where there is more to it than one value."""


def walk_view(case: Case, id: str, version: int) -> WalkView:
    """The walk through a plan at a version."""
    wanted = proven(case).wanted
    asked = [
        (places_of(case, w.things[0]) if w.things else (), _fact(w)) for w in wanted if _answered_here(w)
    ]
    places = [
        WalkPlace(
            id=place,
            name=case.places[place].name,
            walk_m=metres,
            facts=tuple(fact for at, fact in asked if place in at),
            devices=tuple(_device(case, d) for d in case.devices.values() if d.place == place),
        )
        for place, metres in walking_order(case)
    ]
    nowhere = tuple(fact for at, fact in asked if not set(at) & case.places.keys())
    if nowhere:
        places.append(WalkPlace(id="", name="Of no one place", walk_m=None, facts=nowhere, devices=()))
    clock = case.plan.show.clock
    return WalkView(
        plan=id, show=case.plan.show.name, call=case.plan.show.call, zone=case.plan.show.zone, version=version, places=tuple(places), calls=tuple(_calls(case)),
        tasks=tuple(WalkTask(id=t.id, at=said_moment(t.at.astimezone(clock)) if t.at else "", what=t.what, done=t.done) for t in order(case)),
        at_the_desk=tuple(w.question for w in wanted if not _answered_here(w)),
    )  # fmt: skip


def _calls(case: Case) -> Iterator[WalkCall]:
    for stream in case.streams:
        if traces := reach_of(case, stream).journeys:
            yield WalkCall(stream=stream.id, traces=traces)


def places_of(case: Case, thing: WantedThing) -> tuple[str, ...]:
    """Where a fact of a thing is found out; of a way between two places at either. None where it is of no one place."""
    match thing.noun:
        case "device" if device := case.devices.get(thing.id):
            return (device.place,) if device.place else ()
        case "link" if link := case.links.get(thing.id):
            found = (case.devices[end].place for end in ends_of(link))
            return tuple(dict.fromkeys(p for p in found if p))
        case "place":
            return (thing.id,)
        case "span":
            known = next(((s.a, s.b) for s in case.plan.spans if s.id == thing.id), None)
            # A way that nobody spoke of yet is named by its two ends.
            return known or tuple(p for p in case.places if f"-{p}-" in f"-{thing.id}-")
        case "uplink" | "network" | "router":
            sites = {
                (noun, x.id): x.site
                for noun, of in (("uplink", case.plan.uplinks), ("network", case.plan.networks))
                for x in of
            }
            sites |= {("router", r.id): r.site for r in case.plan.routers}
            site = sites.get((thing.noun, thing.id), "")
            return tuple(p.id for p in case.places.values() if p.site == site)[:1]
    return ()


def _answered_here(want: Wanted) -> bool:
    return bool(want.facts) or want.kept_in == "survey"


def _fact(want: Wanted) -> WalkFact:
    trial = want.kept_in == "survey"
    facts = want.facts or tuple(
        FoundAs(noun=t.noun, thing=t.id, part="", quantity="works") for t in want.things[:1]
    )
    typed: Literal["number", "text", "choice", "trial"] = "trial" if trial else want.typed  # type: ignore[assignment]
    return WalkFact(
        id=want.id, question=want.question, unit=want.unit, typed=typed, choices=want.choices, facts=facts, waits=len(want.aims)
    )  # fmt: skip


@analysis
def _links_at(case: Case) -> dict[str, list[Link]]:
    found = defaultdict[str, list[Link]](list)
    for link in case.links.values():
        for end in dict.fromkeys(ends_of(link)):
            found[end].append(link)
    return found


def _device(case: Case, device: Device) -> WalkDevice:
    plugs = []
    for link in _links_at(case).get(device.id, ()):
        ends = ends_of(link)
        out = ends[0] == device.id
        if isinstance(link, Stream):
            own, other = link.name, case.devices[ends[1 if out else 0]].name
            carries = f"{link.format.label}"
        else:
            refs = (link.from_port, link.to_port) if out else (link.to_port, link.from_port)
            own, other = case.ports[refs[0]].name, case.port_name(refs[1])
            carries = f"{link.cable} {length_words(case, link)}" if isinstance(link, Cable) else "radio"
        stream = link.id if isinstance(link, Stream) else ""
        plugs.append(
            WalkPlug(own=own, way="to" if out else "from", other=other, carries=carries, stream=stream)
        )
    return WalkDevice(
        id=device.id, name=device.name, plugs=tuple(plugs), addresses=tuple(spoken_addresses(case, device))
    )
