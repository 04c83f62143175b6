"""What the values of the plan's fields are called, for everybody who offers them to be chosen."""

from typing import Any, get_args

from humble_relay.core.catalogue.cables import CABLE_WORDS, PROTOCOL_WORDS
from humble_relay.core.catalogue.takes import TAKES_WORDS
from humble_relay.core.log.fault_kinds import SYMPTOMS, Symptom
from humble_relay.core.plan import (
    AimedPicture,
    CableKind,
    Caller,
    Connector,
    Interface,
    Layout,
    Material,
    Network,
    Obstacle,
    Protocol,
    Site,
    Uplink,
)
from humble_relay.core.plan.aims import Aim
from humble_relay.core.plan.comms import COMMS_KIND, CommsKind, CommsMeans
from humble_relay.core.plan.devices import (
    Approval,
    Carries,
    DelayMode,
    EventKind,
    Feed,
    FibreMode,
    GoesLive,
    Kind,
    PortDirection,
    Privacy,
    Role,
)
from humble_relay.core.plan.networks import (
    Admission,
    LetsOut,
    LineKind,
    NatBehaviour,
    OutsideAddress,
    Technology,
    Transport,
)
from humble_relay.core.plan.setup_kinds import PRACTICE, SettingLoss, SetupKind, ShownBy
from humble_relay.core.plan.show import Session
from humble_relay.core.plan.video import Codec, Content, Rate, Scan

CODEC_WORDS = {"h264": "H.264", "hevc": "HEVC", "intra": "intra-frame"}
LAYOUT_WORDS = {"full": "as it is", "crop": "middle cropped", "fit": "shrunk whole"}
MEDIUM_WORDS = {"cable": "cable", "wifi": "Wi-Fi"}
LINE_WORDS: dict[LineKind, str] = {
    "fibre": "fibre", "cable": "cable", "dsl": "DSL", "mobile": "mobile", "satellite": "satellite", "wifi": "a venue's Wi-Fi",
}  # fmt: skip
LETS_OUT_WORDS: dict[LetsOut, str] = {
    "everything": "everything",
    "tcp": "all but UDP",
    "web": "web pages only (TCP 80 and 443)",
    "proxy": "web pages through a proxy that reads them",
}
TECHNOLOGY_WORDS: dict[Technology, str] = {"3g": "3G", "4g": "4G", "5g": "5G"}
OUTSIDE_WORDS: dict[OutsideAddress, str] = {
    "public": "a public address of its own",
    "shared": "one that the carrier shares (100.64.0.0 to 100.127.255.255)",
    "private": "private, behind another router",
}
ADMISSION_WORDS: dict[Admission, str] = {
    "open": "every box", "registered": "boxes whose hardware address is registered", "login": "boxes that log in (802.1X)",
}  # fmt: skip
BEHAVIOUR_WORDS: dict[NatBehaviour, str] = {
    "endpoint-independent": "the same towards everybody",
    "address-dependent": "another for each address",
    "address-and-port-dependent": "another for each address and port",
}
FILTERING_WORDS: dict[NatBehaviour, str] = {
    "endpoint-independent": "everybody",
    "address-dependent": "addresses that were called",
    "address-and-port-dependent": "addresses and ports that were called",
}
CALLER_WORDS: dict[Caller, str] = {
    "sender": "the sender calls",
    "receiver": "the receiver calls",
    "rendezvous": "rendezvous: both call at once",
}
TRANSPORT_WORDS: dict[Transport, str] = {"tcp": "TCP", "udp": "UDP"}
OBSTACLE_WORDS = {
    "wall": "wall", "floor": "floor", "water": "water", "road": "road", "trees": "trees", "crowd": "crowd", "open-air": "open air",
}  # fmt: skip
MATERIAL_WORDS = {
    "brick": "brick", "concrete": "concrete", "plasterboard": "plasterboard", "wood": "wood", "glass": "glass",
    "metal": "metal or foil", "unknown": "not known",
}  # fmt: skip
RUN_BY_WORDS = {"us": "us", "venue": "the venue"}
ADDRESSING_WORDS = {"dhcp": "DHCP", "reserved": "DHCP, reserved", "fixed": "fixed in the device"}
CONTENT_WORDS = {"talk": "talk, little movement", "mixed": "mixed", "sport": "sport, fast movement"}
ASKED_WORDS = {"program": "program", "clean": "clean", "multi-view": "multi-view", "source": "one source"}
NEED_WORDS = {"needed": "needed", "wished": "wished for"}
LIVENESS_WORDS = {"watched": "only watched", "cut": "cut with others", "talked-back": "talked back to"}
SCAN_NAMES = {"p": "progressive", "i": "interlaced"}
RATE_NAMES = {rate: rate for rate in get_args(Rate)}
CONNECTOR_WORDS = {
    "hdmi": "HDMI", "sdi": "SDI", "usb": "USB", "vga": "VGA", "ethernet": "Ethernet", "wifi": "Wi-Fi", "mobile": "mobile",
    "audio": "audio", "fibre": "fibre", "radio": "radio", "network": "network",
}  # fmt: skip
KIND_WORDS = {kind: kind.replace("-", " ") for kind in get_args(Kind)}
WAY_WORDS = {"in": "in", "out": "out", "both": "both ways"}
ROLE_WORDS = {"lan": "LAN port", "uplink": "WAN port", "control": "a control page"}
CARRIES_WORDS = {
    "picture": "its picture",
    "program": "program",
    "multi-view": "multi-view",
    "clean": "clean",
    "loop": "a loop",
}
LOSS_WORDS: dict[SettingLoss, str] = {
    "power-off": "power was off",
    "reconnecting": "plugged in anew",
    "new-day": "a new day",
    "firmware": "other firmware",
    "reset": "reset",
    "mode": "mode changed",
    "away": "out of our hands",
}
SHOWN_BY_WORDS: dict[ShownBy, str] = {
    "picture": "the picture downstream",
    "reading": "reading the device",
    "nothing": "nothing",
}
SETUP_WORDS: dict[SetupKind, str] = {kind: known.short for kind, known in PRACTICE.items()}
COMMS_MEANS_WORDS: dict[CommsMeans, str] = {
    "link": "a link of the plan", "network": "the network", "usb": "a USB lead", "telephone": "telephone", "in-person": "within earshot",
}  # fmt: skip
EVENT_WORDS: dict[EventKind, str] = {
    "scheduled": "an event made ahead", "instant": "a post that appears with the picture", "persistent": "one page for all shows",
}  # fmt: skip
PRIVACY_WORDS: dict[Privacy, str] = {"public": "public", "unlisted": "unlisted", "private": "private"}
GOES_LIVE_WORDS: dict[GoesLive, str] = {
    "by-itself": "by itself, with the picture (auto-start)",
    "by-hand": "by hand",
}
APPROVAL_WORDS: dict[Approval, str] = {"not-needed": "not needed", "asked": "asked for", "given": "given"}
DELAY_MODE_WORDS: dict[DelayMode, str] = {"normal": "normal", "low": "low delay"}
FEED_WORDS = {"mains": "mains", "poe": "PoE", "battery": "own battery", "usb": "USB"}
FIBRE_MODE_WORDS = {"single-mode": "single-mode", "multimode": "multimode"}
SESSION_WORDS = {"rehearsal": "rehearsal", "show": "further day"}
RASTER_NAMES = {
    "1280x720": "1280 × 720", "1920x1080": "1920 × 1080", "3840x2160": "3840 × 2160", "4096x2160": "4096 × 2160",
    "7680x4320": "7680 × 4320", "720x576": "720 × 576", "720x480": "720 × 480", "1080x1920": "1080 × 1920 vertical",
    "720x1280": "720 × 1280 vertical",
}  # fmt: skip
"""The usual ones: any other raster may be written in a plan."""


