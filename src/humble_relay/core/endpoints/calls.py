"""Who calls whom: for each stream the box that begins, the one that listens, and the address, port and transport it asks for."""

from functools import lru_cache
from ipaddress import IPv4Address, IPv6Address
from typing import NamedTuple
from urllib.parse import urlsplit

from humble_relay.core.addressing.hosts import address_in, host_class, host_of
from humble_relay.core.addressing.subnets import ipv4, ipv6_range, subnet
from humble_relay.core.egress.outbound import in_the_cloud, on_the_internet, uplink_out
from humble_relay.core.endpoints.stream_urls import DEFAULT_PORT, typed_address
from humble_relay.core.judging.answer import NamedQuestion
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.lan.sockets import sockets_on_networks
from humble_relay.core.plan import Device, Port, Protocol, Stream, Transport, Uplink

_TRANSPORTS: dict[Protocol, tuple[Transport, ...]] = {"srt": ("udp",), "paired": ("udp", "tcp")}
"""What a protocol runs over, where it is not TCP alone (draft-sharabayko-srt; makers' links: not said, so either)."""
NDI_PORT = 5961
"""The port of a box's first source; the messages before it go to 5960 (common practice, no source)."""


FAR_ADDRESS = NamedQuestion(
    "far-address", "Is the address known that it goes to, and can it be the other site's?"
)
"""What a call to another site waits for, where its address does not say enough; `reach` answers it."""


class Call(NamedTuple):
    """One end of a stream asking for the other; `both` where each asks for the other at once."""

    stream: Stream
    caller: Device
    listener: Device
    transports: tuple[Transport, ...]
    port: int | None
    """The port asked for; None where nobody said."""
    host: str
    """The host asked for; empty where it is found by name, or nobody said."""
    both: bool = False
    service: bool = False
    """Whether it is the service of a browser link that is called, not the other end."""
    media: bool = False
    """Whether it is the media of an RTSP stream, sent by UDP to ports that the receiver chose (RFC 7826 Appendix C)."""

    @property
    def wants(self) -> str:
        """Such as `UDP 9000`."""
        over = " or ".join(t.upper() for t in self.transports)
        return f"{over} {self.port}" if self.port else over


def call_of(case: Case, stream: Stream) -> Call:
    """The call that brings a stream of the plan about (see `called`)."""
    return _calls(case)[stream.id]


@analysis
def _calls(case: Case) -> dict[str, Call]:
    return {s.id: called(case, s) for s in case.streams}


def called(case: Case, stream: Stream) -> Call:
    """The call that brings a stream about. RTSP, NDI and segments are requested by their receiver (RFC 7826, RFC 8216; common practice), RTMP is
    published by its sender or pulled from a server, of SRT either end may call; a browser link is none of these."""
    sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
    address = typed_address(case, stream) or ""
    host = host_of(address)
    pulled = _pulled(stream, sender, taker, host)
    caller, listener = (taker, sender) if pulled else (sender, taker)
    transports = _TRANSPORTS.get(stream.protocol, ("tcp",))
    both = stream.protocol == "srt" and stream.caller == "rendezvous"
    return Call(stream, caller, listener, transports, asked_port(stream.protocol, address), host, both)


def service_calls(case: Case, stream: Stream) -> tuple[Call, Call]:
    """The calls of the two sides of a browser link to the service that brings them together: TCP 443 (RFC 8835)."""
    a, b = case.devices[stream.from_device], case.devices[stream.to_device]
    there = stream.view_address or stream.address
    return (
        Call(stream, a, b, ("tcp",), 443, host_of(stream.address), service=True),
        Call(stream, b, a, ("tcp",), 443, host_of(there), service=True),
    )


@lru_cache(maxsize=8192)
def asked_port(protocol: Protocol, address: str) -> int | None:
    """The port of an address, or its protocol's own; None where neither says."""
    try:
        typed = urlsplit(address if "//" in address else f"//{address}").port
    except ValueError:
        typed = None
    if protocol == "hls" and not typed and address.lower().startswith("http:"):
        return 80  # RFC 9110 §4.2.1
    return typed or (NDI_PORT if protocol == "ndi" else DEFAULT_PORT.get(protocol))


def _pulled(stream: Stream, sender: Device, taker: Device, host: str) -> bool:
    """Whether the receiver requests the stream from the sender."""
    if taker.ingest and stream.protocol not in taker.ingest.protocols:
        return False  # it does not take it at all, which is asked elsewhere
    if stream.protocol in ("rtsp", "ndi"):
        return True
    if stream.protocol == "hls":
        return not taker.ingest  # put to a service, asked for by everybody else
    if stream.protocol == "srt" and stream.caller:
        return stream.caller == "receiver"
    if stream.protocol == "srt" or (stream.protocol in ("rtmp", "rtmps") and not taker.ingest):
        if host and _has(sender, host) != _has(taker, host):
            return _has(sender, host)
        return stream.protocol != "srt" and (sender.decoding is not None or _asked_of(sender, host))
    return False


