"""Pieces of small shows, each sound: what the faults in the tests are put into."""

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.plan import Aim, Cable, Network, Obstacle, Place, Radio, Site, Span, Stream, Uplink
from humble_relay.core.plan.edits import (
    Edit,
    LeaveBy,
    Remove,
    SetFigure,
    added,
)
from tests.build import hd, put, put_port


def wire(a: str, b: str, cable: str, length: float, id: str = "") -> Edit:
    """A cable between two ports."""
    link = {
        "id": id or f"{a}-{b}".replace("/", "-"),
        "from_port": a,
        "to_port": b,
        "cable": cable,
        "length_m": length,
    }
    return added(Cable.model_validate(link))


def recabled(into: str, out: str = "camera/sdi", cable: str = "coax", length: float = 40) -> list[Edit]:
    """The camera's run brought to another input."""
    return [Remove(noun="link", id="run"), wire(out, into, cable, length, "run")]


MIXED: list[Edit] = [
    added(from_library("switcher-eight", "switcher", "boathouse", "Switcher")),
    *recabled("switcher/in-4"),
    put_port("switcher/in-4", "assigned", "sdi"),
    wire("switcher/program", "encoder/sdi", "coax", 2),
]
"""The camera through a switcher: a scaling input at the system's 1080p50."""
WALL: list[Edit] = [
    added(from_library("screen-large", "wall", "boathouse", "Wall")),
    wire("switcher/multi", "wall/hdmi", "hdmi", 2),
]
"""The multi-view on a screen, for the operator."""
LAPTOP: list[Edit] = [
    *MIXED,
    *WALL,
    added(from_library("laptop-slides", "slides", "boathouse", "Slides")),
    put("device", "slides", "produces", hd().model_dump(mode="json")),
    put_port("slides/hdmi", "levels", "limited"),
    wire("slides/hdmi", "switcher/in-8", "hdmi", 2),
    put_port("switcher/in-8", "assigned", "hdmi"),
]
DESK: list[Edit] = [
    *MIXED,
    added(from_library("sound-desk", "desk", "boathouse", "Desk")),
    wire("desk/out", "switcher/sound", "audio", 10),
    put_port("switcher/sound", "both_sides", True),
]
PAIRED: list[Edit] = [
    added(from_library("encoder-paired", "sender", "boathouse", "Sender")),
    added(from_library("camera-studio", "studio", "boathouse", "Studio")),
    wire("studio/sdi", "sender/in", "coax", 2),
    put_port("sender/in", "assigned", "sdi"),
    added(from_library("decoder", "decoder", "slipway", "Decoder")),
    added(from_library("screen-large", "screen", "slipway", "Screen")),
    wire("decoder/hdmi", "screen/hdmi", "hdmi", 2),
    put_port("sender/lan", "interface.network", "lan"),
    put_port("decoder/lan", "interface.network", "lan"),
    added(
        Stream(
            id="feed-2",
            name="Feed 2",
            from_device="sender",
            to_device="decoder",
            protocol="paired",
            format=hd(),
            video_mbps=8,
        )
    ),
]
"""A second path: a camera to a screen over the network, sender and decoder of one family."""
NETWORKED: list[Edit] = [
    *MIXED,
    *WALL,
    added(from_library("camera-network", "roving", "slipway", "Roving")),
    added(
        Stream(
            id="wire-free",
            name="Roving feed",
            from_device="roving",
            to_device="switcher",
            protocol="paired",
            format=hd(),
            video_mbps=8,
            input="in-7",
        )
    ),
    put_port("switcher/in-7", "assigned", "network"),
    put_port("roving/lan", "interface.network", "lan"),
    put_port("switcher/stream", "interface.network", "lan"),
    SetFigure(figure="paired-lan-delay", value=10),
]
AIR: list[Edit] = [
    added(from_library("radio-fast-tx", "tx", "slipway", "Sender")),
    added(from_library("radio-fast-rx", "rx", "boathouse", "Receiver")),
    *recabled("tx/sdi", length=2),
    added(Radio(id="air", from_port="tx/air", to_port="rx/air", distance_m=40, walls=1)),
    added(
        Span(
            id="gap",
            a="slipway",
            b="boathouse",
            between=(Obstacle(kind="wall", material="brick", thickness_m=0.2),),
        )
    ),
    wire("rx/sdi", "encoder/sdi", "coax", 2),
]
"""The camera over a radio pair to the encoder."""
USB: list[Edit] = [
    added(from_library("capture-sdi", "capture", "boathouse", "Capture")),
    added(from_library("computer-stream", "laptop", "boathouse", "Laptop")),
    *recabled("capture/sdi"),
    wire("capture/usb", "laptop/usb-1", "usb3", 2),
    put("link", "feed", "from_device", "laptop"),
    put_port("laptop/lan", "interface.network", "lan"),
    put("device", "camera", "produces", hd("25").model_dump(mode="json")),
]
"""The camera into a computer, which sends."""
POLE: list[Edit] = [
    *(added(from_library(*of)) for of in (
        ("camera-ip", "hide", "slipway", "Hide"), ("switch-poe", "net", "boathouse", "Net"),
        ("decoder", "decoder", "boathouse", "Decoder"), ("screen-large", "screen", "boathouse", "Screen"))),
    put("device", "hide", "produces", hd("25").model_dump(mode="json")),
    put("device", "hide", "encoding.login", False), put("device", "hide", "encoding.main_path", "/main"),
    wire("hide/lan", "net/lan-1", "ethernet", 50),
    wire("decoder/lan", "net/lan-2", "ethernet", 2),
    wire("encoder/lan", "net/lan-3", "ethernet", 2),
    wire("decoder/hdmi", "screen/hdmi", "hdmi", 2),
    *(put_port(f"{box}/lan", "interface.network", "lan") for box in ("hide", "decoder")),
    put_port("hide/lan", "interface.addressing", "fixed"), put_port("hide/lan", "interface.address", "192.168.20.41"),
    added(Stream(id="watch", name="Watch", from_device="hide", to_device="decoder", protocol="rtsp", format=hd("25"), video_mbps=6)),
]  # fmt: skip
"""A second path: a camera on a pole, fed over its network cable, to a screen."""
FIBRE: list[Edit] = [
    added(from_library("converter-sdi-fibre", "tx", "slipway", "Sender")),
    added(from_library("converter-fibre-sdi", "rx", "boathouse", "Receiver")),
    *recabled("tx/in", length=2),
    wire("tx/out", "rx/in", "fibre", 50, "glass"),
    wire("rx/out", "encoder/sdi", "coax", 2),
]
FAR: list[Edit] = [
    *PAIRED,
    added(Site(id="town", name="Town")),
    added(Place(id="hall", name="Hall", site="town", mains=True)),
    added(Uplink(id="line", name="Line", site="town", address="203.0.113.20")),
    added(Network(id="hall-lan", name="Hall network", site="town", range="10.4.0.0/24")),
    LeaveBy(network="hall-lan", uplink="line"),
    *(put("device", box, "place", "hall") for box in ("decoder", "screen")),
    put_port("decoder/lan", "interface.network", "hall-lan"),
    put_port("decoder/lan", "interface.addressing", "reserved"),
    put_port("decoder/lan", "interface.address", "10.4.0.20"),
    put("link", "feed-2", "protocol", "srt"),
    put("link", "feed-2", "video_mbps", 4),
    put("link", "feed-2", "format", hd("25").model_dump(mode="json")),
    put("link", "feed-2", "address", "srt://203.0.113.20:9000"),
    put("link", "feed-2", "key", "stern-lantern"),
    put("router", "town-router", "forwards", [{"transport": "udp", "port": 9000, "to_address": "10.4.0.20"}]),
    put("settings", None, "headroom", "worst"),
]
"""The second path to another town."""
CALL: list[Edit] = [
    added(from_library("phone", "phone", "slipway", "Phone")),
    added(from_library("computer-stream", "laptop", "boathouse", "Laptop")),
    put("device", "phone", "produces", hd("25").model_dump(mode="json")),
    put_port("phone/wifi", "interface.network", "lan"),
    put_port("laptop/lan", "interface.network", "lan"),
    added(Stream(id="call", name="Call", from_device="phone", to_device="laptop", protocol="web", format=hd("25"), video_mbps=4, input="net-1",
                        address="https://calls.birch.example/in", view_address="https://calls.birch.example/view")),
    added(from_library("screen-large", "screen", "boathouse", "Screen")),
    wire("laptop/hdmi", "screen/hdmi", "hdmi", 2),
]  # fmt: skip
"""A phone in a browser call to a laptop, and a screen on that."""
SERVED: list[Edit] = [
    *CALL,
    Remove(noun="link", id="call"),
    put_port("phone/wifi", "interface.network", "lan"),
    put("device", "phone", "encoding.protocols", ["rtmp"]),
    added(from_library("server-lan", "server", "boathouse", "Server")),
    put_port("server/lan", "interface.network", "lan"),
    put_port("server/lan", "interface.addressing", "fixed"), put_port("server/lan", "interface.address", "192.168.20.45"),
    added(Stream(id="in", name="In", from_device="phone", to_device="server", protocol="rtmp", format=hd("25"), video_mbps=4, address="rtmp://192.168.20.45/live/tide")),
    added(Stream(id="out", name="Out", from_device="server", to_device="laptop", protocol="rtmp", format=hd("25"), video_mbps=4, input="net-1",
                 address="rtmp://192.168.20.45/live/tide")),
]  # fmt: skip
"""A phone that publishes to a server on the network, from which a laptop pulls."""
CALL_APART: list[Edit] = [
    *CALL,
    added(Site(id="town", name="Town")),
    added(Place(id="hall", name="Hall", site="town", mains=True)),
    added(Uplink(id="mast", name="Hall line", site="town")),
    added(Network(id="far", name="Far network", site="town")),
    LeaveBy(network="far", uplink="mast"),
    *(put("device", box, "place", "hall") for box in ("laptop", "screen")),
    put_port("laptop/lan", "interface.network", "far"),
]
"""The laptop in another town."""
ASKED: list[Edit] = [added(Aim(id="alder", picture="source", of="camera", end="alder"))]
"""The camera's picture asked for at the platform."""
SHOWS = {
    "plain": [], "asked": ASKED, "air": AIR, "mixed": MIXED, "laptop": LAPTOP, "desk": DESK, "paired": PAIRED,
    "networked": NETWORKED, "usb": USB, "pole": POLE, "fibre": FIBRE, "far": FAR, "call": CALL, "served": SERVED, "call-apart": CALL_APART,
}  # fmt: skip
