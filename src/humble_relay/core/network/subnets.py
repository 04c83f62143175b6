"""What an IPv4 or IPv6 address is, and what is wrong with the addresses of a plan."""

from collections import defaultdict
from collections.abc import Iterator
from ipaddress import IPv4Address, IPv4Network, IPv6Address, ip_address, ip_network
from typing import Literal, NamedTuple

from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Fault, Fix, rule
from humble_relay.core.plan import Network, Port
from humble_relay.core.plan.edits import SetField, SetPort

AddressClass = Literal[
    "this machine",
    "self-assigned",
    "private",
    "carrier shared",
    "documentation",
    "multicast",
    "unspecified",
    "public",
]

_CLASSES: tuple[tuple[AddressClass, tuple[str, ...], str], ...] = (
    ("this machine", ("127.0.0.0/8", "::1/128"), "RFC 1122, RFC 4291"),
    ("self-assigned", ("169.254.0.0/16", "fe80::/10"), "RFC 3927, RFC 4291"),
    ("private", ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "fc00::/7"), "RFC 1918, RFC 4193"),
    ("carrier shared", ("100.64.0.0/10",), "RFC 6598"),
    (
        "documentation",
        ("192.0.2.0/24", "198.51.100.0/24", "203.0.113.0/24", "2001:db8::/32"),
        "RFC 5737, RFC 3849",
    ),
    ("multicast", ("224.0.0.0/4", "ff00::/8"), "RFC 5771, RFC 4291"),
    ("unspecified", ("0.0.0.0/8", "::/128"), "RFC 1122, RFC 4291"),
)
_NETWORKS = [(name, ip_network(r), source) for name, ranges, source in _CLASSES for r in ranges]


def classify(address: str) -> tuple[AddressClass, str]:
    """The class of an address and the RFC that sets it apart. Raises ValueError for no address."""
    parsed = ip_address(address)
    for name, network, source in _NETWORKS:
        if parsed in network:
            return name, source
    return "public", "RFC 1122" if isinstance(parsed, IPv4Address) else "RFC 4291"


class Subnet(NamedTuple):
    """A network's addresses, read; None where the typed text is not an address."""

    range: IPv4Network
    gateway: IPv4Address | None
    pool: tuple[IPv4Address, IPv4Address] | None


def subnet(network: Network) -> Subnet | None:
    """The network's range, gateway and pool; None when the range itself cannot be read."""
    try:
        found = ip_network(network.range, strict=True)
    except ValueError:
        return None
    if not isinstance(found, IPv4Network):
        return None
    first, last = _v4(network.pool_first), _v4(network.pool_last)
    return Subnet(found, _v4(network.gateway), (first, last) if first and last else None)


def free_address(case: Case, network: Network) -> IPv4Address | None:
    """The lowest address of the network that nobody has, outside the pool, and none that ends in 0 to 9.

    What is taken and the pool are stepped over: the cost grows with the ports, not with the range.
    """
    sub = subnet(network)
    if sub is None:
        return None
    hosts = sub.range.num_addresses - (2 if sub.range.prefixlen < 31 else 0)
    at = int(sub.range.network_address) + (1 if sub.range.prefixlen < 31 else 0)
    last = at + hosts - 1
    taken = {int(a) for text in case.once(addresses_on).get(network.id, ()) if (a := _v4(text))}
    if sub.gateway:
        taken.add(int(sub.gateway))
    pool = (int(sub.pool[0]), int(sub.pool[1])) if sub.pool else (0, -1)
    while at <= last:
        if pool[0] <= at <= pool[1]:
            at = pool[1] + 1
        elif at % 256 < 10:
            at += 10 - at % 256
        elif at in taken:
            at += 1
        else:
            return IPv4Address(at)
    return None


def addresses_on(case: Case) -> dict[str, list[str]]:
    """The addresses typed on each network."""
    found: dict[str, list[str]] = defaultdict(list)
    for port in case.ports.values():
        if port.network and port.address:
            found[port.network].append(port.address)
    return found


@rule("network-range", "addresses")
def network_range(case: Case) -> Iterator[Fault]:
    """Networks whose own figures do not make sense."""
    for network in case.networks.values():
        sub, wrong = subnet(network), ""
        fixes: tuple[Fix, ...] = ()
        if not network.range:
            continue
        if sub is None:
            wrong = f"{network.name}: {network.range} is not an IPv4 range such as 192.168.20.0/24."
            try:
                whole = str(ip_network(network.range, strict=False))
                edit = SetField(noun="network", id=network.id, field="range", value=whole)
                fixes = (Fix(title=f"Use {whole}", edits=(edit,)),)
            except ValueError:
                pass
        elif network.gateway and (sub.gateway is None or sub.gateway not in sub.range):
            wrong = f"{network.name}: the gateway {network.gateway} is not inside {network.range}."
        elif (network.pool_first or network.pool_last) and (
            sub.pool is None or sub.pool[0] > sub.pool[1] or any(a not in sub.range for a in sub.pool)
        ):
            wrong = f"{network.name}: the DHCP pool {network.pool_first} to {network.pool_last} does not lie inside {network.range}."
        if wrong:
            yield Fault(
                severity="stops",
                noun="network",
                subject=network.id,
                wrong=wrong,
                means="No address on this network can be checked, and devices set from these figures will not talk.",
                do="Read the range, gateway and pool off the router again.",
                fixes=fixes,
            )


