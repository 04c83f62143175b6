"""What runs between devices: cables, wireless video links, and streams over networks."""

from typing import Annotated, Literal

from pydantic import Field

from humble_relay.core.frozen import Frozen, Name, PortRef, Slug, Text
from humble_relay.core.plan.devices import BitDepth, FibreMode, Mbps, Milliseconds, Protocol
from humble_relay.core.plan.networks import PortNumber, Transport
from humble_relay.core.plan.nouns import RefersTo
from humble_relay.core.plan.secret_fields import Holds
from humble_relay.core.plan.sites import Metres
from humble_relay.core.plan.video import Codec, VideoFormat

CableKind = Literal[
    "hdmi", "hdmi-active", "hdmi-optical", "coax", "vga", "ethernet", "usb2", "usb3", "fibre", "audio"
]
Caller = Literal["sender", "receiver", "rendezvous"]
"""Which end calls the other; `rendezvous`: each calls the other at once (SRT)."""
MULTICASTS: tuple[Protocol, ...] = ("ndi", "rtsp")
"""The protocols whose streams may go to a group."""
Layout = Literal["full", "crop", "fit"]
"""How a program sits in the raster sent: as it is, its middle cropped, or shrunk whole into it."""


class Cable(Frozen):
    """A cable between two ports, length in metres; None: as long as the way between its places takes, once that is known."""

    kind: Literal["cable"] = "cable"
    id: Slug
    from_port: Annotated[PortRef, RefersTo("device", "goes too")]
    to_port: Annotated[PortRef, RefersTo("device", "goes too")]
    cable: CableKind
    length_m: Metres | None = None
    joints: Annotated[int, Field(ge=0, le=20)] = 0
    """Couplers that join shorter cables into this one."""
    repeaters: Annotated[int, Field(ge=0, le=20)] = 0
    """Boxes along the run that regenerate the signal."""
    rated_m: Annotated[float, Field(gt=0, le=100_000)] | None = None
    """The length that the maker of an active or optical lead promises, in metres; None where nobody said."""
    fibre_mode: FibreMode | None = None
    """Of a fibre cable: its glass; None where nobody looked."""
    broken: bool = False


class Radio(Frozen):
    """A wireless video link from a transmitter to a receiver; distance in metres, None: as far as its places are apart."""

    kind: Literal["radio"] = "radio"
    id: Slug
    from_port: Annotated[PortRef, RefersTo("device", "goes too")]
    to_port: Annotated[PortRef, RefersTo("device", "goes too")]
    distance_m: Metres | None = None
    walls: Annotated[int, Field(ge=0, le=20)] = 0
    broken: bool = False


class ListenerSettings(Frozen):
    """What was set at the end that does not call, as it was read off there; empty where nobody looked."""

    key: Annotated[Text | None, Holds.SECRET] = None
    """Its passphrase."""
    port: PortNumber | None = None
    """The port that it listens on."""
    stream_id: Annotated[str, Field(max_length=512), Holds.SECRET] = ""


class Stream(Frozen):
    """An IP flow from an encoder to its receiver, with the picture and bitrate it carries."""

    kind: Literal["stream"] = "stream"
    id: Slug
    name: Name
    from_device: Annotated[Slug, RefersTo("device", "goes too")]
    to_device: Annotated[Slug, RefersTo("device", "goes too")]
    protocol: Protocol
    format: VideoFormat
    codec: Codec = "h264"
    video_mbps: Mbps
    peak_mbps: Mbps | None = None
    """Peak bitrate of its video (VBR); None: constant bitrate."""
    keyframe_s: Annotated[float, Field(gt=0, le=60)] | None = None
    """Between two keyframes, in s; None: the usual two."""
    backup: bool = False
    """Whether it is sent a second time, to the service's backup ingest."""
    audio_kbps: Annotated[float, Field(ge=0, le=5000)] = 160
    address: Annotated[Text, Holds.ADDRESS] = ""
    """The address as it will be typed; empty means the one built from the platform's data."""
    view_address: Annotated[Text, Holds.ADDRESS] = ""
    """Of a browser link: what the viewing side opens. `address` is what the sending side opens."""
    key: Annotated[Text | None, Holds.SECRET] = None
    key_carried: bool = False
    """Whether its key came along from an earlier show, and nobody has said since that it is this one's."""
    key_withheld: bool = False
    """A key exists, in its field or in the address, but was left out of this copy of the plan."""
    stream_id: Annotated[str, Field(max_length=512), Holds.SECRET] = ""
    """Of SRT: what a listener tells its callers apart by, and some services the show; kept like a key."""
    small: bool | None = None
    """Whether its device's substream is meant, and not the main stream; None where nobody said."""
    multicast: bool = False
    """Whether it goes to a multicast group, for every listener, and not to one device."""
    line: Annotated[Slug | None, RefersTo("uplink", "cleared")] = None
    """The line that a rule of its sender's router sends it out by; None: the router's first."""
    caller: Caller | None = None
    """Which end calls, where the protocol leaves the choice; None: the sender."""
    listens_port: PortNumber | None = None
    """The port that its listener is set to; None: the one that the address, or the forward it falls into, leads to."""
    media_over: Transport | None = None
    """Of RTSP: whether the media come over the connection that asked for them (TCP, interleaved) or by UDP, to ports that the
    receiver chooses (RFC 7826 Appendix C); None where nobody said."""
    set_there: ListenerSettings | None = None
    """What its listener was set to; None where nobody looked: it is set as it is told to be."""
    bit_depth: BitDepth | None = None
    """Bits a sample of its picture; None: 8."""
    latency_ms: Milliseconds | None = None
    """How long each end of an SRT stream waits for what must be sent again, in ms; None where nobody set it."""
    relayed: bool | None = None
    """Whether the service of a browser link has a relay (TURN) to fall back on; None where nobody said."""
    layout: Layout = "full"
    input: Slug | None = None
    """The receiver's input that shows it, where the receiver has inputs to assign."""
    broken: bool = False


Link = Annotated[Cable | Radio | Stream, Field(discriminator="kind")]
