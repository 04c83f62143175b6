"""The nouns of a plan: what is intended. A plan may be wrong, but never malformed."""

from collections import Counter
from typing import Annotated, Literal

from pydantic import AwareDatetime, Field, model_validator

from humble_relay.core.frozen import Frozen, Name, PortRef, Slug, Text
from humble_relay.core.video import Accepts, Codec, Content, VideoFormat

Connector = Literal["hdmi", "sdi", "usb", "ethernet", "wifi", "mobile", "audio", "fibre"]
CableKind = Literal["hdmi", "coax", "ethernet", "usb2", "usb3", "fibre", "audio"]
Protocol = Literal["rtmp", "rtmps", "srt"]
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
    "router",
    "network-switch",
    "monitor",
    "recorder",
    "platform",
]

Metres = Annotated[float, Field(ge=0, le=100_000)]
Mbps = Annotated[float, Field(gt=0, le=100_000)]


class Show(Frozen):
    """The brief: what, when, in what picture format, and how lively the picture is."""

    name: Name
    starts_at: AwareDatetime | None = None
    ends_at: AwareDatetime | None = None
    format: VideoFormat | None = None
    content: Content = "mixed"
    record: bool = False
    judge_at: AwareDatetime | None = None
    """Judge the plan as of this moment instead of now: for looking back, and for rehearsing."""
    notes: Text = ""


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
    x_m: float | None = None
    y_m: float | None = None
    floor: int = 0
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
    types: Annotated[tuple[Connector, ...], Field(min_length=1)]
    assigned: Connector | None = None
    accepts: Accepts | None = None
    max_gbps: Annotated[float, Field(gt=0)] | None = None
    """Highest serial rate an SDI port takes, in Gb/s."""
    network: Slug | None = None
    addressing: Literal["dhcp", "reserved", "fixed"] = "dhcp"
    address: Text = ""

    @property
    def type(self) -> Connector | None:
        """What the port is now: its one type, or the assigned one, or None while undecided."""
        if self.assigned:
            return self.assigned
        return self.types[0] if len(self.types) == 1 else None


class Encoding(Frozen):
    """What a device can send as network streams."""

    protocols: tuple[Protocol, ...]
    codecs: tuple[Codec, ...] = ("h264",)
    max_mbps: Mbps = 50
    destinations: Annotated[int, Field(ge=1)] = 1


class Ingest(Frozen):
    """What a platform takes, and where it takes it."""

    protocols: tuple[Protocol, ...]
    codecs: tuple[Codec, ...] = ("h264",)
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
    model: Text = ""
    place: Slug | None = None
    ports: tuple[Port, ...] = ()
    produces: VideoFormat | None = None
    """The picture it makes (a camera) or turns everything into (a scaler); None passes what comes in."""
    delay_ms: Annotated[float, Field(ge=0)] | None = None
    power_w: Annotated[float, Field(ge=0)] | None = None
    encoding: Encoding | None = None
    ingest: Ingest | None = None

    @model_validator(mode="after")
    def _ports_differ(self) -> "Device":
        for port, count in Counter(p.id for p in self.ports).items():
            if count > 1:
                raise ValueError(f"{self.name} has two ports called {port}: give one another id")
        return self


class Cable(Frozen):
    """A cable between two ports, length in metres."""

    kind: Literal["cable"] = "cable"
    id: Slug
    from_port: PortRef
    to_port: PortRef
    cable: CableKind
    length_m: Metres


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
    key: Annotated[str, Field(max_length=500)] | None = None
    key_withheld: bool = False
    """A key exists but was left out of this copy of the plan."""


Link = Annotated[Cable | Stream, Field(discriminator="kind")]


class Settings(Frozen):
    """The choices practitioners differ on, and the figures this plan sets for itself."""

    headroom: School = "third-free"
    figures: dict[str, Annotated[float, Field(ge=0, le=1e9)]] = Field(default_factory=dict)
    done: tuple[Annotated[str, Field(max_length=200)], ...] = ()
    """Tasks of the go-live order already seen to."""


class Plan(Frozen):
    """One document: what is intended."""

    show: Show
    settings: Settings = Settings()
    sites: tuple[Site, ...] = ()
    places: tuple[Place, ...] = ()
    uplinks: tuple[Uplink, ...] = ()
    networks: tuple[Network, ...] = ()
    devices: tuple[Device, ...] = ()
    links: tuple[Link, ...] = ()

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
                continue
            for ref in (link.from_port, link.to_port):
                if ref not in ports:
                    raise ValueError(f"cable {link.id} ends at port {ref}, which the plan does not have")
                if ref in taken:
                    raise ValueError(f"port {ref} already has cable {taken[ref]}: take that one out first")
                taken[ref] = link.id
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


def without_keys(plan: Plan) -> Plan:
    """The plan with every stream key taken out and marked as withheld."""
    links = tuple(
        link.model_copy(update={"key": None, "key_withheld": True})
        if isinstance(link, Stream) and link.key
        else link
        for link in plan.links
    )
    return plan.model_copy(update={"links": links})
