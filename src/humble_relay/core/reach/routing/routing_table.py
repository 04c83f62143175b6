"""The routing table of a device: the networks that it is connected to, and the sockets that its default route may go by.

A packet goes to the connected network whose range holds its address, the longest match first (RFC 1122 §3.3.1, RFC 1812
§5.2.4.3), else by the default route.
"""

from functools import lru_cache
from ipaddress import IPv4Address, IPv4Network, IPv6Address, IPv6Network, ip_network

from humble_relay.core.addressing.address_faults import among_themselves
from humble_relay.core.addressing.subnets import ipv6_range, own_range, subnet
from humble_relay.core.egress.outbound import default_route_rank
from humble_relay.core.judging.case import Case, analysis_of_each
from humble_relay.core.lan.sockets import sockets_on_networks
from humble_relay.core.plan import Device, Network, Port, Router, StaticRoute
from humble_relay.core.reach.routing.call_hops import CallPacket


def range_of(network: Network, v6: bool = False) -> IPv4Network | IPv6Network | None:
    """The range of a network, of either family; None where it has none that can be read."""
    return ipv6_range(network) if v6 else (known.range if (known := subnet(network)) else None)


def longest_match(
    case: Case, networks: tuple[str, ...], address: IPv4Address | IPv6Address
) -> tuple[str, ...]:
    """Those of the networks whose range holds the address and is the smallest: several where they are alike."""
    six = isinstance(address, IPv6Address)
    held = [(r.prefixlen, n) for n in networks if (r := range_of(case.networks[n], six)) and address in r]
    longest = max((bits for bits, _ in held), default=0)
    return tuple(n for bits, n in held if bits == longest)


def connected_sockets(case: Case, device: Device, address: IPv4Address | IPv6Address) -> tuple[Port, ...]:
    """The sockets by which a device reaches an address on a network of its own; several where alike ranges are on both."""
    sockets = sockets_on_networks(case)[device.id]
    held = longest_match(case, tuple(dict.fromkeys(p.network or "" for p in sockets)), address)
    apart = [p for p in sockets if f"{device.id}/{p.id}" in among_themselves(case)]
    near = tuple(p for p in sockets if p.network in held and p not in apart)
    return near or tuple(
        p for p in apart if (own := own_range(p, case.networks[p.network or ""])) and address in own
    )


def default_sockets(case: Case, device: Device, v6: bool = False) -> tuple[Port, ...]:
    """The sockets that the default route of a device may go by, of those on a network with a router: the one that it is set to,
    else the one marked as its WAN port, else by kind of socket. Several where nothing tells them apart; none where no router
    is near, or none of them has a default route."""
    return (_defaults_v6 if v6 else _defaults_v4)(case, device.id)


@analysis_of_each
def _defaults_v4(case: Case, id: str) -> tuple[Port, ...]:
    return _defaults(case, case.devices[id], False)


@analysis_of_each
def _defaults_v6(case: Case, id: str) -> tuple[Port, ...]:
    return _defaults(case, case.devices[id], True)


def _defaults(case: Case, device: Device, v6: bool) -> tuple[Port, ...]:
    routed = [
        p
        for p in sockets_on_networks(case)[device.id]
        if case.router_of.get(p.network or "")
        and not has_no_default_route(p)
        and (
            ipv6_range(case.networks[p.network or ""])
            if v6
            else f"{device.id}/{p.id}" not in among_themselves(case)
        )
    ]
    if len(routed) < 2:
        return tuple(routed)
    first = min(map(default_route_rank, routed))
    found = [p for p in routed if default_route_rank(p) == first]
    return tuple({p.network: p for p in reversed(found)}.values())[::-1]


def answering_sockets(case: Case, device: Device, sent: CallPacket) -> tuple[Port, ...]:
    """The sockets by which a device may answer who called it: by its own routing table, whichever was called (RFC 1122 §3.3.4.2)."""
    if sent.address is not None and sent.network is not None:
        near = connected_sockets(case, device, sent.address)
    else:
        near = tuple(p for p in sockets_on_networks(case)[device.id] if p.network == sent.network)
    return near or default_sockets(case, device, isinstance(sent.address, IPv6Address))


def has_no_default_route(port: Port) -> bool:
    """Whether a socket is said to have no default route."""
    return port.interface is not None and port.interface.default_route is False


def static_route(router: Router, address: IPv4Address | IPv6Address) -> tuple[int, StaticRoute] | None:
    """The static route of a router that an address falls into, the longest match, with its prefix length in bits (RFC 1812
    §5.2.4.3); None where it falls into none."""
    found = [
        (r.prefixlen, route) for route in router.routes or () if (r := _read(route.to_range)) and address in r
    ]
    return max(found, key=lambda f: f[0], default=None)


@lru_cache(maxsize=2048)
def _read(text: str) -> IPv4Network | IPv6Network | None:
    try:
        return ip_network(text.strip(), strict=False)
    except ValueError:
        return None
