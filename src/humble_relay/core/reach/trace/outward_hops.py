"""The hops of a call on its caller's side: the socket by which it leaves, its networks and routers, and the line that it goes out by."""

from collections.abc import Iterable, Iterator
from ipaddress import IPv4Address, IPv6Address
from itertools import takewhile

from humble_relay.core.addressing.address_faults import among_themselves
from humble_relay.core.addressing.hosts import address_in
from humble_relay.core.addressing.subnets import classify, ipv4, ipv6_range, own_range, subnet
from humble_relay.core.egress.outbound import in_the_cloud, line_routers, uplink_by_policy
from humble_relay.core.endpoints.calls import (
    Call,
    CloudHost,
    Destination,
    InsideHost,
    NoHost,
    OutsideHost,
)
from humble_relay.core.endpoints.forwarded_ports import inside_port
from humble_relay.core.judging.answer import HOLDS, Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.lan.sockets import sockets_on_networks
from humble_relay.core.plan import Network, Port, Router, Uplink
from humble_relay.core.reach.hop_answers import hop_verdicts, rendezvous_verdicts, route_verdicts
from humble_relay.core.reach.hop_answers.forward_targets import is_behind, networks_by_line
from humble_relay.core.reach.hop_answers.static_routes import known_route, range_bits
from humble_relay.core.reach.routing.call_hops import (
    HAIRPIN,
    CallHop,
    CallPacket,
    ConnectionTrace,
    addressed,
    network_words,
)
from humble_relay.core.reach.routing.nat_traversal import levels_of
from humble_relay.core.reach.routing.public_address import outside_of
from humble_relay.core.reach.routing.routing_table import (
    connected_sockets,
    default_sockets,
    has_no_default_route,
    longest_match,
    range_of,
    static_route,
)
from humble_relay.core.reach.trace.arrival_hops import arrival, hole
from humble_relay.core.reach.trace.inward_hops import from_the_internet, in_at, stays_inside
from humble_relay.core.reach.trace.routed_hops import by_static_route, in_routed, passed_on


def from_caller(case: Case, call: Call, to: Destination) -> Iterable[CallHop]:
    """The hops of a call from its caller on, by the socket or sockets that it may leave by."""
    hops = _from_caller(case, call, to)
    return _opened_by_both(tuple(hops)) if call.both else hops


def _opened_by_both(hops: tuple[CallHop, ...]) -> tuple[CallHop, ...]:
    """The hops of two that call each other at once: a filter remembers whom it let pass, so that either call opens it for the
    other, as far as each gets (RFC 4787 §5; RFC 6092 §3.2.3)."""
    this_way = [h.verdict.state == "holds" for h in hops]
    other_way = [here if h.other_way is None else h.other_way for h, here in zip(hops, this_way, strict=True)]
    router = 0
    for n, hop in enumerate(hops):
        if (
            hop.other_way is not None and hop.kind == "line"
        ):  # opens together with the router before it, or not at all
            this_way[router] = this_way[router] and this_way[n]
            other_way[n] = other_way[router]
        elif hop.other_way is not None:
            router = n
    passed = set[int]()
    while True:
        there = takewhile(lambda n: this_way[n] or n in passed, range(len(hops)))
        back = takewhile(lambda n: other_way[n] or n in passed, reversed(range(len(hops))))
        if passed.issuperset(new := {*there, *back}):
            break
        passed.update(new)
    opened = {n for n in passed if hops[n].other_way is not None} if len(passed) == len(hops) else set()
    return tuple(h._replace(verdict=HOLDS) if n in opened else h for n, h in enumerate(hops))


