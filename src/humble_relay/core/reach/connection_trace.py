"""The journey of a call: hop by hop from the box that calls to the one that listens, and where it ends.

Each hop is judged as if all before it let the call pass; the journey ends where the first one does not. Answers come back
the way the call came: routers remember whom they let out (RFC 4787 for UDP, RFC 5382 for TCP), and the listener must answer
by the socket that was called.
"""

from collections.abc import Iterator
from ipaddress import IPv4Address, IPv6Address
from typing import Literal, NamedTuple

from humble_relay.core.addressing.hosts import address_in, host_class
from humble_relay.core.addressing.subnets import classify, ipv4, ipv6_range, subnet
from humble_relay.core.egress.outbound import in_the_cloud, on_the_internet, uplink_by_policy
from humble_relay.core.endpoints.calls import (
    Call,
    CloudHost,
    Destination,
    InsideHost,
    NoHost,
    OutsideHost,
    call_of,
    destination,
    service_calls,
)
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.lan.sockets import picture_sockets
from humble_relay.core.plan import Device, Forward, Network, Port, Router, Stream, Uplink
from humble_relay.core.reach import hop_verdicts
from humble_relay.core.reach.public_address import address_words, outside_of
from humble_relay.core.reach.routing_table import connected_sockets, default_sockets, longest_match

WaypointKind = Literal["socket", "network", "router", "line", "internet", "nowhere"]
HopQuestion = Literal["", "no-route", "not-let-out", "sign-in-page", "kept-apart", "not-let-in", "firewall-in-the-box"]  # fmt: skip
"""Which check answers at a step; `no-route`: the checks that ask for a way at all."""


class CallHop(NamedTuple):
    """One point of a journey: where it is, what happens there, and the answer of the question that is asked there."""

    kind: WaypointKind
    thing: Thing
    says: str
    question: HopQuestion = ""
    verdict: Verdict = HOLDS


class ConnectionTrace(NamedTuple):
    """A call and the hops it takes, the caller's socket first."""

    call: Call
    waypoints: tuple[CallHop, ...]

    @property
    def ends_at(self) -> int | None:
        """The step at which it ends for sure; None where none does."""
        return next((i for i, s in enumerate(self.waypoints) if s.verdict.state == "fails"), None)

    @property
    def outcome(self) -> str:
        """`fails`, `holds`, or what of it is not known or doubtful."""
        return "fails" if self.ends_at is not None else "holds" if self.arrives else str(self.waypoints)

    @property
    def arrives(self) -> bool:
        """Whether every step holds."""
        return all(s.verdict.state == "holds" for s in self.waypoints)


class CallPacket(NamedTuple):
    """What of a call changes on its way: the address that it comes from, and the routers that it has passed."""

    network: str | None
    """The network that its source address is on; None: the internet."""
    address: IPv4Address | IPv6Address | None
    passed: frozenset[str] = frozenset()

    def by(self, router: str) -> "CallPacket":
        """The same after one more router."""
        return self._replace(passed=self.passed | {router})


INTERNET = CallPacket(None, None)
HAIRPIN = "hairpin"
"""The source of what a router turned round: its own address on the network that it leads to."""


@analysis
def connection_traces(case: Case) -> dict[str, tuple[ConnectionTrace, ...]]:
    """The journey of each stream's call; of a browser link those of both sides to its service."""
    return {
        s.id: tuple(journey(case, call) for call in (service_calls(case, s) if s.protocol == "web" else (call_of(case, s),)))
        for s in case.streams
        if not in_the_cloud(case.devices[s.from_device]) or not on_the_internet(case.devices[s.to_device])
    }  # fmt: skip


def journey(case: Case, call: Call) -> ConnectionTrace:
    """The hops of a call to where it is addressed to."""
    return ConnectionTrace(call, tuple(_from_caller(case, call, destination(case, call))))


def has_a_way(case: Case, stream: str) -> bool:
    """Whether every call of a stream finds a way to where it is addressed to, whatever stops it on that."""
    return not any(
        s.question == "no-route" for j in connection_traces(case).get(stream, ()) for s in j.waypoints
    )


def no_route(case: Case, stream: Stream, caller: Device, or_nowhere: bool = False) -> CallHop | None:
    """The hop at which a call of a device finds no way on (or, if wanted, is sent to where its address is nowhere); None where
    it finds one, or no device has the address."""
    found = (j for j in connection_traces(case).get(stream.id, ()) if j.call.caller.id == caller.id)
    lost = (w for j in found for w in j.waypoints[1:] if w.question == "no-route")
    return next((w for w in lost if or_nowhere or w.kind != "nowhere"), None)


