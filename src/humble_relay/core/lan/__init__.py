"""The local network: sockets, wiring, and which cables a stream runs over."""

from humble_relay.core.lan import network_loops, optics, switch_sockets, vlan_tags, wiring

CHECKS = (*wiring.CHECKS, *network_loops.CHECKS, *vlan_tags.CHECKS, *switch_sockets.CHECKS, *optics.CHECKS)
