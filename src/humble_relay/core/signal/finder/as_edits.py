"""A path written as edits, with the words a technician compares it by."""

import math
from collections.abc import Mapping

from humble_relay.core.catalogue.cables import CABLE_WORDS, PROTOCOL_WORDS
from humble_relay.core.catalogue.gear import made_from
from humble_relay.core.frozen import Frozen, free_id
from humble_relay.core.judging.case import Case
from humble_relay.core.picture.bitrate import suggested_bitrate
from humble_relay.core.plan import Cable, CableKind, Device, Link, Radio, Stream
from humble_relay.core.plan.edits import AddDevice, AddLink, Edit, Remove, SetField, SetPort
from humble_relay.core.plan.video import Codec, VideoFormat
from humble_relay.core.signal.finder.problem import Box, Hop, Path, Start, free_sockets, lan_port
from humble_relay.core.signal.finder.search import LONG_M
from humble_relay.core.signal.finder.steps import connector_of, picture_to_share


class RouteHop(Frozen):
    """One line of a route: the link, where it runs, the format on it, and the delay so far in ms."""

    what: str
    from_name: str
    to_name: str
    format: str
    delay_ms: float


class Route(Frozen):
    """A way to make the picture arrive, and what it takes. `delay_ms` is what the way adds after the source;
    `effort` compares ways: 1 is a metre of cable."""

    title: str
    hops: tuple[RouteHop, ...]
    boxes: tuple[str, ...]
    to_get: tuple[str, ...]
    uses_up: tuple[str, ...]
    cable_m: float
    delay_ms: float
    risks: tuple[str, ...]
    effort: float
    edits: tuple[Edit, ...]


def route_of(case: Case, path: Path, first: tuple[Edit, ...] = (), kept: str | None = None) -> Route:
    """The path in words and as edits, after the edits that come first. The stream `kept` is turned, not made anew."""
    return _Making(case, first, kept).route(path)