def _asked_of(relay: Device, host: str) -> bool:
    """Whether a relay on the internet is asked for the picture: at its own host, or where no address is typed."""
    return in_the_cloud(relay) and (not host or bool(relay.ingest and host == relay.ingest.host))


def _has(device: Device, host: str) -> bool:
    address = address_in(host)
    return address is not None and any(
        str(address) in (p.address, p.interface.address_v6) for p in device.ports if p.interface
    )


class InsideHost(NamedTuple):
    """Asked for at the address of a socket on a network, of IPv4 or IPv6."""

    ref: str
    network: str
    v6: bool = False


class OutsideHost(NamedTuple):
    """Asked for at the outside address of a line."""

    line: str


class CloudHost(NamedTuple):
    """Asked for on the internet itself: a platform, a relay, a gateway."""


class NoHost(NamedTuple):
    """Asked for where its listener is not."""


Destination = InsideHost | OutsideHost | CloudHost | NoHost


def destination(case: Case, call: Call) -> Destination:
    """Where the call is addressed to. Where nobody said, its intention stands: the listener's socket on a network that its
    caller is on too, or the outside of the listener's line."""
    listener = call.listener
    if call.service or on_the_internet(listener):
        return CloudHost()
    sockets = [(f"{listener.id}/{p.id}", p) for p in sockets_on_networks(case)[listener.id]]
    address = address_in(call.host)
    if address is not None:
        return _at_address(case, call, sockets, str(address))
    kind = host_class(call.host) if call.host else None
    if kind and kind[0] == "this machine":
        return NoHost()
    own = uplink_out(case, listener, call.stream)
    if (call.host and kind is None and _is_far(case, call)) or (not call.host and _is_far(case, call)):
        return OutsideHost(own) if own else NoHost()
    ours = {p.network for p in sockets_on_networks(case)[call.caller.id]}
    beside = sorted(sockets, key=lambda s: s[1].network not in ours)
    return InsideHost(beside[0][0], beside[0][1].network or "") if beside else NoHost()


def _is_far(case: Case, call: Call) -> bool:
    """Whether the two stand at different sites, or the caller is on the internet itself."""
    here, there = case.site_of(call.caller), case.site_of(call.listener)
    return here is not there if here or there else in_the_cloud(call.caller)


def _at_address(case: Case, call: Call, sockets: list[tuple[str, Port]], host: str) -> Destination:
    """Where an address of either family leads, of the listener's sockets and lines."""
    address = address_in(host)
    six = isinstance(address, IPv6Address)
    for ref, port in sockets:
        typed = (port.interface.address_v6 if port.interface else "") if six else port.address
        if typed and address_in(typed) == address:
            return InsideHost(ref, port.network or "", six)
    lines = [u for u in case.uplinks.values() if u.address and ipv4(u.address) == address]
    if lines:  # a private address may stand at several sites: the caller's own side is meant first
        near, far = case.site_of(call.caller), case.site_of(call.listener)
        sites = [site.id if site else "" for site in (near, far)]
        return OutsideHost(
            min(lines, key=lambda u: (bool(u.behind) and u.site != sites[0], u.site != sites[1])).id
        )
    for ref, port in sockets:
        network = case.networks[port.network or ""]
        known = ipv6_range(network) if six else (sub.range if (sub := subnet(network)) else None)
        has = bool(port.interface and port.interface.address_v6) if six else bool(port.address)
        if known and not has and address in known:
            return InsideHost(ref, network.id, six)
    if six:
        return NoHost()
    if (unsaid := line_that_may_have(case, call.listener, address)) is not None:
        return OutsideHost(unsaid.id)
    kind = host_class(host)
    own = uplink_out(case, call.listener, call.stream)
    if kind and kind[0] in ("public", "documentation", "carrier shared") and own:
        return OutsideHost(own)
    return NoHost()


def line_that_may_have(
    case: Case, listener: Device, address: IPv4Address | IPv6Address | None
) -> Uplink | None:
    """The line of a listener's router that is a socket on a network whose range holds an address, and whose own address nobody
    said; None where there is none."""
    routers = {
        r.id: r for p in sockets_on_networks(case)[listener.id] if (r := case.router_of.get(p.network or ""))
    }
    lines = (case.uplinks[up] for r in routers.values() for up in r.uplinks)
    for line in lines:
        outer = subnet(case.networks[line.behind]) if line.behind and not line.address else None
        if outer and isinstance(address, IPv4Address) and address in outer.range:
            return line
    return None
