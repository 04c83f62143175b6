"""The journey of a call: hop by hop from the box that calls to the one that listens, and where it ends.

Each hop is judged as if all before it let the call pass; the journey ends where the first one does not. Answers come back
the way the call came: routers remember whom they let out (RFC 4787 for UDP, RFC 5382 for TCP).
"""

from collections.abc import Iterator
from typing import Literal, NamedTuple

from humble_relay.core.addressing.hosts import address_in
from humble_relay.core.addressing.subnets import ipv4, ipv6_range, subnet
from humble_relay.core.egress.outbound import in_the_cloud, on_the_internet, sockets_out, uplink_by_policy
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
from humble_relay.core.plan import Device, Forward, Network, Port, Router, Uplink
from humble_relay.core.reach import hop_verdicts
from humble_relay.core.reach.public_address import address_words, outside_of

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
    def arrives(self) -> bool:
        """Whether every step holds."""
        return all(s.verdict.state == "holds" for s in self.waypoints)


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
    socket = _socket(case, call.caller, to)
    if socket is None:
        yield CallHop(
            "socket",
            Thing("device", call.caller.id),
            f"{call.caller.name} has no socket on a network",
            "no-route",
            hop_verdicts.NO_ROUTE,
        )
        return  # fmt: skip
    ref = f"{call.caller.id}/{socket.id}"
    yield CallHop("socket", Thing("device", call.caller.id, socket.id),
               f"{case.port_name(ref)} {_addressed(socket)} calls {call.wants}")  # fmt: skip
    yield from _from_network(case, call, to, socket.network or "", frozenset())


def _socket(case: Case, device: Device, to: Destination) -> Port | None:
    """The socket by which a box calls (RFC 1122 §3.3.1): one on the network that it calls, else the one it goes out by,
    else one on a network that a router joins to others."""
    sockets = [p for p in picture_sockets(device) if p.network]
    target = (
        case.uplinks[to.line].behind
        if isinstance(to, OutsideHost)
        else to.network
        if isinstance(to, InsideHost)
        else None
    )
    beside = (p for p in sockets if target and p.network == target)
    out = (p for p, _ in sockets_out(case, device))
    routed = (p for p in sockets if case.router_of.get(p.network or ""))
    return next((p for found in (beside, out, routed, iter(sockets)) for p in found), None)


def _from_network(case: Case, call: Call, to: Destination, here: str, passed: frozenset[str]) -> Iterator[CallHop]:  # fmt: skip
    network = case.networks[here]
    there = isinstance(to, InsideHost) and to.network == here
    at_its_line = isinstance(to, OutsideHost) and case.uplinks[to.line].behind == here
    apart = hop_verdicts.isolation(case, call, network) if there or at_its_line else HOLDS
    yield CallHop("network", Thing("network", here), network_words(network), "kept-apart", apart)
    if there and isinstance(to, InsideHost):
        yield _arrival(case, call, to.ref)
        return
    if at_its_line and isinstance(to, OutsideHost):
        yield from _in_at(case, call, to.line, call.port, passed, near=True)
        return
    router = case.router_of.get(here)
    if router is None or router.id in passed:
        yield CallHop(
            "network",
            Thing("network", here),
            f"no router leads on from {network.name}",
            "no-route",
            hop_verdicts.NO_ROUTE,
        )
        return  # fmt: skip
    yield from _through(case, call, to, network, router, passed | {router.id})


def _through(case: Case, call: Call, to: Destination, network: Network, router: Router, passed: frozenset[str]) -> Iterator[CallHop]:  # fmt: skip
    """From one network of a router on: into another of its networks, back in by its own line, or out."""
    thing = Thing("router", router.id)
    if isinstance(to, InsideHost) and to.v6 and ipv6_range(network) is None:
        yield CallHop("network", Thing("network", network.id), f"{network.name} has no IPv6", "kept-apart", hop_verdicts.no_v6(call, network))  # fmt: skip
    if isinstance(to, InsideHost) and to.network in router.networks:
        other = case.networks[to.network]
        verdict = hop_verdicts.ruled(case, call, router, network.id, other.id)
        yield CallHop("router", thing, f"{router.name} passes it on to {other.name}", "kept-apart", verdict)
        yield CallHop("network", Thing("network", other.id), network_words(other))
        yield _arrival(case, call, to.ref)
        return
    if isinstance(to, InsideHost) and not to.v6 and _overlap(network, case.networks[to.network]):
        verdict = hop_verdicts.taken_for_a_neighbour(call, network, case.networks[to.network])
        yield CallHop("network", Thing("network", network.id), f"{call.host} looks like an address of {network.name} itself", "kept-apart", verdict)  # fmt: skip
    if isinstance(to, OutsideHost) and to.line in router.uplinks:
        verdict = hop_verdicts.reflected(call, router, case.uplinks[to.line])
        yield CallHop("router", thing, f"{router.name} is asked for its own outside address from inside", "not-let-in", verdict)  # fmt: skip
        yield from _in_at(case, call, to.line, call.port, passed, near=True)
        return
    if not router.uplinks:
        yield CallHop("router", thing, f"{router.name} has no uplink", "no-route", hop_verdicts.NO_ROUTE)
        return
    line = case.uplinks[uplink_by_policy(router, call.stream) or ""]
    six = isinstance(to, InsideHost) and to.v6
    under = "" if six or not router.translates else ", under its own address"
    yield CallHop("router", thing, f"{router.name} sends it out by {line.name}{under}", "kept-apart", hop_verdicts.ruled(case, call, router, network.id, None))  # fmt: skip
    if line.behind:
        yield CallHop(
            "line", Thing("uplink", line.id), f"{line.name} is a socket on {case.networks[line.behind].name}"
        )
        yield from _from_network(case, call, to, line.behind, passed)
        return
    words = f"{line.name} carries {call.wants} out" + (", under an address that its carrier shares" if outside_of(line) == "shared" else "")  # fmt: skip
    yield CallHop(
        "line", Thing("uplink", line.id), words, "not-let-out", hop_verdicts.let_out(case, call, line)
    )
    if line.sign_in:
        yield CallHop("line", Thing("uplink", line.id), f"{line.name} shows a page to sign in on first", "sign-in-page", hop_verdicts.signed_in(call, line))  # fmt: skip
    yield CallHop("internet", Thing("uplink", line.id), "across the internet")
    yield from _from_the_internet(case, call, to, passed)


