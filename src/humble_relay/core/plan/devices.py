"""The gear: devices, their ports, and what each is for a subject."""

import re
from collections import Counter
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, StringConstraints, model_validator

from humble_relay.core.frozen import Frozen, Label, Name, Slug, Text
from humble_relay.core.plan.networks import Interface
from humble_relay.core.plan.nouns import RefersTo
from humble_relay.core.plan.secret_fields import Holds
from humble_relay.core.plan.setup_kinds import SetupDifference
from humble_relay.core.plan.sites import Latitude, Longitude
from humble_relay.core.plan.video import Accepts, Codec, VideoFormat

Connector = Literal[
    "hdmi", "sdi", "usb", "vga", "ethernet", "wifi", "mobile", "audio", "fibre", "radio", "network"
]
"""`radio` is the air side of a wireless video box; `network` an input that shows a stream."""
Protocol = Literal["rtmp", "rtmps", "srt", "rtsp", "ndi", "paired", "web", "hls"]
"""`hls`: HTTP segments (RFC 8216). `paired`: a maker's own link between a sender and a decoder of one compatible family."""
Role = Literal["lan", "uplink", "control"]
"""What a network socket is for: LAN port, WAN port, or a control page that carries no picture."""
PortDirection = Literal["in", "out", "both"]
Carries = Literal["picture", "program", "multi-view", "clean", "loop"]
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
    "power-bank",
    "platform",
]
SCREENS: tuple[Kind, ...] = ("monitor", "projector", "recorder")
ENDS: tuple[Kind, ...] = (*SCREENS, "platform")
"""Where a picture may end: what is looked at, recorded or published."""

_VERSION = r"^\d{1,4}(\.\d{1,4}){0,3}$"


def _version(text: str) -> str:
    if not re.match(_VERSION, text):
        raise ValueError("write numbers and dots, such as 7.1")
    return text


Version = Annotated[
    str,
    StringConstraints(max_length=20),
    AfterValidator(_version),
    Field(json_schema_extra={"pattern": _VERSION}),
]
Mbps = Annotated[float, Field(gt=0, le=100_000)]
Milliseconds = Annotated[float, Field(ge=0, le=600_000)]
Watts = Annotated[float, Field(ge=0, le=100_000)]
Feed = Literal["mains", "poe", "battery", "usb"]
UsbPayload = Literal["raw", "mjpeg", "h264"]
FibreMode = Literal["single-mode", "multimode"]
"""What optics and glass must have in common: OS or OM fibre (ISO/IEC 11801)."""
BitDepth = Annotated[int, Field(ge=8, le=16)]
SeveralAtOnce = Annotated[int, Field(ge=1, le=1000)]
Protocols = Annotated[tuple[Protocol, ...], Field(min_length=1, max_length=20)]
Codecs = Annotated[tuple[Codec, ...], Field(min_length=1, max_length=20)]


class Port(Frozen):
    """A connector on a device. `types` has several where the port must be told which to be."""

    id: Slug
    name: Name
    way: PortDirection
    types: Annotated[tuple[Connector, ...], Field(min_length=1, max_length=20)]
    assigned: Connector | None = None
    accepts: Accepts | None = None
    max_gbps: Annotated[float, Field(gt=0, le=10_000)] | None = None
    """Highest rate it takes, in Gb/s: the serial rate of an SDI or optical port, the bits on the wire of an HDMI one (pixel
    clock × 30), the usable rate of a USB one, and the speed of a network socket."""
    poe_w: Watts | None = None
    """The power it gives over a network cable, in W at the source; None: none."""
    role: Role | None = None
    """What a network socket is for; None where it is for anything, or is no network socket."""
    interface: Interface | None = None
    """Its addressing, where it is on a network or is to be."""
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
    overlay: Literal["on", "off", "not-known"] | None = None
    """Whether menus and framing marks are burnt into this output; None where it has none."""
    optic: FibreMode | None = None
    """Of an optical socket: the fibre that its module is for; None where nobody looked."""
    protected: bool = False
    """An output that asks for content protection."""
    takes_protected: bool | None = None
    """Whether an input shows a protected picture, or stays black on it; None where nobody said."""
    levels: Literal["full", "limited"] | None = None
    """Colour range sent, or the one an input expects; None follows what comes."""
    sends: UsbPayload | None = None
    """What a USB output sends its picture as; None: as it is, uncompressed."""
    sound: Literal["mono", "stereo"] | None = None
    """What an audio output sends."""
    sound_delay_ms: Milliseconds = 0
    """How long an audio input holds its sound back, in ms, so that it meets the picture."""
    both_sides: bool = False
    """An audio input that puts one mono line on both sides of the stereo pair."""

    @property
    def type(self) -> Connector | None:
        """What the port is now: its one type, or the assigned one, or None while undecided."""
        if self.assigned:
            return self.assigned
        return self.types[0] if len(self.types) == 1 else None

    @property
    def network(self) -> str | None:
        """The network it is on."""
        return self.interface.network if self.interface else None

    @property
    def address(self) -> str:
        """The address written down for it; empty where none is."""
        return self.interface.address if self.interface else ""

    @property
    def addressing(self) -> str:
        """How it comes by its address: `dhcp`, `reserved` or `fixed`."""
        return self.interface.addressing if self.interface else "dhcp"


