"""What the streams of a site put on each of its network cables, and whether its two sockets are fast enough."""

import math
from typing import NamedTuple

from humble_relay.core.judging.answer import Numbers, Thing, Verdict, Want, Words, holds, wants, within
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import port_of
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.lan.wired_paths import runs_over, wired_paths
from humble_relay.core.load.stream_load import loads, once_a_group
from humble_relay.core.plan import Cable, Stream

SLOWEST_MBPS = 100.0
"""The slowest Ethernet that is still sold (IEEE 802.3u)."""


class CableLoad(NamedTuple):
    """A network cable and the streams that run over it, in the fuller direction: Mb/s."""

    cable: Cable
    streams: tuple[Stream, ...]
    mbps: float


@analysis
def _loaded(case: Case) -> list[tuple[Thing, CableLoad]]:
    weigh, found = loads(case), []
    for id, whats in runs_over(case).items():
        cable = whats[0][0]
        # Every stream over a cable goes one way or the other; a box at its end sends or takes.
        end = cable.from_port.split("/")[0]
        ways: dict[bool, list[Stream]] = {True: [], False: []}
        for _, stream in whats:
            ways[_leaves_by(case, stream, id, end)].append(stream)
        ways = {way: once_a_group(streams) for way, streams in ways.items()}
        sums = {way: sum(weigh[s.id].total.value for s in streams) for way, streams in ways.items()}
        fuller = max(sums, key=lambda way: sums[way])
        found.append(
            (Thing("link", id, "load"), CableLoad(cable, tuple(ways[fuller]), round(sums[fuller], 3)))
        )
    return found


def _leaves_by(case: Case, stream: Stream, cable: str, end: str) -> bool:
    """Whether a stream enters the cable at this end of it."""
    at = stream.from_device
    for id in wired_paths(case)[stream.id]:
        link = case.links[id]
        assert isinstance(link, Cable)
        a, b = (ref.split("/")[0] for ref in (link.from_port, link.to_port))
        if id == cable:
            return at == end
        at = b if at == a else a
    return True


@analysis
def on_cables(case: Case) -> dict[str, tuple[float, float | None]]:
    """What runs over each network cable in its fuller direction, and the speed of its slower socket, both in Mb/s; no speed
    where nobody said both sockets'."""
    found = {}
    for thing, what in _loaded(case):
        speeds = [case.ports[ref].max_gbps for ref in (what.cable.from_port, what.cable.to_port)]
        known = [gbps * 1000 for gbps in speeds if gbps is not None]
        found[thing.id] = what.mbps, min(known) if len(known) == len(speeds) else None
    return found


LOADED: SubjectKind[CableLoad] = SubjectKind("network cable that streams run over", _loaded)


@check(
    "socket-overfull", LOADED, "bandwidth", "Do the streams that run over it fit?", "IEEE 802.3; common practice", "plan",
    tried=True,
)  # fmt: skip
def socket_overfull(case: Case, what: CableLoad) -> Verdict:
    """Whether the streams over a network cable (Mb/s, the fuller direction) fit the slower of its two sockets: relied on
    to the share that is planned for, hopeless beyond its speed. What any Ethernet carries needs no figure."""
    cable, streams, mbps = what
    share = case.figures["lan-share"]
    ends = (cable.from_port, cable.to_port)
    known = [case.ports[ref].max_gbps for ref in ends]
    slowest = min(SLOWEST_MBPS, *((gbps or 1) * 1000 for gbps in known))
    if mbps <= slowest * share:
        return holds(Numbers(mbps, round(slowest * share, 3), slowest, "Mb/s"))
    unsaid = next((ref for ref in ends if case.ports[ref].max_gbps is None), None)
    if unsaid and slowest == SLOWEST_MBPS:
        device, port = case.device_of(unsaid), case.ports[unsaid]
        asked = f"How fast is {port.name} of {device.model or device.name}? {number(mbps)} Mb/s run over it."
        return wants(Want(port_of(unsaid), "max_gbps", asked, "Gb/s", device.model))
    slower = min(ends, key=lambda ref: case.ports[ref].max_gbps or math.inf)
    speed = (case.ports[slower].max_gbps or 0) * 1000

    def say() -> Words:
        steps = (
            *(Step(name=s.name, value=round(loads(case)[s.id].total.value, 2), unit="Mb/s") for s in streams),
            Step(name=case.port_name(slower), value=speed, unit="Mb/s", source=case.device_of(slower).model),
            case.figures.step("lan-share"),
        )
        return Words(
            f"{number(mbps)} Mb/s run over {case.link_name(cable.id)}; {case.port_name(slower)} has {speed:g} Mb/s.",
            "Pictures freeze in turn, most of all when a further one is opened.",
            "Use faster sockets, send less, or bring some of the cameras in by another cable.",
            Working(name="Over this cable", value=round(mbps, 2), unit="Mb/s", steps=steps),
        )

    return within(Numbers(mbps, round(speed * share, 3), speed, "Mb/s"), say)


CHECKS = (socket_overfull,)