def stays_on_our_routers(case: Case, stream: str) -> bool:
    """Whether a stream finds its way without crossing the internet."""
    found = connection_traces(case).get(stream, ())
    return has_a_way(case, stream) and not any(w.kind == "internet" for j in found for w in j.waypoints)


@analysis
def line_routers(case: Case) -> dict[str, Router]:
    """For each uplink, its router."""
    return {up: router for router in case.plan.routers for up in router.uplinks}


def networks_called_from(case: Case, network: str) -> dict[str, Router]:
    """The other networks that a call from one reaches, each with the router that the call leaves this one by: those of
    its router, and where that hangs behind another router, those of that."""
    router = case.router_of.get(network)
    found: dict[str, Router] = {}
    passed: set[str] = set()
    at = router
    while at and router and at.id not in passed:
        passed.add(at.id)
        behind = case.uplinks[at.uplinks[0]].behind if at.uplinks else None
        for other in (*at.networks, *([behind] if behind else [])):
            if other != network:
                found.setdefault(other, router)
        at = case.router_of.get(behind or "")
    return found


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
        yield from _from_the_internet(case, call, to)
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
               f"{case.port_name(f'{call.caller.id}/{socket.id}')} {_addressed(socket)} calls {call.wants}")  # fmt: skip
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


def _sockets(case: Case, call: Call, to: Destination) -> tuple[Port, ...]:
    """The sockets by which a device may call (RFC 1122 §3.3.1): one on the network that it calls, else that of its default
    route, else any."""
    sockets = tuple(p for p in picture_sockets(call.caller) if p.network)
    target = _target(case, call, to)
    there = (
        to.network
        if isinstance(to, InsideHost)
        else case.uplinks[to.line].behind
        if isinstance(to, OutsideHost)
        else None
    )
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
        yield from _arrival(case, call, to.ref, sent)
        return
    if at_its_line and isinstance(to, OutsideHost):
        yield from _in_at(case, call, to.line, call.port, sent, near=True)
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
    if isinstance(to, InsideHost) and to.network in router.networks:
        if held and to.network not in held:
            yield _neighbour(case, call, to, case.networks[held[0]])
        other = case.networks[to.network]
        verdict = hop_verdicts.ruled(case, call, router, network.id, other.id)
        if (
            call.both and verdict.state != "holds"
        ):  # each calls: one way that is open lets the answers back (RFC 4787 §5)
            verdict = hop_verdicts.ruled(case, call, router, other.id, network.id)
        yield CallHop("router", thing, f"{router.name} passes it on to {other.name}", "kept-apart", verdict)
        yield CallHop("network", Thing("network", other.id), network_words(other))
        yield from _arrival(case, call, to.ref, sent)
        return
    if isinstance(to, InsideHost) and target is None and _overlap(network, case.networks[to.network]):
        yield _neighbour(case, call, to, network)
    if isinstance(to, OutsideHost) and to.line in router.uplinks:
        verdict = hop_verdicts.reflected(call, router, case.uplinks[to.line])
        yield CallHop("router", thing, f"{router.name} is asked for its own outside address from inside", "not-let-in", verdict)  # fmt: skip
        for hop in _in_at(case, call, to.line, call.port, sent._replace(network=HAIRPIN), near=True):
            if hop.kind == "network" and hop.thing.id in router.networks and hop.thing.id != network.id:
                inner = call._replace(port=inside_port(call, router))
                verdict = hop_verdicts.ruled(case, inner, router, network.id, hop.thing.id)
                yield CallHop("router", thing, f"{router.name} passes it on to {case.networks[hop.thing.id].name}", "kept-apart", verdict)  # fmt: skip
            yield hop
        return
    beside = case.uplinks[to.line].behind if isinstance(to, OutsideHost) else None
    if beside in router.networks and isinstance(to, OutsideHost):
        if held and beside not in held:
            yield _neighbour(case, call, to, case.networks[held[0]])
        other = case.networks[beside or ""]
        verdict = hop_verdicts.ruled(case, call, router, network.id, other.id)
        yield CallHop("router", thing, f"{router.name} passes it on to {other.name}", "kept-apart", verdict)
        yield CallHop("network", Thing("network", other.id), network_words(other))
        yield from _in_at(case, call, to.line, call.port, sent, near=True)
        return
    meant = (
        to.network
        if isinstance(to, InsideHost)
        else case.uplinks[to.line].behind
        if isinstance(to, OutsideHost)
        else None
    )
    if held and meant not in held:
        yield _neighbour(case, call, to, case.networks[held[0]])
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
    prefix = ipv6_range(network) if six and not _stays_inside(call) else None
    if prefix and not line.behind and classify(str(prefix.network_address))[0] == "private":
        yield CallHop("router", thing, f"{network.name} has addresses of its own site only", "kept-apart", hop_verdicts.unique_local(call, network))  # fmt: skip
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
    if line.sign_in:
        yield CallHop("line", Thing("uplink", line.id), f"{line.name} shows a page to sign in on first", "sign-in-page", hop_verdicts.signed_in(call, line))  # fmt: skip
    yield CallHop("internet", Thing("uplink", line.id), "across the internet")
    yield from _from_the_internet(case, call, to, sent)


