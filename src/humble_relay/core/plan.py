"""The nouns of a plan: what is intended. A plan may be wrong, but never malformed."""

from collections import Counter
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, StringConstraints, model_validator

from humble_relay.core.frozen import Frozen, Label, Name, Notes, PortRef, Slug, Text, When
from humble_relay.core.video import Accepts, Codec, Content, VideoFormat
from humble_relay.core.working import within_bounds

Connector = Literal[
    "hdmi", "sdi", "usb", "vga", "ethernet", "wifi", "mobile", "audio", "fibre", "radio", "network"
]
"""`radio` is the air side of a wireless video box; `network` an input that shows a stream."""
CableKind = Literal["hdmi", "coax", "vga", "ethernet", "usb2", "usb3", "fibre", "audio"]
Protocol = Literal["rtmp", "rtmps", "srt", "rtsp", "ndi", "paired", "web"]
"""`paired`: a maker's own link between a sender and a decoder of one compatible family."""
Carries = Literal["picture", "program", "multi-view", "clean", "loop"]
Layout = Literal["full", "crop", "fit"]
"""How a program sits in the raster sent: as it is, its middle cropped, or shrunk whole into it."""
School = Literal["half", "third-free", "one-and-half", "worst"]
Kind = Literal[
    "camera",
    "converter",
    "capture",
    "switcher",
    "encoder",
    "decoder",
    "computer",
    "phone",
    "radio",
    "distribution",
    "router",
    "network-switch",
    "injector",
    "monitor",
    "projector",
    "recorder",
    "sound-desk",
    "platform",
]
SCREENS: tuple[Kind, ...] = ("monitor", "projector", "recorder")
ENDS: tuple[Kind, ...] = (*SCREENS, "platform")
"""Where a picture may end: what is looked at, recorded or published."""

Version = Annotated[str, StringConstraints(pattern=r"^\d{1,4}(\.\d{1,4}){0,3}$", max_length=20)]
Metres = Annotated[float, Field(ge=0, le=100_000)]
Coordinate = Annotated[float, Field(ge=-100_000, le=100_000)]
Mbps = Annotated[float, Field(gt=0, le=100_000)]
Milliseconds = Annotated[float, Field(ge=0, le=600_000)]
Watts = Annotated[float, Field(ge=0, le=100_000)]
SeveralAtOnce = Annotated[int, Field(ge=1, le=1000)]
Protocols = Annotated[tuple[Protocol, ...], Field(min_length=1, max_length=20)]
Codecs = Annotated[tuple[Codec, ...], Field(min_length=1, max_length=20)]


class Show(Frozen):
    """The brief: what, when, in what picture format, and how lively the picture is."""

    name: Name
    starts_at: When | None = None
    ends_at: When | None = None
    format: VideoFormat | None = None
    content: Content = "mixed"
    record: bool = False
    judge_at: When | None = None
    """Judge the plan as of this moment instead of now: for looking back, and for rehearsing."""
    notes: Notes = ""


class Site(Frozen):
    """A location with its own way to the internet."""

    id: Slug
    name: Name
    run_by: Literal["us", "venue"] = "us"
    """Who runs the network there: a venue's own department must be asked in time."""


class Place(Frozen):
    """A spot in a site; coordinates in metres from any corner you choose."""

    id: Slug
    name: Name
    site: Slug
    x_m: Coordinate | None = None
    y_m: Coordinate | None = None
    floor: Annotated[int, Field(ge=-50, le=300)] = 0
    indoor: bool = True


class Uplink(Frozen):
    """A way out to the internet."""

    id: Slug
    name: Name
    site: Slug
    kind: Literal["fibre", "cable", "dsl", "mobile", "satellite", "wifi"] = "fibre"
    carrier: Text = ""
    others_mbps: Annotated[float, Field(ge=0, le=100_000)] = 0
    """Upload set aside for others who share the line, in Mb/s."""


class Network(Frozen):
    """An IPv4 subnet at a site. Addresses are kept as typed; findings judge them."""

    id: Slug
    name: Name
    site: Slug
    range: Text = ""
    gateway: Text = ""
    pool_first: Text = ""
    pool_last: Text = ""
    medium: Literal["cable", "wifi"] = "cable"
    uplink: Slug | None = None


