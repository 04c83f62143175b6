"""The hops that go by network: which box can send to which, by which of their networks, and in what picture."""

from typing import NamedTuple

from humble_relay.core.judging.case import Case
from humble_relay.core.lan.sockets import (
    fed_by_network,
    free_sockets,
    has_sockets,
    networks_for,
    socket_on,
)
from humble_relay.core.plan import Device, Protocol, Stream
from humble_relay.core.plan.video import VideoFormat, frames_per_second
from humble_relay.core.reach.local_streams import DISCOVERED
from humble_relay.core.signal.finder.routing_problem import (
    EFFORT,
    Inlet,
    Leg,
    Outlet,
    RoutingProblem,
    Unit,
    effort_of_entering,
)
from humble_relay.core.signal.flow.conversion import refusal
from humble_relay.core.signal.flow.delays import ThoughtOf, hop_delay_ms
from humble_relay.core.signal.flow.firmware import lacks_firmware

CALLS_OUT: tuple[Protocol, ...] = ("srt", "paired", "rtmp", "rtmps")
"""The protocols by which a box calls one at another site; others are asked for their picture, on a network that both are on."""
MOBILE = "mobile data"


class ByNetworks(NamedTuple):
    """By which networks two boxes reach each other; None for a side that needs none, being in the cloud or on mobile data."""

    ours: str | None
    theirs: str | None
    by: str = ""
    far: bool = False


def stream_hops(on: RoutingProblem, exit: Outlet, entry: Inlet) -> list[Leg]:
    """A hop for each protocol that both ends speak and each way their networks meet; none that would not arrive."""
    return [
        hop
        for protocol in spoken(exit.box.device, entry.box.device)
        for meeting in meetings(on.case, exit.box, entry.box, protocol)
        if (hop := _stream(on, exit, entry, protocol, meeting))
    ]


def spoken(sender: Device, taker: Device) -> list[Protocol]:
    """What both ends speak, with the firmware they have and in one family where that matters."""
    takes = taker.ingest or taker.decoding
    if sender.encoding is None or takes is None:
        return []
    kin = bool(sender.family) and sender.family == taker.family
    return [
        p
        for p in takes.protocols
        if p in sender.encoding.protocols
        and (p != "paired" or kin)
        and not lacks_firmware(sender, p)
        and not lacks_firmware(taker, p)
    ]


def is_online(unit: Unit) -> bool:
    """Whether the box is on the internet itself, and stands nowhere: a platform, a relay, a bonding gateway."""
    return unit.device.ingest is not None and unit.place is None


def meetings(case: Case, sender: Unit, taker: Unit, protocol: Protocol) -> list[ByNetworks]:
    """How two boxes reach each other: on one network of a site, by a router that joins two, or out by a line each."""
    if is_online(sender):
        return [ByNetworks(None, None)] if is_online(taker) else []
    ours = networks_for(case, sender.device, sender.place, not sender.new)
    if is_online(taker):
        return [ByNetworks(n, None, by) for n, by in _out(case, sender, ours)]
    theirs = networks_for(case, taker.device, taker.place, not taker.new)
    if protocol == "web":
        return [
            ByNetworks(n, m, by) for n, by in _out(case, sender, ours) for m, _ in _out(case, taker, theirs)
        ]
    here, there = (case.places.get(u.place or "") for u in (sender, taker))
    if here and there and here.site != there.site:
        if protocol not in CALLS_OUT:
            return []
        out, into = _out(case, sender, ours), _out(case, taker, theirs)
        return [ByNetworks(n, m, by, far=True) for n, by in out[:1] for m, _ in into[:1]]
    shared = next((n for n in ours if n in theirs), None)
    if shared:
        return [ByNetworks(shared, shared)]
    if protocol in DISCOVERED:
        return []
    routed = ((n, m) for n in ours for m in theirs if _one_router(case, n, m))
    return [ByNetworks(n, m) for n, m in routed][:1]


def _one_router(case: Case, a: str, b: str) -> bool:
    routers = [case.router_of.get(n) for n in (a, b)]
    return routers[0] is not None and routers[0] == routers[1]


def _out(case: Case, unit: Unit, networks: list[str]) -> list[tuple[str | None, str]]:
    """The ways a box gets out of its site: by the first network with a line out, and by mobile data of its own."""
    found: list[tuple[str | None, str]] = []
    if online := next((n for n in networks if case.uplink_of(n)), None):
        found.append((online, ""))
    mobile = next((p for p in unit.device.ports if "mobile" in p.types), None)
    if mobile and mobile.network not in [n for n, _ in found]:
        found.append((mobile.network, MOBILE))
    return found