class _Making:
    """The edits of one path, with the ids and names it takes on the way."""

    def __init__(self, case: Case, first: tuple[Edit, ...], kept: str | None) -> None:
        self.case, self.kept = case, kept
        self.edits: list[Edit] = [*first]
        self.names: dict[str, Device] = {}
        self.ids = set(case.devices)
        self.links = set(case.links)
        self.sockets: set[str] = set()
        self.risks: list[str] = []
        self.uses: list[str] = []

    def route(self, path: Path) -> Route:
        hops, delay = [], 0.0
        boxes: list[str] = []
        to_get: list[str] = []
        start = path.start
        if start.tapped:
            self._tap(start)
        if start.retold and start.exit.port:
            ref = f"{start.exit.box.key}/{start.exit.port.id}"
            self.edits.append(SetPort(port=ref, field="carries", value=start.retold))
        set_formats = {h.entry.box.key: h.sent for h in path.hops[:-1] if h.sent and h.medium in _CARRIED}
        for box in [*([start.exit.box] if start.tapped else []), *(h.entry.box for h in path.hops[:-1])]:
            if box.new:
                (to_get if box.to_get else boxes).append(box.device.model)
        for hop in path.hops:
            delay += hop.delay_ms
            hops.append(self._hop(hop, set_formats, delay))
        cable = sum(h.length_m for h in path.hops if h.medium in CABLE_WORDS) + (2 if start.tapped else 0)
        return Route(
            title=_title(path),
            hops=tuple(hops),
            boxes=tuple(boxes),
            to_get=tuple(to_get),
            uses_up=tuple(self.uses),
            cable_m=round(cable, 1),
            delay_ms=round(delay, 1),
            risks=tuple(dict.fromkeys(self.risks)),
            effort=round(path.cost, 2),
            edits=tuple(self.edits),
        )

    def _hop(self, hop: Hop, set_formats: Mapping[str, VideoFormat], delay: float) -> RouteHop:
        giver = self._box(hop.exit.box, set_formats)
        taker = self._box(hop.entry.box, set_formats)
        what, into = hop.medium, hop.entry.port
        if hop.medium in _CARRIED:
            assert hop.exit.port and into
            a, b = f"{giver.id}/{hop.exit.port.id}", f"{taker.id}/{into.id}"
            connector = "radio" if hop.medium == "radio" else connector_of(hop.medium)
            for ref, port in ((a, hop.exit.port), (b, into)):
                if port.type is None:
                    self.edits.append(SetPort(port=ref, field="assigned", value=connector))
            link = self._link(hop, a, b)
            self.edits.append(AddLink(item=link))
            what = _medium_words(hop)
            self._count(a, b)
        else:
            self._wire(giver, hop.exit.box, hop.network)
            if taker.ingest is None:
                self._wire(taker, hop.entry.box, hop.network)
            if into and into.assigned != "network" and into.types != ("network",):
                self.edits.append(SetPort(port=f"{taker.id}/{into.id}", field="assigned", value="network"))
            stream = self._stream(hop, giver, taker)
            if self.kept and taker.ingest:
                for field in _TURNED:
                    value = stream.model_dump(mode="json")[field]
                    self.edits.append(SetField(noun="link", id=self.kept, field=field, value=value))
            else:
                self.edits.append(AddLink(item=stream))
            what = f"{PROTOCOL_WORDS[stream.protocol]} {stream.video_mbps:g} Mb/s"
            self.uses.append(f"a destination of {giver.name}")
        self._risks(hop, giver, taker)
        fmt = (hop.sent if hop.medium not in _CARRIED else None) or hop.exit.format
        return RouteHop(
            what=what,
            from_name=f"{giver.name}, {hop.exit.port.name}" if hop.exit.port else giver.name,
            to_name=f"{taker.name}, {into.name}" if into else taker.name,
            format=fmt.label,
            delay_ms=round(delay, 1),
        )

    def _box(self, box: Box, set_formats: Mapping[str, VideoFormat]) -> Device:
        """The device of a box; a new one is added the first time it is met."""
        wanted = set_formats.get(box.key)
        if box.key in self.names:
            return self.names[box.key]
        if not box.new:
            device = self.case.devices[box.key]
            if wanted and wanted != device.produces:
                self.edits.append(
                    SetField(
                        noun="device", id=device.id, field="produces", value=wanted.model_dump(mode="json")
                    )
                )
        else:
            model = box.key.split("@")[0]
            place = self.case.places.get(box.place or "")
            short = box.device.name.removeprefix("Teasel ")
            taken = {d.name for d in self.case.devices.values()} | {d.name for d in self.names.values()}
            name = free_name(f"{short}, {place.name}" if place else short, taken)
            id = free_id(f"{model}-{box.place}"[:55].strip("-") if box.place else model, self.ids)
            self.ids.add(id)
            device = made_from(self.case.models[model], id, box.place, name)
            if wanted:
                device = device.model_copy(update={"produces": wanted})
            self.edits.append(AddDevice(item=device))
            self.uses.append(box.device.model)
        self.names[box.key] = device
        return device

    def _link(self, hop: Hop, a: str, b: str) -> Link:
        id = self._id(f"{a.split('/')[0]}-{b.split('/')[0]}")
        if hop.medium == "radio":
            return Radio(id=id, from_port=a, to_port=b, distance_m=round(hop.length_m, 1), walls=hop.walls)
        kind: CableKind = hop.medium  # type: ignore[assignment]
        return Cable(
            id=id, from_port=a, to_port=b, cable=kind, length_m=hop.length_m, joints=hop.joints, repeaters=hop.repeaters
        )  # fmt: skip

    def _id(self, wanted: str) -> str:
        id = free_id(wanted[:55].strip("-"), self.links)
        self.links.add(id)
        return id

    def _tap(self, start: Start) -> None:
        """The splitter at the output, with the cable that was there on its first way out."""
        cable = self.case.links[start.tapped or ""]
        assert isinstance(cable, Cable)
        splitter = self._box(start.exit.box, {})
        kind = cable.cable
        ins = next(p for p in splitter.ports if p.way == "in")
        outs = [p for p in splitter.ports if p.way == "out"]
        self.edits += [
            Remove(noun="link", id=cable.id),
            AddLink(
                item=Cable(
                    id=self._id(f"{splitter.id}-lead"),
                    from_port=cable.from_port,
                    to_port=f"{splitter.id}/{ins.id}",
                    cable=kind,
                    length_m=2,
                )
            ),
            AddLink(item=cable.model_copy(update={"from_port": f"{splitter.id}/{outs[0].id}"})),
        ]

    def _stream(self, hop: Hop, giver: Device, taker: Device) -> Stream:
        fmt = hop.sent or hop.exit.format
        takes: tuple[Codec, ...] = taker.ingest.codecs if taker.ingest else ("intra", "h264", "hevc")
        assert giver.encoding
        codec: Codec = next((c for c in giver.encoding.codecs if c in takes), "h264")
        if hop.medium != "ndi" and codec == "intra":
            codec = next((c for c in giver.encoding.codecs if c != "intra"), "h264")
        content = self.case.plan.show.content
        mbps = suggested_bitrate(fmt, codec, content, self.case.figures).suggested.value
        most = min(
            giver.encoding.max_mbps, (taker.ingest and taker.ingest.max_mbps) or giver.encoding.max_mbps
        )
        made = Stream(
            id=self._id(f"{giver.id}-to-{taker.id}"),
            name=f"{giver.name} to {taker.name}"[:80],
            from_device=giver.id,
            to_device=taker.id,
            protocol=hop.medium,
            format=fmt,
            codec=codec,
            video_mbps=min(most, max(0.5, math.ceil(mbps * 2) / 2)),
            layout="fit"
            if (fmt.height > fmt.width) != (hop.exit.format.height > hop.exit.format.width)
            else "full",
            input=hop.entry.port.id if hop.entry.port else None,
        )
        like = picture_to_share(self.case, hop.exit.box)
        shared = ("format", "codec", "video_mbps", "layout")
        return made.model_copy(update={f: getattr(like, f) for f in shared}) if like else made

    def _wire(self, device: Device, box: Box, network: str | None) -> None:
        """Puts a box on the network, with a cable to the nearest free socket where it has none."""
        port = lan_port(device)
        if port is None or port.network:
            return
        ref = f"{device.id}/{port.id}"
        self.edits.append(SetPort(port=ref, field="interface.network", value=network))
        if "wifi" in port.types or ref in self.case.join_at:
            return
        free = [s for s in free_sockets(self.case, box.place) if s[1] not in self.sockets]
        if not free:
            self.risks.append(f"The plan knows no network socket near {device.name}: bring a network switch.")
            return
        metres, socket = free[0]
        self.sockets.add(socket)
        self.uses.append(self.case.port_name(socket))
        self.edits.append(
            AddLink(
                item=Cable(
                    id=self._id(f"{device.id}-lan"), from_port=ref, to_port=socket, cable="ethernet", length_m=metres
                )
            )
        )  # fmt: skip

    def _count(self, *refs: str) -> None:
        self.uses += [self.case.port_name(r) for r in refs if r in self.case.ports]

    def _risks(self, hop: Hop, giver: Device, taker: Device) -> None:
        if hop.medium == "radio":
            walls = f", through at least {hop.walls} wall{'s' if hop.walls > 1 else ''}" if hop.walls else ""
            quoted = min(d.range_m or self.case.figures["radio-range"] for d in (giver, taker))
            self.risks.append(
                f"Radio over {hop.length_m:.0f} m of the {quoted:.0f} m quoted in the open{walls}: try it with people in the room. Local rules decide the power allowed."
            )
        if hop.joints:
            self.risks.append(
                f"{hop.joints} coupler{'s' if hop.joints > 1 else ''} in the run: tape and label them."
            )
        if hop.repeaters:
            self.risks.append(
                f"{hop.repeaters} repeater{'s' if hop.repeaters > 1 else ''} on the way, where it can be reached, dry and powered."
            )
        outdoors = [p for d in (giver, taker) if (p := self.case.places.get(d.place or "")) and not p.indoor]
        if outdoors and hop.length_m > LONG_M and hop.medium in CABLE_WORDS:
            self.risks.append(
                "Cable outdoors: weatherproof joints, no trip hazard; local codes decide the rest."
            )
        if hop.medium not in _CARRIED and taker.ingest is None:
            self.risks.append("It shares the network: quality goes with whatever else is on it.")
        if hop.delay_ms >= 100:
            self.risks.append(
                f"{taker.name} adds about {hop.delay_ms:.0f} ms: do not cut it against direct cameras."
            )


