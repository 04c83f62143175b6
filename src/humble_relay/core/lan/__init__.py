"""The local network: sockets, wiring, and which cables a stream runs over."""

from humble_relay.core.lan import network_loops, vlan_tags, wiring

CHECKS = (*wiring.CHECKS, *network_loops.CHECKS, *vlan_tags.CHECKS)