def _from_the_internet(case: Case, call: Call, to: Destination, sent: CallPacket = INTERNET) -> Iterator[CallHop]:  # fmt: skip
    if isinstance(to, CloudHost):
        name = (call.host or "the service of the link") if call.service else call.listener.name
        yield CallHop("internet", Thing("device", call.listener.id), f"{name} takes it on the internet")
    elif isinstance(to, OutsideHost):
        yield from _in_at(case, call, to.line, call.port, sent, near=False)
    elif isinstance(to, InsideHost) and to.v6 and not _stays_inside(call):
        yield from _in_by_v6(case, call, to, sent)
    else:
        yield CallHop("nowhere", Thing("link", call.stream.id), f"{call.host or 'a private address'} is nowhere on the internet", "no-route", hop_verdicts.NOWHERE)  # fmt: skip


def _stays_inside(call: Call) -> bool:
    """Whether the address of a call is none of the internet's: unique local (RFC 4193) or link-local (RFC 4291)."""
    kind = host_class(call.host)
    return kind is not None and kind[0] in ("private", "self-assigned")


def _in_at(case: Case, call: Call, line_id: str, port: int | None, sent: CallPacket, near: bool) -> Iterator[CallHop]:  # fmt: skip
    """In at the outside of a line: its address, the forward of its router, and whom that leads to. `near`: from a side on
    which its own address is reached, whatever the internet thinks of it."""
    line, router = case.uplinks[line_id], line_routers(case).get(line_id)
    if not near:
        words = f"{line.name} has {address_words(line)}"
        yield CallHop("line", Thing("uplink", line.id), words, "not-let-in", hop_verdicts.called_from_outside(case, call, line))  # fmt: skip
    if router is None:
        yield CallHop("line", Thing("uplink", line.id), f"what hangs on {line.name} is not in the plan", "not-let-in", hop_verdicts.no_router(call, line))  # fmt: skip
        return
    thing, forward = Thing("router", router.id), forward_for(call, router, port)
    if call.both:
        words = f"{router.name} keeps the port that {call.listener.name} opened itself, by calling at the same time"
        if not any(p.network in _behind(case, router) for p in picture_sockets(call.listener)):
            yield CallHop("router", thing, words, "not-let-in", hop_verdicts.not_behind(call, line))
            return
        yield CallHop("router", thing, words, "not-let-in", hop_verdicts.met(case, call))
        if forward and not any(
            p.address and ipv4(p.address) == ipv4(forward.to_address) for p in call.listener.ports
        ):
            words = f"{router.name} forwards {call.wants} to {forward.to_address}"
            yield CallHop(
                "router", thing, words, "not-let-in", hop_verdicts.met_by_another(call, router, forward)
            )
        yield from _out_to_meet(case, call, router, line)
        return
    if forward is None:
        asked = f"{call.wants}" if port == call.port else f"port {port}"
        yield CallHop("router", thing, f"{router.name} forwards {asked} to nobody", "not-let-in", hop_verdicts.not_forwarded(case, call, router, port))  # fmt: skip
        return
    inner = forward.to_port or forward.port
    words = f"{router.name} forwards {forward.transport.upper()} {forward.port} to {forward.to_address}" + (f", port {inner}" if inner != forward.port else "")  # fmt: skip
    behind = _line_at(case, router, forward.to_address)
    if behind and behind.id not in sent.passed:
        yield CallHop("router", thing, words)
        sent = sent._replace(network=behind.behind, address=None) if sent.network == HAIRPIN else sent
        yield from _in_at(case, call, behind.id, inner, sent.by(behind.id), near=True)
        return
    ref, verdict = _forwarded_to(case, call, router, forward)
    yield CallHop("router", thing, words, "not-let-in", verdict)
    if ref:
        network = case.networks[case.ports[ref].network or ""]
        yield CallHop("network", Thing("network", network.id), network_words(network))
        yield from _arrival(
            case,
            call,
            ref,
            sent._replace(network=network.id, address=None) if sent.network == HAIRPIN else sent,
        )


def _behind(case: Case, router: Router) -> set[str]:
    """The networks of a router, and of those that hang behind it."""
    found: set[str] = set()
    todo = [router]
    while todo:
        new = set(todo.pop().networks) - found
        found |= new
        todo += [r for u in case.uplinks.values() if u.behind in new and (r := line_routers(case).get(u.id))]
    return found