@rule("address-fault", "addresses")
def address_fault(case: Case) -> Iterator[Fault]:
    """Addresses that cannot work where they are: class, subnet, gateway, pool."""
    for ref, port in case.ports.items():
        network = case.networks.get(port.network or "")
        if not port.address or network is None:
            continue
        trouble = _trouble(port, network)
        if trouble:
            wrong, means = trouble
            yield Fault(
                severity="stops",
                noun="device",
                subject=case.device_of(ref).id,
                part=port.id,
                wrong=f"{case.port_name(ref)}: {wrong}",
                means=means,
                do="Give it an address of its own on this network, or leave it to DHCP.",
                fixes=tuple(_readdress(case, ref, network)),
            )


@rule("address-twice", "addresses")
def address_twice(case: Case) -> Iterator[Fault]:
    """One address on two devices of a network."""
    holders: dict[tuple[str, str], list[str]] = defaultdict(list)
    for ref, port in case.ports.items():
        if port.network and port.address:
            holders[port.network, port.address].append(ref)
    for (network, address), refs in holders.items():
        for ref in refs[1:]:
            yield Fault(
                severity="stops",
                noun="device",
                subject=case.device_of(ref).id,
                part=case.ports[ref].id,
                wrong=f"{case.port_name(ref)} and {case.port_name(refs[0])} both have {address}.",
                means="They take turns being reachable: it works for a minute, then it does not.",
                do="Give one of them another address.",
                fixes=tuple(_readdress(case, ref, case.networks[network])),
            )


@rule("address-missing", "addresses")
def address_missing(case: Case) -> Iterator[Fault]:
    """Ports set to a fixed or reserved address that has not been written down."""
    for ref, port in case.ports.items():
        network = case.networks.get(port.network or "")
        if network and port.addressing != "dhcp" and not port.address:
            yield Fault(
                severity="risks",
                noun="device",
                subject=case.device_of(ref).id,
                part=port.id,
                wrong=f"{case.port_name(ref)} is to have a {port.addressing} address, and none is given.",
                means="On the day somebody guesses one, and the guess is somebody else's address.",
                do="Choose an address outside the pool.",
                fixes=tuple(_readdress(case, ref, network)),
            )


def _trouble(port: Port, network: Network) -> tuple[str, str] | None:
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
    address = _v4(port.address)
    if address is None or address not in sub.range:
        return (
            f"{port.address} is outside {network.name} ({network.range}).",
            "It cannot reach its gateway or any box on this network.",
        )
    if address == sub.gateway:
        return f"{port.address} is the gateway's own address.", "The whole network loses its way out."
    if address in (sub.range.network_address, sub.range.broadcast_address) and sub.range.prefixlen < 31:
        return f"{port.address} names the whole network, not one device.", "No device can have it."
    if port.addressing == "fixed" and sub.pool and sub.pool[0] <= address <= sub.pool[1]:
        return (
            f"{port.address} is fixed but lies in the DHCP pool {sub.pool[0]} to {sub.pool[1]}.",
            "Some evening the router hands it to a phone, and both drop out.",
        )
    return None


def _readdress(case: Case, ref: str, network: Network) -> Iterator[Fix]:
    free = free_address(case, network)
    if free:
        fixed = "fixed" if case.ports[ref].addressing == "dhcp" else case.ports[ref].addressing
        yield Fix(
            title=f"Use {free}, {fixed}",
            needs="typing it into the device" if fixed == "fixed" else "a reservation in the router",
            edits=(
                SetPort(port=ref, field="interface.address", value=str(free)),
                SetPort(port=ref, field="interface.addressing", value=fixed),
            ),
        )
    yield Fix(
        title="Leave it to DHCP",
        edits=(
            SetPort(port=ref, field="interface.address", value=""),
            SetPort(port=ref, field="interface.addressing", value="dhcp"),
        ),
    )


def _v4(text: str) -> IPv4Address | None:
    try:
        parsed: IPv4Address | IPv6Address = ip_address(text)
    except ValueError:
        return None
    return parsed if isinstance(parsed, IPv4Address) else None
