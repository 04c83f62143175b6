"""The ways two devices can be joined: a cable between free ports that match, or a stream."""

import math
from collections.abc import Iterator

from humble_relay.core.edits import AddLink, Edit, SetPort
from humble_relay.core.frozen import Frozen
from humble_relay.core.gear import free_id
from humble_relay.core.index import PlanIndex
from humble_relay.core.picture.bitrate import suggested_bitrate
from humble_relay.core.plan import Cable, CableKind, Connector, Device, Stream
from humble_relay.core.signal.follow import formats
from humble_relay.core.video import Codec, VideoFormat

_CABLE: dict[Connector, CableKind] = {
    "sdi": "coax",
    "hdmi": "hdmi",
    "usb": "usb3",
    "fibre": "fibre",
    "ethernet": "ethernet",
    "audio": "audio",
}
_NEAR_M, _SLACK = 2.0, 1.1


class Joint(Frozen):
    """One way to join two devices, as edits."""

    title: str
    edits: tuple[Edit, ...]


def joints(plan: PlanIndex, from_device: str, to_device: str, length_m: float | None = None) -> list[Joint]:
    """Every sensible way from one device to the other, the surest first; empty when there is none."""
    sender, taker = plan.devices[from_device], plan.devices[to_device]
    length = length_m if length_m is not None else run_length_m(plan, sender, taker)
    return [*_streams(plan, sender, taker), *_cables(plan, sender, taker, length)]


def run_length_m(plan: PlanIndex, a: Device, b: Device) -> float:
    """Metres of cable between two devices: straight line plus a tenth, 2 m where places have no position."""
    first, second = plan.places.get(a.place or ""), plan.places.get(b.place or "")
    if not first or not second or first.id == second.id:
        return _NEAR_M
    if None in (first.x_m, first.y_m, second.x_m, second.y_m):
        return _NEAR_M
    flat = math.hypot((first.x_m or 0) - (second.x_m or 0), (first.y_m or 0) - (second.y_m or 0))
    return max(_NEAR_M, round(flat * _SLACK))


def _streams(plan: PlanIndex, sender: Device, taker: Device) -> Iterator[Joint]:
    if not sender.encoding or not taker.ingest:
        return
    fmt = _picture(plan, sender)
    for protocol in taker.ingest.protocols:
        if protocol not in sender.encoding.protocols:
            continue
        both: list[Codec] = [c for c in sender.encoding.codecs if c in taker.ingest.codecs]
        codec: Codec = both[0] if both else "h264"
        bitrate = suggested_bitrate(fmt, codec, plan.plan.show.content, plan.figures).suggested.value
        stream = Stream(
            id=free_id(f"{sender.id}-to-{taker.id}"[:60].strip("-"), plan.links),
            name=f"{sender.name} to {taker.name}",
            from_device=sender.id,
            to_device=taker.id,
            protocol=protocol,
            format=fmt,
            codec=codec,
            video_mbps=round(bitrate * 2) / 2,
        )
        yield Joint(
            title=f"{protocol.upper()} stream, {fmt.label} at {stream.video_mbps:g} Mb/s",
            edits=(AddLink(item=stream),),
        )


def _picture(plan: PlanIndex, sender: Device) -> VideoFormat:
    """What the sender has to send: what arrives at it, or the show's format, or 1080p30."""
    arriving = plan.once(formats)
    for port in sender.ports:
        if port.way == "in" and (fmt := arriving.get(f"{sender.id}/{port.id}")):
            return fmt
    return plan.plan.show.format or VideoFormat(width=1920, height=1080, rate="30")


def _cables(plan: PlanIndex, sender: Device, taker: Device, length: float) -> Iterator[Joint]:
    seen: set[tuple[Connector, str]] = set()
    for out in sender.ports:
        for into in taker.ports:
            a, b = f"{sender.id}/{out.id}", f"{taker.id}/{into.id}"
            if a == b or a in plan.cable_at or b in plan.cable_at or out.way == "in" or into.way == "out":
                continue
            for kind in _CABLE:
                if kind not in _may_be(out.assigned, out.types) or kind not in _may_be(
                    into.assigned, into.types
                ):
                    continue
                if (kind, b) in seen or (kind == "ethernet" and any(k == kind for k, _ in seen)):
                    continue
                seen.add((kind, b))
                cable = Cable(
                    id=free_id(f"{sender.id}-{taker.id}"[:60].strip("-"), plan.links),
                    from_port=a,
                    to_port=b,
                    cable=_CABLE[kind],
                    length_m=length,
                )
                undecided = [ref for ref in (a, b) if plan.ports[ref].type is None]
                edits: list[Edit] = [SetPort(port=ref, field="assigned", value=kind) for ref in undecided]
                yield Joint(
                    title=f"{_CABLE[kind]} cable, {length:g} m: {out.name} to {into.name}",
                    edits=(*edits, AddLink(item=cable)),
                )


def _may_be(assigned: Connector | None, types: tuple[Connector, ...]) -> tuple[Connector, ...]:
    return (assigned,) if assigned else types
