"""A case judged: every check in its order, the answers, and what they come to: findings, proofs, facts wanted."""

from collections import defaultdict
from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core import capacity, network, places, power, radio, show, signal, timing
from humble_relay.core.judging.answer import Answer
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import Answers, Check, judged
from humble_relay.core.judging.concerns import HopKind, Scope
from humble_relay.core.judging.finding import Finding, findings_of
from humble_relay.core.judging.proof import HopAsked, PartAsked, Proof, proof
from humble_relay.core.judging.wanted import Wanted, wanted
from humble_relay.core.network.reach.line_of import way_out
from humble_relay.core.network.ways_out import in_the_cloud, on_the_internet, stays
from humble_relay.core.network.wired_paths import wired_paths
from humble_relay.core.plan import Aim, Cable, Link, Stream
from humble_relay.core.questions import QUESTIONS
from humble_relay.core.signal.flow.propagation import MIXERS, ends_of
from humble_relay.core.signal.flow.tracing import medium_words, paths_to
from humble_relay.core.signal.ports.coverage import meets

CHECKS: tuple[Check, ...] = (
    *show.CHECKS, *places.CHECKS, *radio.CHECKS, *signal.CHECKS, *timing.CHECKS, *power.CHECKS, *network.CHECKS, *capacity.CHECKS,
)  # fmt: skip
BY_NAME = {check.name: check for check in CHECKS}


@analysis
def answers(case: Case) -> Answers:
    """Every answer of the case."""
    return judged(case, CHECKS)


@analysis
def findings(case: Case) -> list[Finding]:
    """Every finding of the case: worst first, then in the order of the stages."""
    return findings_of(case, answers(case), BY_NAME)


class Proven(NamedTuple):
    """The proofs of a case in the order of their aims, and the facts that they wait for."""

    proofs: tuple[Proof, ...]
    wanted: tuple[Wanted, ...]


@analysis
def proven(case: Case) -> Proven:
    """The proof of every aim, the most important first; and the facts wanted, those that most aims wait for first."""
    accepted = {f.id: f.accepted for f in findings(case) if f.accepted}
    proofs: list[Proof] = []
    waiting: dict[str, list[str]] = defaultdict(list)
    for aim in sorted(case.plan.aims, key=lambda a: (a.need != "needed", a.priority)):
        case.pulse()
        own, parts = answers(case).by_thing.get(("aim", aim.id), ()), _parts(case, aim)
        proofs.append(proof(aim, title_of(case, aim), own, parts, BY_NAME, QUESTIONS, accepted))
        for part in parts:
            for hop in part.hops:
                for answer in hop.answers:
                    waiting[answer.id].append(aim.id)
    return Proven(tuple(proofs), wanted(answers(case).every, waiting))


def title_of(case: Case, aim: Aim) -> str:
    """The aim in words, such as `Program of Switcher at Alder`."""
    picture = "Picture" if aim.picture == "source" else aim.picture.capitalize()
    whose = f" of {case.devices[aim.of].name}" if aim.of else ""
    return f"{picture}{whose} at {case.devices[aim.end].name}"


def _parts(case: Case, aim: Aim) -> list[PartAsked]:
    """The trunk, from the last mix to the end, and a branch for each source; each hop in the first part it is on."""
    used: set[str] = set()
    trunk, branches = list[HopAsked](), list[PartAsked]()
    for source, links in paths_to(case, aim.end, lambda signal: meets(aim, signal)):
        boxes = [source, *(ends_of(case.links[id])[1] for id in links)]
        mixed = max((n for n, d in enumerate(boxes[:-1]) if case.devices[d].kind in MIXERS), default=0)
        branch = list(_hops(case, boxes[: mixed + 1], links[:mixed], used)) if mixed else []
        if branch:
            branches.append(PartAsked(f"From {case.devices[source].name}", tuple(branch)))
        trunk += _hops(case, boxes[mixed:], links[mixed:], used)
    return [PartAsked(f"To {case.devices[aim.end].name}", tuple(trunk)), *branches] if trunk else branches


def _hops(case: Case, boxes: list[str], links: tuple[str, ...], used: set[str]) -> Iterator[HopAsked]:
    """The boxes and the links between them, in the order of the signal, but for those used before."""
    way = set(links)
    for n, box in enumerate(boxes):
        touching = {links[n - 1]} if n else set()
        touching |= {links[n]} if n < len(links) else set()
        if n:
            link = case.links[links[n - 1]]
            for cable in wired_paths(case).get(link.id, ()):
                yield from _wired(
                    case, cable, {box, link.from_device if isinstance(link, Stream) else box}, used
                )
            yield from _link(case, link, used)
        for line in audio_into(case).get(box, ()):
            yield from _link(case, line, used)
            touching.add(line.id)
        if (id := f"device:{box}") not in used:
            used.add(id)
            device = case.devices[box]
            about = tuple(_about_box(case, box, touching | way))
            yield HopAsked(id, HopKind("box", device.kind), device.name, about)


def _link(case: Case, link: Link, used: set[str]) -> Iterator[HopAsked]:
    if (id := f"link:{link.id}") not in used:
        used.add(id)
        line = way_out(case, link) if isinstance(link, Stream) else None
        words = (
            f"{medium_words(case, link)} by {case.uplinks[line].name}" if line else medium_words(case, link)
        )
        yield HopAsked(id, _kind(case, link), words, tuple(_about_link(case, link)))


def _wired(case: Case, cable: str, streaming: set[str], used: set[str]) -> Iterator[HopAsked]:
    """A network cable that a stream runs over, and the switch, router or injector at its end."""
    link = case.links[cable]
    yield from _link(case, link, used)
    for box in ends_of(link):
        if box not in streaming and (id := f"device:{box}") not in used:
            used.add(id)
            device = case.devices[box]
            yield HopAsked(
                id, HopKind("box", device.kind), device.name, tuple(_about_box(case, box, {cable}))
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


def _about_link(case: Case, link: Link) -> Iterator[Answer]:
    """The answers about a link; of a stream also about the line it leaves by, what that is made of, and the networks of its
    sender."""
    by_thing = answers(case).by_thing
    yield from by_thing.get(("link", link.id), ())
    if isinstance(link, Stream):
        of_sender = by_thing.get(("device", link.from_device), ())
        yield from (a for a in of_sender if a.thing.part == link.id)
        line = way_out(case, link) or ""
        for each in (line, *(case.uplinks[line].parts if line else ())):
            yield from by_thing.get(("uplink", each), ())
        for id in dict.fromkeys(p.network for _, p in case.network_ports(case.devices[link.from_device])):
            yield from by_thing.get(("network", id or ""), ())


def _about_box(case: Case, id: str, links: set[str]) -> Iterator[Answer]:
    """The answers about a box, and about those of its ports and streams that are on the way."""
    device = case.devices[id]
    ports = {p.id for p in device.ports}
    streams = {s.id for s in (*case.streams_from.get(id, ()), *case.streams_to.get(id, ()))}
    used = {ref.partition("/")[2] for x in links for ref in _ports(case.links[x]) if ref.startswith(f"{id}/")}
    if streams & links:
        used |= {p.id for p in device.ports if p.network}
    for answer in answers(case).by_thing.get(("device", id), ()):
        part = answer.thing.part
        if (part in ports and part not in used) or (part in streams and part not in links):
            continue
        yield answer


def _ports(link: Link) -> tuple[str, ...]:
    if isinstance(link, Stream):
        return (f"{link.to_device}/{link.input}",) if link.input else ()
    return link.from_port, link.to_port
