"""Whether both ends of a stream within a site are on networks that reach each other."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Want, Words, doubtful, fails, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import Asked, check
from humble_relay.core.network.sockets import lan_port
from humble_relay.core.plan import Device, Protocol, Stream

DISCOVERED: tuple[Protocol, ...] = ("ndi", "paired")
"""Protocols whose sources are found by multicast DNS, which does not cross a router (RFC 6762 §11)."""


class LocalStream(NamedTuple):
    """A stream between two boxes of one site, and the networks that each is on."""

    stream: Stream
    sender: Device
    taker: Device
    ours: frozenset[str]
    theirs: frozenset[str]


def _local(case: Case) -> Iterator[tuple[Thing, LocalStream]]:
    """Streams that stay in one site. A browser's link goes out and in again, and is none."""
    for stream in case.streams:
        sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
        here, there = case.site_of(sender), case.site_of(taker)
        if stream.protocol == "web" or (here and there and here != there):
            continue
        if taker.ingest and (taker.place is None or not taker.ports):
            continue  # on the internet, or a server that nothing is known of but its address
        yield (
            Thing("link", stream.id),
            LocalStream(stream, sender, taker, _networks(sender), _networks(taker)),
        )


def _networks(device: Device) -> frozenset[str]:
    return frozenset(p.network for p in device.ports if p.network)


LOCAL_STREAMS: Asked[LocalStream] = Asked("stream within a site", _local)


@check(
    "networks-apart", LOCAL_STREAMS, "addresses", "Are both ends on one network, or on networks that a router joins?",
    "RFC 1122 §3.3.1; RFC 6762 §11", "standard",
)  # fmt: skip
def networks_apart(case: Case, what: LocalStream) -> Verdict:
    """Whether the two boxes of a local stream reach each other: on one network, or on two of one router.

    A box with a network socket in use and no network said is not known; one with nothing plugged in is on none.
    """
    for device, networks in ((what.sender, what.ours), (what.taker, what.theirs)):
        if networks:
            continue
        port = lan_port(device)
        if port and ("wifi" in port.types or _is_wired(case, device)):
            thing = Thing("device", device.id, port.id)
            return wants(Want(thing, "interface.network", f"Which network is {device.name} on?"))
        return fails(lambda device=device: _on_none(device, what.stream))  # type: ignore[misc]
    if what.ours & what.theirs:
        return HOLDS
    routers = {r.id for n in what.ours if (r := case.router_of.get(n))}
    if not routers & {r.id for n in what.theirs if (r := case.router_of.get(n))}:
        return fails(lambda: _apart(case, what))
    if what.stream.protocol not in DISCOVERED:
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{what.taker.name} and {what.sender.name} are on two networks of one router, and {what.stream.name} is found by name.",
            "Names are not announced across a router: the source is missing from the list.",
            "Type the sender's address on the taker, or put both on one network.",
        )
    )


def _is_wired(case: Case, device: Device) -> bool:
    sockets = (f"{device.id}/{p.id}" for p in device.ports if "ethernet" in p.types)
    return any(ref in case.join_at for ref in sockets)


def _on_none(device: Device, stream: Stream) -> Words:
    return Words(
        f"{device.name} is on no network: {stream.name} does not get through.",
        "The source never appears in the list, however often both boxes are restarted.",
        "Plug it into the network of the other box, and say here which that is.",
    )


def _apart(case: Case, what: LocalStream) -> Words:
    ours, theirs = (
        " and ".join(sorted(case.networks[n].name for n in nets)) for nets in (what.ours, what.theirs)
    )
    return Words(
        f"{what.sender.name} is on {ours}, {what.taker.name} on {theirs}: nothing joins them, and {what.stream.name} does not get through.",
        "The source never appears in the list: two boxes on different networks look like two that are off.",
        "Put both on one network.",
    )


CHECKS = (networks_apart,)
