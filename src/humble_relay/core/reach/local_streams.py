"""Whether both ends of a stream within a site are on networks that reach each other."""

from collections.abc import Iterator
from ipaddress import IPv4Address, IPv4Network, IPv6Address
from typing import NamedTuple

from humble_relay.core.addressing.hosts import address_in, host_class, host_of
from humble_relay.core.addressing.subnets import addresses_of, ipv4, ipv6_range, subnet
from humble_relay.core.egress.outbound import in_the_cloud, uplink_out
from humble_relay.core.endpoints.calls import call_of, line_that_may_have
from humble_relay.core.endpoints.typed_addresses import fault_in
from humble_relay.core.judging.answer import (
    HOLDS,
    Choice,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    fails,
    wants,
)
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import listed
from humble_relay.core.judging.things import port_of
from humble_relay.core.lan.sockets import lan_port, picture_sockets
from humble_relay.core.lan.wired_paths import alone_with
from humble_relay.core.plan import Device, Protocol, Stream
from humble_relay.core.plan.vocabulary import is_lan_socket
from humble_relay.core.reach.trace.connection_trace import has_a_way, no_route

DISCOVERED: tuple[Protocol, ...] = ("ndi", "paired")
"""Protocols whose sources are found by multicast DNS, which does not cross a router (RFC 6762 §11)."""


class LocalStream(NamedTuple):
    """A stream between two boxes of one site, and the networks that each is on."""

    stream: Stream
    sender: Device
    taker: Device
    ours: frozenset[str]
    theirs: frozenset[str]


def _local(case: Case) -> tuple[tuple[Thing, LocalStream], ...]:
    return _all_local(case)


@analysis
def _all_local(case: Case) -> tuple[tuple[Thing, LocalStream], ...]:
    return tuple(_staying(case))


def _staying(case: Case) -> Iterator[tuple[Thing, LocalStream]]:
    """Streams that stay in one site. A browser's link goes out and in again, and is none."""
    for stream in case.streams:
        sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
        here, there = case.site_of(sender), case.site_of(taker)
        if stream.protocol == "web" or (here and there and here is not there):
            continue
        if (
            in_the_cloud(sender)
            or taker.kind == "platform"
            or (taker.ingest and (taker.place is None or not taker.ports))
        ):
            continue  # on the internet, or a server that nothing is known of but its address
        yield (
            Thing("link", stream.id),
            LocalStream(stream, sender, taker, _networks(sender), _networks(taker)),
        )


def _networks(device: Device) -> frozenset[str]:
    return frozenset(p.network for p in picture_sockets(device) if p.network)


LOCAL_STREAMS: SubjectKind[LocalStream] = SubjectKind("stream within a site", _local)


@check(
    "networks-apart", LOCAL_STREAMS, "addresses", "Are both ends on one network, or on networks that a router joins?",
    "RFC 1122 §3.3.1; RFC 6762 §11", "standard",
)  # fmt: skip
def networks_apart(case: Case, what: LocalStream) -> Verdict:
    """Whether the two boxes of a local stream reach each other: on one network, or on two of one router.

    A box with a network socket in use and no network said is not known; one with nothing plugged in is on none.
    """
    if not (what.ours or what.theirs) and (cabled := _cabled_together(case, what)):
        return cabled
    for device, networks in ((what.sender, what.ours), (what.taker, what.theirs)):
        if networks:
            continue
        port = lan_port(device)
        if port and ("wifi" in port.types or _is_wired(case, device)):
            thing = Thing("device", device.id, port.id)
            site = case.site_of(device)
            here = (n for n in case.networks.values() if site is None or n.site == site.id)
            there = tuple(Choice(value=n.id, words=n.name) for n in here)
            asked = f"Which network is {device.name} on?"
            return wants(Want(thing, "interface.network", asked, choices=there))
        return fails(lambda device=device: _on_none(device, what.stream))  # type: ignore[misc]
    if what.ours & what.theirs:
        lost = no_route(case, what.stream, call_of(case, what.stream).caller, or_nowhere=True)
        return fails(lambda: _lost(what, lost.says)) if lost else HOLDS
    if not has_a_way(case, what.stream.id):
        return fails(lambda: _apart(case, what))
    if what.stream.multicast:
        return doubtful(lambda: _group_across(what), compared=(*sorted(what.ours), *sorted(what.theirs)))
    typed = host_class(host_of(what.stream.address)) if what.stream.address else None
    by_name = (
        typed[0] == "self-named" if typed else what.stream.protocol in DISCOVERED and not what.stream.address
    )
    crosses = _names_cross(case, what) if by_name else True
    if crosses:
        return HOLDS
    if crosses is False:
        return fails(lambda: _not_found_by_name(what))
    return doubtful(lambda: _not_found_by_name(what), compared=(*sorted(what.ours), *sorted(what.theirs)))