def _from_the_internet(case: Case, call: Call, to: Destination, passed: frozenset[str] = frozenset()) -> Iterator[CallHop]:  # fmt: skip
    if isinstance(to, CloudHost):
        name = (call.host or "the service of the link") if call.service else call.listener.name
        yield CallHop("internet", Thing("device", call.listener.id), f"{name} takes it on the internet")
    elif isinstance(to, OutsideHost):
        yield from _in_at(case, call, to.line, call.port, passed, near=False)
    elif isinstance(to, InsideHost) and to.v6:
        yield from _in_by_v6(case, call, to)
    else:
        yield CallHop("nowhere", Thing("link", call.stream.id), f"{call.host or 'a private address'} is nowhere on the internet", "no-route", hop_verdicts.NOWHERE)  # fmt: skip


def _in_at(case: Case, call: Call, line_id: str, port: int | None, passed: frozenset[str], near: bool) -> Iterator[CallHop]:  # fmt: skip
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
        yield CallHop("router", thing, words, "not-let-in", hop_verdicts.met(case, call))
        return
    if forward is None:
        asked = f"{call.wants}" if port == call.port else f"port {port}"
        yield CallHop("router", thing, f"{router.name} forwards {asked} to nobody", "not-let-in", hop_verdicts.not_forwarded(case, call, router, port))  # fmt: skip
        return
    inner = forward.to_port or forward.port
    words = f"{router.name} forwards {forward.transport.upper()} {forward.port} to {forward.to_address}" + (f", port {inner}" if inner != forward.port else "")  # fmt: skip
    behind = _line_at(case, router, forward.to_address)
    if behind and behind.id not in passed:
        yield CallHop("router", thing, words)
        yield from _in_at(case, call, behind.id, inner, passed | {behind.id}, near=True)
        return
    ref, verdict = _forwarded_to(case, call, router, forward)
    yield CallHop("router", thing, words, "not-let-in", verdict)
    if ref:
        network = case.networks[case.ports[ref].network or ""]
        yield CallHop("network", Thing("network", network.id), network_words(network))
        yield _arrival(case, call, ref)


def _in_by_v6(case: Case, call: Call, to: InsideHost) -> Iterator[CallHop]:
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
    yield _arrival(case, call, to.ref)


def forward_for(call: Call, router: Router, port: int | None) -> Forward | None:
    """The forward of a router that a call at a port falls into: IPv4 ones are translated, so only those count."""
    return next(
        (f for f in router.forwards if f.port == port and f.transport in call.transports and ipv4(f.to_address)),
        None,
    )  # fmt: skip


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
                return ref, hop_verdicts.answers_come_back(case, call, router)
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


def _arrival(case: Case, call: Call, ref: str) -> CallHop:
    port, device = case.ports[ref], case.device_of(ref)
    return CallHop("socket", Thing("device", device.id, port.id), f"{case.port_name(ref)} {_addressed(port)} listens",
                "firewall-in-the-box", hop_verdicts.firewall(call, device))  # fmt: skip


def network_words(network: Network) -> str:
    """A network with its range."""
    return f"{network.name}, {network.range}" if network.range else network.name


def _addressed(port: Port) -> str:
    how = {"dhcp": "by DHCP", "reserved": "reserved", "fixed": "fixed"}[port.addressing]
    return f"{port.address} ({how})" if port.address else f"({how})"


def _overlap(a: Network, b: Network) -> bool:
    one, other = subnet(a), subnet(b)
    return bool(one and other and one.range.overlaps(other.range))
