"""A path written as edits: new boxes, cables, streams and settings, in the order they are made."""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

from humble_relay.core.bonding.modems import modem_ports, with_modems
from humble_relay.core.catalogue.cables import CABLE_WORDS, PROTOCOL_WORDS
from humble_relay.core.catalogue.gear import made_from
from humble_relay.core.frozen import free_id, free_name
from humble_relay.core.judging.case import Case
from humble_relay.core.lan.sockets import fed_by_network, free_sockets, socket_on
from humble_relay.core.picture.bitrate import suggested_bitrate
from humble_relay.core.plan import Cable, CableKind, Device, Link, Radio, Stream
from humble_relay.core.plan.edits import (
    Edit,
    Remove,
    SetField,
    SetPort,
    added,
)
from humble_relay.core.plan.video import Codec, VideoFormat
from humble_relay.core.signal.finder.over_networks import MOBILE, picture_to_share
from humble_relay.core.signal.finder.route import (
    CARRIED,
    Route,
    RouteHop,
    medium_of,
    risks_of,
    short_of,
    title_of,
)
from humble_relay.core.signal.finder.routing_problem import Leg, Path, Start, Unit
from humble_relay.core.signal.finder.steps import connector_of

_LEAD_M = 2.0
"""A lead beside the boxes it joins, in metres (common practice, no source)."""
_TURNED = ("from_device", "protocol", "format", "codec", "video_mbps", "layout")
"""What a stream that stays is told anew."""
Formats = Mapping[str, VideoFormat]
"""The format that a box on the way is set to, by the box."""


@dataclass
class _Taken:
    """What the edits so far have taken: devices by their box, ids, sockets; and what they use up and what to mind."""

    case: Case
    devices: dict[str, Device] = field(default_factory=dict)
    ids: set[str] = field(default_factory=set)
    links: set[str] = field(default_factory=set)
    sockets: set[str] = field(default_factory=set)
    online: set[tuple[str, str]] = field(default_factory=set)
    """The boxes that were put on a network, each with it."""
    uses: list[str] = field(default_factory=list)
    risks: list[str] = field(default_factory=list)

    def link_id(self, wanted: str) -> str:
        """An id for a new link."""
        id = free_id(wanted[:55].strip("-"), self.links)
        self.links.add(id)
        return id


def route_of(
    case: Case, path: Path, source: str, first: tuple[Edit, ...] = (), kept: str | None = None
) -> Route:
    """The path from a source in words and as edits, after the edits that come first. The stream `kept` is turned, not made anew."""
    taken = _Taken(case, ids=set(case.devices), links=set(case.links))
    start, edits, hops, delay = path.start, [*first], list[RouteHop](), 0.0
    if start.tapped:
        edits += _tap(taken, start)
    if start.retold and start.exit.port:
        ref = f"{start.exit.box.key}/{start.exit.port.id}"
        edits.append(SetPort(port=ref, field="carries", value=start.retold))
    formats = {h.entry.box.key: h.sent for h in path.hops[:-1] if h.sent and h.medium in CARRIED}
    for hop in path.hops:
        delay += hop.delay_ms
        giver, made = _device(taken, hop.exit.box, formats)
        edits += made
        taker, made = _device(taken, hop.entry.box, formats)
        edits += made
        write = _by_wire if hop.medium in CARRIED else _by_network
        what, made = write(taken, hop, giver, taker, kept)
        edits += made
        taken.risks += risks_of(case, hop, giver, taker)
        hops.append(_line(hop, giver, taker, what, delay))
    new = [
        u
        for u in [*([start.exit.box] if start.tapped else []), *(h.entry.box for h in path.hops[:-1])]
        if u.new
    ]
    runs = [h.length_m for h in path.hops if h.medium in CABLE_WORDS] + ([_LEAD_M] if start.tapped else [])
    cable = sum(m for m in runs if m is not None)
    return Route(
        title=title_of(path, source),
        short=short_of(path),
        hops=tuple(hops),
        boxes=tuple(u.device.model for u in new if not u.to_get),
        to_get=tuple(u.device.model for u in new if u.to_get),
        uses_up=tuple(taken.uses),
        cable=_cable_words(cable, runs.count(None)),
        cable_m=round(cable, 1),
        delay_ms=round(delay, 1),
        risks=tuple(dict.fromkeys(taken.risks)),
        effort=round(path.cost, 2),
        edits=tuple(edits),
    )


