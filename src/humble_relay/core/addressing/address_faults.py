"""Whether the addresses that were written down can work where they are."""

from collections import defaultdict
from functools import partial
from ipaddress import ip_network

from humble_relay.core.addressing.hosts import host_of
from humble_relay.core.addressing.subnets import (
    Subnet,
    address_or_none,
    classify,
    ipv4,
    ipv6_range,
    is_foreign,
    own_range,
    subnet,
)
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Want, Words, doubtful, fails, wants
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import listed
from humble_relay.core.judging.things import ADDRESSED_PORTS, NETWORK_PORTS, NETWORKS
from humble_relay.core.plan import Device, Network, Port, Router, StaticRoute

PortOnNetwork = tuple[str, Port, Network]


@check(
    "network-range", NETWORKS, "addresses",
    "Do the range, the gateway and the pool of this network belong together?", "RFC 4632", "standard",
)  # fmt: skip
def network_range(case: Case, network: Network) -> Verdict:
    """Whether a network's own figures make sense: one that cannot work fails, a pool that may hand out the gateway is
    doubtful, since many servers leave their own address out."""
    sub = subnet(network)
    wrong = _figures_wrong(network, sub)
    if wrong:
        return fails(
            lambda: Words(
                f"{network.name}: {wrong}",
                "No address on this network can be checked, and devices set from these figures will not talk.",
                "Read the range, gateway and pool off the router again.",
            )
        )
    if own := _other_gateway(case, network, sub):
        return fails(
            lambda: Words(
                f"{network.name} has the gateway {network.gateway}, and its router has {own} there.",
                "Devices on this network see each other and nothing else: what is meant for outside goes to nobody.",
                f"Write {own} as the gateway, in the plan and in what was set by hand.",
            )
        )
    if beside := _router_beside(case, network, sub):
        return doubtful(
            lambda: Words(
                f"{network.name} has the gateway {network.gateway}, and {case.port_name(beside)}, a router, has {case.ports[beside].address} there.",
                "Either the gateway is mistyped, and devices see each other and nothing else; or the network has two routers, and each needs a route to what is behind the other.",
                f"Read the gateway off the router again, or say that {case.device_of(beside).name} is the router of this network.",
            ),
            compared=(network.gateway, case.ports[beside].address),
        )
    if bool(network.pool_first) != bool(network.pool_last):
        field, said = ("pool_last", "end") if network.pool_first else ("pool_first", "begin")
        asked = f"At which address does the DHCP pool of {network.name} {said}? The router shows it."
        return wants(Want(Thing("network", network.id), field, asked))
    if sub and sub.pool and sub.gateway and sub.pool[0] <= sub.gateway <= sub.pool[1]:
        return doubtful(
            lambda: Words(
                f"{network.name}: the gateway {network.gateway} lies in the DHCP pool {network.pool_first} to {network.pool_last}.",
                "Unless the server leaves it out, some device is given it, and the whole network loses its internet.",
                "Begin the pool above the gateway.",
            ),
            compared=(
                network.gateway,
                network.pool_first,
                network.pool_last,
            ),
        )
    return HOLDS


def _other_gateway(case: Case, network: Network, sub: Subnet | None) -> str:
    """The address of the network's router on it, where the gateway is another; empty where it is that, or not known."""
    router = case.router_of.get(network.id)
    ports = case.devices[router.device].ports if router and router.device else ()
    own = [p.address for p in ports if p.network == network.id and ipv4(p.address)]
    return own[0] if own and sub and sub.gateway and sub.gateway not in map(ipv4, own) else ""


def _router_beside(case: Case, network: Network, sub: Subnet | None) -> str | None:
    """The socket of a router on a network whose own router is no device of the plan, where that has another address than the gateway."""
    router = case.router_of.get(network.id)
    if router is None or router.device or sub is None or sub.gateway is None:
        return None
    on = (
        ref
        for ref, p in case.ports.items()
        if p.network == network.id
        and p.role != "uplink"
        and case.device_of(ref).kind == "router"
        and ipv4(p.address) not in (None, sub.gateway)
    )
    return next(on, None)