def _of(model: Any, field: str) -> Any:
    return model.model_fields[field].annotation


VOCABULARY: dict[str, tuple[Any, dict[Any, str]]] = {
    "CABLES": (CableKind, CABLE_WORDS),
    "PROTOCOLS": (Protocol, PROTOCOL_WORDS),
    "CODECS": (Codec, CODEC_WORDS),
    "LAYOUTS": (Layout, LAYOUT_WORDS),
    "CONNECTORS": (Connector, CONNECTOR_WORDS),
    "LINES": (_of(Uplink, "kind"), LINE_WORDS),
    "MEDIA": (_of(Network, "medium"), MEDIUM_WORDS),
    "LETS_OUT": (LetsOut, LETS_OUT_WORDS),
    "TECHNOLOGIES": (Technology, TECHNOLOGY_WORDS),
    "OUTSIDES": (OutsideAddress, OUTSIDE_WORDS),
    "ADMISSIONS": (Admission, ADMISSION_WORDS),
    "BEHAVIOURS": (NatBehaviour, BEHAVIOUR_WORDS),
    "FILTERINGS": (NatBehaviour, FILTERING_WORDS),
    "CALLER": (Caller, CALLER_WORDS),
    "TRANSPORTS": (Transport, TRANSPORT_WORDS),
    "OBSTACLES": (_of(Obstacle, "kind"), OBSTACLE_WORDS),
    "MATERIALS": (Material, MATERIAL_WORDS),
    "RUN_BY": (_of(Site, "run_by"), RUN_BY_WORDS),
    "ADDRESSING": (_of(Interface, "addressing"), ADDRESSING_WORDS),
    "CONTENTS": (Content, CONTENT_WORDS),
    "PICTURES": (AimedPicture, ASKED_WORDS),
    "NEEDS": (_of(Aim, "need"), NEED_WORDS),
    "LIVENESS": (_of(Aim, "liveness"), LIVENESS_WORDS),
    "KINDS": (Kind, KIND_WORDS),
    "WAYS": (PortDirection, WAY_WORDS),
    "ROLES": (Role, ROLE_WORDS),
    "CARRIED": (Carries, CARRIES_WORDS),
    "FEEDS": (Feed, FEED_WORDS),
    "SETUP": (SetupKind, SETUP_WORDS),
    "LOSSES": (SettingLoss, LOSS_WORDS),
    "SHOWN_BY": (ShownBy, SHOWN_BY_WORDS),
    "COMMS": (CommsKind, COMMS_KIND),
    "COMMS_MEANS": (CommsMeans, COMMS_MEANS_WORDS),
    "EVENTS": (EventKind, EVENT_WORDS),
    "PRIVACY": (Privacy, PRIVACY_WORDS),
    "GOES_LIVE": (GoesLive, GOES_LIVE_WORDS),
    "APPROVALS": (Approval, APPROVAL_WORDS),
    "DELAY_MODES": (DelayMode, DELAY_MODE_WORDS),
    "SYMPTOMS": (Symptom, SYMPTOMS),
    "TAKES": (None, TAKES_WORDS),
    "FIBRE_MODES": (FibreMode, FIBRE_MODE_WORDS),
    "SESSIONS": (_of(Session, "kind"), SESSION_WORDS),
    "SCANS": (Scan, SCAN_NAMES),
    "RATES": (Rate, RATE_NAMES),
    "RASTERS": (None, RASTER_NAMES),
}
"""Each list of values with its words, and the type whose values they are; None where others may be written too."""
