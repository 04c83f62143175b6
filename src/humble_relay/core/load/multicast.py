"""What streams to a group do to a network whose switches do not know who listens."""

import math
from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.judging.answer import (
    Numbers,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    holds,
    wants,
    within,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import port_of
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.lan.sockets import picture_sockets
from humble_relay.core.load.stream_load import loads, once_a_group
from humble_relay.core.plan import Network, Stream

SLOWEST_MBPS = 100.0
"""The slowest Ethernet that is still sold (IEEE 802.3u)."""


class MulticastUse(NamedTuple):
    """A network, the streams to groups that are sent on it, the socket on it that has least room, in Mb/s, and one whose speed
    nobody said."""

    network: Network
    streams: tuple[Stream, ...]
    slowest: str
    slowest_mbps: float
    unsaid: str


def _sent(case: Case) -> Iterator[tuple[Thing, MulticastUse]]:
    on: dict[str, list[Stream]] = {}
    for stream in case.streams:
        if stream.multicast:
            for id in dict.fromkeys(
                p.network for p in picture_sockets(case.devices[stream.from_device]) if p.network
            ):
                on.setdefault(id or "", []).append(stream)
    for id, streams in on.items():
        ports = {
            ref: port for ref, port in case.ports.items() if port.network == id and "ethernet" in port.types
        }
        known = {ref: port.max_gbps * 1000 for ref, port in ports.items() if port.max_gbps is not None}
        slowest = min(known, key=lambda ref: known[ref], default="")
        unsaid = next((ref for ref, port in ports.items() if port.max_gbps is None), "")
        yield (
            Thing("network", id, "multicast"),
            MulticastUse(
                case.networks[id], tuple(once_a_group(streams)), slowest, known.get(slowest, math.inf), unsaid
            ),
        )


TO_GROUPS: SubjectKind[MulticastUse] = SubjectKind("network with streams to groups", _sent)


@check(
    "multicast-floods", TO_GROUPS, "bandwidth", "Do streams to groups go only to who asked for them, or does every socket bear them?",
    "RFC 4541; common practice, no source", "plan", tried=True,
)  # fmt: skip
def multicast_floods(case: Case, what: MulticastUse) -> Verdict:
    """Whether the switches hand the streams (Mb/s together) only to who asked; where they do not, every socket of the network
    gets all of them, and the slowest must bear it. By Wi-Fi a group is sent at the lowest rate of all."""
    network, mbps = what.network, round(sum(loads(case)[s.id].total.value for s in what.streams), 2)
    if network.snoops:
        return holds()
    share = case.figures["lan-share"]
    numbers = Numbers(mbps, round(what.slowest_mbps * share, 2), what.slowest_mbps, "Mb/s")
    wired = network.medium != "wifi"
    if wired and mbps <= min(numbers.relied, SLOWEST_MBPS * share if what.unsaid else math.inf):
        return holds(numbers)
    if network.snoops is None:
        asked = f"Do the switches of {network.name} hand multicast only to who asked for it (IGMP snooping)? {number(mbps)} Mb/s go to groups there."
        return wants(Want(Thing("network", network.id), "snoops", asked))

    if wired and mbps <= numbers.relied:
        device, port = case.device_of(what.unsaid), case.ports[what.unsaid]
        asked = f"How fast is {port.name} of {device.model or device.name}? {number(mbps)} Mb/s to groups come to it too."
        return wants(Want(port_of(what.unsaid), "max_gbps", asked, "Gb/s", device.model))

    def say() -> Words:
        steps = (
            *(Step(name=s.name, value=round(loads(case)[s.id].total.value, 2), unit="Mb/s") for s in what.streams),
            Step(name=case.port_name(what.slowest) if what.slowest else network.name, value=what.slowest_mbps, unit="Mb/s", how="its slowest socket"),
            case.figures.step("lan-share"),
        )  # fmt: skip
        return Words(
            f"{number(mbps)} Mb/s go to groups on {network.name}, whose switches hand them to everybody"
            + (f": {case.port_name(what.slowest)} has {what.slowest_mbps:g} Mb/s." if what.slowest else "."),
            "Every box on the network drowns in pictures that it did not ask for, the slow ones first.",
            "Switch IGMP snooping on, with one querier, or send to single boxes.",
            Working(name="To everybody", value=mbps, unit="Mb/s", steps=steps),
        )

    return (
        doubtful(say, numbers)
        if network.medium == "wifi" and mbps <= numbers.hopeless
        else within(numbers, say)
    )


CHECKS = (multicast_floods,)
