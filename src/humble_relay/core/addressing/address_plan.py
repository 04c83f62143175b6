"""Which address a box is given: by what kind of box it is, so that addresses can be read; never one that is taken, or in the pool."""

from collections import defaultdict
from collections.abc import Collection, Iterator
from ipaddress import IPv4Address

from humble_relay.core.addressing.subnets import Subnet, ipv4, subnet
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.lan.sockets import picture_sockets
from humble_relay.core.plan import Device, Kind, Network, Port
from humble_relay.core.plan.document import KindRange

_USUAL: tuple[tuple[tuple[Kind, ...], int, int], ...] = (
    (("router", "network-switch", "injector"), 1, 9),
    (("camera", "phone"), 10, 39),
    (("encoder", "radio", "converter", "capture"), 40, 59),
    (("decoder", "monitor", "projector", "recorder"), 60, 79),
    (("switcher", "computer", "distribution", "sound-desk"), 80, 99),
)
"""The ranges where no others were set: below 100, where pools usually begin (common practice, no source)."""


def scheme_of(case: Case) -> tuple[KindRange, ...]:
    """The ranges by kind of box that this plan keeps to."""
    own = case.plan.settings.address_ranges
    return (
        own
        if own is not None
        else tuple(KindRange(kinds=k, first=first, last=last) for k, first, last in _USUAL)
    )


def range_for(case: Case, kind: Kind) -> KindRange | None:
    """The range of a kind of box; None where the scheme has none."""
    return next((r for r in scheme_of(case) if kind in r.kinds), None)


def free_address(
    case: Case, network: Network, kind: Kind | None = None, besides: Collection[str] = ()
) -> IPv4Address | None:
    """The lowest address of the network that nobody has, outside the pool and none of `besides`: in the range of its kind of
    box where there is room, else the lowest that ends in 10 or more and is in no other kind's range, else any such."""
    sub = subnet(network)
    if sub is None:
        return None
    taken = {int(a) for text in (*addresses_on(case).get(network.id, ()), *besides) if (a := ipv4(text))}
    if sub.gateway:
        taken.add(int(sub.gateway))
    own, start = range_for(case, kind) if kind else None, int(sub.range.network_address)
    if own and (found := _first(sub, start + own.first, start + own.last, taken)):
        return found
    last = int(sub.range.broadcast_address)
    kept = (
        {start + n for r in scheme_of(case) for n in range(r.first, min(r.last, 1024) + 1)} if kind else set()
    )
    return _first(sub, start + 10, last, taken | kept) or _first(sub, start + 10, last, taken)


def _first(sub: Subnet, first: int, last: int, taken: Collection[int]) -> IPv4Address | None:
    """The first free one; the pool is stepped over, so that the cost grows with the ports and not with the range."""
    few = sub.range.prefixlen >= 31
    at = max(first, int(sub.range.network_address) + (0 if few else 1))
    last = min(last, int(sub.range.broadcast_address) - (0 if few else 1))
    pool = (int(sub.pool[0]), int(sub.pool[1])) if sub.pool else (0, -1)
    while at <= last:
        if pool[0] <= at <= pool[1]:
            at = pool[1] + 1
        elif at in taken or at % 256 in (0, 255):
            at += 1
        else:
            return IPv4Address(at)
    return None


@analysis
def addresses_on(case: Case) -> dict[str, list[str]]:
    """The addresses typed on each network."""
    found: dict[str, list[str]] = defaultdict(list)
    for port in case.ports.values():
        if port.network and port.address:
            found[port.network].append(port.address)
    return found


def allocated(case: Case, network: Network) -> Iterator[tuple[Device, Port, IPv4Address]]:
    """An address for every box of a network that has none written down, in the order of the plan. Ends early where the
    network is full, and gives none where its range cannot be read."""
    given: list[str] = []
    for device, port in _lacking(case, network):
        found = free_address(case, network, device.kind, given)
        if found is None:
            return
        given.append(str(found))
        yield device, port, found


def lacking(case: Case, network: Network) -> int:
    """How many boxes of a network, whose range can be read, have no address written down."""
    return sum(1 for _ in _lacking(case, network)) if subnet(network) else 0


def _lacking(case: Case, network: Network) -> Iterator[tuple[Device, Port]]:
    """Phones are left to DHCP: they come and go."""
    for device in case.devices.values():
        if device.kind != "phone":
            for port in picture_sockets(device):
                if port.network == network.id and not port.address and "mobile" not in port.types:
                    yield device, port
