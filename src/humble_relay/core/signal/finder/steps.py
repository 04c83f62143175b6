"""One hop of a route: which boxes a picture can go to from an exit, by which medium, and at what effort."""

import math
from collections.abc import Iterator

from humble_relay.core.catalogue.cables import CABLE_FOR, FITS, REPEATABLE, stock_lay
from humble_relay.core.judging.case import Case
from humble_relay.core.network.sockets import fed_by_network, free_sockets, has_sockets, lan_port, network_for
from humble_relay.core.picture.serial import serial_rate
from humble_relay.core.places.distances import cable_can_go, distance_m, run_length_m, walls_between
from humble_relay.core.plan import CableKind, Connector, Device, Port, Protocol, Stream
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.radio.range_of_links import through_the_air
from humble_relay.core.radio.walls import as_far_as_m
from humble_relay.core.signal.cabling.port_speeds import port_speed
from humble_relay.core.signal.cabling.reach import cable_reach, usb_load
from humble_relay.core.signal.finder.problem import (
    EFFORT,
    MOST_REPEATERS,
    NEAR_M,
    NEVER_M,
    TURNING,
    Inlet,
    Leg,
    Outlet,
    RoutingProblem,
    Unit,
    to_get,
)
from humble_relay.core.signal.flow.conversion import refusal
from humble_relay.core.signal.flow.delays import hop_delay_ms
from humble_relay.core.signal.flow.firmware import lacks_firmware
from humble_relay.core.signal.flow.propagation import VIDEO, is_source


def onward(on: RoutingProblem, exit: Outlet) -> list[Leg]:
    """Every hop that can be made from an exit, in the order of the plan and the library."""
    key = ("onward", exit.spot, on.avoid, on.to_get)
    if key not in on.memo:
        on.memo[key] = [
            h for h in _every_hop(on, exit) if (on.to_get or not h.entry.box.to_get) and not _avoided(on, h)
        ]
    found: list[Leg] = on.memo[key]  # type: ignore[assignment]
    return found


def _every_hop(on: RoutingProblem, exit: Outlet) -> list[Leg]:
    key = ("hops", exit.spot)
    if key not in on.memo:
        connectors: tuple[str, ...] = ("stream",)
        if exit.port:
            connectors = (exit.port.assigned,) if exit.port.assigned else exit.port.types
        on.memo[key] = [
            hop
            for connector in connectors
            for entry in _entries(on, exit.box.place, connector)
            if entry.box.key != exit.box.key
            for hop in _hops(on, exit, entry, connector)
        ]
    found: list[Leg] = on.memo[key]  # type: ignore[assignment]
    return found


def leaving(on: RoutingProblem, hop: Leg) -> Iterator[tuple[Leg, Outlet]]:
    """The exits of the box a hop enters, each with the hop as it is then set."""
    box, came = hop.entry.box, hop.sent or hop.exit.format
    made = box.device.produces
    made_options = [came] if made is None else [*dict.fromkeys([made, *_wanted(on, came)])]
    for fmt in made_options:
        set_hop = hop if made is None or fmt == made else hop._replace(sent=fmt)
        for port in box.device.ports:
            if port.way != "out" or not VIDEO & set(port.types):
                continue
            if port.carries == "loop" and port.loop_of != (hop.entry.port.id if hop.entry.port else None):
                continue
            left = hop.exit.format if port.carries == "loop" else port.produces or fmt
            yield set_hop, Outlet(box, port, left, hop.exit.protected or port.protected)
        if box.device.encoding:
            yield set_hop, Outlet(box, None, fmt, hop.exit.protected)


def _entries(on: RoutingProblem, place: str | None, connector: str) -> list[Inlet]:
    """Where a picture can go from a place by a connector: the end, idle boxes, and new ones here or there."""
    key = ("entries", place, connector)
    if key not in on.memo:
        there = on.ends[0].box.place
        new = []
        for model in on.case.models.values():
            if model.device.kind in TURNING:
                lacking = to_get(on.case, model.device.model)
                for at in dict.fromkeys((place, there)):
                    new.append(Unit(f"{model.id}@{at}", model.device, at, True, lacking))
        found = [e for e in on.ends if _fits(e, connector)]
        for box in (*on.idle, *new):
            if connector == "stream":
                found += [Inlet(box, None)] if box.device.decoding else []
            else:
                found += [
                    Inlet(box, p)
                    for p in box.device.ports
                    if p.way == "in" and _fits(Inlet(box, p), connector)
                ]
        on.memo[key] = found
    entries: list[Inlet] = on.memo[key]  # type: ignore[assignment]
    return entries


def _fits(entry: Inlet, connector: str) -> bool:
    if entry.port is None:
        return connector == "stream"
    types = (entry.port.assigned,) if entry.port.assigned else entry.port.types
    return ("network" if connector == "stream" else connector) in types


