"""How a site gets its pictures out: uplinks, networks, the routers that join them, and the interfaces on them."""

from typing import Annotated, Literal

from pydantic import Field

from humble_relay.core.frozen import Frozen, Name, Slug, Text

Slugs = Annotated[tuple[Slug, ...], Field(max_length=200)]


LineKind = Literal["fibre", "cable", "dsl", "mobile", "satellite", "wifi"]
LetsOut = Literal["everything", "web"]


class Uplink(Frozen):
    """A way out to the internet."""

    id: Slug
    name: Name
    site: Slug
    kind: LineKind = "fibre"
    carrier: Text = ""
    lets_out: LetsOut | None = None
    """What it lets out: everything, or web pages only (TCP 80 and 443); None where nobody asked or tried."""
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


class Router(Frozen):
    """What joins networks to each other and to the ways out of a site."""

    id: Slug
    name: Name
    site: Slug
    device: Slug | None = None
    """Which box it is; None where it is the venue's own and not among the gear."""
    networks: Slugs = ()
    uplinks: Slugs = ()
    """Its ways out, the one it uses first before the ones it falls back to."""


class Interface(Frozen):
    """The addressing of an Ethernet, Wi-Fi, mobile or tether port: its network, and how it comes by its address."""

    network: Slug | None = None
    addressing: Literal["dhcp", "reserved", "fixed"] = "dhcp"
    address: Text = ""
