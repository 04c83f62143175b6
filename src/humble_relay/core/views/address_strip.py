"""The address strip: a subnet as a ruler with its pool, its addresses and their owners."""

from humble_relay.core.addressing.subnets import subnet
from humble_relay.core.frozen import Frozen
from humble_relay.core.judgement import findings
from humble_relay.core.judging.case import Case


class Mark(Frozen):
    """One address on the strip; `at` runs from 0 at the start of the range to 1 at its end."""

    ref: str
    name: str
    address: str
    addressing: str
    at: float | None
    troubled: bool
    """Whether a finding names the address."""


class Strip(Frozen):
    """A network drawn as a ruler; positions run from 0 to 1 along its range."""

    network: str
    name: str
    range: str
    first: str
    last: str
    size: int
    pool_from: float | None
    pool_to: float | None
    pool_label: str
    gateway: float | None
    uplink: str | None
    """The uplink that its traffic leaves by first."""
    marks: tuple[Mark, ...]


def strips(case: Case) -> tuple[Strip, ...]:
    """One strip a network, in the plan's order; a range that cannot be read has size 0."""
    return tuple(_strip(case, id) for id in case.networks)


def _strip(case: Case, id: str) -> Strip:
    network, sub = case.networks[id], subnet(case.networks[id])
    first = int(sub.range.network_address) if sub else 0
    size = sub.range.num_addresses if sub else 0

    def at(address: str) -> float | None:
        parts = address.split(".")
        if not sub or len(parts) != 4 or not all(p.isdigit() and int(p) < 256 for p in parts):
            return None
        offset = int.from_bytes(bytes(int(p) for p in parts), "big") - first
        return offset / size if 0 <= offset < size else None

    troubled = {
        f"{f.subject}/{f.id.rpartition(':')[2]}" for f in findings(case) if f.rule.startswith("address-")
    }
    marks = [
        Mark(
            ref=ref,
            name=case.port_name(ref),
            address=p.address,
            addressing=p.addressing,
            at=at(p.address),
            troubled=ref in troubled,
        )
        for ref, p in case.ports.items()
        if p.network == id
    ]
    pool = sub.pool if sub else None
    ends = (at(str(pool[0])), at(str(pool[1]))) if pool else (None, None)
    return Strip(
        network=id,
        name=network.name,
        range=network.range,
        first=str(sub.range.network_address) if sub else "",
        last=str(sub.range.broadcast_address) if sub else "",
        size=size,
        pool_from=ends[0],
        pool_to=ends[1],
        pool_label=f"{pool[0]} to {pool[1]}" if pool else "",
        gateway=at(network.gateway),
        uplink=case.uplink_of(id),
        marks=tuple(sorted(marks, key=lambda m: (m.at is None, m.at or 0, m.name))),
    )
