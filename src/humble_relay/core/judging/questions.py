"""What must be asked of each kind of hop, whether or not anything asks it yet.

For every kind of hop (each kind of cable, radio, each protocol, each kind of box a picture passes) and every concern the
table names the checks that ask about it, or says why there is no question, or what is **not asked yet**. It is data of
its own, apart from the checks, so that a proof never claims more than was asked: a test holds it to the vocabularies.
"""

from typing import Literal, NamedTuple, get_args

from humble_relay.core.plan import CableKind, Kind, Protocol

Concern = Literal[
    "plugs and direction",
    "format",
    "reach",
    "way between places",
    "assignment",
    "protection",
    "sound",
    "power",
    "address",
    "reach over networks",
    "capacity",
    "delay",
    "the box itself",
]
CONCERNS: tuple[Concern, ...] = get_args(Concern)
Family = Literal["cable", "radio", "stream", "box"]


Scope = Literal["", "to a platform", "between services", "from a service", "within a site", "between sites"]
"""Where a stream goes: it is asked other things on a network of one's own than across the internet."""
SCOPES: tuple[Scope, ...] = get_args(Scope)[1:]


class HopKind(NamedTuple):
    """A kind of hop: its family, which cable, protocol or box of it, and where a stream of it goes."""

    family: Family
    kind: str
    scope: Scope = ""


class Cell(NamedTuple):
    """What is asked about one concern of one kind of hop."""

    checks: tuple[str, ...] = ()
    """The checks that ask about it. Where none of them had anything to ask, nothing was asked, unless `unless` says why."""
    unless: str = ""
    """Why there may be no question: always, where no check is named, or on a hop where none applied."""
    yet: str = ""
    """What is not asked yet."""


def _asked(*checks: str, unless: str = "") -> Cell:
    return Cell(checks, unless)


def _none(why: str) -> Cell:
    return Cell(unless=why)


Row = dict[Concern, Cell]

_OF_THE_AIM_SOUND = _none("asked of the aim: whether sound arrives, by way of every cable, box and stream")
_OF_THE_AIM_DELAY = _none(
    "asked of the aim, where it is talked back to or has a longest delay: the whole way added up"
)

