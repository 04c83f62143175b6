"""Whether the address that a stream is called at stays: what a forward, or a person, was told must not move."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.addressing.hosts import address_in, host_of
from humble_relay.core.endpoints.calls import call_of
from humble_relay.core.judging.answer import HOLDS, DependsOn, Thing, Verdict, Words, doubtful, holds, waits
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.lan.sockets import sockets_on_networks
from humble_relay.core.plan import Device, Port, Stream
from humble_relay.core.reach.intersite_streams import FAR_STREAMS
from humble_relay.core.reach.local_streams import CALLED_LOCALLY, local_address
from humble_relay.core.reach.trace.connection_trace import connection_traces


class CalledAddress(NamedTuple):
    """A stream, and the socket of the box that is called; `far`: from another site, through a router that forwards."""

    stream: Stream
    box: Device
    port: Port
    far: bool


def called_at(case: Case) -> Iterator[tuple[Thing, CalledAddress]]:
    """Every stream whose other end is called at an address, and the socket that is called."""
    asked: dict[str, bool] = {what.stream.id: False for _, what in CALLED_LOCALLY.each(case)}
    asked |= {what.stream.id: True for _, what in FAR_STREAMS.each(case)}
    for id, found in connection_traces(case).items():  # a service on the internet that calls in
        if any(at.question == "not-let-in" for journey in found for at in journey.waypoints):
            asked[id] = True
    for stream in case.streams:
        if stream.id in asked:
            yield from _at(case, stream, call_of(case, stream).listener, asked[stream.id])


def _at(case: Case, stream: Stream, box: Device, far: bool) -> Iterator[tuple[Thing, CalledAddress]]:
    hops = (w for trace in connection_traces(case).get(stream.id, ())[:1] for w in trace.waypoints[1:])
    called = next((w.thing.part for w in hops if w.kind == "socket" and w.thing.id == box.id), "")
    sockets = sockets_on_networks(case)[box.id]
    port = next((p for p in sockets if p.id == called), sockets[0] if sockets else None)
    if port:
        yield Thing("link", stream.id, "stays"), CalledAddress(stream, box, port, far)


CALLED_AT: SubjectKind[CalledAddress] = SubjectKind(
    "stream whose other end is called at an address", called_at
)


@check(
    "address-may-move", CALLED_AT, "addresses", "Does the address that it is called at stay?",
    "RFC 2131 §4.3; common practice", "plan", tried=True,
)  # fmt: skip
def address_may_move(case: Case, what: CalledAddress) -> Verdict:
    """Whether the box that is called has a fixed or reserved address. DHCP may give another after a restart: within a site
    that is known, and read again on the day; a router's forward goes on pointing at the old one."""
    stream, box, port, far = what
    if port.addressing != "dhcp":
        return HOLDS
    if far:
        return doubtful(lambda: _forwarded(case, what))
    if not stream.address and not port.address:
        return waits(DependsOn(local_address, Thing("link", stream.id)))
    if not port.address or (stream.address and address_in(host_of(stream.address)) is None):
        return (
            HOLDS  # by its name it is found wherever DHCP puts it; whose the address is, is asked elsewhere
        )
    return holds(
        remark=lambda: Words(
            f"{stream.name} is called at an address that DHCP gave to {box.name}.",
            "After a restart it may have another, and the source that was there yesterday is missing.",
            "Reserve the address in the router, or read it off the box again on the day.",
        )
    )


def _forwarded(case: Case, what: CalledAddress) -> Words:
    site = case.site_of(what.box)
    return Words(
        f"{what.stream.name} comes in by a forwarded port, and {what.box.name} has its address from DHCP.",
        "It works until the box restarts: then the forward points at nobody, or at another box.",
        f"Reserve its address in the router{f' of {site.name}' if site else ''}, or set it in the box outside the pool.",
    )


CHECKS = (address_may_move,)