def _cable_words(metres: float, unknown: int) -> str:
    """The metres known, and how many runs are to be measured.

    >>> _cable_words(44, 0), _cable_words(4, 1), _cable_words(0, 2)
    ('44 m', '4 m and 1 run to measure', '2 runs to measure')
    """
    runs = f"{unknown} run{'s' if unknown > 1 else ''} to measure" if unknown else ""
    return " and ".join(filter(None, (f"{round(metres, 1):g} m" if metres or not runs else "", runs)))


def _line(hop: Leg, giver: Device, taker: Device, what: str, delay: float) -> RouteHop:
    """A hop of the way in words, with the delay so far."""
    into = hop.entry.port
    fmt = (hop.sent if hop.medium not in CARRIED else None) or hop.exit.format
    return RouteHop(
        what=what,
        from_name=f"{giver.name}, {hop.exit.port.name}" if hop.exit.port else giver.name,
        to_name=f"{taker.name}, {into.name}" if into else taker.name,
        format=fmt.label,
        delay_ms=round(delay, 1),
    )


def _device(taken: _Taken, unit: Unit, formats: Formats) -> tuple[Device, list[Edit]]:
    """The device of a box, and the edits that add it or set its format, the first time it is met."""
    wanted, case = formats.get(unit.key), taken.case
    if unit.key in taken.devices:
        return taken.devices[unit.key], []
    edits: list[Edit] = []
    if not unit.new:
        device = case.devices[unit.key]
        if wanted and wanted != device.produces:
            value = wanted.model_dump(mode="json")
            edits.append(SetField(noun="device", id=device.id, field="produces", value=value))
    else:
        model, short = unit.key.split("@")[0], unit.device.short_name
        place = case.places.get(unit.place or "")
        names = {d.name for d in (*case.devices.values(), *taken.devices.values())}
        name = free_name(f"{short}, {place.name}" if place else short, names)
        id = free_id(f"{model}-{unit.place}"[:55].strip("-") if unit.place else model, taken.ids)
        taken.ids.add(id)
        device = made_from(case.models[model], id, unit.place, name)
        if wanted:
            device = device.model_copy(update={"produces": wanted})
        edits.append(added(device))
        taken.uses.append(unit.device.model)
    taken.devices[unit.key] = device
    return device, edits


def _by_wire(
    taken: _Taken, hop: Leg, giver: Device, taker: Device, _kept: str | None
) -> tuple[str, list[Edit]]:
    """A cable or radio link between two ports, each told what it is where it has to be."""
    assert hop.exit.port and hop.entry.port
    a, b = f"{giver.id}/{hop.exit.port.id}", f"{taker.id}/{hop.entry.port.id}"
    connector = "radio" if hop.medium == "radio" else connector_of(hop.medium)
    edits: list[Edit] = [
        SetPort(port=ref, field="assigned", value=connector)
        for ref, port in ((a, hop.exit.port), (b, hop.entry.port))
        if port.type is None
    ]
    id = taken.link_id(f"{giver.id}-{taker.id}")
    link: Link
    if hop.medium == "radio":
        link = Radio(
            id=id,
            from_port=a,
            to_port=b,
            distance_m=None if hop.length_m is None else round(hop.length_m, 1),
            walls=hop.walls,
        )
    else:
        kind: CableKind = hop.medium  # type: ignore[assignment]
        link = Cable(
            id=id, from_port=a, to_port=b, cable=kind, length_m=hop.length_m, joints=hop.joints, repeaters=hop.repeaters
        )  # fmt: skip
    taken.uses += [taken.case.port_name(r) for r in (a, b) if r in taken.case.ports]
    return medium_of(hop), [*edits, added(link)]


def _by_network(
    taken: _Taken, hop: Leg, giver: Device, taker: Device, kept: str | None
) -> tuple[str, list[Edit]]:
    """A stream, with both boxes put on the network, and the input told that shows it."""
    edits = list(_mobile_lines(taken, giver, hop) if hop.by == MOBILE and not hop.network else ())
    for device, unit, network in ((giver, hop.exit.box, hop.network), (taker, hop.entry.box, hop.theirs)):
        edits += _onto_network(taken, device, unit, network) if network else ()
    into = hop.entry.port
    if into and into.assigned != "network" and into.types != ("network",):
        edits.append(SetPort(port=f"{taker.id}/{into.id}", field="assigned", value="network"))
    stream = _stream(taken, hop, giver, taker)
    if kept and taker.ingest:
        values = stream.model_dump(mode="json")
        edits += [SetField(noun="link", id=kept, field=f, value=values[f]) for f in _TURNED]
    else:
        edits.append(added(stream))
    taken.uses.append(f"a destination of {giver.name}")
    return f"{PROTOCOL_WORDS[stream.protocol]} {stream.video_mbps:g} Mb/s", edits