def _out_to_meet(case: Case, call: Call, router: Router, line: Uplink) -> Iterator[CallHop]:
    """The other call of a rendezvous: the listener's own way out, which opens the port that the caller's comes in by."""
    back = call._replace(caller=call.listener, listener=call.caller)
    here = next((p.network for p in picture_sockets(call.listener) if p.network in router.networks), None)
    if here:
        words = f"{router.name} lets {call.listener.name} call out by {line.name}"
        yield CallHop("router", Thing("router", router.id), words, "kept-apart", hop_verdicts.ruled(case, back, router, here, None))  # fmt: skip
    yield CallHop("line", Thing("uplink", line.id), f"{line.name} carries {call.wants} out", "not-let-out", hop_verdicts.let_out(case, back, line))  # fmt: skip


def _in_by_v6(case: Case, call: Call, to: InsideHost, sent: CallPacket) -> Iterator[CallHop]:
    """In by IPv6: nothing is translated, and the router's filter lets nothing in that was not asked for (RFC 6092)."""
    router = case.router_of.get(to.network)
    if router is None:
        yield CallHop(
            "network", Thing("network", to.network), "no router leads in", "no-route", hop_verdicts.NO_ROUTE
        )
        return
    hole = next(
        (f for f in router.forwards if f.transport in call.transports and f.port == call.port and address_in(f.to_address) == address_in(call.host)),
        None,
    )  # fmt: skip
    verdict = HOLDS if hole else hop_verdicts.not_forwarded(case, call, router, call.port)
    words = f"{router.name} {'lets' if hole else 'does not let'} {call.wants} in to {call.host}"
    yield CallHop("router", Thing("router", router.id), words, "not-let-in", verdict)
    network = case.networks[to.network]
    yield CallHop("network", Thing("network", network.id), network_words(network))
    yield from _arrival(case, call, to.ref, sent)


def forward_for(call: Call, router: Router, port: int | None) -> Forward | None:
    """The forward of a router that a call at a port falls into: IPv4 ones are translated, so only those count."""
    return next(
        (f for f in router.forwards if router.translates and f.port == port and f.transport in call.transports and ipv4(f.to_address)),
        None,
    )  # fmt: skip


def inside_port(call: Call, router: Router) -> int | None:
    """The port that a call has past the forward of a router."""
    forward = forward_for(call, router, call.port)
    return (forward.to_port or forward.port) if forward else call.port


def _line_at(case: Case, router: Router, address: str) -> Uplink | None:
    """The line of another router that has an address on a network of this one."""
    wanted = ipv4(address)
    lines = (u for u in case.uplinks.values() if u.behind in router.networks)
    return next((u for u in lines if wanted and ipv4(u.address) == wanted), None)


def _forwarded_to(case: Case, call: Call, router: Router, forward: Forward) -> tuple[str | None, Verdict]:
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
            )  # whether DHCP leaves it there is asked of the address
    return None, hop_verdicts.forwarded_elsewhere(call, router, forward, None)


def _arrival(case: Case, call: Call, ref: str, sent: CallPacket) -> Iterator[CallHop]:
    """The socket that is called, and the one that answers."""
    port, device = case.ports[ref], case.device_of(ref)
    thing = Thing("device", device.id, port.id)
    yield CallHop("socket", thing, f"{case.port_name(ref)} {_addressed(port)} listens",
                  "firewall-in-the-box", hop_verdicts.firewall(call, device))  # fmt: skip
    answering = _answering(case, device, sent)
    if {p.network for p in answering} - {port.network}:
        verdict = hop_verdicts.answers_come_back(case, call, port, answering)
        yield CallHop("socket", thing, f"{device.name} answers by {case.networks[answering[0].network or ''].name}", "not-let-in", verdict)  # fmt: skip


def _answering(case: Case, device: Device, sent: CallPacket) -> tuple[Port, ...]:
    """The sockets by which a listener may answer: by its own routing table, whichever was called (RFC 1122 §3.3.4.2)."""
    if sent.address is not None and sent.network is not None:
        near = connected_sockets(case, device, sent.address)
    else:
        near = tuple(p for p in picture_sockets(device) if p.network and p.network == sent.network)
    return near or default_sockets(case, device, isinstance(sent.address, IPv6Address))


def network_words(network: Network) -> str:
    """A network with its range."""
    return f"{network.name}, {network.range}" if network.range else network.name


def _addressed(port: Port) -> str:
    how = {"dhcp": "by DHCP", "reserved": "reserved", "fixed": "fixed"}[port.addressing]
    return f"{port.address} ({how})" if port.address else f"({how})"


def _overlap(a: Network, b: Network) -> bool:
    one, other = subnet(a), subnet(b)
    return bool(one and other and one.range.overlaps(other.range))