def _avoided(on: RoutingProblem, hop: Leg) -> bool:
    if not on.avoid:
        return False
    ends = f"{hop.exit.box.key}/{hop.exit.port.id if hop.exit.port else ''}>{hop.entry.box.key}/{hop.entry.port.id if hop.entry.port else ''} by {hop.medium}"
    return bool(
        on.avoid & {("medium", hop.medium), ("model", hop.entry.box.device.model or "-"), ("hop", ends)}
    )


def _hops(on: RoutingProblem, exit: Outlet, entry: Inlet, connector: str) -> list[Leg]:
    """The hops from an exit to an entry by a connector: one, or one for each protocol; none that would not arrive."""
    if connector == "stream":
        return [hop for protocol in _protocols(exit, entry) if (hop := _stream(on, exit, entry, protocol))]
    hop = _by_wire(on, exit, entry, connector)
    return [hop] if hop else []


def _by_wire(on: RoutingProblem, exit: Outlet, entry: Inlet, connector: str) -> Leg | None:
    port, fmt = entry.port, exit.format
    if port is None or exit.port is None or refusal(entry.box.device, port, fmt):
        return None
    if exit.protected and port.takes_protected is False:
        return None
    kin = entry.box.device.family, exit.box.device.family
    if connector == "fibre" and all(kin) and kin[0] != kin[1]:
        return None
    cost = _entering(on, entry)
    if exit.protected and port.takes_protected is None:
        cost += EFFORT["not known"]
    if connector == "radio":
        return _radio(on, exit, entry, cost)
    kind = CABLE_FOR[connector]  # type: ignore[index]
    laid = _laid(on, exit.box.place, entry.box.place, kind, fmt)
    if laid is None or not _fast_enough(on, FITS[kind], fmt, exit.port, port):
        return None
    length, joints, repeaters = laid
    cost += (
        length * EFFORT["metre"]
        + joints * EFFORT["joint"]
        + repeaters * EFFORT["repeater"]
        + sum(EFFORT["change"] for p in (exit.port, port) if p.type is None)
    )
    delay = _delay(on, entry)
    return Leg(exit, entry, kind, length, cost + delay * EFFORT["ms"], joints, repeaters, delay_ms=delay)


def _entering(on: RoutingProblem, entry: Inlet) -> float:
    """What it takes to have the entered box there."""
    box = entry.box
    if box.key == on.ends[0].box.key:
        other = on.prefer is not None and entry.port is not None and entry.port.id != on.prefer
        return EFFORT["other input"] if other else 0.0
    if not box.new:
        return EFFORT["idle box"]
    return EFFORT["box"] + (EFFORT["to get"] if box.to_get else 0.0)


def _delay(on: RoutingProblem, entry: Inlet, protocol: Protocol | None = None) -> float:
    """What the hop adds in ms: of the box where the search ends nothing, which is not the way's."""
    return hop_delay_ms(on.case, protocol, entry.box.device, entry.box.key == on.ends[0].box.key)


def _laid(
    on: RoutingProblem, a: str | None, b: str | None, kind: CableKind, fmt: VideoFormat
) -> tuple[float, int, int] | None:
    """Length, joints and repeaters of a run between two places, or None when it cannot be had."""
    key = ("laid", a, b, kind, fmt)
    if key not in on.memo:
        need = on.lengths.get((a, b)) or run_length_m(on.case, a, b)
        on.memo[key] = None
        if need is not None and need <= NEVER_M and cable_can_go(on.case, a, b):
            lay = stock_lay(kind, need)
            for repeaters in range(MOST_REPEATERS + 1 if kind in REPEATABLE else 1):
                joints = max(0, lay.joints - repeaters)
                if cable_reach(kind, fmt, on.case.figures, repeaters, joints).value >= need:
                    on.memo[key] = (need, joints, repeaters)
                    break
    found: tuple[float, int, int] | None = on.memo[key]  # type: ignore[assignment]
    return found


def _fast_enough(on: RoutingProblem, connector: Connector, fmt: VideoFormat, out: Port, into: Port) -> bool:
    """Whether serial and USB ports take the rate of the picture."""
    if connector == "sdi":
        key = ("rate", fmt)
        if key not in on.memo:
            rate = serial_rate(fmt)
            on.memo[key] = rate.value if rate else math.inf
        need: float = on.memo[key]  # type: ignore[assignment]
        return need < math.inf and all(p.max_gbps is None or need <= p.max_gbps for p in (out, into))
    if connector == "usb":
        load = usb_load(fmt, out.sends or "raw", on.case.figures)
        return load.value <= min(into.max_gbps or 1e9, on.case.figures["usb3-share"])
    if connector in ("hdmi", "vga", "fibre"):
        speeds = (port_speed(p, connector, fmt, on.case.figures) for p in (out, into))
        return all(s is None or not s.relied or s.value <= s.relied for s in speeds)
    return True


