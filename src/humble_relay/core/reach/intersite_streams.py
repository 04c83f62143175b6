"""Whether a stream between boxes of two sites can find its way: out at one end, in at the other, to an address that is there."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.addressing.hosts import host_class, host_of
from humble_relay.core.egress.outbound import in_the_cloud, on_the_internet
from humble_relay.core.endpoints.calls import FAR_ADDRESS, Call, call_of
from humble_relay.core.endpoints.typed_addresses import fault_in
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Want, Words, fails, wants
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import listed
from humble_relay.core.lan.sockets import picture_sockets
from humble_relay.core.plan import Device, Stream
from humble_relay.core.reach.trace.connection_trace import has_a_way, no_route, stays_on_our_routers


class FarStream(NamedTuple):
    """A stream from a box of one site, or a service on the internet, to a box of another."""

    stream: Stream
    sender: Device
    taker: Device


def _far(case: Case) -> tuple[tuple[Thing, FarStream], ...]:
    return _all_far(case)


@analysis
def _all_far(case: Case) -> tuple[tuple[Thing, FarStream], ...]:
    return tuple(_going_far(case))


def _going_far(case: Case) -> Iterator[tuple[Thing, FarStream]]:
    for stream in case.streams:
        sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
        here, there = case.site_of(sender), case.site_of(taker)
        served = in_the_cloud(sender) and not on_the_internet(taker) and not taker.ingest
        if stream.protocol != "web" and (served or (here and there and here is not there)):
            yield Thing("link", stream.id), FarStream(stream, sender, taker)


FAR_STREAMS: SubjectKind[FarStream] = SubjectKind("stream between two sites", _far)


@check(
    FAR_ADDRESS.name, FAR_STREAMS, "addresses", FAR_ADDRESS.question,
    "RFC 1918, RFC 6598, RFC 6762, RFC 1122", "standard",
)  # fmt: skip
def far_address(case: Case, far: FarStream) -> Verdict:
    """Whether a stream to another site has an address, and one that is not private, this machine's or a local name.

    Names are announced on one network only, so no protocol finds the other end by itself.
    """
    stream, call = far.stream, call_of(case, far.stream)
    if not stream.address and in_the_cloud(call.listener):
        asked = f"At which address does {far.taker.name} ask {call.listener.name} for {stream.name}? Its page says."
        return wants(Want(Thing("link", stream.id), "address", asked))
    if not stream.address:
        asked = f"At which address does {far.taker.name} take {stream.name} from outside: the public one of its site, and the port?"
        return wants(Want(Thing("link", stream.id), "address", asked))
    if (fault := fault_in(stream, stream.address)) is not None:
        return fails(lambda: _mistyped(f"{stream.name}: the address {fault}."))
    found = host_class(host_of(stream.address))
    if in_the_cloud(call.listener) and found and found[0] not in ("public", "documentation"):
        return fails(lambda: _mistyped(f"{stream.name} is asked for at {far.sender.name}, and {stream.address} is {found[0]} ({found[1]})."))  # fmt: skip
    if found is None or found[0] in ("public", "documentation", "carrier shared"):
        return HOLDS  # whether anybody can call a shared one is a question of the line
    if found[0] == "private" and has_a_way(case, stream.id):
        return HOLDS  # a router of ours joins the two sites
    return fails(
        lambda: _mistyped(
            f"{stream.name} goes to another site, and {stream.address} is {found[0]} ({found[1]})."
        )
    )


def _mistyped(wrong: str) -> Words:
    return Words(
        wrong,
        "It works at home, where both boxes stand on one network, and nowhere else.",
        "Type the public address of the other site, and have its router forward the port.",
    )


@check(
    "far-way-out", FAR_STREAMS, "addresses", "Has each end a way to the internet?", "common practice, no source", "plan"
)  # fmt: skip
def far_way_out(case: Case, far: FarStream) -> Verdict:
    """Whether both ends are on a network whose router has an uplink, or have mobile data of their own."""
    if stays_on_our_routers(case, far.stream.id):
        return HOLDS
    for device in (far.sender, far.taker):
        if not in_the_cloud(device) and not _reaches_out(case, device):
            return fails(lambda device=device: _cut_off(case, device, far.stream))  # type: ignore[misc]
    if lost := no_route(case, far.stream, call_of(case, far.stream).caller):
        return fails(lambda: _lost(call_of(case, far.stream), lost.says))
    return HOLDS


def _reaches_out(case: Case, device: Device) -> bool:
    return any(case.uplink_of(p.network) for p in picture_sockets(device)) or any(
        "mobile" in p.types for p in device.ports
    )


def _lost(call: Call, where: str) -> Words:
    return Words(
        f"{call.caller.name} calls {call.listener.name} for {call.stream.name}, and finds no way: {where}.",
        "The box says it is connected, and nothing crosses.",
        "Give that router an uplink, or make the socket on the network with the uplink its WAN port.",
    )


def _cut_off(case: Case, device: Device, stream: Stream) -> Words:
    on = listed(case.networks[p.network].name for p in device.ports if p.network)
    return Words(
        f"{device.name} is on {on or 'no network'}{', which has no uplink' if on else ''}: {stream.name} goes to another site.",
        "The box says it is connected, and nothing crosses.",
        "Put it on a network with a line out.",
    )


CHECKS = (far_address, far_way_out)
