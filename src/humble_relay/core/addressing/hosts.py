"""What a host in an address means, in any spelling: a name, an address of either family, or an old short notation."""

import re
from functools import lru_cache
from ipaddress import IPv4Address, IPv6Address, ip_address
from urllib.parse import urlsplit, urlunsplit

from humble_relay.core.addressing.subnets import AddressClass, classify

_THIS_MACHINE = re.compile(r"(.+\.)?localhost|localhost\.localdomain|ip6-(localhost|loopback)")
"""Names that every machine takes for itself (RFC 6761 §6.3; common practice, no source)."""
_PART = re.compile(r"0[xX][0-9a-fA-F]+|0[0-7]*|[1-9][0-9]*")


@lru_cache(maxsize=8192)
def host_class(host: str) -> tuple[AddressClass, str] | None:
    """What a host is and the document that sets it apart; None for a name that tells nothing of itself.

    >>> [host_class(h)[0] for h in ("LocalHost.", "127.1", "0x7f000001", "::ffff:127.0.0.1", "encoder.local")]
    ['this machine', 'this machine', 'this machine', 'this machine', 'self-named']
    """
    name = host.strip().rstrip(".").lower()
    if _THIS_MACHINE.fullmatch(name):
        return "this machine", "RFC 6761"
    address = address_in(name)
    if address is not None:
        return classify(str(address))
    if name.endswith(".local"):
        return "self-named", "RFC 6762"
    return None


@lru_cache(maxsize=8192)
def host_of(address: str) -> str:
    """The host of an address that was typed with a scheme or without; empty where none can be read.

    >>> host_of("srt://203.0.113.7:9000"), host_of("decoder.example:5000"), host_of("")
    ('203.0.113.7', 'decoder.example', '')
    """
    try:
        return urlsplit(address if "//" in address else f"//{address}").hostname or ""
    except ValueError:
        return ""


def readdressed(address: str, host: str) -> str:
    """The address with another host; user, port, path and settings stay.

    >>> readdressed("srt://203.0.113.7:9000?mode=caller", "10.0.0.5"), readdressed("203.0.113.7:5000", "10.0.0.5")
    ('srt://10.0.0.5:9000?mode=caller', '10.0.0.5:5000')
    """
    bare = "//" not in address
    try:
        parts = urlsplit(f"//{address}" if bare else address)
        user, _, _ = parts.netloc.rpartition("@")
        port = f":{parts.port}" if parts.port else ""
    except ValueError:
        return address
    netloc = f"{user}@{host}{port}" if user else f"{host}{port}"
    return urlunsplit(parts._replace(netloc=netloc)).removeprefix("//" if bare else "")


@lru_cache(maxsize=8192)
def address_in(text: str) -> IPv4Address | IPv6Address | None:
    """The address a host spells, mapped ones as the IPv4 address they stand for; None where it is none.

    Besides today's notations those that `inet_aton` takes: one to four numbers, each decimal, octal (0…) or hexadecimal
    (0x…), of which the last fills what is left (4.2BSD; POSIX `inet_addr`).
    """
    try:
        found = ip_address(text.strip("[]"))
    except ValueError:
        return _short_notation(text)
    return (found.ipv4_mapped or found) if isinstance(found, IPv6Address) else found


def _short_notation(text: str) -> IPv4Address | None:
    parts = text.split(".")
    if not 1 <= len(parts) <= 4 or not all(_PART.fullmatch(part) for part in parts):
        return None
    *bytes_, last = (
        int(p, 16) if p[:2] in ("0x", "0X") else int(p, 8) if p[0] == "0" else int(p) for p in parts
    )
    left = 4 - len(bytes_)
    if any(b > 255 for b in bytes_) or last >= 256**left:
        return None
    value = sum(b << 8 * (3 - i) for i, b in enumerate(bytes_)) + last
    return IPv4Address(value)
