"""The hops of a call on its listener's side: in at a line, past its router's forwards, to the socket that listens and the one that answers."""

from collections.abc import Iterator
from ipaddress import IPv6Address

from humble_relay.core.addressing.hosts import address_in, host_class
from humble_relay.core.addressing.subnets import ipv4, subnet
from humble_relay.core.egress.outbound import line_routers
from humble_relay.core.endpoints.calls import (
    Call,
    CloudHost,
    Destination,
    InsideHost,
    OutsideHost,
)
from humble_relay.core.endpoints.forwarded_ports import forward_for
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.lan.sockets import picture_sockets
from humble_relay.core.plan import Device, Forward, Port, Router, Uplink
from humble_relay.core.reach import hop_verdicts, route_verdicts
from humble_relay.core.reach.call_hops import (
    HAIRPIN,
    INTERNET,
    CallHop,
    CallPacket,
    addressed,
    network_words,
)
from humble_relay.core.reach.nat_traversal import keeps_its_port
from humble_relay.core.reach.public_address import address_words
from humble_relay.core.reach.routing_table import (
    connected_sockets,
    default_sockets,
)
from humble_relay.core.reach.static_routes import known_route


def from_the_internet(case: Case, call: Call, to: Destination, sent: CallPacket = INTERNET) -> Iterator[CallHop]:  # fmt: skip
    """The hops of a call from the internet on: to a service, in at a line, in by IPv6, or nowhere."""
    if isinstance(to, CloudHost):
        name = (call.host or "the service of the link") if call.service else call.listener.name
        yield CallHop("internet", Thing("device", call.listener.id), f"{name} takes it on the internet")
    elif isinstance(to, OutsideHost):
        yield from in_at(case, call, to.line, call.port, sent, near=False)
    elif isinstance(to, InsideHost) and to.v6 and not stays_inside(call):
        yield from _in_by_v6(case, call, to, sent)
    else:
        yield CallHop("nowhere", Thing("link", call.stream.id), f"{call.host or 'a private address'} is nowhere on the internet", "no-route", hop_verdicts.NOWHERE)  # fmt: skip


def stays_inside(call: Call) -> bool:
    """Whether the address of a call is none of the internet's: unique local (RFC 4193) or link-local (RFC 4291)."""
    kind = host_class(call.host)
    return kind is not None and kind[0] in ("private", "self-assigned")


def in_at(case: Case, call: Call, line_id: str, port: int | None, sent: CallPacket, near: bool) -> Iterator[CallHop]:  # fmt: skip
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
        yield from _meets(case, call, router, line, forward)
        return
    if forward is None:
        asked = f"{call.wants}" if port == call.port else f"port {port}"
        yield CallHop("router", thing, f"{router.name} forwards {asked} to nobody", "not-let-in", hop_verdicts.not_forwarded(case, call, router, port))  # fmt: skip
        return
    inner = forward.to_port or forward.port
    words = f"{router.name} forwards {forward.transport.upper()} {forward.port} to {forward.to_address}" + (f", port {inner}" if inner != forward.port else "")  # fmt: skip
    behind = _line_at(case, router, forward.to_address)
    if behind and behind.id not in sent.passed:
        hairpin = sent.network == HAIRPIN
        yield CallHop("router", thing, words, "not-let-in", HOLDS if hairpin else route_verdicts.ruled_in(case, call._replace(port=inner), router, behind.behind or ""))  # fmt: skip
        sent = sent._replace(network=behind.behind, address=None) if sent.network == HAIRPIN else sent
        yield from in_at(case, call, behind.id, inner, sent.by(behind.id), near=True)
        return
    ref, verdict = _forwarded_to(case, call, router, forward)
    if ref and sent.network != HAIRPIN:
        verdict = route_verdicts.ruled_in(
            case, call._replace(port=inner), router, case.ports[ref].network or ""
        )
    yield CallHop("router", thing, words, "not-let-in", verdict)
    if ref:
        network = case.networks[case.ports[ref].network or ""]
        yield CallHop("network", Thing("network", network.id), network_words(network))
        yield from arrival(
            case,
            call,
            ref,
            sent._replace(network=network.id, address=None) if sent.network == HAIRPIN else sent,
            inner,
        )


@analysis
def networks_by_line(case: Case) -> dict[str, set[str]]:
    """For each line that is a socket on a network of the plan, the networks behind its router."""
    hung = ((u, line_routers(case).get(u.id)) for u in case.uplinks.values() if u.behind)
    return {line.id: networks_behind(case, router) for line, router in hung if router}


def _meets(case: Case, call: Call, router: Router, line: Uplink, forward: Forward | None) -> Iterator[CallHop]:  # fmt: skip
    """Two that call each other at once: at the router of the one that is not followed from its socket on."""
    thing = Thing("router", router.id)
    words = (
        f"{router.name} keeps the port that {call.listener.name} opened itself, by calling at the same time"
    )
    if not any(p.network in networks_behind(case, router) for p in picture_sockets(call.listener)):
        yield CallHop("router", thing, words, "not-let-in", hop_verdicts.not_behind(call, line))
        return
    met, home = hop_verdicts.met(case, call), _forwarded_home(case, call, router, call.port)
    helped = home and keeps_its_port(case, call.caller, call.stream)
    if helped and met.state == "fails":  # the forward lets the caller in, if that calls first
        met = hop_verdicts.met_by_forward(call, router)
    yield CallHop("router", thing, words, "not-let-in", met)
    if forward and not home:
        words = f"{router.name} forwards {call.wants} to {forward.to_address}"
        verdict = hop_verdicts.met_by_another(call, router, forward)
        yield CallHop("router", thing, words, "not-let-in", verdict)
    for hop in _out_to_meet(case, call, router, line):
        shut = helped and hop.verdict.state == "fails"
        yield hop._replace(verdict=hop_verdicts.met_by_forward(call, router)) if shut else hop