def _figures_wrong(network: Network, sub: Subnet | None) -> str | None:
    """What cannot be about a network's range, gateway and pool, in words; None where nothing is."""
    if sub is None:
        return f"{network.range} is not an IPv4 range such as 192.168.20.0/24."
    nobody = (sub.range.network_address, sub.range.broadcast_address) if sub.range.prefixlen < 31 else ()
    if network.gateway and (sub.gateway is None or sub.gateway not in sub.range):
        return f"the gateway {network.gateway} is not inside {network.range}."
    if sub.gateway in nobody:
        return f"the gateway {network.gateway} names the whole network, not one device."
    for end in filter(None, (network.pool_first, network.pool_last)):
        if (read := ipv4(end)) is None or read not in sub.range:
            return f"the DHCP pool's {end} does not lie inside {network.range}."
    if network.pool_first and network.pool_last:
        said = f"the DHCP pool {network.pool_first} to {network.pool_last}"
        if sub.pool is None or sub.pool[0] > sub.pool[1] or any(a not in sub.range for a in sub.pool):
            return f"{said} does not lie inside {network.range}."
        if set(sub.pool) & set(nobody):
            return f"{said} holds an address that names the whole network, not one device."
    return None


@analysis
def ranges_on_routers(case: Case) -> dict[str, list[tuple[Network, Subnet]]]:
    """The networks of each router whose range can be read, in the plan's order."""
    found: dict[str, list[tuple[Network, Subnet]]] = defaultdict(list)
    for network in case.networks.values():
        router, sub = case.router_of.get(network.id), subnet(network)
        if router and sub:
            found[router.id].append((network, sub))
    return found


ROUTED: SubjectKind[tuple[Network, Subnet]] = SubjectKind(
    "network of a router",
    lambda case: (
        (Thing("network", network.id), (network, sub))
        for networks in ranges_on_routers(case).values()
        for network, sub in networks
    ),
)


@check(
    "networks-overlap", ROUTED, "addresses",
    "Does no other network of its router have any of its addresses?", "RFC 4632; RFC 1812 §5.2.4", "standard",
)  # fmt: skip
def networks_overlap(case: Case, what: tuple[Network, Subnet]) -> Verdict:
    """Whether a router can tell the network from its others: two that overlap it cannot."""
    network, sub = what
    for other, of_other in ranges_on_routers(case)[case.router_of[network.id].id]:
        if other.id == network.id:
            return HOLDS
        if of_other.range.overlaps(sub.range):
            return fails(partial(_overlapping, network, other))
    return HOLDS


def _overlapping(network: Network, other: Network) -> Words:
    return Words(
        f"{network.name} ({network.range}) and {other.name} ({other.range}) share addresses on one router.",
        "The router sends what is meant for one to the other: half of the boxes answer, and not always.",
        "Give one of them another range.",
    )


@check(
    "address-fault", ADDRESSED_PORTS, "addresses",
    "Can a device have this address on this network?", "RFC 1122, RFC 1918, RFC 3927, RFC 4632", "standard",
)  # fmt: skip
def address_fault(case: Case, what: PortOnNetwork) -> Verdict:
    """Whether an address can work where it is: its class, the subnet, the gateway, the pool."""
    ref, port, network = what
    trouble = _trouble(port, network, _is_router(case, ref, network))
    if trouble is None and not network.range:
        asked = f"Which range has {network.name}, such as 192.168.20.0/24? {port.address} is on it."
        return wants(Want(Thing("network", network.id), "range", asked))
    if trouble is None:
        return HOLDS
    wrong, means = trouble
    if apart := neighbours_alike(case, ref, port, network):
        return doubtful(
            lambda: Words(
                f"{case.port_name(ref)}: {wrong} {listed(d.name for d in apart)} has one alike, and the two reach each other.",
                "Nothing else on the network reaches either of them.",
                f"Give both addresses of {network.name}, or leave them to DHCP.",
            ),
            compared=(port.address, *(d.id for d in apart)),
        )
    say = partial(
        Words,
        f"{case.port_name(ref)}: {wrong}",
        means,
        "Give it an address of its own on this network, or leave it to DHCP.",
    )
    return doubtful(say, compared=(port.address,)) if _by_ipv6_alone(case, ref) else fails(say)


