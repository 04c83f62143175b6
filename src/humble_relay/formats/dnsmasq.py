"""Pools and reservations for the DHCP server dnsmasq (dnsmasq(8), `dhcp-range` and `dhcp-host`)."""

import re
from collections.abc import Iterator

from humble_relay.core.addressing.subnets import ipv4, subnet
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Network

_MAC = re.compile(r"[0-9A-Fa-f]{2}([:-][0-9A-Fa-f]{2}){5}")


def write_dnsmasq(case: Case) -> str:
    """The pool of every network and the address reserved for every box on it, by its hardware address where that is known,
    else by the name that it gives itself. What cannot be read is left out, and said in a comment."""
    return "\n".join(_lines(case)) + "\n"


def _lines(case: Case) -> Iterator[str]:
    yield f"# {case.plan.show.name}: pools and reservations, as planned. Check each name and hardware address on the day."
    for network in case.networks.values():
        yield from _pool(network)
        for ref, port in case.ports.items():
            if port.network != network.id or port.addressing != "reserved":
                continue
            name, address = case.device_of(ref).id, ipv4(port.address)
            mac = port.interface.hardware_address.strip() if port.interface else ""
            if address is None:
                yield f"# {case.port_name(ref)}: to be reserved, and no address is given yet"
            elif _MAC.fullmatch(mac):
                yield f"dhcp-host={mac.replace('-', ':').lower()},{address},{name}"
            else:
                yield f"dhcp-host={name},{address}"


def _pool(network: Network) -> Iterator[str]:
    sub = subnet(network)
    yield f"# {network.name}"
    if sub is None or sub.pool is None:
        return
    yield f"dhcp-range=set:{network.id},{sub.pool[0]},{sub.pool[1]},{sub.range.netmask},12h"
    if sub.gateway:
        yield f"dhcp-option=tag:{network.id},option:router,{sub.gateway}"