class Port(Frozen):
    """A connector on a device. `types` has several where the port must be told which to be."""

    id: Slug
    name: Name
    way: Literal["in", "out", "both"]
    types: Annotated[tuple[Connector, ...], Field(min_length=1, max_length=20)]
    assigned: Connector | None = None
    accepts: Accepts | None = None
    max_gbps: Annotated[float, Field(gt=0, le=10_000)] | None = None
    """Highest serial rate an SDI port takes, in Gb/s."""
    network: Slug | None = None
    addressing: Literal["dhcp", "reserved", "fixed"] = "dhcp"
    address: Text = ""
    carries: Carries = "picture"
    """What an output puts out; `loop` repeats the input named in `loop_of`."""
    may_carry: Annotated[tuple[Carries, ...], Field(max_length=20)] = ()
    """What an output can be told to carry, where there is a choice."""
    loop_of: Slug | None = None
    produces: VideoFormat | None = None
    """The format this output makes, where it differs from the device's own."""
    scales: bool = False
    """An input that turns any format into the device's own; others take that format only."""
    group: Slug | None = None
    overlay: bool | None = None
    """Whether menus and framing marks are burnt into this output; None where it has none."""
    protected: bool = False
    """An output that asks for content protection."""
    refuses_protected: bool = False
    """An input that stays black on a protected picture."""
    levels: Literal["full", "limited"] | None = None
    """Colour range sent, or the one an input expects; None follows what comes."""
    sound: Literal["mono", "stereo"] | None = None
    """What an audio output sends."""
    both_sides: bool = False
    """An audio input that puts one mono line on both sides of the stereo pair."""

    @property
    def type(self) -> Connector | None:
        """What the port is now: its one type, or the assigned one, or None while undecided."""
        if self.assigned:
            return self.assigned
        return self.types[0] if len(self.types) == 1 else None


class PortGroup(Frozen):
    """Ports of which only so many work at once, such as two sockets of one input."""

    id: Slug
    name: Name
    at_once: SeveralAtOnce = 1


class FirmwareNeed(Frozen):
    """A feature that needs at least this firmware: a protocol, a codec, `vertical` or `network-input`."""

    feature: Slug
    version: Version


class Encoding(Frozen):
    """What a device can send as network streams."""

    protocols: Protocols
    codecs: Codecs = ("h264",)
    max_mbps: Mbps = 50
    destinations: SeveralAtOnce = 1
    channels: SeveralAtOnce = 1
    """How many different pictures (raster, bitrate, codec, layout) it encodes at once."""
    vertical: bool = False
    """Whether it can compose a vertical canvas."""


class Decoding(Frozen):
    """What a device can take in as network streams, and how many at once."""

    protocols: Protocols
    at_once: SeveralAtOnce = 1


class Ingest(Frozen):
    """What a platform takes, and where it takes it."""

    protocols: Protocols
    codecs: Codecs = ("h264",)
    host: Text = ""
    port: Annotated[int, Field(ge=1, le=65535)] | None = None
    app: Text = "live"
    accepts: Accepts = Accepts()
    max_mbps: Mbps | None = None
    new_account: bool = False
    """No show has gone live on this account yet."""


class Device(Frozen):
    """Anything with ports, from lens to platform. What it can do is data, copied from the gear library."""

    id: Slug
    name: Name
    kind: Kind
    model: Label = ""
    place: Slug | None = None
    ports: Annotated[tuple[Port, ...], Field(max_length=200)] = ()
    produces: VideoFormat | None = None
    """The picture it makes (a camera) or turns everything into (a scaler); None passes what comes in."""
    delay_ms: Milliseconds | None = None
    power_w: Watts | None = None
    encoding: Encoding | None = None
    decoding: Decoding | None = None
    ingest: Ingest | None = None
    groups: Annotated[tuple[PortGroup, ...], Field(max_length=100)] = ()
    family: Label = ""
    """Makers' boxes of one family understand each other's paired links and radio."""
    firmware: Version | None = None
    needs: Annotated[tuple[FirmwareNeed, ...], Field(max_length=100)] = ()
    microphone: Literal["open", "muted"] | None = None
    """A built-in microphone; None where there is none."""
    range_m: Annotated[float, Field(gt=0, le=100_000)] | None = None
    """Quoted line-of-sight range of a radio box."""

    @model_validator(mode="after")
    def _ports_differ(self) -> "Device":
        ids = {p.id for p in self.ports}
        if len(ids) < len(self.ports):
            twice = next(id for id, n in Counter(p.id for p in self.ports).items() if n > 1)
            raise ValueError(f"{self.name} has two ports called {twice}: give one another id")
        groups = {g.id for g in self.groups}
        for port in self.ports:
            if port.loop_of is not None and port.loop_of not in ids:
                raise ValueError(f"{self.name}, {port.name} loops {port.loop_of}, which is not a port of it")
            if port.group is not None and port.group not in groups:
                raise ValueError(f"{self.name}, {port.name} is in group {port.group}, which it does not have")
        return self


class Cable(Frozen):
    """A cable between two ports, length in metres."""

    kind: Literal["cable"] = "cable"
    id: Slug
    from_port: PortRef
    to_port: PortRef
    cable: CableKind
    length_m: Metres
    joints: Annotated[int, Field(ge=0, le=20)] = 0
    """Couplers that join shorter cables into this one."""
    repeaters: Annotated[int, Field(ge=0, le=20)] = 0
    """Boxes along the run that regenerate the signal."""
    broken: bool = False