def _by_ipv6_alone(case: Case, ref: str) -> bool:
    """Whether every stream of a device is called by an IPv6 address, so that none goes by its IPv4 address."""
    id = case.device_of(ref).id
    hosts = [host_of(s.address) for s in (*case.streams_from.get(id, ()), *case.streams_to.get(id, ()))]
    return bool(hosts) and all(":" in host for host in hosts)


def neighbours_alike(case: Case, ref: str, port: Port, network: Network) -> tuple[Device, ...]:
    """The devices at the other ends of its streams that are on the same network, and by their addresses and masks on the same
    foreign range as it: such talk to each other on the cable, whatever the range of the network is (RFC 1122 §3.3.1.1; RFC 3927
    §2.6). Whether its other streams get through is a question of each."""
    id, own = case.device_of(ref).id, own_range(port, network)
    if not is_foreign(port, network):
        return ()
    streams = (*case.streams_from.get(id, ()), *case.streams_to.get(id, ()))
    others = [case.devices[s.to_device if s.from_device == id else s.from_device] for s in streams]
    alike = (d for d in others if any(p.network == network.id and own_range(p, network) == own and p.address != port.address for p in d.ports))  # fmt: skip
    return tuple({d.id: d for d in alike}.values())


@analysis
def among_themselves(case: Case) -> frozenset[str]:
    """The sockets that have an address of another range than their network, and a neighbour of that range to talk to."""
    return frozenset(
        ref
        for _, (ref, port, network) in ADDRESSED_PORTS.each(case)
        if neighbours_alike(case, ref, port, network)
    )


@analysis
def holders(case: Case) -> dict[tuple[str, str], list[str]]:
    """The ports that were given each address, by network and address, in the plan's order."""
    found: dict[tuple[str, str], list[str]] = defaultdict(list)
    for ref, port in case.ports.items():
        if port.network and port.address:
            found[port.network, port.address].append(ref)
    return found


@check(
    "address-twice", ADDRESSED_PORTS, "addresses", "Is it the only device with this address?", "RFC 5227", "standard"
)  # fmt: skip
def address_twice(case: Case, what: PortOnNetwork) -> Verdict:
    """Whether another device of the network was given the address before this one."""
    ref, port, network = what
    first = holders(case)[network.id, port.address][0]
    if first == ref:
        return HOLDS
    return fails(
        lambda: Words(
            f"{case.port_name(ref)} and {case.port_name(first)} both have {port.address}.",
            "They take turns being reachable: it works for a minute, then it does not.",
            "Give one of them another address.",
        )
    )


TO_BE_ADDRESSED: SubjectKind[PortOnNetwork] = SubjectKind(
    "port with a fixed or reserved address",
    lambda case: ((thing, each) for thing, each in NETWORK_PORTS.each(case) if each[1].addressing != "dhcp"),
)


@check(
    "address-missing", TO_BE_ADDRESSED, "addresses",
    "Is the address that it is to have written down?", "common practice, no source", "plan",
)  # fmt: skip
def address_missing(case: Case, what: PortOnNetwork) -> Verdict:
    """Whether a fixed or reserved address was written down."""
    ref, port, _network = what
    if port.address:
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{case.port_name(ref)} is to have a {port.addressing} address, and none is given.",
            "On the day an address is guessed, and another device has it already.",
            "Choose an address outside the pool.",
        ),
        compared=(port.addressing,),
    )


@check(
    "network-elsewhere", NETWORK_PORTS, "addresses",
    "Is the network at the site where the device stands?", "arithmetic", "plan",
)  # fmt: skip
def network_elsewhere(case: Case, what: PortOnNetwork) -> Verdict:
    """Whether a device is on a network of the site it stands in."""
    ref, _port, network = what
    device = case.device_of(ref)
    site = case.site_of(device)
    if site is None or network.site == site.id:
        return HOLDS
    return fails(
        lambda: Words(
            f"{case.port_name(ref)} is on {network.name}, but {device.name} stands at {site.name}.",
            "There is no such network where the box is: it will not come up.",
            "Put the device on a network of its own site, or move it.",
        )
    )