def _from_caller(case: Case, call: Call, to: Destination) -> Iterator[CallHop]:
    if isinstance(to, NoHost):
        thing = Thing("link", call.stream.id)
        yield CallHop(
            "nowhere",
            thing,
            f"asks for {call.host or 'an address that nobody said'}",
            "no-route",
            hop_verdicts.NOWHERE,
        )
        return  # fmt: skip
    if in_the_cloud(call.caller):
        yield CallHop("internet", Thing("device", call.caller.id), f"{call.caller.name} calls {call.wants}")
        yield from from_the_internet(case, call, to)
        return
    sockets = _sockets(case, call, to)
    if not sockets and (lone := next(iter(sockets_on_networks(case)[call.caller.id]), None)):
        yield CallHop("socket", Thing("device", call.caller.id, lone.id), f"{case.port_name(f'{call.caller.id}/{lone.id}')} {addressed(lone)} calls {call.wants}")  # fmt: skip
        yield CallHop("socket", Thing("device", call.caller.id, lone.id), f"{call.caller.name} has no default route", "no-route", route_verdicts.no_default_route(call.caller, lone))  # fmt: skip
        return
    if not sockets:
        yield CallHop(
            "socket",
            Thing("device", call.caller.id),
            f"{call.caller.name} has no socket on a network",
            "no-route",
            hop_verdicts.NO_ROUTE,
        )
        return  # fmt: skip
    if len(sockets) == 1:
        yield from _from_socket(case, call, to, sockets[0])
        return
    ways = [tuple(_from_socket(case, call, to, socket)) for socket in sockets]
    if len({ConnectionTrace(call, way).outcome for way in ways}) == 1:
        yield from ways[0]
        return
    first = sockets[0]
    yield CallHop("socket", Thing("device", call.caller.id, first.id), f"{call.caller.name} calls by one of {len(sockets)} sockets",
                  "kept-apart", hop_verdicts.default_route(case, call.caller, sockets))  # fmt: skip


def _from_socket(case: Case, call: Call, to: Destination, socket: Port) -> Iterator[CallHop]:
    yield CallHop("socket", Thing("device", call.caller.id, socket.id),
               f"{case.port_name(f'{call.caller.id}/{socket.id}')} {addressed(socket)} calls {call.wants}")  # fmt: skip
    six = isinstance(_target(case, call, to), IPv6Address)
    own = (socket.interface.address_v6 if socket.interface else "") if six else socket.address
    yield from _from_network(
        case, call, to, socket.network or "", CallPacket(socket.network, address_in(own))
    )


def _target(case: Case, call: Call, to: Destination) -> IPv4Address | IPv6Address | None:
    """The address that a call is sent to; None where a name or nobody says it."""
    if isinstance(to, CloudHost):
        return None
    if (typed := address_in(call.host)) is not None:
        return typed
    if isinstance(to, OutsideHost):
        return ipv4(case.uplinks[to.line].address)
    return ipv4(case.ports[to.ref].address) if isinstance(to, InsideHost) else None


def _meant(case: Case, to: Destination) -> str | None:
    """The network on which what is called stands; None for the internet."""
    if isinstance(to, OutsideHost):
        return case.uplinks[to.line].behind
    return to.network if isinstance(to, InsideHost) else None


def _sockets(case: Case, call: Call, to: Destination) -> tuple[Port, ...]:
    """The sockets by which a device may call (RFC 1122 §3.3.1): one on the network that it calls, else that of its default
    route, else any."""
    sockets = sockets_on_networks(case)[call.caller.id]
    target = _target(case, call, to)
    there = _meant(case, to)
    beside = tuple(p for p in sockets if there and p.network == there)
    if target is None and beside:
        return beside[:1]
    near = connected_sockets(case, call.caller, target) if target is not None else ()
    six = isinstance(target, IPv6Address)
    return (
        near
        or beside[:1]
        or default_sockets(case, call.caller, six)
        or default_sockets(case, call.caller)
        or tuple(
            p
            for p in sockets
            if not (has_no_default_route(p) or f"{call.caller.id}/{p.id}" in among_themselves(case))
        )[:1]
    )


