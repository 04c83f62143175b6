"""The boxes' names and addresses as a hosts file (hosts(5))."""

from collections.abc import Iterator

from humble_relay.core.addressing.subnets import addresses_of
from humble_relay.core.judging.case import Case


def write_hosts(case: Case) -> str:
    """A line for every address that was written down, of either family, with the box's name as a host name (RFC 1123)."""
    head = f"# {case.plan.show.name}: boxes with an address of their own, as planned\n"
    return head + "".join(f"{address}\t{name}\n" for address, name in named_addresses(case))


def named_addresses(case: Case) -> Iterator[tuple[str, str]]:
    """Each address with a host name: the box's, with its socket's behind it where it has several addresses."""
    for device in case.devices.values():
        found = [(a, p) for p in device.ports if p.network for a in addresses_of(p)]
        for address, port in found:
            several = len({p.id for _, p in found}) > 1
            yield str(address), f"{device.id}-{port.id}" if several else device.id
