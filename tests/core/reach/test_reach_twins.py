"""Twins of reach: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judgement import answers, findings
from humble_relay.core.plan import Forward, Interface, Network, Port, Router, Uplink
from humble_relay.core.plan.edits import (
    AddPort,
    Edit,
    Remove,
    added,
)
from tests.build import (
    case_of,
    leave_by,
    put,
    put_port,
    small_show,
)
from tests.core.twins import EACH, OPEN, Twin, hold, named
from tests.shows import SHOWS, wire

GUESTS = [added(Network(id="far", name="Guests", site="creek")), leave_by("far", "fibre"), put_port("decoder/lan", "interface.network", "far")]


def second(device: str, network: str, address: str, role: str) -> Edit:
    """A second socket of a device, by Wi-Fi."""
    interface = Interface(network=network, addressing="fixed", address=address)
    return AddPort(device=device, item=Port(id="air", name="Air", way="both", types=("wifi",), role=role, interface=interface))  # type: ignore[arg-type]


SIX = [put("network", "lan", "range_v6", "2001:db8:1::/64"), put("network", "hall-lan", "range_v6", "2001:db8:4::/64"), put_port("decoder/lan", "interface.address_v6", "2001:db8:4::20"),
       put("link", "feed-2", "address", "srt://[2001:db8:4::20]:9000")]
KEPT_PORT = [put("router", r, f, "endpoint-independent") for r in ("router", "town-router") for f in ("mapping", "filtering")]
DIRECT = [wire("sender/lan", "decoder/lan", "ethernet", 44, "direct"), *(put_port(f"{d}/lan", f, v) for d, a in (("sender", "169.254.1.5"), ("decoder", "169.254.9.5"))
          for f, v in (("interface.network", None), ("interface.addressing", "fixed"), ("interface.address", a)))]
ACROSS = [added(Network(id="far", name="Guests", site="creek", range="10.7.0.0/24", gateway="10.7.0.1")), leave_by("far", "fibre"), put_port("hide/lan", "interface.network", "far"),
          put_port("hide/lan", "interface.address", "10.7.0.5"), put("link", "watch", "address", "rtsp://10.7.0.5:554/main")]
NO_FORWARD = put("router", "town-router", "forwards", [])
# An inner router that does not translate, with the caller behind it, and the listener beyond the router before it.
INNER = [added(Network(id="inner", name="Inner", site="creek", range="10.9.0.0/24", gateway="10.9.0.1")), added(Uplink(id="hung", name="Inner line", site="creek", behind="lan", address="192.168.20.9")),
         added(Router(id="inner-router", name="Inner router", site="creek", networks=("inner",), uplinks=("hung",), translates=False)),
         put_port("sender/lan", "interface.network", "inner"), put_port("sender/lan", "interface.address", "10.9.0.5"), put_port("sender/lan", "interface.addressing", "fixed"), put("network", "lan", "gateway", "192.168.20.1")]
# A forward to a listener behind a second router that does not translate, which a static route of the first leads to.
DEEP = [added(Network(id="deep", name="Deep", site="town", range="10.9.0.0/24", gateway="10.9.0.1")), added(Uplink(id="deep-line", name="Deep line", site="town", behind="hall-lan", address="10.4.0.9")),
        added(Router(id="deep-router", name="Deep router", site="town", networks=("deep",), uplinks=("deep-line",), translates=False)), put("network", "hall-lan", "gateway", "10.4.0.1"),
        put_port("decoder/lan", "interface.network", "deep"), put_port("decoder/lan", "interface.address", "10.9.0.20"), put("router", "town-router", "forwards", [OPEN | {"to_address": "10.9.0.20"}]),
        put("router", "town-router", "routes", [{"to_range": "10.9.0.0/24", "via": "10.4.0.9"}]), put("router", "deep-router", "rules", [{"lets": True, "to_network": "deep", "transport": "udp"}])]
# A listener behind an inner router whose WAN port has its address by DHCP.
IN_BY_DHCP = [added(Network(id="inner", name="Inner", site="creek", range="10.9.0.0/24", gateway="10.9.0.1")), added(Uplink(id="hung", name="Inner line", site="creek", behind="lan")),
              added(Router(id="inner-router", name="Inner router", site="creek", networks=("inner",), uplinks=("hung",), forwards=(Forward(transport="tcp", port=554, to_address="10.9.0.5"),))),
              put_port("hide/lan", "interface.network", "inner"), put_port("hide/lan", "interface.address", "10.9.0.5"), put_port("hide/lan", "interface.addressing", "fixed")]
BACK = {"to_range": "10.9.0.0/24", "via": "192.168.20.9"}

TWINS = [
    # Local streams: 802.3 frames reach their own network; a router joins its own; names do not cross it (RFC 6762).
    Twin("paired", [added(Network(id="far", name="Guests", site="creek")), put_port("decoder/lan", "interface.network", "far")],
         "networks-apart:feed-2 stops", "Sender is on Show network, Decoder on Guests: nothing joins them", "Put Sender on Guests"),
    Twin("paired", [put_port("decoder/lan", "interface.network", None)], "networks-apart:feed-2 stops", "Decoder is on no network", "Put Decoder on Show network"),
    Twin("paired", [added(Network(id="far", name="Guests", site="creek")), leave_by("far", "fibre"), put_port("decoder/lan", "interface.network", "far")],
         "networks-apart:feed-2 risks", "is found by name", "Put Sender on Guests"),
    Twin("paired", [put("link", "feed-2", "address", "127.0.0.1:5000")], "local-address:feed-2 stops", "means the box it is typed into"),
    Twin("paired", [put("link", "feed-2", "address", "192.168.20.30:5000")], "local-address:feed-2 stops", "is the address of Encoder"),
    Twin("paired", [put("link", "feed-2", "address", "192.168.20.150")], "local-address:feed-2 risks", "is nobody's address in this plan"),
    Twin("paired", [put("link", "feed-2", "address", "192.168.20.77")], "local-address:feed-2 stops", "is no address that Decoder can have"),
    Twin("paired", [put("link", "feed-2", "address", "rtsp://decoder")], "local-address:feed-2 stops", "says rtsp, and the stream is paired"),
    Twin("far", [put("link", "feed-2", "address", "srt://10.4.0.9:9000")], "far-address:feed-2 stops", "10.4.0.9:9000 is private (RFC 1918", "Use 203.0.113.20"),
    Twin("far", [put_port("decoder/lan", "interface.addressing", "dhcp")], "address-may-move:feed-2:stays risks", "Decoder has its address from DHCP",
         "Reserve 10.4.0.20 for Decoder"),
    Twin("pole", [put_port("hide/lan", "interface.addressing", "dhcp"), put_port("hide/lan", "interface.address", "192.168.20.150")],
         "address-may-move:watch:stays note", "is called at an address that DHCP gave to Hide",
         "Reserve 192.168.20.150 for Hide"),
    Twin("far", [put("router", "town-router", "uplinks", [])], "far-way-out:feed-2 stops", "which has no uplink", "Hall network leaves by Line"),
    # A switch that leads nowhere: the camera's side has no router, the decoder's has.
    Twin("pole", [added(from_library("switch-poe", "far-net", "slipway", "Far net")), Remove(noun="link", id="hide-lan-net-lan-1"), wire("hide/lan", "far-net/lan-1", "ethernet", 2),
                  added(from_library("router", "gate", "boathouse", "Gate")), wire("net/lan-8", "gate/lan-1", "ethernet", 2), put("router", "router", "device", "gate")],
         "cut-off:watch:wire stops", "no cable leads from there to Decoder", "Plug Far net into Net"),
    # Lines and calls.
    Twin("plain", [put("uplink", "fibre", "lets_out", "web"), put("link", "feed", "protocol", "rtmp")],
         "not-let-out:feed:out stops", "goes to port 1935", "Send RTMPS"),
    Twin("plain", [put("uplink", "fibre", "lets_out", "proxy")], "not-let-out:feed:out stops", "through a proxy that reads them", "TCP 443 has been opened"),
    Twin("far", [put("uplink", "fibre", "lets_out", "tcp")], "not-let-out:feed-2:out stops", "lets no UDP pass outward; Feed 2 goes to UDP 9000", "UDP 9000 has been opened"),
    # What lies between: RFC 4787 for translators, RFC 6598 for shared addresses, RFC 6092 for IPv6.
    Twin("call-apart", [put("uplink", "fibre", "lets_out", "web")], "sides-do-not-meet:call:meet risks", "web pages only pass outward; Call has to go by a relay", "Use a service with a relay"),
    Twin("call-apart", [put("uplink", "fibre", "lets_out", "tcp"), put("link", "call", "relayed", False)], "sides-do-not-meet:call:meet stops", "no UDP pass outward; Call has to go by a relay", "Use a service with a relay"),
    Twin("call-apart", [put("router", "router", "mapping", EACH), put("router", "town-router", "mapping", EACH), put("router", "router", "filtering", EACH),
                        put("router", "town-router", "filtering", EACH), put("link", "call", "relayed", False)], "sides-do-not-meet:call:meet stops", "do not let the two sides of Call through", "Use a service with a relay"),
    Twin("far", [put("router", "town-router", "forwards", [])], "not-let-in:feed-2:in stops", "lets UDP 9000 in to nobody", "Forward UDP 9000 to 10.4.0.20"),
    Twin("far", [put("router", "town-router", "forwards", [{"transport": "tcp", "port": 9000, "to_address": "10.4.0.20"}])], "not-let-in:feed-2:in stops, open-to-the-world:town-router:tcp-9000-0 risks", "lets UDP 9000 in to nobody", "Forward UDP 9000"),
    Twin("far", [put("router", "town-router", "forwards", [{"transport": "udp", "port": 9000, "to_address": "10.4.0.21"}])], "not-let-in:feed-2:in stops, open-to-the-world:town-router:udp-9000-0 risks", "to 10.4.0.21, which nobody in this plan has", "Forward UDP 9000 to 10.4.0.20"),
    Twin("far", [put("uplink", "line", "address", "100.64.7.9")], "not-let-in:feed-2:in stops", "asks for 203.0.113.20, and Line has 100.64.7.9", "Let Decoder call"),
    Twin("far", [put("uplink", "line", "address", "100.64.7.9"), put("uplink", "fibre", "address", "100.64.7.8"), added(from_library("relay-cloud", "relay", None, "Relay")),
         put("device", "relay", "ingest.host", "in.relay.example"), put("device", "relay", "encoding.protocols", ["srt"])], "not-let-in:feed-2:in stops", "asks for 203.0.113.20, and Line has 100.64.7.9", "Go by Relay"),
    Twin("far", [put("uplink", "line", "address", ""), put("uplink", "line", "outside", "shared")], "not-let-in:feed-2:in stops", "its carrier shares", "Let Decoder call"),
    Twin("far", [put("uplink", "line", "address", ""), put("uplink", "line", "outside", "private")], "not-let-in:feed-2:in risks", "the router before it must forward UDP 9000 too", "Let Decoder call"),
    Twin("far", [put("link", "feed-2", "caller", "rendezvous"), put("router", "router", "mapping", EACH)], "not-let-in:feed-2:in stops", "give the box another port towards each side", "Let Sender call"),
    Twin("far", [put("link", "feed-2", "caller", "rendezvous")], "not-let-in:feed-2:in risks", "may give the box another port", "Let Sender call"),
    Twin("paired", [put("uplink", "fibre", "address", "203.0.113.9"), put("link", "feed-2", "address", "203.0.113.9:5000"), put("router", "router", "reflects", False),
                    put("router", "router", "forwards", [{"transport": "tcp", "port": 5000, "to_address": "192.168.20.31"}]),
                    put_port("decoder/lan", "interface.addressing", "reserved"), put_port("decoder/lan", "interface.address", "192.168.20.31")],
         "not-let-in:feed-2:in stops, open-to-the-world:router:tcp-5000-0 risks", "asks for the outside address of its own line Fibre", "Use 192.168.20.31"),
    # IPv6 past two routers: each filters for itself (RFC 6092).
    Twin("far", [*SIX, put("router", "town-router", "forwards", [OPEN | {"to_address": "2001:db8:4::20"}]), added(Network(id="building", name="Building", site="town", range="10.8.0.0/24", range_v6="2001:db8:8::/64")),
                 added(Uplink(id="outer", name="Building line", site="town")), added(Router(id="building-router", name="Building router", site="town", networks=("building",), uplinks=("outer",))),
                 put("uplink", "line", "behind", "building")], "not-let-in:feed-2:in stops", "Building router lets UDP 9000 in to nobody", "Let Decoder call"),
    # Both ends of a rendezvous call: each side's own way out must be open; between two networks of one router one way is enough (RFC 4787 §5).
    Twin("far", [put("link", "feed-2", "caller", "rendezvous"), *KEPT_PORT, NO_FORWARD, put("uplink", "line", "lets_out", "tcp")], "not-let-out:feed-2:out stops", "Line lets no UDP pass outward", "UDP 9000 has been opened"),
    Twin("far", [put("link", "feed-2", "caller", "rendezvous"), *KEPT_PORT, NO_FORWARD, put("router", "town-router", "rules", [{"lets": False, "from_network": "hall-lan", "transport": "udp"}])],
         "kept-apart:feed-2:apart stops", "keeps UDP 9000 of Hall network from outside", "Let UDP 9000 pass"),
    Twin("far", [put("link", "feed-2", "caller", "rendezvous"), *KEPT_PORT, put("router", "town-router", "forwards", [OPEN | {"to_address": "10.4.0.99"}])],
         "not-let-in:feed-2:in risks", "Sender at that port", "Forward UDP 9000 to 10.4.0.20"),
    Twin("far", [put("link", "feed-2", "caller", "rendezvous"), *KEPT_PORT, put("uplink", "fibre", "address", "203.0.113.9"), put("link", "feed-2", "address", "srt://203.0.113.9:9000")],
         "not-let-in:feed-2:in stops", "Decoder is not behind that", "Use 203.0.113.20"),
    Twin("paired", [put("network", "lan", "guest_isolation", True)], "kept-apart:feed-2:apart stops", "keeps its boxes apart from each other"),
    Twin("paired", [added(Network(id="far", name="Guests", site="creek")), leave_by("far", "fibre"), put_port("decoder/lan", "interface.network", "far"), put("link", "feed-2", "address", "decoder:5000"),
                    put("router", "router", "rules", [{"lets": False, "from_network": "lan", "to_network": "far"}])],
         "kept-apart:feed-2:apart stops", "keeps UDP or TCP 5000 of Show network from Guests", "Put Sender on Guests"),
    Twin("plain", [put("router", "router", "rules", [{"lets": False, "from_network": "lan", "transport": "tcp", "first_port": 1, "last_port": 1024}])],
         "kept-apart:feed:apart stops", "keeps TCP 443 of Show network from outside", "Let TCP 443 pass"),
    Twin("far", [put("uplink", "line", "address", "192.168.1.20")], "not-let-in:feed-2:in risks", "the router before it must forward UDP 9000 too", "Let Decoder call"),
    # Names given by multicast DNS end at a router whatever asks for them (RFC 6762 §11); IPv6 addresses of one site or link (RFC 4193, RFC 4007).
    Twin("paired", [*GUESTS, put("link", "feed-2", "address", "decoder.local:5000")], "networks-apart:feed-2 risks", "is found by name", "Put Sender on Guests"),
    Twin("paired", [*GUESTS, put("router", "router", "repeats_names", False)], "networks-apart:feed-2 stops", "is found by name", "Put Sender on Guests"),
    Twin("paired", [put("network", "lan", "range_v6", "2001:db8:1::/64"), put_port("decoder/lan", "interface.address_v6", "fe80::31"), put("link", "feed-2", "address", "[fe80::31]:5000")],
         "local-address:feed-2 stops", "says nothing without the zone"),
    Twin("far", [put("network", "lan", "range_v6", "fd00:1::/64"), put("network", "hall-lan", "range_v6", "fd00:4::/64"), put_port("decoder/lan", "interface.address_v6", "fd00:4::20"),
                 put("link", "feed-2", "address", "srt://[fd00:4::20]:9000")], "far-address:feed-2 stops", "is private (RFC 1918, RFC 4193", "Use 203.0.113.20"),
    # A device on two networks goes out, and answers, by its own routing table (RFC 1122 §3.3.4.2).
    Twin("far", [added(Network(id="cameras", name="Cameras", site="creek", range="10.9.0.0/24")), added(Router(id="camera-router", name="Camera router", site="creek", networks=("cameras",))),
                 second("sender", "cameras", "10.9.0.5", "uplink")], "far-way-out:feed-2 stops", "Camera router has no uplink", "Cameras leaves by Fibre"),
    Twin("pole", [added(Network(id="far", name="Guests", site="creek", range="192.168.77.0/24", gateway="192.168.77.1")), leave_by("far", "fibre"), second("hide", "far", "192.168.77.41", "lan"),
                  put("link", "watch", "address", "rtsp://192.168.77.41:554/main")], "not-let-in:watch:in risks", "Hide answers by Show network", "Use 192.168.20.41"),
    # Routes: the way back to who is not translated (RFC 1812 §5.2.4), a default route, and what is let in unasked.
    Twin("far", [*INNER, put("router", "router", "routes", [])], "kept-apart:feed-2:apart stops", "Router has no static route that leads to 10.9.0.5 by 192.168.20.9", "Add a static route to 10.9.0.0/24"),
    Twin("far", [*INNER, put("router", "router", "routes", [BACK | {"via": "192.168.20.8"}])], "kept-apart:feed-2:apart stops", "Router has no static route that leads to 10.9.0.5", "Switch NAT on in Inner router"),
    Twin("far", [*DEEP, put("router", "deep-router", "rules", [{"lets": False, "to_network": "deep"}])], "not-let-in:feed-2:in stops", "keeps UDP 9000 of outside from Deep", "Let UDP 9000 pass"),
    Twin("far", [put_port("decoder/lan", "interface.default_route", False)], "not-let-in:feed-2:in stops", "Decoder has no default route by LAN", ""),
    Twin("far", [put_port("sender/lan", "interface.default_route", False)], "far-way-out:feed-2 stops", "has no default route", ""),
    Twin("far", [put("router", "town-router", "rules", [{"lets": False, "to_network": "hall-lan", "transport": "udp"}])], "not-let-in:feed-2:in stops", "keeps UDP 9000 of outside from Hall network", "Let UDP 9000 pass"),
    Twin("far", [put("link", "feed-2", "listens_port", 9001)], "not-let-in:feed-2:in stops", "arrives at port 9000 of Decoder, which listens at 9001", "Set Decoder to the port that is called"),
    Twin("far", [*SIX, put("router", "town-router", "forwards", [OPEN | {"to_address": "2001:db8:4::20"}]), put("uplink", "line", "ipv6", False)], "not-let-in:feed-2:in stops", "Line has no IPv6", "Use 203.0.113.20"),
    # Two devices on one cable and no network (RFC 3927); a group across a router; both sides of a browser link behind one router that turns nothing round.
    Twin("paired", [*DIRECT, put_port("decoder/lan", "interface.address", "10.1.1.5")], "networks-apart:feed-2 stops", "their addresses are of two ranges (169.254.0.0/16 and 10.1.1.0/24)"),
    Twin("pole", [*ACROSS, put("link", "watch", "multicast", True)], "networks-apart:watch risks", "goes to a multicast group, from one network to another", "Put Decoder on Guests"),
    # The media of RTSP by UDP: the way back of a call, which a router expects nothing by (RFC 7826 Appendix C).
    Twin("pole", [put("link", "watch", "media_over", "udp"), put("device", "decoder", "lets_in", False)], "firewall-in-the-box:watch:door stops", "lets UDP in from nobody", "It has been allowed"),
    Twin("pole", [put("device", "hide", "lets_in", False)], "firewall-in-the-box:watch:door stops", "lets TCP 554 in from nobody", "It has been allowed"),
    Twin("plain", [put("uplink", "fibre", "sign_in", True)], "sign-in-page:feed:sign-in stops", "Encoder has nobody who could", "Its hardware address is exempted from the portal"),
    Twin("plain", [put("network", "lan", "admission", "login"), put_port("encoder/lan", "interface.admitted", False)], "not-admitted:encoder:lan stops", "takes Encoder, LAN only with a login", "It has been registered"),
    Twin("plain", [put("device", "encoder", "clock_set", False)], "clock-not-set:feed:clock stops", "The clock of Encoder is not set", "It has been set"),
    # A full SRT packet: 1316 + 16 + 8 + 20 = 1360 bytes (RFC 791, RFC 768, draft-sharabayko-srt).
    Twin("far", [put("uplink", "line", "mtu", 1359)], "packets-too-large:feed-2:size risks", "those of Feed 2 have 1360", ""),
    # What is open, and the spare.
    Twin("far", [put("router", "town-router", "forwards", [OPEN, OPEN | {"transport": "tcp", "port": 80}])], "open-to-the-world:town-router:tcp-80-1 risks", "leads to Decoder, and no stream needs it", "Close TCP 80"),
    Twin("far", [put("router", "town-router", "forwards", [OPEN, OPEN | {"port": 9001, "to_address": "10.4.0.7"}])], "open-to-the-world:town-router:udp-9001-1 risks", "leads to nobody in this plan", "Close UDP 9001"),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)


ASKED = [
    ("far", INNER, "kept-apart:feed-2:apart", "routes", "Which static routes has Router?"),
    ("far", [*DEEP, put("router", "deep-router", "rules", [])], "not-let-in:feed-2:in", "rules", "Does Deep router let UDP 9000 in from outside to Deep"),
    ("pole", [*IN_BY_DHCP, put("link", "watch", "address", "rtsp://192.168.20.77:554/main")], "local-address:watch", "address", "Which address has Inner line on Show network?"),
    ("paired", [added(Network(id="alone", name="Alone", site="creek")), *(put_port(f"{d}/lan", "interface.network", "alone") for d in ("sender", "decoder"))],
     "no-lease:sender:lan", "pool_first", "What gives out addresses on Alone"),
    ("far", [*GUESTS[:2], second("sender", "far", "10.9.0.5", "lan"), put_port("sender/air", "interface.default_route", True), put_port("sender/lan", "interface.default_route", True),
             put("network", "far", "guest_isolation", False), put("router", "router", "rules", [{"lets": False, "from_network": "lan"}])], "kept-apart:feed-2:apart", "interface.default_route", "the socket that it goes out by"),
]


@pytest.mark.parametrize(("show", "edits", "id", "field", "question"), ASKED, ids=[a[2] for a in ASKED])
def test_what_the_plan_does_not_say_is_asked_and_not_denied(show: str, edits: list[Edit], id: str, field: str, question: str) -> None:
    case = case_of(small_show(*SHOWS[show], *edits))
    found = next(a for a in answers(case).every if a.id == id)
    assert found.want and found.want.field == field and question in found.want.question
    assert all(f"{f.id} {f.severity}" not in (f"{id} stops", f"{id} risks") for f in findings(case))
