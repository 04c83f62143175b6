"""The kinds of thing that questions are about, where the plan alone says which there are."""

from collections.abc import Sequence

from humble_relay.core.judging.answer import Thing
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind
from humble_relay.core.plan import Cable, Link, Network, Port, Radio, Show, Stream


def end_of_link(link: Cable, ref: str) -> Thing:
    """One end of a cable."""
    return Thing("link", link.id, ref.replace("/", "-"))


def port_of(ref: str) -> Thing:
    """A port of a device."""
    device, _, port = ref.partition("/")
    return Thing("device", device, port)


@analysis
def _cable_ends(case: Case) -> Sequence[tuple[Thing, tuple[Cable, str]]]:
    return [
        (end_of_link(cable, ref), (cable, ref))
        for cable in case.cables
        for ref in (cable.from_port, cable.to_port)
    ]


@analysis
def _plugged(case: Case) -> Sequence[tuple[Thing, tuple[str, Port]]]:
    return [
        (port_of(ref), (ref, case.ports[ref]))
        for join in case.joins
        for ref in (join.from_port, join.to_port)
    ]


@analysis
def _on_network(case: Case) -> Sequence[tuple[Thing, tuple[str, Port, Network]]]:
    return [
        (port_of(ref), (ref, port, case.networks[port.network]))
        for ref, port in case.ports.items()
        if port.network
    ]


@analysis
def _addressed(case: Case) -> Sequence[tuple[Thing, tuple[str, Port, Network]]]:
    return [(thing, each) for thing, each in _on_network(case) if each[1].address]


SHOW: SubjectKind[Show] = SubjectKind("show", lambda case: [(Thing("show", "show"), case.plan.show)])
JOINS: SubjectKind[Cable | Radio] = SubjectKind(
    "cable or radio link", lambda case: ((Thing("link", j.id), j) for j in case.joins)
)
CABLE_ENDS: SubjectKind[tuple[Cable, str]] = SubjectKind("end of a cable", _cable_ends)
RADIOS: SubjectKind[Radio] = SubjectKind(
    "radio link", lambda case: ((Thing("link", r.id), r) for r in case.radios)
)
STREAMS: SubjectKind[Stream] = SubjectKind(
    "stream", lambda case: ((Thing("link", s.id), s) for s in case.streams)
)
LINKS: SubjectKind[Link] = SubjectKind(
    "link", lambda case: ((Thing("link", x.id), x) for x in case.links.values())
)
PUSHES: SubjectKind[Stream] = SubjectKind(
    "push to a platform",
    lambda case: ((Thing("link", s.id), s) for s in case.streams if case.devices[s.to_device].ingest),
)
PLUGGED_PORTS: SubjectKind[tuple[str, Port]] = SubjectKind("port with something plugged in", _plugged)
NETWORK_PORTS: SubjectKind[tuple[str, Port, Network]] = SubjectKind("port on a network", _on_network)
ADDRESSED_PORTS: SubjectKind[tuple[str, Port, Network]] = SubjectKind("port with an address", _addressed)
NETWORKS: SubjectKind[Network] = SubjectKind(
    "network with a range",
    lambda case: ((Thing("network", n.id), n) for n in case.networks.values() if n.range),
)
