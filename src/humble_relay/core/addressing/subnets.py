"""What an IPv4 or IPv6 address is, and which addresses a network has."""

from functools import lru_cache
from ipaddress import IPv4Address, IPv4Network, IPv6Address, IPv6Network, ip_address, ip_network
from typing import Literal, NamedTuple

from humble_relay.core.plan import Network, Port

AddressClass = Literal[
    "this machine",
    "self-assigned",
    "private",
    "carrier shared",
    "documentation",
    "multicast",
    "unspecified",
    "public",
    "self-named",
]
"""`self-named`: a name that multicast DNS gives, known on its own network only."""

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


@lru_cache(maxsize=8192)
def classify(address: str) -> tuple[AddressClass, str]:
    """The class of an address and the RFC that sets it apart. Raises ValueError for no address.

    >>> classify("100.64.3.1")
    ('carrier shared', 'RFC 6598')
    """
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
    return _subnet(network.range, network.gateway, network.pool_first, network.pool_last)


@lru_cache(maxsize=2048)
def _subnet(text: str, gateway: str, pool_first: str, pool_last: str) -> Subnet | None:
    try:
        found = ip_network(text, strict=False)  # typed with host bits it names the same network
    except ValueError:
        return None
    if not isinstance(found, IPv4Network):
        return None
    first, last = ipv4(pool_first), ipv4(pool_last)
    return Subnet(found, ipv4(gateway), (first, last) if first and last else None)


def ipv6_range(network: Network) -> IPv6Network | None:
    """The network's IPv6 prefix; None where it has none, or the text is none."""
    return _prefix(network.range_v6) if network.range_v6 else None


@lru_cache(maxsize=2048)
def _prefix(text: str) -> IPv6Network | None:
    try:
        found = ip_network(text, strict=False)
    except ValueError:
        return None
    return found if isinstance(found, IPv6Network) else None


def own_range(port: Port, network: Network) -> IPv4Network | None:
    """What a socket takes for its network, by its address and mask; None where its address or the network's range is not known."""
    address, sub = ipv4(port.address), subnet(network)
    if address is None or sub is None:
        return None
    bits = port.interface.mask_bits if port.interface else None
    return _around(address, 16 if address.is_link_local else bits or sub.range.prefixlen)


@lru_cache(maxsize=4096)
def _around(address: IPv4Address, bits: int) -> IPv4Network:
    return IPv4Network((address, bits), strict=False)


def is_foreign(port: Port, network: Network) -> bool:
    """Whether a socket has an address of another range than its network, so that it reaches neither its gateway nor the others."""
    own, sub = own_range(port, network), subnet(network)
    return own is not None and sub is not None and not own.overlaps(sub.range)


def addresses_of(port: Port) -> tuple[IPv4Address | IPv6Address, ...]:
    """The addresses of either family that are written down for a port and can be read."""
    found = (
        address_or_none(text) for text in (port.address, port.interface.address_v6 if port.interface else "")
    )
    return tuple(a for a in found if a is not None)


@lru_cache(maxsize=8192)
def address_or_none(text: str) -> IPv4Address | IPv6Address | None:
    """The address of either family in the text; None where it is none."""
    try:
        return ip_address(text)
    except ValueError:
        return None


def ipv4(text: str) -> IPv4Address | None:
    """The IPv4 address in the text; None where it is none."""
    parsed = address_or_none(text)
    return parsed if isinstance(parsed, IPv4Address) else None