def _tap(taken: _Taken, start: Start) -> list[Edit]:
    """The splitter at the output, with the cable that was there on its first hop."""
    cable = taken.case.links[start.tapped or ""]
    assert isinstance(cable, Cable)
    splitter, edits = _device(taken, start.exit.box, {})
    into = next(p for p in splitter.ports if p.way == "in")
    outs = [p for p in splitter.ports if p.way == "out"]
    lead = cable.model_copy(
        update={"id": taken.link_id(f"{splitter.id}-lead"), "to_port": f"{splitter.id}/{into.id}",
                "length_m": _LEAD_M, "joints": 0, "repeaters": 0, "broken": False}
    )  # fmt: skip
    moved = cable.model_copy(update={"from_port": f"{splitter.id}/{outs[0].id}"})
    return [*edits, Remove(noun="link", id=cable.id), added(lead), added(moved)]


def _stream(taken: _Taken, hop: Leg, giver: Device, taker: Device) -> Stream:
    """The stream of a hop: in a codec that both ends know, at the bitrate its picture deserves and both ends can do."""
    assert giver.encoding
    case, fmt, can = taken.case, hop.sent or hop.exit.format, giver.encoding
    takes: tuple[Codec, ...] = taker.ingest.codecs if taker.ingest else ("intra", "h264", "hevc")
    codec: Codec = next((c for c in can.codecs if c in takes), "h264")
    if hop.medium != "ndi" and codec == "intra":
        codec = next((c for c in can.codecs if c != "intra"), "h264")
    mbps = suggested_bitrate(fmt, codec, case.plan.show.content, case.figures).suggested.value
    most = min(can.max_mbps, (taker.ingest and taker.ingest.max_mbps) or can.max_mbps)
    turned = (fmt.height > fmt.width) != (hop.exit.format.height > hop.exit.format.width)
    made = Stream(
        id=taken.link_id(f"{giver.id}-to-{taker.id}"),
        name=f"{giver.name} to {taker.name}"[:80],
        from_device=giver.id,
        to_device=taker.id,
        protocol=hop.medium,
        format=fmt,
        codec=codec,
        video_mbps=min(most, max(0.5, math.ceil(mbps * 2) / 2)),
        layout="fit" if turned else "full",
        input=hop.entry.port.id if hop.entry.port else None,
    )
    like = picture_to_share(case, hop.exit.box)
    shared = ("format", "codec", "video_mbps", "layout")
    return made.model_copy(update={f: getattr(like, f) for f in shared}) if like else made


def _mobile_lines(taken: _Taken, device: Device, hop: Leg) -> tuple[Edit, ...]:
    """Mobile data of a box as the line it is, an uplink of its site; all its modems bonded, where what takes the stream joins them again."""
    if taken.case.site_of(device) is None:
        return ()  # where it stands is not known yet, nor whose line it is
    modems = modem_ports(device) if hop.medium == "paired" else modem_ports(device)[:1]
    return with_modems(taken.case, device, [""] * len(modems))


def _onto_network(taken: _Taken, device: Device, unit: Unit, network: str) -> Iterator[Edit]:
    """Puts a box on the network, with a cable to the nearest free socket where it has none."""
    wired = frozenset(p.id for p in device.ports if f"{device.id}/{p.id}" in taken.case.join_at)
    port = socket_on(device, network, wired)
    if port is None or port.network or (device.id, network) in taken.online:
        return
    taken.online.add((device.id, network))
    ref = f"{device.id}/{port.id}"
    yield SetPort(port=ref, field="interface.network", value=network)
    if "wifi" in port.types or ref in taken.case.join_at:
        return
    fed = fed_by_network(device)
    free = next((s for s in free_sockets(taken.case, unit.place, fed) if s[1] not in taken.sockets), None)
    if free is None:
        what = "network socket that gives power" if fed else "network socket"
        bring = "an injector" if fed else "a network switch"
        taken.risks.append(f"The plan knows no {what} near {device.name}: bring {bring}.")
        return
    metres, socket = free
    taken.sockets.add(socket)
    taken.uses.append(taken.case.port_name(socket))
    id = taken.link_id(f"{device.id}-lan")
    yield added(Cable(id=id, from_port=ref, to_port=socket, cable="ethernet", length_m=metres))
