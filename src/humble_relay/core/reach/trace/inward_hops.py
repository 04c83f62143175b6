"""The hops of a call on its listener's side: in at a line, past its router's forwards, to the socket that listens and the one that answers."""

from collections.abc import Iterator

from humble_relay.core.addressing.hosts import address_in, host_class
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
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Router
from humble_relay.core.reach.hop_answers import hop_verdicts, rendezvous_verdicts, route_verdicts
from humble_relay.core.reach.hop_answers.forward_targets import forwarded_to, line_at
from humble_relay.core.reach.hop_answers.static_routes import known_route
from humble_relay.core.reach.routing.call_hops import (
    HAIRPIN,
    INTERNET,
    CallHop,
    CallPacket,
    addressed,
    network_words,
)
from humble_relay.core.reach.routing.nat_traversal import NatSide, strictest
from humble_relay.core.reach.routing.public_address import address_words
from humble_relay.core.reach.routing.routing_table import (
    answering_sockets,
)
from humble_relay.core.reach.trace.rendezvous_hops import meets


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
        yield from meets(case, call, router, line, forward, sent)
        return
    if forward is None:
        asked = f"{call.wants}" if port == call.port else f"port {port}"
        yield CallHop("router", thing, f"{router.name} forwards {asked} to nobody", "not-let-in", hop_verdicts.not_forwarded(case, call, router, port))  # fmt: skip
        return
    inner = forward.to_port or forward.port
    words = f"{router.name} forwards {forward.transport.upper()} {forward.port} to {forward.to_address}" + (f", port {inner}" if inner != forward.port else "")  # fmt: skip
    behind = line_at(case, router, forward.to_address)
    if behind and behind.id not in sent.passed:
        hairpin = sent.network == HAIRPIN
        yield CallHop("router", thing, words, "not-let-in", HOLDS if hairpin else route_verdicts.ruled_in(case, call._replace(port=inner), router, behind.behind or ""))  # fmt: skip
        sent = sent._replace(network=behind.behind, address=None) if sent.network == HAIRPIN else sent
        yield from in_at(case, call, behind.id, inner, sent.by(behind.id), near=True)
        return
    ref, verdict = forwarded_to(case, call, router, forward)
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
    if call.both and verdict.state != "holds":
        verdict = opened_from_inside(case, call, router, there, verdict)
    lets = "lets" if verdict.state == "holds" else "does not let"
    words = f"{router.name} {lets} {call.wants} in to {call.host}"
    return CallHop("router", Thing("router", router.id), words, "not-let-in", verdict)


def opened_from_inside(case: Case, call: Call, router: Router, there: str, otherwise: Verdict) -> Verdict:
    """Of a rendezvous past a filter that does not translate: the listener's own call opens the way in, where that gets out."""
    back = call._replace(caller=call.listener, listener=call.caller)
    line = case.uplinks[router.uplinks[0]] if router.uplinks else None
    out = hop_verdicts.ruled(case, back, router, there, None)
    if line and line.lets_out and out.state == "holds":
        out = hop_verdicts.let_out(case, back, line)
    return HOLDS if out.state == "holds" else otherwise


def arrival(case: Case, call: Call, ref: str, sent: CallPacket, port: int | None = None) -> Iterator[CallHop]:
    """The socket that is called, and the one that answers. `port`: where a forward led to, if it was another than was asked for."""
    socket, device = case.ports[ref], case.device_of(ref)
    thing = Thing("device", device.id, socket.id)
    yield CallHop("socket", thing, f"{case.port_name(ref)} {addressed(socket)} {'takes them' if call.media else 'listens'}",
                  "firewall-in-the-box", HOLDS if call.both else hop_verdicts.firewall(call, device))  # fmt: skip
    if call.both and sent.sides and not call.media:
        verdict = rendezvous_verdicts.met(case, call, strictest(sent.sides), NatSide())
        yield CallHop(
            "socket", thing, f"{device.name} calls back to the port that it hears", "not-let-in", verdict
        )
    at, listens = port or call.port, call.stream.listens_port
    if listens and at and at != listens and not (call.both or call.media):
        yield CallHop("socket", thing, f"{device.name} listens at port {listens}", "not-let-in", route_verdicts.listens_elsewhere(call, at, listens))  # fmt: skip
    answering = answering_sockets(case, device, sent)
    if not answering and sent.network != socket.network:
        yield CallHop("socket", thing, f"{device.name} has no default route", "not-let-in", route_verdicts.no_default_route(device, socket))  # fmt: skip
    if {p.network for p in answering} - {socket.network}:
        verdict = hop_verdicts.answers_come_back(case, call, socket, answering)
        yield CallHop("socket", thing, f"{device.name} answers by {case.networks[answering[0].network or ''].name}", "not-let-in", verdict)  # fmt: skip
