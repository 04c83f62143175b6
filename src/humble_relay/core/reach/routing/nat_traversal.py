"""Whether two boxes that call each other at once meet: through their routers' translation, or by a relay.

A translator **maps** a box's port to one outside, the same towards everybody (endpoint-independent) or another towards each
address, or address and port, that it sends to; and it **filters** what comes back: from everybody, from an address that was
sent to, or from that address and port only (RFC 4787 §4.1, §5). Where several stand behind each other the strictest counts.
"""

from collections.abc import Callable, Iterator, Sequence
from itertools import product
from typing import NamedTuple, get_args

from humble_relay.core.egress.outbound import in_the_cloud, sockets_out, uplink_by_policy
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device, NatBehaviour, Router, Stream, Uplink
from humble_relay.core.reach.routing.public_address import outside_of

KINDS: tuple[NatBehaviour, ...] = get_args(NatBehaviour)
"""From the most open to the strictest."""
_ONE, _ADDRESS, _EACH = KINDS


class NatSide(NamedTuple):
    """How what is in front of a box maps and filters; None where nobody knows."""

    mapping: NatBehaviour | None = _ONE
    filtering: NatBehaviour | None = _ONE


def side_of(case: Case, device: Device, stream: Stream) -> NatSide:
    """What stands between a box at one end of a stream and the internet, the strictest of each kind. A carrier that shares its addresses
    translates too, and nobody knows how."""
    return strictest(list(_levels(case, device, stream)))


def side_up_to(case: Case, device: Device, stream: Stream, line: str) -> NatSide:
    """What stands between a device and the outside of a line."""
    return strictest(list(_levels(case, device, stream, line)))


def strictest(levels: Sequence[NatSide]) -> NatSide:
    """Several that stand behind each other, as one."""
    return NatSide(_strictest([s.mapping for s in levels]), _strictest([s.filtering for s in levels]))


def may_keep_its_port(side: NatSide) -> bool:
    """Whether a device may be seen from one port by everybody, for all that is known."""
    return side.mapping in (_ONE, None)


def levels_of(case: Case, router: Router, line: Uplink) -> Iterator[NatSide]:
    """What a router translates that sends out by a line, and the carrier of that where it shares its addresses."""
    yield NatSide(router.mapping if router.translates else _ONE, router.filtering)
    if not line.behind and outside_of(line) in ("shared", "private"):
        yield NatSide(None, None)


def _levels(case: Case, device: Device, stream: Stream, until: str = "") -> Iterator[NatSide]:
    if in_the_cloud(device):
        return
    socket = next((p for p, _ in sockets_out(case, device)), None)
    router, passed = case.router_of.get((socket.network if socket else "") or ""), set()
    while router and router.id not in passed and router.uplinks:
        passed.add(router.id)
        line = case.uplinks[uplink_by_policy(router, stream) or ""]
        yield from levels_of(case, router, line)
        if line.id == until:
            return
        router = case.router_of.get(line.behind or "")


def _strictest(found: list[NatBehaviour | None]) -> NatBehaviour | None:
    if _EACH in found:
        return _EACH
    return None if None in found else max((k for k in found if k), key=KINDS.index, default=_ONE)


def meet(a: NatSide, b: NatSide) -> bool | None:
    """Whether two sides that learnt their outside addresses from a server (STUN) and tell each other get through (RFC 8445):
    None where that depends on what nobody knows.

    Both map alike towards everybody: each sends first, and so lets the other in. Only one does: the other comes from a port
    that nobody was told, so its filtering must go by address alone. Neither does: both come from unknown ports.

    >>> plain, symmetric = NatSide("endpoint-independent", "address-and-port-dependent"), NatSide(*[KINDS[2]] * 2)
    >>> meet(plain, plain), meet(plain, symmetric), meet(NatSide(), symmetric)
    (True, False, True)
    """
    return _whatever_it_is(_meet, a, b)


def _meet(a: NatSide, b: NatSide) -> bool | None:
    known = [s for s in (a, b) if s.mapping == _ONE]
    if len(known) == 2:
        return True
    if len(known) == 1:
        return known[0].filtering != _EACH
    return None if _ONE in (a.filtering, b.filtering) else False


def rendezvous(a: NatSide, b: NatSide) -> bool | None:
    """Whether two sides that each send from one port to the same port of the other get through (SRT's rendezvous): only
    where both keep their port towards everybody, as such translators do (common practice; RFC 4787 REQ-3 does not ask it)."""
    return _whatever_it_is(lambda x, y: x.mapping == y.mapping == _ONE, a, b)


def _whatever_it_is(decide: Callable[[NatSide, NatSide], bool | None], a: NatSide, b: NatSide) -> bool | None:
    """The answer for every kind that an unknown one may be: None where they differ."""
    kinds = [[kind] if kind else KINDS for kind in (*a, *b)]
    answers = {decide(NatSide(ma, fa), NatSide(mb, fb)) for ma, fa, mb, fb in product(*kinds)}
    return answers.pop() if len(answers) == 1 else None
