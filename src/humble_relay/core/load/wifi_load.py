"""What the streams of a network put into the air by Wi-Fi, against what the air carries."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.judging.answer import Numbers, Thing, Verdict, Want, Words, holds, wants, within
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import port_of
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.lan.sockets import sockets_on_networks
from humble_relay.core.load.stream_load import loads
from humble_relay.core.plan import Device, Network, Port

SLOWEST_MBPS = 54.0
"""The slowest Wi-Fi that is still met (IEEE 802.11g)."""


class WifiUse(NamedTuple):
    """A network, the Wi-Fi sockets that streams go by on it, and what they carry together, in Mb/s: a stream between two
    boxes on Wi-Fi is in the air twice."""

    network: Network
    sockets: tuple[tuple[Device, Port], ...]
    mbps: float


def _by_air(case: Case) -> Iterator[tuple[Thing, WifiUse]]:
    found: dict[str, tuple[dict[str, tuple[Device, Port]], float]] = {}
    for stream in case.streams:
        for id in (stream.from_device, stream.to_device):
            device = case.devices[id]
            on = sockets_on_networks(case)[device.id]
            if not on or any("wifi" not in p.types for p in on):
                continue
            sockets, mbps = found.get(on[0].network or "", ({}, 0.0))
            sockets[id] = (device, on[0])
            found[on[0].network or ""] = (sockets, mbps + loads(case)[stream.id].total.value)
    for id, (sockets, mbps) in found.items():
        yield (
            Thing("network", id, "air"),
            WifiUse(case.networks[id], tuple(sockets.values()), round(mbps, 2)),
        )


BY_AIR: SubjectKind[WifiUse] = SubjectKind("network that streams use by Wi-Fi", _by_air)


@check(
    "air-overfull", BY_AIR, "bandwidth", "Does the air carry what goes by Wi-Fi?", "IEEE 802.11; common practice", "practice",
    tried=True,
)  # fmt: skip
def air_overfull(case: Case, what: WifiUse) -> Verdict:
    """Whether the streams by Wi-Fi (Mb/s together) are within the useful share of the slowest rate in use, and at most that
    rate. What any Wi-Fi carries needs no figure."""
    share = case.figures["wifi-share"]
    known = [p.max_gbps * 1000 for _, p in what.sockets if p.max_gbps is not None]
    rated = min(known) if len(known) == len(what.sockets) else min([SLOWEST_MBPS, *known])
    if what.mbps <= rated * share:
        return holds(Numbers(what.mbps, round(rated * share, 2), rated, "Mb/s"))
    unsaid = next(((d, p) for d, p in what.sockets if p.max_gbps is None), None)
    if unsaid:
        device, port = unsaid
        asked = (
            f"At which rate is {device.name} connected by Wi-Fi? {number(what.mbps)} Mb/s are to go by air."
        )
        return wants(Want(port_of(f"{device.id}/{port.id}"), "max_gbps", asked, "Gb/s", device.model))

    def say() -> Words:
        steps = (
            Step(
                name="By Wi-Fi", value=what.mbps, unit="Mb/s", how="every stream as often as it is in the air"
            ),
            Step(name="Slowest rate", value=rated, unit="Mb/s", source="the sockets of its boxes"),
            case.figures.step("wifi-share"),
        )
        return Words(
            f"{number(what.mbps)} Mb/s go by Wi-Fi on {what.network.name}; {number(rated * share)} Mb/s of its {rated:g} Mb/s are useful, and all share them.",
            "Pictures freeze as soon as people walk between, or a phone downloads.",
            "Send less, or plug the box that sends most into the network by cable.",
            Working(name="Useful in the air", value=round(rated * share, 2), unit="Mb/s", steps=steps),
        )

    return within(Numbers(what.mbps, round(rated * share, 2), rated, "Mb/s"), say)


CHECKS = (air_overfull,)
