"""Twins of lan: each row a sound show, what breaks it, and every finding that comes."""
# fmt: off


import pytest

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.plan import Network
from humble_relay.core.plan.edits import (
    Remove,
    added,
)
from tests.build import edit_of, put, put_port
from tests.core.twins import Twin, hold, named
from tests.shows import wire

ANOTHER = added(from_library("switch-poe", "other", "boathouse", "Other"))
SFP = {"id": "sfp", "name": "SFP", "way": "both", "types": ["fibre"], "max_gbps": 1}
OPTICS = [*(edit_of({"kind": "add-port", "device": net, "item": SFP}) for net in ("net", "other")), wire("net/sfp", "other/sfp", "fibre", 2, "trunk")]
TWINS = [
    Twin("pole", [added(from_library("injector", "injector", "slipway", "Injector")), Remove(noun="link", id="hide-lan-net-lan-1"), wire("hide/lan", "injector/poe", "ethernet", 2)],
         "not-plugged-in:hide:lan stops", "leads nowhere", "Plug Injector into Net"),
    # Loops (IEEE 802.1D): two cables between two switches, and a switch plugged into itself; one cable between two is none.
    Twin("pole", [ANOTHER, wire("net/lan-6", "other/lan-6", "ethernet", 2, "one"), wire("net/lan-7", "other/lan-7", "ethernet", 2, "two")], "network-loop:two:loop risks", "joins Net and Other, which are joined already"),
    Twin("pole", [added(Network(id="far", name="Far", site="creek")), put_port("net/lan-1", "interface.network", "far")], "wrong-socket:net:lan-1 stops", "is to be on Show network, and Net, Socket 1 is set to Far"),
    Twin("pole", [ANOTHER, *OPTICS, put_port("net/sfp", "optic", "multimode"), put_port("other/sfp", "optic", "single-mode")], "optics-differ:trunk:optics stops", "Net, SFP is multimode and Other, SFP is single-mode"),
    Twin("plain", [put("network", "lan", "vlan", 20), added(Network(id="far", name="Far", site="creek", vlan=20))], "vlan-twice:far:vlan risks", "both have the VLAN tag 20"),
    Twin("pole", [wire("net/lan-6", "net/lan-7", "ethernet", 1, "self")], "network-loop:self:loop stops", "is plugged into Net at both ends"),
]


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)