_PICTURE_CABLE: Row = {
    "plugs and direction": _asked("connector-mismatch", "cable-against-the-signal"),
    "format": _asked("port-too-slow", unless="no picture is known on it yet"),
    "reach": _asked("cable-too-long", "run-broken", "couplers-in-the-run"),
    "way between places": _asked("shorter-than-the-way", unless="both ends are in one place"),
    "assignment": _asked("input-undecided", "input-contested", "group-contested", "fed-back", unless="asked of the input it goes to"),
    "protection": _none("asked of the input it goes to"),
    "sound": _OF_THE_AIM_SOUND,
    "power": _none("a cable takes none"),
    "address": _none("it has none"),
    "reach over networks": _none("it crosses no network"),
    "capacity": _none("nothing shares it"),
    "delay": _none("light in a cable takes a millionth of a second for 200 m"),
    "the box itself": _none("it is no box"),
}  # fmt: skip
_USB: Row = {
    **_PICTURE_CABLE,
    "format": _asked("usb-too-much"),
    "power": _none("asked of the box that hangs on it"),
    "capacity": _none("asked of the box that it goes into: what shares its bus"),
}
_AUDIO: Row = {
    **_PICTURE_CABLE,
    "format": _none("no picture runs over it"),
    "assignment": _none("asked of the sound it brings"),
    "protection": _none("no picture runs over it"),
    "delay": _asked("lip-sync", unless="no camera's picture comes in beside it"),
}
_ETHERNET: Row = {
    **_PICTURE_CABLE,
    "format": _none("any picture on it is a stream"),
    "reach": _asked("cable-too-long", "run-broken", "too-many-connections"),
    "assignment": _none("a network socket is not assigned"),
    "protection": _none("any picture on it is a stream"),
    "sound": _none("any sound on it is in a stream"),
    "power": _none("asked of the boxes at its ends"),
    "reach over networks": _none("asked of the box at its end: whether it is plugged into its network"),
    "capacity": _asked("socket-overfull"),
}
_CABLES: dict[CableKind, Row] = {
    "hdmi": _PICTURE_CABLE,
    "hdmi-active": _PICTURE_CABLE,
    "hdmi-optical": _PICTURE_CABLE,
    "coax": {**_PICTURE_CABLE, "format": _asked("serial-rate-too-high", "no-serial-format")},
    "vga": _PICTURE_CABLE,
    "fibre": {**_PICTURE_CABLE, "plugs and direction": _asked("connector-mismatch", "cable-against-the-signal", "families-differ")},
    "usb2": _USB,
    "usb3": _USB,
    "ethernet": _ETHERNET,
    "audio": _AUDIO,
}  # fmt: skip
_RADIO: Row = {
    "plugs and direction": _asked("families-differ", "cable-against-the-signal"),
    "format": _none("asked of the input of its transmitter"),
    "reach": _asked("radio-too-far", "run-broken"),
    "way between places": _asked("shorter-than-the-way", "radio-too-far"),
    "assignment": _asked("input-undecided", unless="asked of the input it goes to"),
    "protection": _none("asked of the input of its transmitter"),
    "sound": _OF_THE_AIM_SOUND,
    "power": _none("asked of the boxes at its ends"),
    "address": _none("it has none"),
    "reach over networks": _none("it crosses no network"),
    "capacity": _asked("not-tried-in-the-air"),
    "delay": _none("asked of what it is cut with, and of the aim: what its boxes promise may be exceeded"),
    "the box itself": _none("it is no box"),
}
_STREAM: Row = {
    "plugs and direction": _asked("encoder-sends", "platform-protocol", "protocol-not-taken"),
    "format": _asked("other-than-the-brief", "multi-view-published", "encoder-codec", "platform-format", "platform-codec", "platform-keyframe", "canvas-undecided", "canvas-not-composed"),
    "reach": _asked("run-broken"),
    "way between places": _none("it has no cable of its own"),
    "assignment": _asked("network-input-dark", "encoder-destinations", "too-many-pictures", "too-many-decoded", unless="asked of the boxes at its ends"),
    "protection": _none("asked of the input of the box that encodes it"),
    "sound": _OF_THE_AIM_SOUND,
    "power": _none("asked of the boxes at its ends"),
    "address": _asked("stream-address", "key-missing", "address-may-move", "name-taken"),
    "reach over networks": _asked("no-way-out", "not-let-out", "kept-apart", "sign-in-page", "clock-not-set", "not-let-in", "firewall-in-the-box", "spare-does-not-reach", "cut-off", "line-not-chosen"),
    "capacity": _asked("upload-too-small", "upload-bad-hour", "headroom-used", "no-measurement", "thin-evidence", "bitrate-unsuited",
                       "encoder-bitrate", "platform-bitrate", "bond-one-gone", "bond-shares-fate", "bond-held-too-short", "data-used-up",
                       "signal-weak", "spare-too-small", "switch-not-tried"),
    "delay": _OF_THE_AIM_DELAY,
    "the box itself": _none("it is no box"),
}  # fmt: skip
_BETWEEN_SERVICES: Row = {
    **_STREAM,
    "reach over networks": _none("from one service on the internet to another"),
    "capacity": _asked("bitrate-unsuited", "encoder-bitrate", "platform-bitrate"),
}
_WITHIN: Row = {
    **_STREAM,
    "address": _asked(
        "stream-address",
        "local-address",
        "address-may-move",
        "name-taken",
        "other-stream-of-it",
        "groups-apart",
        unless="it is found by name on its own network",
    ),
    "reach over networks": _asked(
        "networks-apart", "kept-apart", "firewall-in-the-box", "stream-address", "cut-off"
    ),
    "capacity": _asked("bitrate-unsuited", "encoder-bitrate", "air-overfull", "multicast-floods"),
}
_BETWEEN_SITES: Row = {
    **_STREAM,
    "address": _asked("far-address", "address-may-move", "name-taken", "other-stream-of-it"),
    "reach over networks": _asked(
        "far-way-out",
        "not-let-out",
        "not-let-in",
        "kept-apart",
        "firewall-in-the-box",
        "sign-in-page",
        "cut-off",
        "line-not-chosen",
    ),
    "capacity": _asked(*_STREAM["capacity"].checks, "line-down-too-small"),
}
_FROM_A_SERVICE: Row = {
    **_BETWEEN_SITES,
    "capacity": _asked("bitrate-unsuited", "encoder-bitrate", "line-down-too-small"),
}
_WHERE: dict[Scope, Row] = {
    "to a platform": _STREAM, "between services": _BETWEEN_SERVICES, "from a service": _FROM_A_SERVICE, "within a site": _WITHIN, "between sites": _BETWEEN_SITES,
}  # fmt: skip


def _stream_row(protocol: Protocol, scope: Scope) -> Row:
    """What is asked of a stream of a protocol that goes there."""
    row = dict(_WHERE[scope])
    crosses = scope in ("to a platform", "between sites", "from a service")
    if protocol == "web":
        row["address"] = _asked("links-mixed-up")
        row["reach over networks"] = _asked(
            "no-way-out", "not-let-out", "sides-do-not-meet", "kept-apart", "sign-in-page", "clock-not-set"
        )
    elif protocol in ("rtmp", "rtmps", "hls") and crosses:
        row["capacity"] = _asked(*row["capacity"].checks, "tcp-under-loss")
    elif protocol == "srt" and scope != "between services":
        row["address"] = _asked(*row["address"].checks, "srt-settings")
        row["reach over networks"] = _asked(*row["reach over networks"].checks, "packets-too-large")
        row["capacity"] = _asked(*row["capacity"].checks, "srt-latency") if crosses else row["capacity"]
    elif crosses:
        row["capacity"] = _asked(*row["capacity"].checks, "loss-not-mended")
    if protocol == "rtsp" and scope in ("to a platform", "between services"):
        row["address"] = _asked(*row["address"].checks, "other-stream-of-it")
    if protocol == "ndi" and scope != "within a site":
        row["address"] = _asked(*row["address"].checks, "groups-apart")
    if protocol == "paired":
        row["plugs and direction"] = _asked("encoder-sends", "protocol-not-taken", "families-differ")
    return row


