"""The hops of a call on its listener's side: in at a line, past its router's forwards, to the socket that listens and the one that answers."""

from collections.abc import Iterator
from ipaddress import IPv4Address

from humble_relay.core.addressing.hosts import address_in, host_class
from humble_relay.core.addressing.subnets import ipv4
from humble_relay.core.egress.outbound import line_routers
from humble_relay.core.endpoints.calls import (
    Call,
    CloudHost,
    Destination,
    InsideHost,
    OutsideHost,
)
from humble_relay.core.endpoints.forwarded_ports import forward_for
from humble_relay.core.judging.answer import HOLDS, Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.lan.sockets import sockets_on_networks
from humble_relay.core.plan import Forward, Router, Uplink
from humble_relay.core.reach.hop_answers import hop_verdicts, route_verdicts
from humble_relay.core.reach.hop_answers.forward_targets import forwarded_to, line_at
from humble_relay.core.reach.hop_answers.static_routes import known_route, next_line
from humble_relay.core.reach.routing.call_hops import (
    HAIRPIN,
    INTERNET,
    CallHop,
    CallPacket,
    network_words,
)
from humble_relay.core.reach.routing.public_address import address_words
from humble_relay.core.reach.routing.routing_table import static_route
from humble_relay.core.reach.trace.arrival_hops import arrival, hole
from humble_relay.core.reach.trace.rendezvous_hops import meets
from humble_relay.core.reach.trace.routed_hops import in_routed


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
        between = case.networks[behind.behind or ""]
        yield CallHop("network", Thing("network", between.id), network_words(between))
        sent = sent._replace(network=behind.behind, address=None) if sent.network == HAIRPIN else sent
        yield from in_at(case, call, behind.id, inner, sent.by(behind.id), near=True)
        return
    ref, verdict = forwarded_to(case, call, router, forward)
    deep = _routed_to(case, call, router, forward) if ref is None else None
    if deep:
        hairpin, (next_, inside) = sent.network == HAIRPIN, deep
        there = next_.behind or ""
        moved = call._replace(port=inner, host=forward.to_address)
        yield CallHop("router", thing, words, "not-let-in", HOLDS if hairpin else route_verdicts.ruled_in(case, moved, router, there))  # fmt: skip
        yield CallHop("network", Thing("network", there), network_words(case.networks[there]))
        sent = sent._replace(network=there, address=None) if hairpin else sent
        yield from in_routed(case, moved, inside, next_, IPv4Address(forward.to_address), sent)
        return
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


def _routed_to(case: Case, call: Call, router: Router, forward: Forward) -> tuple[Uplink, InsideHost] | None:
    """The next router that a static route leads to from a forward, and the socket of the listener behind it."""
    target = ipv4(forward.to_address)
    found = static_route(router, target) if target else None
    line = next_line(case, router, found[1]) if found else None
    sockets = (p for p in sockets_on_networks(case)[call.listener.id] if target and ipv4(p.address) == target)
    socket = next(sockets, None)
    return (line, InsideHost(f"{call.listener.id}/{socket.id}", socket.network or "")) if line and socket else None  # fmt: skip


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