def _from_network(case: Case, call: Call, to: Destination, here: str, sent: CallPacket) -> Iterator[CallHop]:  # fmt: skip
    network = case.networks[here]
    there = isinstance(to, InsideHost) and to.network == here
    at_its_line = isinstance(to, OutsideHost) and case.uplinks[to.line].behind == here
    apart = hop_verdicts.isolation(case, call, network) if there or at_its_line else HOLDS
    yield CallHop("network", Thing("network", here), network_words(network), "kept-apart", apart)
    if there and isinstance(to, InsideHost):
        if _ranges_differ(case, call, sent, to.ref, network):
            yield CallHop("network", Thing("network", here), f"{call.host or call.listener.name} is of another range than {call.caller.name}", "no-route", hop_verdicts.NO_ROUTE)  # fmt: skip
            return
        yield from arrival(case, call, to.ref, sent)
        return
    if at_its_line and isinstance(to, OutsideHost):
        yield from in_at(case, call, to.line, call.port, sent, near=True)
        return
    target = _target(case, call, to)
    if target is not None and longest_match(case, (here,), target):
        yield _neighbour(case, call, to, network)
    router = case.router_of.get(here)
    if router is None or router.id in sent.passed:
        yield CallHop(
            "network",
            Thing("network", here),
            f"no router leads on from {network.name}",
            "no-route",
            hop_verdicts.NO_ROUTE,
        )
        return  # fmt: skip
    yield from _through(case, call, to, network, router, sent.by(router.id))


def _ranges_differ(case: Case, call: Call, sent: CallPacket, ref: str, network: Network) -> bool:
    """Whether two sockets of one network have addresses of two ranges, one of them foreign: neither looks for the other there."""
    apart = among_themselves(case)
    ours = {f"{call.caller.id}/{p.id}" for p in call.caller.ports if p.network == network.id}
    if (
        sent.network != network.id
        or not isinstance(sent.address, IPv4Address)
        or not (ref in apart or ours & apart)
    ):
        return False
    own = own_range(case.ports[ref], network)
    return own is not None and sent.address not in own


def _neighbour(case: Case, call: Call, to: Destination, here: Network) -> CallHop:
    """Where a call is looked for beside itself: the address lies in the range of a network before the listener's."""
    there = case.networks[to.network] if isinstance(to, InsideHost) else None
    verdict = hop_verdicts.taken_for_a_neighbour(call, here, there)
    return CallHop("network", Thing("network", here.id), f"{call.host or call.listener.name} looks like an address of {here.name} itself", "kept-apart", verdict)  # fmt: skip


def _through(case: Case, call: Call, to: Destination, network: Network, router: Router, sent: CallPacket) -> Iterator[CallHop]:  # fmt: skip
    """From one network of a router on: into another of its networks, back in by its own line, or out."""
    thing = Thing("router", router.id)
    if isinstance(to, InsideHost) and to.v6 and ipv6_range(network) is None:
        yield CallHop("network", Thing("network", network.id), f"{network.name} has no IPv6", "kept-apart", hop_verdicts.no_v6(call, network))  # fmt: skip
    target = _target(case, call, to)
    outer = tuple(b for up in router.uplinks if (b := case.uplinks[up].behind))
    held = longest_match(case, (*router.networks, *outer), target) if target is not None else ()
    meant = _meant(case, to)
    route = static_route(router, target) if target is not None else None
    if target is not None and route and not (held and range_bits(case, held[0], target) >= route[0]):
        yield from by_static_route(case, call, to, network.id, router, route[1], target, sent)
        return
    if isinstance(to, InsideHost) and to.network in router.networks:
        if held and to.network not in held:
            yield _neighbour(case, call, to, case.networks[held[0]])
        yield from passed_on(case, call, router, network, case.networks[to.network])
        yield from arrival(case, call, to.ref, sent)
        return
    if isinstance(to, InsideHost) and target is None and _overlap(network, case.networks[to.network]):
        yield _neighbour(case, call, to, network)
    if isinstance(to, OutsideHost) and to.line in router.uplinks and call.both and is_behind(case, call.listener, router):  # fmt: skip
        words = f"{router.name} has one outside address for both ends"
        yield CallHop(
            "router", thing, words, "not-let-in", rendezvous_verdicts.one_port_for_two(call, router)
        )
        return
    if isinstance(to, OutsideHost) and to.line in router.uplinks:
        verdict = hop_verdicts.reflected(call, router, case.uplinks[to.line])
        yield CallHop("router", thing, f"{router.name} is asked for its own outside address from inside", "not-let-in", verdict)  # fmt: skip
        for hop in in_at(case, call, to.line, call.port, sent._replace(network=HAIRPIN), near=True):
            if hop.kind == "network" and hop.thing.id in router.networks and hop.thing.id != network.id:
                inner = call._replace(port=inside_port(call, router, call.port))
                verdict = hop_verdicts.ruled(case, inner, router, network.id, hop.thing.id)
                yield CallHop("router", thing, f"{router.name} passes it on to {case.networks[hop.thing.id].name}", "kept-apart", verdict)  # fmt: skip
            yield hop
        return
    if held and meant not in held:
        yield _neighbour(case, call, to, case.networks[held[0]])
    if isinstance(to, OutsideHost) and meant in router.networks:
        yield from passed_on(case, call, router, network, case.networks[meant or ""])
        yield from in_at(case, call, to.line, call.port, sent, near=True)
        return
    if isinstance(to, InsideHost) and target is not None and (below := _below(case, router, to.network)):
        yield from _down(case, call, to, network, router, below, target, sent)
        return
    if not router.uplinks:
        yield CallHop("router", thing, f"{router.name} has no uplink", "no-route", hop_verdicts.NO_ROUTE)
        return
    yield from _out_by(case, call, to, network, router, _line_out(case, call, router, held), sent)