_BOX: Row = {
    "plugs and direction": _asked("nothing-plugged-in", unless="it hands no picture on"),
    "format": _asked("format-refused", "no-system-format", "rate-converted", "levels-differ", "overlay-left-on",
                     unless="no picture arrives at an input that could refuse it"),
    "reach": _none("a box has no length"),
    "way between places": _none("it stands in one place"),
    "assignment": _asked("input-undecided", "input-contested", "group-contested", unless="nothing is plugged into it"),
    "protection": _asked("protected-picture", unless="no output before it asks for protection"),
    "sound": _asked("microphone-open", "mono-one-side", unless="asked of the aim: whether sound gets through it"),
    "power": _asked("no-power-over-ethernet", "poe-budget", "nothing-feeds-it", unless="it stands at somebody else's"),
    "address": _asked("address-fault", "address-twice", "address-missing", "gateway-missing", "network-range", "networks-overlap", "mask-hides", "zone-far",
                      unless="no address is written down for it"),
    "reach over networks": _asked("network-elsewhere", "not-plugged-in", "not-admitted", unless="it is on no network"),
    "capacity": _asked("usb-bus-shared", unless="asked of the streams it sends and takes"),
    "delay": _asked("sources-apart", unless="asked of the aim"),
    "the box itself": _asked("firmware-too-old", "gear-missing", "name-twice", unless="no firmware is asked for, and nobody keeps count of it"),
}  # fmt: skip
_SOURCE: Row = {
    **_BOX,
    "plugs and direction": _asked("source-goes-nowhere"),
    "format": _asked("overlay-left-on", unless="it has no menus on its outputs"),
}
_END: Row = {**_BOX, "plugs and direction": _asked("screen-gets-nothing", unless="its aim is asked about")}
_NETWORK_BOX: Row = {
    **_BOX,
    "format": _none("it passes streams on as they are"),
    "assignment": _none("a network socket is not assigned"),
    "protection": _none("it passes streams on as they are"),
    "sound": _none("it passes streams on as they are"),
    "reach over networks": _none("asked of the streams that cross it"),
    "capacity": _none("asked of the cables plugged into it"),
    "delay": _none("a thousandth of a second at most on a network of one's own"),
}
_SHOWING: Row = {**_BOX, **_END}
_BOXES: dict[Kind, Row] = {
    "camera": _SOURCE,
    "phone": _SOURCE,
    "converter": _BOX,
    "capture": _BOX,
    "switcher": _BOX,
    "encoder": _BOX,
    "decoder": _BOX,
    "computer": _BOX,
    "radio": _BOX,
    "distribution": _BOX,
    "router": _NETWORK_BOX,
    "network-switch": _NETWORK_BOX,
    "injector": _NETWORK_BOX,
    "monitor": _SHOWING,
    "projector": _SHOWING,
    "recorder": _SHOWING,
    "sound-desk": {**_BOX, "format": _none("no picture goes through it"), "protection": _none("no picture goes through it"),
                   "assignment": _none("no picture goes through it")},
    "power-bank": dict.fromkeys(CONCERNS, _none("no picture goes through it: what it feeds is asked about")),
    "platform": {
        **_SHOWING,
        "power": _none("it is somebody else's"),
        "address": _asked("zone-far", unless="asked of the streams to it"),
        "reach over networks": _none("asked of the streams to it"),
        "assignment": _none("asked of the streams to it"),
        "format": _none("asked of the streams to it"),
        "the box itself": _none("it is somebody else's"),
    },
}  # fmt: skip

QUESTIONS: dict[HopKind, Row] = {
    **{HopKind("cable", kind): row for kind, row in _CABLES.items()},
    HopKind("radio", "radio"): _RADIO,
    **{HopKind("stream", p, scope): _stream_row(p, scope) for p in get_args(Protocol) for scope in SCOPES},
    **{HopKind("box", kind): row for kind, row in _BOXES.items()},
}
OF_NO_HOP = (
    "no-start",
    "end-not-known",
    "lead-time-missed",
    "open-to-the-world",
    "aim-not-met",
    "below-the-lowest",
    "sound-not-there",
    "later-than-asked",
)
"""The checks that ask about the show or an aim as a whole."""


def not_asked(hop: HopKind, asked: set[str]) -> list[tuple[Concern, str]]:
    """What is not asked yet of a hop about which these checks gave answers: the concern, and what would be asked."""
    found: list[tuple[Concern, str]] = []
    for concern, cell in QUESTIONS[hop].items():
        if cell.yet:
            found.append((concern, cell.yet))
        elif cell.checks and not cell.unless and not asked & set(cell.checks):
            found.append((concern, f"nothing that is asked about {concern} elsewhere applies here"))
    return found
