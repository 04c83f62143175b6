"""The hops of a call on its listener's side: in at a line, past its router's forwards, to the socket that listens and the one that answers."""

from collections.abc import Iterator
from ipaddress import IPv6Address

from humble_relay.core.addressing.hosts import address_in, host_class
from humble_relay.core.addressing.subnets import ipv4, subnet
from humble_relay.core.endpoints.calls import (
    Call,
    CloudHost,
    Destination,
    InsideHost,
    OutsideHost,
)
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict
from humble_relay.core.judging.case import Case
from humble_relay.core.lan.sockets import picture_sockets
from humble_relay.core.plan import Device, Forward, Port, Router, Uplink
from humble_relay.core.reach import hop_verdicts
from humble_relay.core.reach.call_hops import (
    HAIRPIN,
    INTERNET,
    CallHop,
    CallPacket,
    addressed,
    line_routers,
    network_words,
)
from humble_relay.core.reach.public_address import address_words
from humble_relay.core.reach.routing_table import connected_sockets, default_sockets


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
        yield from in_at(case, call, behind.id, inner, sent.by(behind.id), near=True)
        return
    ref, verdict = _forwarded_to(case, call, router, forward)
    yield CallHop("router", thing, words, "not-let-in", verdict)
    if ref:
        network = case.networks[case.ports[ref].network or ""]
        yield CallHop("network", Thing("network", network.id), network_words(network))
        yield from arrival(
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
    chain = [router]
    while (line := case.uplinks.get((chain[-1].uplinks or ("",))[0])) and line.behind:
        before = case.router_of.get(line.behind)
        if before is None or before in chain:
            break
        chain.append(before)
    for router in reversed(chain):  # every router on the way in must let it pass
        if router.id not in sent.passed:
            yield _hole(case, call, router)
    network = case.networks[to.network]
    yield CallHop("network", Thing("network", network.id), network_words(network))
    yield from arrival(case, call, to.ref, sent)


def _hole(case: Case, call: Call, router: Router) -> CallHop:
    """Whether a router's filter has a hole for a call by IPv6."""
    hole = next(
        (f for f in router.forwards if f.transport in call.transports and f.port == call.port and address_in(f.to_address) == address_in(call.host)),
        None,
    )  # fmt: skip
    verdict = HOLDS if hole else hop_verdicts.not_forwarded(case, call, router, call.port)
    words = f"{router.name} {'lets' if hole else 'does not let'} {call.wants} in to {call.host}"
    return CallHop("router", Thing("router", router.id), words, "not-let-in", verdict)


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


def arrival(case: Case, call: Call, ref: str, sent: CallPacket) -> Iterator[CallHop]:
    """The socket that is called, and the one that answers."""
    port, device = case.ports[ref], case.device_of(ref)
    thing = Thing("device", device.id, port.id)
    yield CallHop("socket", thing, f"{case.port_name(ref)} {addressed(port)} listens",
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