_TURNED = ("from_device", "protocol", "format", "codec", "video_mbps", "layout")
"""What a stream that stays is told anew."""
_CARRIED = {*CABLE_WORDS, "radio"}
"""The media that run from port to port."""


def free_name(wanted: str, taken: set[str]) -> str:
    """`wanted`, or with the first number that makes it unused."""
    number, name = 2, wanted[:76]
    while name in taken:
        name, number = f"{wanted[:76]} {number}", number + 1
    return name


def _title(path: Path) -> str:
    parts = []
    if path.start.tapped:
        parts.append(f"split with a {path.start.exit.box.device.name.removeprefix('Teasel ')}")
    for hop in path.hops:
        parts.append(_medium_words(hop))
        if hop is not path.hops[-1]:
            parts.append(hop.entry.box.device.name.removeprefix("Teasel "))
    last = path.hops[-1].entry.port
    return ", ".join(parts) + (f" to {last.name}" if last else "")


def _medium_words(hop: Hop) -> str:
    if hop.medium == "radio":
        return f"radio {hop.length_m:.0f} m"
    if hop.medium in CABLE_WORDS:
        return f"{CABLE_WORDS[hop.medium]} {hop.length_m:g} m"
    return f"{PROTOCOL_WORDS[hop.medium]} stream"  # type: ignore[index]