class PortGroup(Frozen):
    """Ports of which only so many work at once, such as two sockets of one input."""

    id: Slug
    name: Name
    at_once: SeveralAtOnce = 1


class FirmwareNeed(Frozen):
    """A feature that needs at least this firmware: a protocol, a codec, `vertical`, `network-input`, `failover` or
    `bonding`."""

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
    congestion: Literal["loss", "model"] | None = None
    """Its congestion control: loss-based (Reno, CUBIC), or by a model of the path (BBR); None where nobody said."""
    main_path: Annotated[Text, Holds.PATH] = ""
    """Of a box that is asked for its picture: the path of its main stream in an address; empty where nobody said."""
    sub_path: Annotated[Text, Holds.PATH] = ""
    """The path of its substream, where it has one."""
    login: bool | None = None
    """Of a device that is asked for its picture: whether it wants a user and a password; None where nobody said."""


class Decoding(Frozen):
    """What a device can take in as network streams, and how many at once."""

    protocols: Protocols
    at_once: SeveralAtOnce = 1
    codecs: Codecs | None = None
    """The codecs it decodes; None where nobody said: H.264, as all of them do (common practice, no source)."""
    accepts: Accepts | None = None
    """The pictures it decodes; None where nobody said: up to 1920 × 1080 at 60 frames/s (common practice, no source)."""
    bit_depth: BitDepth | None = None
    """Up to how many bits a sample it decodes; None where nobody said: 8."""


class Recording(Frozen):
    """What a device records of the picture it makes or gets."""

    records: bool = True
    """Whether it can record, and is to."""


class Zone(Frozen):
    """One of the places where a service on the internet can be had, by its host."""

    name: Name
    host: Text = ""
    latitude: Latitude | None = None
    longitude: Longitude | None = None
    round_trip_ms: Annotated[float, Field(ge=0, le=60_000)] | None = None
    """From where its pictures go, as measured, in ms; None where nobody did."""


EventKind = Literal["scheduled", "instant", "persistent"]
"""An event made ahead; a post that appears when picture comes; or one page that stays, whose key stays."""
Privacy = Literal["public", "unlisted", "private"]
GoesLive = Literal["by-itself", "by-hand"]
"""As soon as picture comes (auto-start), or when a person presses the button."""
Approval = Literal["not-needed", "asked", "given"]
DelayMode = Literal["normal", "low"]


class Publication(Frozen):
    """How the show is announced and published at a destination, as far as it can stop it."""

    event: EventKind | None = None
    links_out: bool | None = None
    """Whether its link was sent to anybody."""
    privacy: Privacy | None = None
    starts: GoesLive | None = None
    stops_on_drop: bool | None = None
    """Whether it ends by itself when the picture drops (auto-stop)."""
    approval: Approval | None = None
    approval_h: Annotated[float, Field(gt=0, le=10_000)] | None = None
    """How long approval takes there, in h."""
    cap_h: Annotated[float, Field(gt=0, le=10_000)] | None = None
    """The longest stream that it takes, in h."""
    delay_mode: DelayMode | None = None
    watched_by: Label = ""
    """Who watches it as a viewer, by role."""
    chat_by: Label = ""
    """Who reads the chat, by role; `nobody` where that is known."""
    note: Text = ""
    """Whatever else belongs on the run sheet."""


