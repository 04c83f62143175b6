"""Static routes of routers: whether one knows the way to an address behind another, and which router that is."""

from ipaddress import IPv4Address, IPv6Address

from humble_relay.core.addressing.hosts import address_in
from humble_relay.core.addressing.subnets import ipv4
from humble_relay.core.egress.outbound import line_routers
from humble_relay.core.judging.answer import HOLDS, Verdict, holds
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Router, StaticRoute, Uplink
from humble_relay.core.reach.hop_answers import route_verdicts
from humble_relay.core.reach.routing.routing_table import longest_match, range_of, static_route


def known_route(
    case: Case, router: Router, line: Uplink, address: IPv4Address | IPv6Address | None
) -> Verdict:
    """Whether a router knows that an address is behind the router of a line on one of its networks: by a static route to that
    (RFC 1812 §5.2.4). An IPv6 prefix that was delegated brings its route along (RFC 8415; RFC 7084 §4.3)."""
    if address is None or router.routes is None:
        by_itself = isinstance(address, IPv6Address)
        return (
            holds(evidence="practice") if by_itself else route_verdicts.routes_unknown(router, line, address)
        )
    found = static_route(router, address)
    if found is None:
        return route_verdicts.no_route_to(case, router, line, address)
    bits, route = found
    held = longest_match(case, router.networks, address)
    if held and range_bits(case, held[0], address) > bits:
        return route_verdicts.no_route_to(case, router, line, address)
    there = next_line(case, router, route)
    if there is None and not line.address and ipv4(route.via):
        return route_verdicts.line_address_unknown(router, line, route)
    if there is None or line_routers(case).get(there.id) is not line_routers(case).get(line.id):
        return route_verdicts.no_route_to(case, router, line, address)
    return HOLDS if there is line else route_verdicts.by_another_line(router, line, there)


def next_line(case: Case, router: Router, route: StaticRoute) -> Uplink | None:
    """The line of another router that a static route leads to: that with the address, or for IPv6, whose lines say none, that of the
    only router on the network; None where the plan has none."""
    hung = [u for u in case.uplinks.values() if u.behind and u.behind in router.networks]
    via = address_in(route.via)
    if isinstance(via, IPv4Address):
        return next((u for u in hung if ipv4(u.address) == via), None)
    if via is None:
        return None
    near = [u for u in hung if via.is_link_local or longest_match(case, (u.behind or "",), via)]
    return (
        near[0]
        if len({line_routers(case)[u.id].id for u in near if u.id in line_routers(case)}) == 1
        else None
    )


def range_bits(case: Case, network: str, address: IPv4Address | IPv6Address) -> int:
    """The prefix length of a network's range, of the family of an address."""
    found = range_of(case.networks[network], isinstance(address, IPv6Address))
    return found.prefixlen if found else 0
