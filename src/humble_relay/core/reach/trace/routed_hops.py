"""The hops of a call that goes by a static route: to the router that it names, and in there, without any translation."""

from collections.abc import Iterator
from ipaddress import IPv4Address, IPv6Address

from humble_relay.core.egress.outbound import line_routers
from humble_relay.core.endpoints.calls import Call, Destination, InsideHost
from humble_relay.core.judging.answer import HOLDS, Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Network, Router, StaticRoute, Uplink
from humble_relay.core.reach.hop_answers import hop_verdicts, route_verdicts
from humble_relay.core.reach.hop_answers.static_routes import next_line, range_bits
from humble_relay.core.reach.routing.call_hops import CallHop, CallPacket, network_words
from humble_relay.core.reach.routing.routing_table import longest_match, static_route
from humble_relay.core.reach.trace.arrival_hops import arrival, gets_out, hole


def by_static_route(case: Case, call: Call, to: Destination, here: str, router: Router, route: StaticRoute, target: IPv4Address | IPv6Address, sent: CallPacket) -> Iterator[CallHop]:  # fmt: skip
    """From a network of a router on to the next router that a static route names, and in there."""
    thing, line = Thing("router", router.id), next_line(case, router, route)
    words = f"{router.name} sends it on by its static route to {route.to_range}, via {route.via}"
    if line is None:
        yield CallHop(
            "router", thing, words, "kept-apart", route_verdicts.next_hop_unknown(case, router, route)
        )
        return
    there = line.behind or ""
    yield CallHop("router", thing, words)
    yield from passed_on(case, call, router, case.networks[here], case.networks[there])
    yield from in_routed(case, call, to, line, target, sent)


def passed_on(case: Case, call: Call, router: Router, here: Network, there: Network) -> Iterator[CallHop]:
    """From one network of a router to another, or back onto the same, where the answers pass it by. Of a rendezvous one way that is
    open lets the answers back (RFC 4787 §5)."""
    thing = Thing("router", router.id)
    if here is there:
        apart = hop_verdicts.isolation(case, call, here)
        yield CallHop("router", thing, f"{router.name} sends it back onto {here.name}", "kept-apart", route_verdicts.half_seen(call, router))  # fmt: skip
        yield CallHop("network", Thing("network", here.id), f"{here.name} carries the answers straight back", "kept-apart", apart)  # fmt: skip
        return
    guests = next((n for n in (here, there) if n.guest_isolation), None)
    unsaid = hop_verdicts.guests_shut_off(router, guests) if guests else HOLDS
    verdict = hop_verdicts.ruled(case, call, router, here.id, there.id, unsaid)
    other_way = (
        hop_verdicts.ruled(case, call, router, there.id, here.id).state == "holds" if call.both else None
    )
    yield CallHop("router", thing, f"{router.name} passes it on to {there.name}", "kept-apart", verdict, other_way=other_way)  # fmt: skip
    yield CallHop("network", Thing("network", there.id), network_words(there))


def in_routed(case: Case, call: Call, to: Destination, line: Uplink, target: IPv4Address | IPv6Address, sent: CallPacket) -> Iterator[CallHop]:  # fmt: skip
    """In at the outside of a router that is asked for an address behind it: past its inbound filter, to the listener or on."""
    router = line_routers(case).get(line.id)
    if router is None:
        yield CallHop("line", Thing("uplink", line.id), f"what hangs on {line.name} is not in the plan", "not-let-in", hop_verdicts.no_router(call, line))  # fmt: skip
        return
    thing, held, onward = Thing("router", router.id), longest_match(case, router.networks, target), static_route(router, target)  # fmt: skip
    if router.id in sent.passed or not (held or onward):
        yield CallHop("router", thing, f"{router.name} sends it back where it came from", "no-route", hop_verdicts.NO_ROUTE)  # fmt: skip
        return
    sent = sent.by(router.id)
    next_ = next_line(case, router, onward[1]) if onward else None
    by_route = onward is not None and not (held and range_bits(case, held[0], target) >= onward[0])
    inner = (next_.behind or "" if next_ else "") if by_route else held[0]
    if not inner:
        yield CallHop("router", thing, f"{router.name} sends it on by its static route", "kept-apart", route_verdicts.next_hop_unknown(case, router, onward[1] if onward else None))  # fmt: skip
        return
    if isinstance(target, IPv6Address):
        yield hole(case, call, router, inner)
    else:
        words, verdict = f"{router.name} passes it on to {case.networks[inner].name}", route_verdicts.passed_in(case, call, router, inner)  # fmt: skip
        other_way = gets_out(case, call, router, inner) if call.both and not router.translates else None
        yield CallHop("router", thing, words, "not-let-in", verdict, other_way=other_way)
    if by_route and onward:
        yield from by_static_route(case, call, to, inner, router, onward[1], target, sent)
    elif isinstance(to, InsideHost) and to.network in held:
        yield CallHop("network", Thing("network", to.network), network_words(case.networks[to.network]))
        yield from arrival(case, call, to.ref, sent)
    else:
        verdict = hop_verdicts.taken_for_a_neighbour(call, case.networks[inner], None)
        yield CallHop("network", Thing("network", inner), f"{call.host} is looked for on {case.networks[inner].name}", "kept-apart", verdict)  # fmt: skip