def _line_out(case: Case, call: Call, router: Router, held: tuple[str, ...]) -> Uplink:
    """The line by which a router sends a call out: the one that a rule says, else one that is a socket on the network where the
    address is, else its first."""
    line = case.uplinks[uplink_by_policy(router, call.stream) or ""]
    beside = next((u for up in router.uplinks if (u := case.uplinks[up]).behind and u.behind in held), None)
    return line if line.id == call.stream.line else beside or line


def _below(case: Case, router: Router, network: str) -> Uplink | None:
    """The line on a network of a router that leads, by one router or more, to a network behind it."""
    found = networks_by_line(case)
    return next((case.uplinks[up] for up, behind in found.items() if case.uplinks[up].behind in router.networks and network in behind), None)  # fmt: skip


def _down(case: Case, call: Call, to: InsideHost, network: Network, router: Router, line: Uplink, target: IPv4Address | IPv6Address, sent: CallPacket) -> Iterator[CallHop]:  # fmt: skip
    """From a router to a network behind another that hangs on it, which no static route of it leads to."""
    there = line.behind or ""
    known = known_route(case, router, line, target)
    inner = line_routers(case)[line.id]
    shut = to.network in inner.networks and isinstance(target, IPv4Address) and route_verdicts.passed_in(case, call, inner, to.network).state == "fails"  # fmt: skip
    if (known.state == "not known" and not shut) or isinstance(target, IPv6Address):
        yield CallHop("router", Thing("router", router.id), f"{router.name} is to know that {call.host} is behind {line.name}", "kept-apart", known)  # fmt: skip
    elif known.state != "holds":
        yield CallHop("router", Thing("router", router.id), f"{router.name} knows no way to {call.host}", "no-route", hop_verdicts.NO_ROUTE)  # fmt: skip
        return
    yield from passed_on(case, call, router, network, case.networks[there])
    yield from in_routed(case, call, to, line, target, sent)


