"""The hops that a picture takes to its end, each with the answers about it: what a proof is put together of."""

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence

from humble_relay.core.egress.outbound import in_the_cloud, on_the_internet, stays
from humble_relay.core.judging.answer import Answer, Subject
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.concerns import HopKind, Scope
from humble_relay.core.judging.proof import HopAsked, PartAsked
from humble_relay.core.lan.wired_paths import wired_paths
from humble_relay.core.plan import Aim, Cable, Link, Stream
from humble_relay.core.plan.vocabulary import MIXERS, ends_of
from humble_relay.core.reach.stream_uplinks import uplink_crossed
from humble_relay.core.signal.flow.tracing import medium_words, paths_to
from humble_relay.core.signal.ports.coverage import meets

ByThing = Mapping[tuple[Subject, str], Sequence[Answer]]
"""The answers about each thing."""


def title_of(case: Case, aim: Aim) -> str:
    """The aim in words, such as `Program of Switcher at Alder`."""
    picture = "Picture" if aim.picture == "source" else aim.picture.capitalize()
    whose = f" of {case.devices[aim.of].name}" if aim.of else ""
    return f"{picture}{whose} at {case.devices[aim.end].name}"


def parts_of(case: Case, given: ByThing, aim: Aim) -> list[PartAsked]:
    """The trunk, from the last mix to the end, and a branch for each source; each hop in the first part it is on."""
    used: set[str] = set()
    trunk, branches = list[HopAsked](), list[PartAsked]()
    for source, links in paths_to(case, aim.end, lambda signal: meets(aim, signal)):
        boxes = [source, *(ends_of(case.links[id])[1] for id in links)]
        mixed = max((n for n, d in enumerate(boxes[:-1]) if case.devices[d].kind in MIXERS), default=0)
        branch = list(_hops(case, given, boxes[: mixed + 1], links[:mixed], used)) if mixed else []
        if branch:
            branches.append(PartAsked(f"From {case.devices[source].name}", tuple(branch)))
        trunk += _hops(case, given, boxes[mixed:], links[mixed:], used)
    return [PartAsked(f"To {case.devices[aim.end].name}", tuple(trunk)), *branches] if trunk else branches


def _hops(
    case: Case, given: ByThing, boxes: list[str], links: tuple[str, ...], used: set[str]
) -> Iterator[HopAsked]:
    """The boxes and the links between them, in the order of the signal, but for those used before."""
    way = set(links)
    for n, box in enumerate(boxes):
        touching = {links[n - 1]} if n else set()
        touching |= {links[n]} if n < len(links) else set()
        if n:
            link = case.links[links[n - 1]]
            for cable in wired_paths(case).get(link.id, ()):
                yield from _wired(
                    case, given, cable, {box, link.from_device if isinstance(link, Stream) else box}, used
                )
            yield from _link(case, given, link, used)
        for line in audio_into(case).get(box, ()):
            yield from _link(case, given, line, used)
            touching.add(line.id)
        if (id := f"device:{box}") not in used:
            used.add(id)
            device = case.devices[box]
            about = tuple(_about_box(case, given, box, touching | way))
            yield HopAsked(id, HopKind("box", device.kind), device.name, about)


def _link(case: Case, given: ByThing, link: Link, used: set[str]) -> Iterator[HopAsked]:
    if (id := f"link:{link.id}") not in used:
        used.add(id)
        line = uplink_crossed(case, link) if isinstance(link, Stream) else None
        words = (
            f"{medium_words(case, link)} by {case.uplinks[line].name}" if line else medium_words(case, link)
        )
        yield HopAsked(id, _kind(case, link), words, tuple(_about_link(case, given, link)))


def _wired(case: Case, given: ByThing, cable: str, streaming: set[str], used: set[str]) -> Iterator[HopAsked]:
    """A network cable that a stream runs over, and the switch, router or injector at its end."""
    link = case.links[cable]
    yield from _link(case, given, link, used)
    for box in ends_of(link):
        if box not in streaming and (id := f"device:{box}") not in used:
            used.add(id)
            device = case.devices[box]
            yield HopAsked(
                id, HopKind("box", device.kind), device.name, tuple(_about_box(case, given, box, {cable}))
            )


@analysis
def audio_into(case: Case) -> dict[str, list[Cable]]:
    """For each box, the whole sound cables that go into it."""
    found: dict[str, list[Cable]] = defaultdict(list)
    for cable in case.cables:
        if cable.cable == "audio" and not cable.broken:
            found[ends_of(cable)[1]].append(cable)
    return found


def _kind(case: Case, link: Link) -> HopKind:
    if isinstance(link, Stream):
        return HopKind("stream", link.protocol, _scope(case, link))
    return HopKind("radio", "radio") if link.kind == "radio" else HopKind("cable", link.cable)


def _scope(case: Case, stream: Stream) -> Scope:
    sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
    if stays(case, stream):
        return "within a site"
    if in_the_cloud(sender):
        return "between services" if on_the_internet(taker) else "from a service"
    return "to a platform" if taker.ingest else "between sites"


def _about_link(case: Case, given: ByThing, link: Link) -> Iterator[Answer]:
    """The answers about a link; of a stream also about the line it leaves by, what that is made of, and the networks of its
    sender."""
    yield from given.get(("link", link.id), ())
    if isinstance(link, Stream):
        of_sender = given.get(("device", link.from_device), ())
        yield from (a for a in of_sender if a.thing.part == link.id)
        line = uplink_crossed(case, link) or ""
        for each in (line, *(case.uplinks[line].parts if line else ())):
            yield from given.get(("uplink", each), ())
        for id in dict.fromkeys(p.network for _, p in case.network_ports(case.devices[link.from_device])):
            yield from given.get(("network", id or ""), ())


def _about_box(case: Case, given: ByThing, id: str, links: set[str]) -> Iterator[Answer]:
    """The answers about a box, and about those of its ports and streams that are on the way."""
    device = case.devices[id]
    ports = {p.id for p in device.ports}
    streams = {s.id for s in (*case.streams_from.get(id, ()), *case.streams_to.get(id, ()))}
    used = {ref.partition("/")[2] for x in links for ref in _ports(case.links[x]) if ref.startswith(f"{id}/")}
    if streams & links:
        used |= {p.id for p in device.ports if p.network}
    for answer in given.get(("device", id), ()):
        part = answer.thing.part
        if (part in ports and part not in used) or (part in streams and part not in links):
            continue
        yield answer


def _ports(link: Link) -> tuple[str, ...]:
    if isinstance(link, Stream):
        return (f"{link.to_device}/{link.input}",) if link.input else ()
    return link.from_port, link.to_port
