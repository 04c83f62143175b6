"""The hops of a call on its caller's side: the socket by which it leaves, its networks and routers, and the line that it goes out by."""

from collections.abc import Iterator
from ipaddress import IPv4Address, IPv6Address

from humble_relay.core.addressing.hosts import address_in
from humble_relay.core.addressing.subnets import classify, ipv4, ipv6_range, subnet
from humble_relay.core.egress.outbound import in_the_cloud, uplink_by_policy
from humble_relay.core.endpoints.calls import (
    Call,
    CloudHost,
    Destination,
    InsideHost,
    NoHost,
    OutsideHost,
)
from humble_relay.core.judging.answer import HOLDS, Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.lan.sockets import picture_sockets
from humble_relay.core.plan import Network, Port, Router
from humble_relay.core.reach import hop_verdicts
from humble_relay.core.reach.call_hops import (
    HAIRPIN,
    CallHop,
    CallPacket,
    ConnectionTrace,
    addressed,
    network_words,
)
from humble_relay.core.reach.inward_hops import arrival, from_the_internet, in_at, inside_port, stays_inside
from humble_relay.core.reach.public_address import outside_of
from humble_relay.core.reach.routing_table import connected_sockets, default_sockets, longest_match


def from_caller(case: Case, call: Call, to: Destination) -> Iterator[CallHop]:
    """The hops of a call from its caller on, by the socket or sockets that it may leave by."""
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
    if not sockets:
        yield CallHop(
            "socket",
            Thing("device", call.caller.id),
            f"{call.caller.name} has no socket on a network",
            "no-route",
            hop_verdicts.NO_ROUTE,
        )
        return  # fmt: skip
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
    six = (
        socket.interface.address_v6
        if socket.interface and isinstance(_target(case, call, to), IPv6Address)
        else ""
    )
    yield from _from_network(
        case, call, to, socket.network or "", CallPacket(socket.network, address_in(six or socket.address))
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
    sockets = tuple(p for p in picture_sockets(call.caller) if p.network)
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
        or sockets[:1]
    )


def _from_network(case: Case, call: Call, to: Destination, here: str, sent: CallPacket) -> Iterator[CallHop]:  # fmt: skip
    network = case.networks[here]
    there = isinstance(to, InsideHost) and to.network == here
    at_its_line = isinstance(to, OutsideHost) and case.uplinks[to.line].behind == here
    apart = hop_verdicts.isolation(case, call, network) if there or at_its_line else HOLDS
    yield CallHop("network", Thing("network", here), network_words(network), "kept-apart", apart)
    if there and isinstance(to, InsideHost):
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
    line = case.uplinks[router.uplinks[0]] if router.uplinks else None
    nearby = (*router.networks, *([line.behind] if line and line.behind else []))
    held = longest_match(case, nearby, target) if target is not None else ()
    meant = _meant(case, to)
    if isinstance(to, InsideHost) and to.network in router.networks:
        if held and to.network not in held:
            yield _neighbour(case, call, to, case.networks[held[0]])
        yield from _passed_on(case, call, router, network, case.networks[to.network])
        yield from arrival(case, call, to.ref, sent)
        return
    if isinstance(to, InsideHost) and target is None and _overlap(network, case.networks[to.network]):
        yield _neighbour(case, call, to, network)
    if isinstance(to, OutsideHost) and to.line in router.uplinks:
        verdict = hop_verdicts.reflected(call, router, case.uplinks[to.line])
        yield CallHop("router", thing, f"{router.name} is asked for its own outside address from inside", "not-let-in", verdict)  # fmt: skip
        for hop in in_at(case, call, to.line, call.port, sent._replace(network=HAIRPIN), near=True):
            if hop.kind == "network" and hop.thing.id in router.networks and hop.thing.id != network.id:
                inner = call._replace(port=inside_port(call, router))
                verdict = hop_verdicts.ruled(case, inner, router, network.id, hop.thing.id)
                yield CallHop("router", thing, f"{router.name} passes it on to {case.networks[hop.thing.id].name}", "kept-apart", verdict)  # fmt: skip
            yield hop
        return
    if held and meant not in held:
        yield _neighbour(case, call, to, case.networks[held[0]])
    if isinstance(to, OutsideHost) and meant in router.networks:
        yield from _passed_on(case, call, router, network, case.networks[meant or ""])
        yield from in_at(case, call, to.line, call.port, sent, near=True)
        return
    if not router.uplinks:
        yield CallHop("router", thing, f"{router.name} has no uplink", "no-route", hop_verdicts.NO_ROUTE)
        return
    line = case.uplinks[uplink_by_policy(router, call.stream) or ""]
    six = isinstance(to, InsideHost) and to.v6
    under = "" if six or not router.translates else ", under its own address"
    yield CallHop("router", thing, f"{router.name} sends it out by {line.name}{under}", "kept-apart", hop_verdicts.ruled(case, call, router, network.id, None))  # fmt: skip
    if router.translates and not six:
        sent = sent._replace(network=line.behind, address=ipv4(line.address))
    elif not six and (lost := hop_verdicts.not_translated(case, router, line, sent.address)):
        yield CallHop("router", thing, f"{router.name} does not translate addresses", "not-let-out", lost)
    prefix = ipv6_range(network) if six and not stays_inside(call) else None
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
        yield CallHop("line", Thing("uplink", line.id), f"{line.name} is a socket on {outer.name}", "not-let-out" if line.lets_out else "", verdict)  # fmt: skip
        yield from _from_network(case, call, to, line.behind, sent)
        return
    words = f"{line.name} carries {call.wants} out" + (", under an address that its carrier shares" if outside_of(line) == "shared" else "")  # fmt: skip
    yield CallHop(
        "line", Thing("uplink", line.id), words, "not-let-out", hop_verdicts.let_out(case, call, line)
    )
    yield CallHop("internet", Thing("uplink", line.id), "across the internet")
    yield from from_the_internet(case, call, to, sent)


def _passed_on(case: Case, call: Call, router: Router, here: Network, there: Network) -> Iterator[CallHop]:
    """From one network of a router to another. Of a rendezvous one way that is open lets the answers back (RFC 4787 §5)."""
    verdict = hop_verdicts.ruled(case, call, router, here.id, there.id)
    if call.both and verdict.state != "holds":
        verdict = hop_verdicts.ruled(case, call, router, there.id, here.id)
    yield CallHop("router", Thing("router", router.id), f"{router.name} passes it on to {there.name}", "kept-apart", verdict)  # fmt: skip
    yield CallHop("network", Thing("network", there.id), network_words(there))


def _overlap(a: Network, b: Network) -> bool:
    one, other = subnet(a), subnet(b)
    return bool(one and other and one.range.overlaps(other.range))
