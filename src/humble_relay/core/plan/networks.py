"""How a site gets its pictures out: uplinks, networks, the routers that join them, and the interfaces on them."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from humble_relay.core.frozen import Frozen, Label, Name, Slug, Text
from humble_relay.core.plan.nouns import RefersTo

Slugs = Annotated[tuple[Slug, ...], Field(max_length=200, fail_fast=True)]


LineKind = Literal["fibre", "cable", "dsl", "mobile", "satellite", "wifi"]
LetsOut = Literal["everything", "tcp", "web", "proxy"]
Transport = Literal["tcp", "udp"]
HIGHEST_PORT = 65_535
PortNumber = Annotated[int, Field(ge=1, le=HIGHEST_PORT)]
OutsideAddress = Literal["public", "shared", "private"]
"""Of a line: an address of its own on the internet, one that the carrier shares among many, or a private one behind another router."""
Admission = Literal["open", "registered", "login"]
"""Whom a network takes: every box; those whose hardware address was registered; those that log in (IEEE 802.1X)."""
NatBehaviour = Literal["endpoint-independent", "address-dependent", "address-and-port-dependent"]
"""How far a translator looks at the other side when it makes a mapping or lets a packet in (RFC 4787 §4.1, §5)."""


class Opening(Frozen):
    """A port that is let out, though the rest is not."""

    transport: Transport
    port: PortNumber


Technology = Literal["3g", "4g", "5g"]
Gigabytes = Annotated[float, Field(ge=0, le=1_000_000)]


class Mobile(Frozen):
    """What is known of a mobile line: its technology, the signal as its modem shows it, its mast, and the data of its card."""

    technology: Technology | None = None
    rsrp_dbm: Annotated[float, Field(ge=-160, le=-20)] | None = None
    """Power of the reference signal, in dBm (3GPP TS 36.214 §5.1.1)."""
    rsrq_db: Annotated[float, Field(ge=-45, le=25)] | None = None
    """Its quality, in dB (§5.1.3)."""
    sinr_db: Annotated[float, Field(ge=-30, le=50)] | None = None
    """Signal over interference and noise, in dB."""
    mast: Label = ""
    """Which mast it is on, by any name; empty where nobody looked."""
    cap_gb: Gigabytes | None = None
    """The data of its card, in GB; None where nobody said, or there is no end."""
    used_gb: Gigabytes = 0
    unlimited: bool = False
    """Whether the card has no end, nor is slowed down."""


class Uplink(Frozen):
    """An internet uplink: one line, or several bonded to one."""

    id: Slug
    name: Name
    site: Annotated[Slug, RefersTo("site")]
    kind: LineKind = "fibre"
    carrier: Text = ""
    lets_out: LetsOut | None = None
    """Its outbound filter: everything passes, all but UDP, web pages only (TCP 80 and 443), or web pages through a proxy that reads
    them; None where nobody asked or tried."""
    opened: Annotated[tuple[Opening, ...], Field(max_length=200, fail_fast=True)] = ()
    """Ports that its outbound filter lets pass besides, on request."""
    others_mbps: Annotated[float, Field(ge=0, le=100_000)] | None = None
    """Upload set aside for others who share the line, in Mb/s; 0: nobody shares it; None where nobody asked."""
    address: Text = ""
    """Its outside IPv4 address, as the router shows it; empty where nobody looked."""
    outside: OutsideAddress | None = None
    """What kind of address that is, where the address itself does not say; None where nobody asked."""
    behind: Annotated[Slug | None, RefersTo("network", "cleared")] = None
    """The network of this plan that it is a socket of, where a router hangs behind another one."""
    sign_in: bool = False
    """Whether a page must be signed in on before anything gets out."""
    ipv6: bool | None = None
    """Whether it carries IPv6; None where nobody looked."""
    mtu: Annotated[int, Field(ge=576, le=9216)] | None = None
    """The largest IP packet it carries whole, in bytes; None: the usual 1500."""
    mobile: Mobile | None = None
    """Of a mobile line."""
    parts: Annotated[tuple[Slug, ...], Field(max_length=20), RefersTo("uplink", "cleared")] = ()
    """Of a bonded line: the lines that it joins; empty: it is a line of its own."""
    holds_ms: Annotated[float, Field(ge=0, le=60_000)] | None = None
    """Of a bonded line: how long its gateway holds packets back to put them in order, in ms; None where nobody said."""

    @property
    def set_aside_mbps(self) -> float:
        """What is set aside for others, in Mb/s: nothing while nobody asked."""
        return self.others_mbps or 0.0


class Network(Frozen):
    """An IP subnet at a site. Addresses are kept as typed; findings judge them."""

    id: Slug
    name: Name
    site: Annotated[Slug, RefersTo("site")]
    range: Text = ""
    gateway: Text = ""
    pool_first: Text = ""
    pool_last: Text = ""
    medium: Literal["cable", "wifi"] = "cable"
    range_v6: Text = ""
    """Its IPv6 prefix, such as 2001:db8:20::/64; empty where it has none."""
    vlan: Annotated[int, Field(ge=1, le=4094)] | None = None
    guest_isolation: bool | None = None
    """Whether it keeps its own boxes apart from each other, as guest Wi-Fi does; None where nobody looked."""
    admission: Admission = "open"
    snoops: bool | None = None
    """Whether its switches hand multicast only to who asked for it (IGMP snooping, RFC 4541); None where nobody looked."""


class Forward(Frozen):
    """A port that a router opens from outside and passes on: `port` outside, to `to_port` (None: the same) of `to_address`.

    To an IPv6 address it is a hole in the filter: nothing is translated (RFC 6092).
    """

    transport: Transport
    port: PortNumber
    to_address: Text
    to_port: PortNumber | None = None


class StaticRoute(Frozen):
    """A static route of a router: what is sent to `to_range` goes to the router that has the address `via` (RFC 1812 §5.2.4)."""

    to_range: Text
    """Such as 10.5.0.0/24, or an IPv6 prefix; kept as typed."""
    via: Text
    """The next router's address on a network of this one."""


