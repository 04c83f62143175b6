"""Twins of addressing: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.plan import Network, Site
from humble_relay.core.plan.edits import (
    Edit,
    added,
)
from tests.build import (
    leave_by,
    put,
    put_port,
)
from tests.core.twins import Twin, hold, named
from tests.shows import wire

TOGETHER = [wire("sender/lan", "decoder/lan", "ethernet", 44, "direct")]


def FOREIGN(decoder: str, hide: str) -> list[Edit]:
    """The two ends of the stream of the hide, at addresses that the network does not have."""
    fixed = [put_port(f"{d}/lan", "interface.addressing", "fixed") for d in ("decoder", "hide")]
    return [*fixed, put_port("decoder/lan", "interface.address", decoder), put_port("hide/lan", "interface.address", hide), put("link", "watch", "address", f"rtsp://{hide}:554/main")]


TWINS = [
    Twin("pole", [put_port("decoder/lan", "interface.serves_dhcp", True)], "two-dhcp:decoder:lan risks", "Decoder, LAN gives out addresses on Show network, and so does its router"),
    # Networks.
    Twin("plain", [put("network", "lan", "range", "192.168.20/24")], "network-range:lan stops", "is not an IPv4 range"),
    Twin("plain", [put("network", "lan", "gateway", "192.168.20.255")], "network-range:lan stops", "names the whole network", "Gateway 192.168.20.1"),
    Twin("plain", [put("network", "lan", "pool_last", "192.168.20.255")], "network-range:lan stops", "holds an address that names"),
    Twin("plain", [put("network", "lan", "pool_first", "192.168.20.1"), put_port("encoder/lan", "interface.addressing", "reserved")],
         "network-range:lan risks", "the gateway 192.168.20.1 lies in the DHCP pool"),
    Twin("plain", [added(Network(id="far", name="Far", site="creek", range="192.168.0.0/16")), leave_by("far", "fibre")],
         "networks-overlap:far stops", "share addresses on one router"),
    Twin("plain", [put("network", "lan", "gateway", "192.168.21.1")], "network-range:lan stops", "the gateway 192.168.21.1 is not inside", "Gateway 192.168.20.1"),
    Twin("pole", [added(from_library("router", "gate", "boathouse", "Gate")), wire("net/lan-8", "gate/lan-1", "ethernet", 2), put("router", "router", "device", "gate"), put_port("gate/lan-1", "interface.network", "lan"),
                  put_port("gate/lan-1", "interface.addressing", "fixed"), put_port("gate/lan-1", "interface.address", "192.168.20.254")], "network-range:lan stops", "its router has 192.168.20.254 there", "Gateway 192.168.20.254"),
    Twin("plain", [put_port("encoder/lan", "interface.address", "127.0.0.1")], "address-fault:encoder:lan stops", "this machine", "Use 192.168.20.40"),
    Twin("plain", [put_port("camera/hdmi", "interface.network", "lan"), put_port("camera/hdmi", "interface.address", "192.168.20.30")],
         "address-twice:encoder:lan stops", "both have 192.168.20.30", "Use 192.168.20.40"),
    Twin("plain", [put_port("encoder/lan", "interface.address", "")], "address-missing:encoder:lan risks", "none is given", "Use 192.168.20.40"),
    Twin("plain", [added(Site(id="town", name="Town")), added(Network(id="far", name="Far", site="town")), leave_by("far", "fibre"),
                   put_port("encoder/lan", "interface.network", "far")], "network-elsewhere:encoder:lan stops", "stands at Creek"),
    # Two devices on one cable, where nobody gives addresses (RFC 2131); ranges of their own that agree (RFC 3927 §2.6, RFC 1122 §3.3.1.1).
    Twin("paired", TOGETHER, "no-lease:decoder:lan risks, no-lease:sender:lan risks", "its cable leads to Sender alone", "Use 192.168.20."),
    Twin("pole", [*FOREIGN("169.254.7.7", "169.254.9.9")], "address-fault:decoder:lan risks, address-fault:hide:lan risks", "Hide has one alike, and the two reach each other", "Use"),
    Twin("pole", [*FOREIGN("10.1.1.7", "10.1.1.9")], "address-fault:decoder:lan risks, address-fault:hide:lan risks", "is outside Show network", "Use"),
    Twin("pole", [*FOREIGN("10.1.1.7", "10.1.2.9")], "address-fault:decoder:lan stops, address-fault:hide:lan stops", "is outside Show network", "Use"),
    # Static routes (RFC 1812 §5.2.4): a next hop is on a network of the router itself.
    Twin("plain", [put("router", "router", "routes", [{"to_range": "10.9.0.0/33", "via": "192.168.20.9"}])], "route-fault:router:route-0 stops", "is not a range such as"),
    Twin("plain", [put("router", "router", "routes", [{"to_range": "10.9.0.0/24", "via": "192.168.21.9"}])], "route-fault:router:route-0 stops", "192.168.21.9 is on no network of it"),
    # A pool of one for two sockets that wait (RFC 2131 §4.3.1).
    Twin("paired", [put("network", "lan", "pool_last", "192.168.20.100")], "pool-too-small:lan:pool stops", "2 devices wait for an address on Show network, and its pool"),
    # A mask of /29 makes .24 to .31 of .30's neighbours, one of /26 .0 to .63 of .41's; .30 is the last of .16 to .31 cut short.
    Twin("plain", [put_port("encoder/lan", "interface.mask_bits", 29)], "mask-hides:encoder:lan stops", "the gateway 192.168.20.1 is outside of that", "Use the network's mask"),
    Twin("plain", [put_port("encoder/lan", "interface.mask_bits", 16)], "mask-hides:encoder:lan note", "nothing it deals with", "Use the network's mask"),
    Twin("pole", [put_port("hide/lan", "interface.mask_bits", 26), put_port("decoder/lan", "interface.addressing", "fixed"), put_port("decoder/lan", "interface.address", "192.168.20.90")],
         "mask-hides:hide:lan risks", "Decoder is outside of that: what is meant for it goes by the gateway", "Use the network's mask"),
    Twin("plain", [put_port("encoder/lan", "interface.address", "192.168.20.31"), put_port("encoder/lan", "interface.mask_bits", 27)], "mask-hides:encoder:lan stops", "names the whole network", "Use the network's mask"),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
