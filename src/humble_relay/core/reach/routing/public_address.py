"""What a line looks like from outside: its address, and whether anybody can call it."""

from humble_relay.core.addressing.subnets import classify, ipv4
from humble_relay.core.plan import OutsideAddress, Uplink

_WORDS: dict[OutsideAddress, str] = {
    "public": "a public address",
    "shared": "an address that its carrier shares among many (RFC 6598)",
    "private": "a private address, of a network before it (RFC 1918)",
}


def outside_of(line: Uplink) -> OutsideAddress | None:
    """What kind of address a line has outside: told by the address itself, or said; None where neither is known."""
    if ipv4(line.address) is None:
        return line.outside
    kind = classify(line.address)[0]
    if kind in ("public", "documentation"):
        return "public"
    return "shared" if kind == "carrier shared" else "private"


def address_words(line: Uplink) -> str:
    """The outside address of a line in words, such as `203.0.113.7, a public address`."""
    kind = outside_of(line)
    said = _WORDS[kind] if kind else "an address that nobody looked at" if not line.address else ""
    return ", ".join(filter(None, (line.address, said)))