def _stream(
    on: RoutingProblem, exit: Outlet, entry: Inlet, protocol: Protocol, meeting: ByNetworks
) -> Leg | None:
    sender, taker = exit.box.device, entry.box.device
    like = picture_to_share(on.case, exit.box)
    sent = stream_format(sender, taker, like.format if like else pushed(on.case, taker, exit.format))
    if like and not takes_as_it_is(taker, like):
        return None
    if sent is None or (exit.protected and entry.box.new):
        return None
    if entry.port and (refusal(taker, entry.port, sent) or lacks_firmware(taker, "network-input")):
        return None
    sides = ((exit.box, meeting.ours), (entry.box, meeting.theirs))
    sockets = [_socket_cost(on, box, network) for box, network in sides if network]
    if None in sockets:
        return None
    last = entry.box.key == on.ends[0].box.key
    delay = hop_delay_ms(on.case, ThoughtOf(protocol, not meeting.far), taker, last, exit.held_ms)
    cost = effort_of_entering(on, entry) + EFFORT["network"] + sum(m or 0 for m in sockets)
    cost += (
        delay * EFFORT["ms"] + (EFFORT["far"] if meeting.far else 0) + (EFFORT["mobile"] if meeting.by else 0)
    )
    return Leg(
        exit, entry, protocol, 0.0, cost, delay_ms=delay, sent=sent if sent != exit.format else None,
        network=meeting.ours, theirs=meeting.theirs, by=meeting.by,
    )  # fmt: skip


def pushed(case: Case, taker: Device, came: VideoFormat) -> VideoFormat:
    """The picture to send: to a platform the brief's, where neither lines nor frames are made up for it; else what comes."""
    asked = case.plan.show.format
    if taker.ingest is None or asked is None or asked.width * asked.height > came.width * came.height:
        return came
    if frames_per_second(asked.rate) <= frames_per_second(came.rate):
        return asked
    return asked.model_copy(update={"rate": came.rate, "scan": came.scan})


def picture_to_share(case: Case, box: Unit) -> Stream | None:
    """The stream whose picture one more must share, where every channel of the encoder has its own already."""
    sent, can = case.streams_from.get(box.key, []), box.device.encoding
    if can is None or not sent:
        return None
    pictures = {(s.format, s.codec, s.video_mbps, s.layout) for s in sent}
    return sent[0] if len(pictures) >= can.channels else None


def takes_as_it_is(taker: Device, stream: Stream) -> bool:
    """Whether the receiver would take this picture too, raster, codec and bitrate as they are."""
    takes = taker.ingest
    if takes is None:
        return True
    small = takes.max_mbps is None or stream.video_mbps <= takes.max_mbps
    return small and stream.codec in takes.codecs and takes.accepts.refusal(stream.format) is None


def stream_format(sender: Device, taker: Device, fmt: VideoFormat) -> VideoFormat | None:
    """The format to send: what comes, or the nearest the receiver accepts; None when it cannot be composed."""
    if taker.ingest is None or taker.ingest.accepts.refusal(fmt) is None:
        return fmt
    nearest = taker.ingest.accepts.nearest(fmt)
    turned = nearest is not None and (nearest.height > nearest.width) != (fmt.height > fmt.width)
    if turned and not (sender.encoding and sender.encoding.vertical):
        return None
    return nearest


def _socket_cost(on: RoutingProblem, box: Unit, network: str) -> float | None:
    """Metres to the nearest free socket for a box that is not plugged in yet; None where none is in reach."""
    wired = frozenset(p.id for p in box.device.ports if f"{box.key}/{p.id}" in on.case.join_at)
    port = socket_on(box.device, network, wired)
    if port is None:
        return None
    if (not box.new and port.network == network) or port.id in wired or "ethernet" not in port.types:
        return 0.0
    fed = fed_by_network(box.device)
    key = ("socket", box.place, fed)
    if key not in on.memo:
        free = free_sockets(on.case, box.place, fed)
        metres = next((m for m, _ in free if m is not None), None)
        if metres is None and free:
            metres = EFFORT["unmeasured"]
        if metres is None and (fed or not has_sockets(on.case, box.place)):
            metres = EFFORT["no socket"]
        on.memo[key] = metres
    found: float | None = on.memo[key]  # type: ignore[assignment]
    return found