def _out_by(case: Case, call: Call, to: Destination, network: Network, router: Router, line: Uplink, sent: CallPacket) -> Iterator[CallHop]:  # fmt: skip
    """Out of a router by a line: past its rules, under its address where it translates, onto the internet or the network that
    the line is a socket of."""
    thing = Thing("router", router.id)
    six = isinstance(to, InsideHost) and to.v6
    translates = router.translates and not six
    under = ", under its own address" if translates else ""
    opens = call.both and not translates
    ruled, other_way = hop_verdicts.ruled(case, call, router, network.id, None), _lets_other_in(case, call, router, network, sent, six) if opens else None  # fmt: skip
    yield CallHop("router", thing, f"{router.name} sends it out by {line.name}{under}", "kept-apart", ruled, translates, other_way)  # fmt: skip
    if translates:
        sides = (*sent.sides, *levels_of(case, router, line))
        sent = sent._replace(network=line.behind, address=ipv4(line.address), sides=sides)
    elif not six and (lost := hop_verdicts.not_translated(case, router, line, sent.address)):
        yield CallHop("router", thing, f"{router.name} does not translate addresses", "kept-apart", lost)
    bypassed = isinstance(to, InsideHost) and sent.address is not None and connected_sockets(case, call.listener, sent.address)  # fmt: skip
    if (
        not (translates or bypassed or (call.media and not call.both))
        and line.behind
        and (before := case.router_of.get(line.behind))
    ):
        back = known_route(case, before, line, _source(case, sent, six))
        if back.state == "holds" and _meant(case, to) == line.behind:
            back = route_verdicts.half_seen(call, before)
        yield CallHop("router", Thing("router", before.id), f"{before.name} passes the answers back by {line.name}", "kept-apart", back)  # fmt: skip
    prefix = ipv6_range(network) if six and not stays_inside(call) else None
    if six and not line.behind and line.ipv6 is False:
        yield CallHop("line", Thing("uplink", line.id), f"{line.name} has no IPv6", "kept-apart", route_verdicts.line_without_v6(call, line))  # fmt: skip
    if prefix and not line.behind and classify(str(prefix.network_address))[0] == "private":
        yield CallHop("router", thing, f"{network.name} has addresses of its own site only", "kept-apart", hop_verdicts.unique_local(call, network))  # fmt: skip
    if line.sign_in:
        yield CallHop("line", Thing("uplink", line.id), f"{line.name} shows a page to sign in on first", "sign-in-page", hop_verdicts.signed_in(call, line))  # fmt: skip
    if line.behind:
        outer = case.networks[line.behind]
        alike = next((case.networks[n] for n in router.networks if _overlap(case.networks[n], outer)), None)
        if alike:
            yield CallHop("router", thing, f"{router.name} has the same addresses inside and outside", "kept-apart", hop_verdicts.alike_inside_and_out(router, alike, outer))  # fmt: skip
        verdict = hop_verdicts.let_out(case, call, line) if line.lets_out else HOLDS
        yield CallHop("line", Thing("uplink", line.id), f"{line.name} is a socket on {outer.name}", "not-let-out" if line.lets_out else "", verdict, other_way=True if opens else None)  # fmt: skip
        yield from _from_network(case, call, to, line.behind, sent)
        return
    words = f"{line.name} carries {call.wants} out" + (", under an address that its carrier shares" if outside_of(line) == "shared" else "")  # fmt: skip
    yield CallHop("line", Thing("uplink", line.id), words, "not-let-out", hop_verdicts.let_out(case, call, line), other_way=True if opens else None)  # fmt: skip
    yield CallHop("internet", Thing("uplink", line.id), "across the internet")
    yield from from_the_internet(case, call, to, sent)


def _lets_other_in(case: Case, call: Call, router: Router, network: Network, sent: CallPacket, six: bool) -> bool:  # fmt: skip
    """Of two that call each other at once past a router that does not translate: whether it lets the other's call in."""
    back = call._replace(caller=call.listener, listener=call.caller, host=str(sent.address or ""), both=False)
    verdict = hole(case, back, router, network.id).verdict if six else route_verdicts.passed_in(case, back, router, network.id)  # fmt: skip
    return verdict.state == "holds"


def _source(case: Case, sent: CallPacket, six: bool) -> IPv4Address | IPv6Address | None:
    """The address that a call comes from, or one of its network where DHCP gives it."""
    if sent.address is not None:
        return sent.address
    known = range_of(case.networks[sent.network], six) if sent.network in case.networks else None
    return known[1] if known and known.num_addresses > 2 else None


def _overlap(a: Network, b: Network) -> bool:
    one, other = subnet(a), subnet(b)
    return bool(one and other and one.range.overlaps(other.range))