class Rule(Frozen):
    """What a router lets pass, or not, from one of its networks to another, out, or in from outside; the first that fits
    decides."""

    lets: bool
    from_network: Annotated[Slug | None, RefersTo("network", "goes too")] = None
    """None: in from outside, by any of its uplinks."""
    to_network: Annotated[Slug | None, RefersTo("network", "goes too")] = None
    """None: out by any of its uplinks."""
    transport: Transport | None = None
    """None: both."""
    first_port: PortNumber | None = None
    """None: all ports."""
    last_port: PortNumber | None = None
    """None: the first alone."""

    @model_validator(mode="after")
    def _about_a_network(self) -> "Rule":
        if not self.from_network and not self.to_network:
            raise ValueError("a rule of a router names a network: from which, to which, or both")
        return self

    @property
    def ports(self) -> tuple[int, int] | None:
        """The first and the last port that it is about; None: all."""
        return (self.first_port, self.last_port or self.first_port) if self.first_port else None


class Router(Frozen):
    """What joins networks to each other and to the uplinks of a site."""

    id: Slug
    name: Name
    site: Annotated[Slug, RefersTo("site")]
    device: Annotated[Slug | None, RefersTo("device", "cleared")] = None
    """Which box it is; None where it is the venue's own and not among the gear."""
    networks: Annotated[Slugs, RefersTo("network", "cleared")] = ()
    uplinks: Annotated[Slugs, RefersTo("uplink", "cleared")] = ()
    """Its uplinks, the one it uses first before those it fails over to."""
    steers: bool | None = None
    """Whether rules of it can send single streams by different uplinks (policy routing, by source and
    destination); None where nobody looked."""
    switch_s: Annotated[float, Field(ge=0, le=3600)] | None = None
    """How long nothing goes out at failover to the next uplink, in s; None where nobody tried."""
    translates: bool = True
    """Whether boxes behind it go out under its own address (NAT)."""
    mapping: NatBehaviour | None = None
    """Whether a box keeps its outside port towards everybody; None where nobody knows."""
    filtering: NatBehaviour | None = None
    """From whom an outside port that a box opened takes answers; None where nobody knows."""
    reflects: bool | None = None
    """Whether a box inside reaches its own outside address (hairpinning, RFC 4787 §6); None where nobody tried."""
    repeats_names: bool | None = None
    """Whether it repeats multicast DNS from each of its networks on the others; None where nobody looked."""
    forwards: Annotated[tuple[Forward, ...], Field(max_length=500, fail_fast=True)] = ()
    rules: Annotated[tuple[Rule, ...], Field(max_length=500, fail_fast=True)] = ()
    """Between its networks, outward and inward. What no rule is about passes between them and outward; inward only what was
    asked for from inside, or what a forward is for."""
    routes: Annotated[tuple[StaticRoute, ...], Field(max_length=500, fail_fast=True)] | None = None
    """Its static routes; None where nobody looked."""


class Interface(Frozen):
    """The addressing of an Ethernet, Wi-Fi, mobile or tether port: its network, and how it comes by its address."""

    network: Annotated[Slug | None, RefersTo("network")] = None
    addressing: Literal["dhcp", "reserved", "fixed"] = "dhcp"
    address: Text = ""
    address_v6: Text = ""
    hardware_address: Text = ""
    """Its MAC address, as printed on the box."""
    serves_dhcp: bool | None = None
    """Whether the device gives out addresses by this socket (a DHCP server), beside the network's own; None where nobody looked."""
    default_route: bool | None = None
    """Whether what the device sends elsewhere goes by this socket; None: by its role and kind, as devices have it."""
    mask_bits: Annotated[int, Field(ge=1, le=32)] | None = None
    """The mask typed into the box, as a prefix length (24 for 255.255.255.0); None: its network's, as DHCP gives it."""
    admitted: bool | None = None
    """Whether a network that does not take every box has registered it, or it has its login; None where nobody said."""