ROUTES: SubjectKind[tuple[Router, StaticRoute]] = SubjectKind(
    "static route of a router",
    lambda case: ((Thing("router", r.id, f"route-{n}"), (r, route)) for r in case.plan.routers for n, route in enumerate(r.routes or ())),
)  # fmt: skip


@check(
    "route-fault", ROUTES, "addresses", "Can this static route be set: its range, and a next router on a network of its own?",
    "RFC 4632; RFC 1812 §5.2.4", "standard",
)  # fmt: skip
def route_fault(case: Case, what: tuple[Router, StaticRoute]) -> Verdict:
    """Whether the range of a static route can be read, and its next hop is an address on a network of the router."""
    router, route = what
    via = address_or_none(route.via.strip())
    try:
        ip_network(route.to_range.strip())
    except ValueError:
        wrong = f"{route.to_range!r} is not a range such as 10.5.0.0/24"
        return fails(partial(_unset, router, wrong))
    if via is None:
        return fails(partial(_unset, router, f"{route.via!r} is not an address of a router"))
    outer = (b for up in router.uplinks if (b := case.uplinks[up].behind))
    near = [case.networks[n] for n in (*router.networks, *outer)]
    ranges = [ipv6_range(n) if via.version == 6 else (s.range if (s := subnet(n)) else None) for n in near]
    if via.is_link_local or None in ranges or any(r is not None and via in r for r in ranges):
        return HOLDS
    return fails(partial(_unset, router, f"{route.via} is on no network of it"))


def _unset(router: Router, wrong: str) -> Words:
    return Words(
        f"A static route of {router.name} cannot be set: {wrong}.",
        "The router refuses it, or keeps it and never uses it.",
        "Write the range with its mask length, and the address that the next router has on a network of this one.",
    )


CHECKS = (
    network_range,
    networks_overlap,
    address_fault,
    address_twice,
    address_missing,
    network_elsewhere,
    route_fault,
)


def _is_router(case: Case, ref: str, network: Network) -> bool:
    """Whether a port is the network's gateway: of the device that routes it."""
    device, router = case.device_of(ref), case.router_of.get(network.id)
    return device.kind == "router" and (router is None or router.device in (None, device.id))


def _trouble(port: Port, network: Network, is_router: bool) -> tuple[str, str] | None:
    """What is wrong with an address and what it means on the day, or None."""
    try:
        kind, source = classify(port.address)
    except ValueError:
        return f"{port.address!r} is not an address.", "Nothing can be sent to it."
    if kind == "this machine":
        return (
            f"{port.address} means 'this machine' on every machine ({source}).",
            "It works when tried on the box itself and from nowhere else.",
        )
    if kind == "self-assigned":
        return (
            f"{port.address} is one a box gives itself when DHCP did not answer ({source}).",
            "The box is not really on the network: look at the cable, the socket and the DHCP server.",
        )
    if kind in ("multicast", "unspecified"):
        return f"{port.address} is a {kind} address ({source}).", "No device can have it."
    sub = subnet(network)
    if sub is None:
        return None
    address = ipv4(port.address)
    if address is None or address not in sub.range:
        return (
            f"{port.address} is outside {network.name} ({network.range}).",
            "It cannot reach its gateway or any box on this network.",
        )
    if address == sub.gateway and not is_router:
        return f"{port.address} is the gateway's own address.", "The whole network loses its internet."
    if address in (sub.range.network_address, sub.range.broadcast_address) and sub.range.prefixlen < 31:
        return f"{port.address} names the whole network, not one device.", "No device can have it."
    if port.addressing == "fixed" and sub.pool and sub.pool[0] <= address <= sub.pool[1]:
        return (
            f"{port.address} is fixed but lies in the DHCP pool {sub.pool[0]} to {sub.pool[1]}.",
            "Some evening the router hands it to a phone, and both drop out.",
        )
    return None