def _cabled_together(case: Case, what: LocalStream) -> Verdict | None:
    """Two devices on no network of the plan that one cable joins: with addresses of one range they reach each other, such as
    those that devices take of themselves (169.254.0.0/16, RFC 3927). None where no cable does."""
    for port in picture_sockets(what.sender):
        ref = f"{what.sender.id}/{port.id}"
        if alone_with(case, ref) is not what.taker:
            continue
        return _of_one_range(case, what, (ref, case.other_end(ref) or ""))
    return None


def _of_one_range(case: Case, what: LocalStream, ends: tuple[str, str]) -> Verdict:
    blocks = []
    for end in ends:
        found, own = case.ports[end], ipv4(case.ports[end].address)
        if own is None:
            asked = f"Which address has {case.port_name(end)}? Its cable leads to the other device alone, and no DHCP server gives it one."
            return wants(Want(port_of(end), "interface.address", asked))
        bits = (found.interface.mask_bits if found.interface else None) or (16 if own.is_link_local else 24)
        blocks.append(IPv4Network((own, bits), strict=False))
    return HOLDS if blocks[0] == blocks[1] else fails(lambda: _two_ranges(what, *map(str, blocks)))


def _two_ranges(what: LocalStream, ours: str, theirs: str) -> Words:
    return Words(
        f"One cable joins {what.sender.name} and {what.taker.name}, and their addresses are of two ranges ({ours} and {theirs}).",
        "Both lamps are on, and neither hears the other.",
        "Give both addresses of one range.",
    )


def _group_across(what: LocalStream) -> Words:
    return Words(
        f"{what.stream.name} goes to a multicast group, from one network to another: a router passes none on unless it is set to.",
        "The receiver asks for the stream, and nothing comes.",
        "Send it to the receiver alone (unicast), put both on one network, or have the router pass the group on (PIM, or an IGMP proxy).",
    )


def _not_found_by_name(what: LocalStream) -> Words:
    return Words(
        f"{what.taker.name} and {what.sender.name} are on two networks of one router, and {what.stream.name} is found by name.",
        "Names are not announced across a router: the source is missing from the list.",
        "Type the sender's address on the receiver, or put both on one network.",
    )


def _names_cross(case: Case, what: LocalStream) -> bool | None:
    """Whether a router that joins the two ends' networks repeats names on each of them; None where nobody looked."""
    routers = {r.id: r for n in what.ours if (r := case.router_of.get(n)) and what.theirs & set(r.networks)}
    known = {r.repeats_names for r in routers.values()}
    return True if True in known else None if None in known or not known else False


def _is_wired(case: Case, device: Device) -> bool:
    sockets = (f"{device.id}/{p.id}" for p in device.ports if is_lan_socket(p))
    return any(ref in case.join_at for ref in sockets)


def _on_none(device: Device, stream: Stream) -> Words:
    return Words(
        f"{device.name} is on no network: {stream.name} does not get through.",
        "The source never appears in the list, however often both boxes are restarted.",
        "Plug it into the network of the other box, and say here which that is.",
    )


def _lost(what: LocalStream, where: str) -> Words:
    return Words(
        f"{what.sender.name} and {what.taker.name} are on one network, and {what.stream.name} is called elsewhere: {where}.",
        "The box tries, waits, and shows nothing: from outside it looks like a source that is off.",
        "Type the address of the other device on the network that both are on.",
    )


def _apart(case: Case, what: LocalStream) -> Words:
    ours, theirs = (listed(sorted(case.networks[n].name for n in nets)) for nets in (what.ours, what.theirs))
    return Words(
        f"{what.sender.name} is on {ours}, {what.taker.name} on {theirs}: nothing joins them, and {what.stream.name} does not get through.",
        "The source never appears in the list: two boxes on different networks look like two that are off.",
        "Put both on one network.",
    )


CALLED: tuple[Protocol, ...] = ("rtmp", "rtmps", "rtsp", "srt", "hls")
"""The protocols whose caller must be told an address; others find the box by name on their own network."""


