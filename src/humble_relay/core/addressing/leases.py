"""Whether a DHCP server gives an address to a socket that waits for one."""

from collections.abc import Iterator

from humble_relay.core.addressing.address_faults import PortOnNetwork
from humble_relay.core.addressing.subnets import subnet
from humble_relay.core.judging.answer import (
    HOLDS,
    Numbers,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    holds,
    wants,
    within,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import NETWORK_PORTS
from humble_relay.core.lan.wired_paths import alone_with
from humble_relay.core.plan import Network


def _leased(case: Case) -> Iterator[tuple[Thing, PortOnNetwork]]:
    for thing, (ref, port, network) in NETWORK_PORTS.each(case):
        routed = case.router_of.get(network.id)
        own = routed is not None and case.device_of(ref).id == routed.device
        if port.addressing != "fixed" and not (own or port.address):
            yield thing, (ref, port, network)


LEASED: SubjectKind[PortOnNetwork] = SubjectKind("socket that waits for an address (DHCP)", _leased)


@check(
    "no-lease", LEASED, "addresses", "Does a DHCP server reach it?", "RFC 2131; RFC 3927; common practice", "plan", tried=True
)  # fmt: skip
def no_lease(case: Case, what: PortOnNetwork) -> Verdict:
    """Whether something on its network gives addresses: a router does unless the plan says otherwise (common practice), or a
    server whose pool is known. Two devices that are cabled to each other alone get none: some then take one of themselves
    (RFC 3927) and find each other by name, others wait."""
    ref, _port, network = what
    other = alone_with(case, ref)
    if other:
        return doubtful(
            lambda: Words(
                f"{case.port_name(ref)} waits for an address on {network.name}, and its cable leads to {other.name} alone: nobody gives it one.",
                "It takes an address of its own, from 169.254.0.0/16, or none at all.",
                "Set fixed addresses of one network at both ends, or plug both into a switch of that network.",
            ),
            compared=(ref, other.id),
        )
    served = network.id in case.router_of or network.pool_first or network.medium == "wifi"
    if served or case.sites[network.site].run_by == "venue":
        return HOLDS if network.pool_first else holds(evidence="practice")
    asked = f"What gives out addresses on {network.name} (DHCP), and from which on? Nothing on it does in this plan."
    return wants(Want(Thing("network", network.id), "pool_first", asked))


def _second_servers(case: Case) -> Iterator[tuple[Thing, PortOnNetwork]]:
    for thing, (ref, port, network) in NETWORK_PORTS.each(case):
        router = case.router_of.get(network.id)
        if (
            port.interface
            and port.interface.serves_dhcp
            and not (router and router.device == case.device_of(ref).id)
        ):
            yield thing, (ref, port, network)


SECOND_SERVERS: SubjectKind[PortOnNetwork] = SubjectKind(
    "device that gives out addresses beside the network's router", _second_servers
)


@check(
    "two-dhcp", SECOND_SERVERS, "addresses", "Does only one DHCP server give out addresses there?", "RFC 2131; common practice", "plan", tried=True
)  # fmt: skip
def two_dhcp(case: Case, what: PortOnNetwork) -> Verdict:
    """Whether the network has a DHCP server besides: its router's, whose pool is known, or another device's. Whichever answers first is
    believed, with the gateway it names."""
    ref, _, network = what
    others = [r for _, (r, _p, n) in _second_servers(case) if n.id == network.id and r != ref]
    if not network.pool_first and not others:
        return HOLDS
    beside = case.port_name(others[0]) if others else "its router"
    return doubtful(
        lambda: Words(
            f"{case.port_name(ref)} gives out addresses on {network.name}, and so does {beside}.",
            "Whichever answers first is believed: some devices get a gateway that leads nowhere, others next time.",
            f"Switch DHCP off on {case.device_of(ref).name}, or leave it to that one alone.",
        ),
        compared=(ref, beside),
    )


def _pools(case: Case) -> Iterator[tuple[Thing, tuple[Network, int, int]]]:
    clients: dict[str, int] = {}
    for _, (_, port, network) in NETWORK_PORTS.each(case):
        if port.addressing == "dhcp":
            clients[network.id] = clients.get(network.id, 0) + 1
    for id, count in clients.items():
        sub = subnet(case.networks[id])
        if sub and sub.pool and sub.pool[0] <= sub.pool[1]:
            size = int(sub.pool[1]) - int(sub.pool[0]) + 1
            yield Thing("network", id, "pool"), (case.networks[id], count, size)


POOLS: SubjectKind[tuple[Network, int, int]] = SubjectKind(
    "network whose DHCP pool is known, with its clients", _pools
)


@check(
    "pool-too-small", POOLS, "addresses", "Has its DHCP pool an address for every device that waits for one?", "RFC 2131 §4.3.1; arithmetic", "plan"
)  # fmt: skip
def pool_too_small(_: Case, what: tuple[Network, int, int]) -> Verdict:
    """Whether the addresses of a pool are as many as the sockets of the plan that DHCP gives one; the phones of the crew come on
    top, and are nobody's in the plan."""
    network, count, size = what
    return within(
        Numbers(count, size, size, ""),
        lambda: Words(
            f"{count} devices wait for an address on {network.name}, and its pool {network.pool_first} to {network.pool_last} has {size}.",
            "The last ones that are switched on get none, another device each day.",
            "Make the pool larger in the router, or give some devices fixed addresses outside it.",
        ),
    )


CHECKS = (no_lease, pool_too_small, two_dhcp)
