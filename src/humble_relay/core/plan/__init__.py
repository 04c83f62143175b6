"""The nouns of a plan: what is intended. A plan may be wrong, but never malformed."""

from humble_relay.core.plan.aims import Accepted, Aim, Asked, Liveness
from humble_relay.core.plan.devices import (
    ENDS,
    SCREENS,
    Carries,
    Connector,
    Decoding,
    Device,
    Encoding,
    FirmwareNeed,
    Ingest,
    Kind,
    Microphone,
    Pairing,
    Port,
    PortGroup,
    Power,
    Protocol,
    RadioSide,
    Role,
    Software,
    UsbPayload,
)
from humble_relay.core.plan.document import NOUNS, Plan, School, Settings, TaskId
from humble_relay.core.plan.links import Cable, CableKind, Calls, Layout, Link, Radio, Stream
from humble_relay.core.plan.networks import (
    Forward,
    Interface,
    Mobile,
    NatBehaviour,
    Network,
    Opening,
    OutsideAddress,
    Router,
    Rule,
    Transport,
    Uplink,
)
from humble_relay.core.plan.nouns import Noun
from humble_relay.core.plan.show import Show
from humble_relay.core.plan.sites import Material, Obstacle, Place, Site, Span

__all__ = [
    "ENDS", "NOUNS", "SCREENS", "Accepted", "Aim", "Asked", "Cable", "CableKind", "Calls", "Carries", "Connector",
    "Decoding", "Device", "Encoding", "FirmwareNeed", "Forward", "Ingest", "Interface", "Kind", "Layout", "Link", "Liveness",
    "Material", "Microphone", "Mobile", "NatBehaviour", "Network", "Noun", "Obstacle", "Opening", "OutsideAddress", "Pairing", "Place", "Plan", "Port", "PortGroup", "Power",
    "Protocol", "Radio", "RadioSide", "Role", "Router", "Rule", "School", "Settings", "Show", "Site", "Software", "Span",
    "Stream", "TaskId", "Transport", "Uplink", "UsbPayload",
]  # fmt: skip