def _called(case: Case) -> Iterator[tuple[Thing, LocalStream]]:
    return (
        (thing, local)
        for thing, local in _local(case)
        if (local.stream.address or local.stream.protocol in CALLED) and not local.taker.ingest
    )


CALLED_LOCALLY: SubjectKind[LocalStream] = SubjectKind(
    "stream within a site that is called by an address", _called
)


@check(
    "local-address", CALLED_LOCALLY, "addresses", "Is the address that it is called by known, and the other box's?",
    "RFC 3986; RFC 1122; RFC 6761", "standard",
)  # fmt: skip
def local_address(case: Case, what: LocalStream) -> Verdict:
    """Whether a typed address names one of the two boxes, or the box that is called has one to type. A name of one's own,
    and an address that DHCP may have given, cannot be told from here."""
    stream, text = what.stream, what.stream.address
    if not text:
        called = call_of(case, stream).listener
        if any(p.address for p in called.ports if p.network):
            return HOLDS
        asked = f"Which address has {called.name}, for {stream.name}? Its own screen or the router shows it."
        port = next((p.id for p in called.ports if p.network), "")
        field = "interface.address" if port else "address"
        return wants(
            Want(Thing("device", called.id, port) if port else Thing("link", stream.id), field, asked)
        )
    if (fault := fault_in(stream, text)) is not None:
        return fails(lambda: _mistyped(stream, f"the address {fault}"))
    host = host_of(text)
    kind = host_class(host)
    if kind and kind[0] == "this machine":
        return fails(
            lambda: _mistyped(stream, f"{host} means the box it is typed into, and no other ({kind[1]})")
        )
    address = address_in(host)
    if address is None:
        return HOLDS
    if isinstance(address, IPv6Address) and address.is_link_local:
        return fails(lambda: _mistyped(stream, f"{host} is a link-local address, which says nothing without the zone of the caller (RFC 4007 §11)"))  # fmt: skip
    called = call_of(case, stream).listener
    if any(address in addresses_of(p) for p in called.ports):
        return HOLDS
    if any(ipv4(u.address) == address for u in case.uplinks.values() if u.address):
        return HOLDS  # the outside of a line: whether its router turns that round is a question of the route
    other = next(
        (case.device_of(ref) for ref, p in case.ports.items() if address in addresses_of(p)),
        None,
    )
    if other:
        return fails(lambda: _mistyped(stream, f"{host} is the address of {other.name}"))
    if unsaid := line_that_may_have(case, called, address):
        asked = f"Which address has {unsaid.name} on {case.networks[unsaid.behind or ''].name}? {stream.name} is called at {host}."
        return wants(Want(Thing("uplink", unsaid.id), "address", asked))
    line = case.uplinks.get(uplink_out(case, called, stream) or "")
    if line and not line.address and kind and kind[0] in ("public", "documentation"):
        return wants(Want(Thing("uplink", line.id), "address", f"Which address does the internet see of {line.name}? {stream.name} is called at {host}."))  # fmt: skip
    if not _may_have(case, called, address):
        return fails(lambda: _mistyped(stream, f"{host} is no address that {called.name} can have"))
    return doubtful(lambda: _mistyped(stream, f"{host} is nobody's address in this plan"), compared=(host,))


def _may_have(case: Case, device: Device, address: IPv4Address | IPv6Address) -> bool:
    """Whether a box may come by an address: out of the pool where DHCP gives it, or at all where nobody knows its network."""
    sockets = picture_sockets(device)
    if any(f"{device.id}/{p.id}" in case.join_at and not p.network for p in sockets):
        return True  # plugged in, and nobody said on which network
    for port in sockets:
        if not (port.network or "mobile" in port.types):
            continue
        if isinstance(address, IPv6Address):
            prefix = ipv6_range(case.networks[port.network]) if port.network else None
            if prefix is None or (address in prefix and not (port.interface and port.interface.address_v6)):
                return True  # a network gives it an address of its prefix (RFC 4862)
            continue
        if port.address:
            continue
        known = subnet(case.networks[port.network]) if port.network else None
        if known is None:
            return True
        pool = known.pool if port.addressing == "dhcp" else None
        if pool[0] <= address <= pool[1] if pool else address in known.range:
            return True
    return False


def _mistyped(stream: Stream, why: str) -> Words:
    return Words(
        f"{stream.name}: {why}.",
        "The box tries, waits, and shows nothing: from outside it looks like a source that is off.",
        "Type the address of the box at the other end, as its own screen or the router shows it.",
    )


CHECKS = (networks_apart, local_address)