def _radio(on: RoutingProblem, exit: Outlet, entry: Inlet, cost: float) -> Leg | None:
    sender, taker = exit.box.device, entry.box.device
    if not sender.family or sender.family != taker.family:
        return None
    a, b = exit.box.place, entry.box.place
    far = (on.air or {}).get((a, b)) or distance_m(on.case, a, b) or on.lengths.get((a, b))
    if far is None:
        if a != b:
            return None  # nobody knows how far it is
        far = NEAR_M
    walls = walls_between(on.case, a, b)
    air = through_the_air(on.case, a, b, (sender, taker), walls)
    if as_far_as_m(far, air.loss.least_db) > air.quoted_m:
        return None
    delay = _delay(on, entry)
    cost += EFFORT["radio"] + walls * EFFORT["wall"] + delay * EFFORT["ms"]
    cost += 0.0 if air.clear(far) else EFFORT["may not reach"]
    return Leg(exit, entry, "radio", far, cost, walls=walls, delay_ms=delay)


def _stream(on: RoutingProblem, exit: Outlet, entry: Inlet, protocol: Protocol) -> Leg | None:
    sender, taker = exit.box.device, entry.box.device
    network = network_for(on.case, sender, exit.box.place, not exit.box.new)
    if network is None or (taker.ingest and on.case.uplink_of(network.id) is None):
        return None
    if taker.ingest is None and network_for(on.case, taker, entry.box.place, not entry.box.new) != network:
        return None
    like = picture_to_share(on.case, exit.box)
    sent = stream_format(sender, taker, like.format if like else exit.format)
    if like and not takes_as_it_is(taker, like):
        return None
    if sent is None or (exit.protected and entry.box.new):
        return None
    if entry.port and (refusal(taker, entry.port, sent) or lacks_firmware(taker, "network-input")):
        return None
    delay = _delay(on, entry, protocol)
    sockets = [_socket_cost(on, box) for box in (exit.box, entry.box) if box.device.ingest is None]
    if None in sockets:
        return None
    cost = _entering(on, entry) + EFFORT["network"] + sum(m or 0 for m in sockets) + delay * EFFORT["ms"]
    return Leg(
        exit, entry, protocol, 0.0, cost, delay_ms=delay,
        sent=sent if sent != exit.format else None, network=network.id,
    )  # fmt: skip


def _protocols(exit: Outlet, entry: Inlet) -> list[Protocol]:
    """What both ends speak, with the firmware they have and in one family where that matters."""
    sender, taker = exit.box.device, entry.box.device
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


def picture_to_share(case: Case, box: Unit) -> Stream | None:
    """The stream whose picture one more must share, where every channel of the encoder has its own already."""
    sent, can = case.streams_from.get(box.key, []), box.device.encoding
    if can is None or not sent:
        return None
    pictures = {(s.format, s.codec, s.video_mbps, s.layout) for s in sent}
    return sent[0] if len(pictures) >= can.channels else None


def takes_as_it_is(taker: Device, stream: Stream) -> bool:
    """Whether the taker would take this picture too, raster, codec and bitrate as they are."""
    takes = taker.ingest
    if takes is None:
        return True
    small = takes.max_mbps is None or stream.video_mbps <= takes.max_mbps
    return small and stream.codec in takes.codecs and takes.accepts.refusal(stream.format) is None


def stream_format(sender: Device, taker: Device, fmt: VideoFormat) -> VideoFormat | None:
    """The format to send: what comes, or the nearest the taker accepts; None when it cannot be composed."""
    if taker.ingest is None or taker.ingest.accepts.refusal(fmt) is None:
        return fmt
    nearest = taker.ingest.accepts.nearest(fmt)
    turned = nearest is not None and (nearest.height > nearest.width) != (fmt.height > fmt.width)
    if turned and not (sender.encoding and sender.encoding.vertical):
        return None
    return nearest


def _socket_cost(on: RoutingProblem, box: Unit) -> float | None:
    """Metres to the nearest free socket for a box that is not plugged in yet; None where none is in reach."""
    port = lan_port(box.device)
    if not box.new and (port is None or port.network or f"{box.key}/{port.id}" in on.case.join_at):
        return 0.0
    if port and "wifi" in port.types:
        return 0.0
    fed = fed_by_network(box.device)
    key = ("socket", box.place, fed)
    if key not in on.memo:
        on.memo[key] = next((m for m, _ in free_sockets(on.case, box.place, fed)), None)
        if on.memo[key] is None and (fed or not has_sockets(on.case, box.place)):
            on.memo[key] = EFFORT["no socket"]
    metres: float | None = on.memo[key]  # type: ignore[assignment]
    return metres


def _wanted(on: RoutingProblem, fmt: VideoFormat) -> list[VideoFormat]:
    """The formats worth scaling to: what each input of the end takes nearest to this one."""
    found = []
    for entry in on.ends:
        device, port = entry.box.device, entry.port
        if port and device.produces and not port.scales and not is_source(device):
            found.append(device.produces)
        elif port and port.accepts and (nearest := port.accepts.nearest(fmt)):
            found.append(nearest)
        elif port:
            found.append(fmt)
    return found


def connector_of(medium: str) -> Connector:
    """The connector a picture medium ends in."""
    return FITS[medium]  # type: ignore[index]