class Radio(Frozen):
    """A wireless video link from a transmitter to a receiver; distance in metres."""

    kind: Literal["radio"] = "radio"
    id: Slug
    from_port: PortRef
    to_port: PortRef
    distance_m: Metres
    walls: Annotated[int, Field(ge=0, le=20)] = 0
    broken: bool = False


class Stream(Frozen):
    """An IP flow from an encoder to whoever takes it, with the picture and bitrate it carries."""

    kind: Literal["stream"] = "stream"
    id: Slug
    name: Name
    from_device: Slug
    to_device: Slug
    protocol: Protocol
    format: VideoFormat
    codec: Codec = "h264"
    video_mbps: Mbps
    audio_kbps: Annotated[float, Field(ge=0, le=5000)] = 160
    address: Text = ""
    """The address as it will be typed; empty means the one built from the platform's data."""
    key: Text | None = None
    key_withheld: bool = False
    """A key exists, in its field or in the address, but was left out of this copy of the plan."""
    layout: Layout = "full"
    input: Slug | None = None
    """The taker's input that shows it, where the taker has inputs to assign."""
    broken: bool = False


Link = Annotated[Cable | Radio | Stream, Field(discriminator="kind")]


TaskId = Annotated[str, StringConstraints(pattern=r"^[a-z0-9:-]+$", max_length=200)]


class Settings(Frozen):
    """The choices practitioners differ on, and the figures this plan sets for itself."""

    headroom: School = "third-free"
    figures: Annotated[dict[str, float], AfterValidator(within_bounds)] = Field(default_factory=dict)
    done: Annotated[tuple[TaskId, ...], Field(max_length=2000)] = ()
    """Tasks of the go-live order already seen to."""


class Plan(Frozen):
    """One document: what is intended."""

    show: Show
    settings: Settings = Settings()
    sites: Annotated[tuple[Site, ...], Field(max_length=200)] = ()
    places: Annotated[tuple[Place, ...], Field(max_length=1_000)] = ()
    uplinks: Annotated[tuple[Uplink, ...], Field(max_length=200)] = ()
    networks: Annotated[tuple[Network, ...], Field(max_length=500)] = ()
    devices: Annotated[tuple[Device, ...], Field(max_length=3_000)] = ()
    links: Annotated[tuple[Link, ...], Field(max_length=10_000)] = ()
    struck: Annotated[tuple[Slug, ...], Field(max_length=50_000)] = ()
    """Measurements that are not to be judged by: kept, and marked. An id the survey does not have means nothing."""

    @model_validator(mode="after")
    def _well_formed(self) -> "Plan":
        """Refuses doubled ids and references to nothing; everything else is for findings."""
        groups = {g: {x.id for x in getattr(self, g)} for g in COLLECTIONS.values()}
        for group, ids in groups.items():
            items = getattr(self, group)
            if len(ids) < len(items):
                twice = [i for i, n in Counter(x.id for x in items).items() if n > 1]
                raise ValueError(f"{group}: the id {twice[0]} is used twice; give one another id")

        def need(owner: str, ref: str | None, group: str) -> None:
            if ref is not None and ref not in groups[group]:
                raise ValueError(f"{owner} points at {group[:-1]} {ref}, which the plan does not have")

        for place in self.places:
            need(place.name, place.site, "sites")
        for uplink in self.uplinks:
            need(uplink.name, uplink.site, "sites")
        for network in self.networks:
            need(network.name, network.site, "sites")
            need(network.name, network.uplink, "uplinks")
        ports: set[str] = set()
        for device in self.devices:
            need(device.name, device.place, "places")
            for port in device.ports:
                need(f"{device.name}, {port.name}", port.network, "networks")
                ports.add(f"{device.id}/{port.id}")
        taken: dict[str, str] = {}
        for link in self.links:
            if isinstance(link, Stream):
                need(link.name, link.from_device, "devices")
                need(link.name, link.to_device, "devices")
                if link.input is not None and f"{link.to_device}/{link.input}" not in ports:
                    raise ValueError(
                        f"{link.name} is assigned to input {link.input}, which {link.to_device} does not have"
                    )
                continue
            for ref in (link.from_port, link.to_port):
                if ref not in ports:
                    raise ValueError(
                        f"{link.kind} {link.id} ends at port {ref}, which the plan does not have"
                    )
                if ref in taken:
                    raise ValueError(f"port {ref} already has {taken[ref]}: take that one out first")
                taken[ref] = f"{link.kind} {link.id}"
        return self


COLLECTIONS = {
    "site": "sites",
    "place": "places",
    "uplink": "uplinks",
    "network": "networks",
    "device": "devices",
    "link": "links",
}
"""Where each noun lives in a plan."""
