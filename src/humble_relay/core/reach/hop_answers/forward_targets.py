"""Where the forwards of routers lead, and which networks are behind a router."""

from humble_relay.core.addressing.subnets import ipv4, subnet
from humble_relay.core.egress.outbound import line_routers
from humble_relay.core.endpoints.calls import Call
from humble_relay.core.judging.answer import HOLDS, Verdict
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.lan.sockets import picture_sockets, sockets_on_networks
from humble_relay.core.plan import Device, Forward, Router, Uplink
from humble_relay.core.reach.hop_answers import hop_verdicts


@analysis
def networks_by_line(case: Case) -> dict[str, frozenset[str]]:
    """For each line that is a socket on a network of the plan, the networks behind its router."""
    hung = ((u, line_routers(case).get(u.id)) for u in case.uplinks.values() if u.behind)
    return {line.id: networks_behind(case, router) for line, router in hung if router}


def networks_behind(case: Case, router: Router) -> frozenset[str]:
    """The networks of a router, and of those that hang behind it."""
    return _networks_behind(case)[router.id]


def is_behind(case: Case, device: Device, router: Router) -> bool:
    """Whether a device has a socket on a network of a router, or of one that hangs behind it."""
    behind = networks_behind(case, router)
    return any(p.network in behind for p in sockets_on_networks(case)[device.id])


@analysis
def _networks_behind(case: Case) -> dict[str, frozenset[str]]:
    return {r.id: frozenset(_behind(case, r)) for r in case.plan.routers}


def _behind(case: Case, router: Router) -> set[str]:
    found: set[str] = set()
    todo = [router]
    while todo:
        new = set(todo.pop().networks) - found
        found |= new
        todo += [r for u in case.uplinks.values() if u.behind in new and (r := line_routers(case).get(u.id))]
    return found


def line_at(case: Case, router: Router, address: str) -> Uplink | None:
    """The line of another router that has an address on a network of this one."""
    wanted = ipv4(address)
    lines = (u for u in case.uplinks.values() if u.behind in router.networks)
    return next((u for u in lines if wanted and ipv4(u.address) == wanted), None)


def forwarded_to(case: Case, call: Call, router: Router, forward: Forward) -> tuple[str | None, Verdict]:
    """The socket that a forward leads to, and whether it is the listener's: None where the journey ends."""
    wanted = ipv4(forward.to_address)
    for ref, port in case.ports.items():
        if port.network in router.networks and port.address and ipv4(port.address) == wanted:
            if case.device_of(ref) is call.listener:
                return ref, HOLDS
            return None, hop_verdicts.forwarded_elsewhere(call, router, forward, case.device_of(ref))
    for port in picture_sockets(call.listener):
        known = (
            subnet(case.networks[port.network]) if port.network in router.networks and port.network else None
        )
        if known and not port.address and wanted and wanted in known.range:
            return (
                f"{call.listener.id}/{port.id}",
                HOLDS,
            )  # whether DHCP leaves it there is a question of the address
    return None, hop_verdicts.forwarded_elsewhere(call, router, forward, None)