class Ingest(Frozen):
    """What a platform takes, and where it takes it."""

    protocols: Protocols
    codecs: Codecs = ("h264",)
    host: Text = ""
    port: Annotated[int, Field(ge=1, le=65535)] | None = None
    app: Annotated[Text, Holds.APPLICATION] = "live"
    accepts: Accepts = Accepts()
    max_mbps: Mbps | None = None
    keyframe_s: Annotated[float, Field(gt=0, le=60)] | None = None
    """Between two keyframes, at most, in s; None where its page does not say."""
    new_account: bool = False
    """No show has gone live on this account yet."""
    zones: Annotated[tuple[Zone, ...], Field(max_length=100, fail_fast=True)] = ()
    """Where the service can be had; `host` is that of the one in use."""
    publication: Publication | None = None
    """How the show is published there; None where nobody said."""


class RadioSide(Frozen):
    """One side of a wireless video link."""

    range_m: Annotated[float, Field(gt=0, le=100_000)] | None = None
    """The range quoted for line of sight, in metres; None where the maker quotes none."""


class Pairing(Frozen):
    """One side of a maker's own link: paired streams, and wireless video."""

    family: Label = ""
    """Boxes of one family understand each other; empty where nobody said which."""


class Software(Frozen):
    """The firmware a box has, and the features for which it needs a newer one than some have."""

    firmware: Version | None = None
    needs: Annotated[tuple[FirmwareNeed, ...], Field(max_length=100, fail_fast=True)] = ()


class Power(Frozen):
    """What a box draws, and what it can be fed by."""

    draw_w: Watts | None = None
    by: Annotated[tuple[Feed, ...], Field(max_length=10)] = ()
    """Empty where nobody said."""
    battery_h: Annotated[float, Field(gt=0, le=1000)] | None = None
    """How many hours one charge of its own battery lasts; None where nobody said, or it has none."""
    stored_wh: Annotated[float, Field(gt=0, le=1_000_000)] | None = None
    """What a power bank holds, in Wh; None where nobody said, or it is none."""
    poe_budget_w: Watts | None = None
    """What all its network sockets together can give, in W at the source; None where nobody said."""


class Microphone(Frozen):
    """A microphone built in."""

    muted: bool = False


class Device(Frozen):
    """Anything with ports, from lens to platform. What it can do is data, copied from the gear library."""

    id: Slug
    name: Name
    kind: Kind
    maker: Label = ""
    model: Label = ""
    item: Label = ""
    """The label stuck on the very box that it will be; empty where any one of its model will do."""
    place: Annotated[Slug | None, RefersTo("place")] = None
    ports: Annotated[tuple[Port, ...], Field(max_length=200, fail_fast=True)] = ()
    produces: VideoFormat | None = None
    """The picture it makes (a camera) or turns everything into (a scaler); None passes what comes in."""
    delay_ms: Milliseconds | None = None
    encoding: Encoding | None = None
    decoding: Decoding | None = None
    ingest: Ingest | None = None
    groups: Annotated[tuple[PortGroup, ...], Field(max_length=100, fail_fast=True)] = ()
    pairing: Pairing | None = None
    software: Software | None = None
    power: Power | None = None
    microphone: Microphone | None = None
    radio: RadioSide | None = None
    recording: Recording | None = None
    """Whether it records; None where nobody said."""
    lets_in: bool | None = None
    """Whether its own firewall lets a caller in; None where nobody said."""
    clock_set: bool | None = None
    """Whether its date and time are right; None where nobody looked."""
    groups_seen: Annotated[tuple[Label, ...], Field(max_length=50, fail_fast=True)] = ()
    """The NDI groups that it announces its sources in and looks for others in; empty: the one that all boxes come with."""
    setup: Annotated[tuple[SetupDifference, ...], Field(max_length=60, fail_fast=True)] = ()
    """How its set-up differs from what practice and its model say."""
    sound_through: bool | None = None
    """Whether the sound that comes in with a picture goes out with it again; None where nobody said."""

    @property
    def short_name(self) -> str:
        """Its name without its maker's."""
        return self.name.removeprefix(self.maker).strip() or self.name

    @property
    def family(self) -> str:
        """The family whose paired links and radio it understands; empty where nobody said."""
        return self.pairing.family if self.pairing else ""

    @property
    def firmware(self) -> Version | None:
        """The firmware it has; None where nobody looked."""
        return self.software.firmware if self.software else None

    @property
    def needs(self) -> tuple[FirmwareNeed, ...]:
        """The features that need some firmware."""
        return self.software.needs if self.software else ()

    @property
    def range_m(self) -> float | None:
        """The range quoted for its radio side, in metres."""
        return self.radio.range_m if self.radio else None

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