def _forwarded_home(case: Case, call: Call, router: Router, port: int | None) -> bool:
    """Whether the forwards from a router on lead a call of both ends to its listener: it is then let in whoever calls first."""
    forward = forward_for(call, router, port)
    if forward is None or (forward.to_port or port) != port:
        return False
    behind = _line_at(case, router, forward.to_address)
    inner = line_routers(case).get(behind.id) if behind else None
    if behind and inner and inner is not router:
        ruled = route_verdicts.ruled_in(case, call, router, behind.behind or "")
        return ruled.state == "holds" and _forwarded_home(case, call, inner, port)
    ref, verdict = _forwarded_to(case, call, router, forward)
    if ref is None or verdict.state != "holds" or case.ports[ref] not in default_sockets(case, call.listener):
        return False
    return route_verdicts.ruled_in(case, call, router, case.ports[ref].network or "").state == "holds"


def networks_behind(case: Case, router: Router) -> set[str]:
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
    chain = [router]
    while (line := case.uplinks.get((chain[-1].uplinks or ("",))[0])) and line.behind:
        before = case.router_of.get(line.behind)
        if before is None or before in chain:
            break
        chain.append(before)
    outermost = case.uplinks.get((chain[-1].uplinks or ("",))[0])
    if outermost and outermost.ipv6 is False and chain[-1].id not in sent.passed:
        yield CallHop("line", Thing("uplink", outermost.id), f"{outermost.name} has no IPv6", "not-let-in", route_verdicts.line_without_v6(call, outermost))  # fmt: skip
    for n, router in reversed(
        [*enumerate(chain)]
    ):  # every router on the way in must let it pass, and know the next
        if router.id not in sent.passed:
            line = case.uplinks[chain[n - 1].uplinks[0]] if n else None
            led = known_route(case, router, line, address_in(call.host)) if line else HOLDS
            if led.state != "holds":
                yield CallHop("router", Thing("router", router.id), f"{router.name} knows no way to {call.host}", "kept-apart", led)  # fmt: skip
            yield hole(case, call, router, line.behind or "" if line else to.network)
    network = case.networks[to.network]
    yield CallHop("network", Thing("network", network.id), network_words(network))
    yield from arrival(case, call, to.ref, sent)


def hole(case: Case, call: Call, router: Router, there: str) -> CallHop:
    """Whether a router's filter has a hole for a call by IPv6: a forward to its address, or a rule."""
    hole = next(
        (f for f in router.forwards if f.transport in call.transports and f.port == call.port and address_in(f.to_address) == address_in(call.host)),
        None,
    )  # fmt: skip
    otherwise = HOLDS if hole else hop_verdicts.not_forwarded(case, call, router, call.port)
    verdict = route_verdicts.ruled_in(case, call, router, there, otherwise)
    lets = "lets" if verdict.state == "holds" else "does not let"
    words = f"{router.name} {lets} {call.wants} in to {call.host}"
    return CallHop("router", Thing("router", router.id), words, "not-let-in", verdict)


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


def arrival(case: Case, call: Call, ref: str, sent: CallPacket, port: int | None = None) -> Iterator[CallHop]:
    """The socket that is called, and the one that answers. `port`: where a forward led to, if it was another than was asked for."""
    socket, device = case.ports[ref], case.device_of(ref)
    thing = Thing("device", device.id, socket.id)
    yield CallHop("socket", thing, f"{case.port_name(ref)} {addressed(socket)} {'takes them' if call.media else 'listens'}",
                  "firewall-in-the-box", HOLDS if call.both else hop_verdicts.firewall(call, device))  # fmt: skip
    at, listens = port or call.port, call.stream.listens_port
    if listens and at and at != listens and not (call.both or call.media):
        yield CallHop("socket", thing, f"{device.name} listens at port {listens}", "not-let-in", route_verdicts.listens_elsewhere(call, at, listens))  # fmt: skip
    answering = _answering(case, device, sent)
    if not answering and sent.network != socket.network:
        yield CallHop("socket", thing, f"{device.name} has no default route", "not-let-in", route_verdicts.no_default_route(device, socket))  # fmt: skip
    if {p.network for p in answering} - {socket.network}:
        verdict = hop_verdicts.answers_come_back(case, call, socket, answering)
        yield CallHop("socket", thing, f"{device.name} answers by {case.networks[answering[0].network or ''].name}", "not-let-in", verdict)  # fmt: skip


def _answering(case: Case, device: Device, sent: CallPacket) -> tuple[Port, ...]:
    """The sockets by which a listener may answer: by its own routing table, whichever was called (RFC 1122 §3.3.4.2)."""
    if sent.address is not None and sent.network is not None:
        near = connected_sockets(case, device, sent.address)
    else:
        near = tuple(p for p in picture_sockets(device) if p.network and p.network == sent.network)
    return near or default_sockets(case, device, isinstance(sent.address, IPv6Address))
