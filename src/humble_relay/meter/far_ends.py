"""Which far ends may be measured against: none on the server's own machine, unless a person at that machine asks."""

import ipaddress
import socket

Address = ipaddress.IPv4Address | ipaddress.IPv6Address


class NotToBeMeasured(ValueError):
    """Why a far end may not be measured against, and what to do."""


def far_end(host: str, from_here: bool) -> str:
    """The address that a host stands for, to be called by it and no other. Raises NotToBeMeasured.

    Who asks from elsewhere (`from_here` false) would learn which ports of the server's own machine are open: its own
    addresses are refused, loopback and link-local ones among them.
    """
    try:
        found = socket.getaddrinfo(host, None, type=socket.SOCK_STREAM)
    except (OSError, UnicodeError):
        raise NotToBeMeasured(f"Nobody knows the name {host} here: write the address of the meter.") from None
    addresses = [address_of(str(entry[4][0])) for entry in found]
    allowed = [a for a in addresses if not a.is_multicast and (from_here or not is_own(a))]
    if not allowed:
        raise NotToBeMeasured(
            f"{host} is the machine that Humble Relay runs on, or reaches no further than its cable. Only who sits at that machine measures against it: write the address of a meter elsewhere."
        )
    return str(allowed[0])


def address_of(text: str) -> Address:
    """The address in a text, of IPv4 where it is one in the clothes of IPv6 (RFC 4291 §2.5.5.2).

    >>> address_of("::ffff:127.0.0.1"), address_of("fe80::1%eth0").is_link_local
    (IPv4Address('127.0.0.1'), True)
    """
    found = ipaddress.ip_address(text.split("%")[0])
    return getattr(found, "ipv4_mapped", None) or found


def is_own(address: Address) -> bool:
    """Whether an address is this machine's own, or reaches no further than its own cables: it can be listened on here.

    >>> is_own(address_of("127.0.0.1")), is_own(address_of("169.254.7.7")), is_own(address_of("203.0.113.7"))
    (True, True, False)
    """
    if address.is_loopback or address.is_link_local or address.is_unspecified:
        return True
    family = socket.AF_INET if address.version == 4 else socket.AF_INET6
    try:
        with socket.socket(family, socket.SOCK_DGRAM) as tried:
            tried.bind((str(address), 0))
    except OSError:
        return False
    return True
