"""The last hops of a call: the holes of filters on its way in, the socket that is called, and the one that answers."""

from collections.abc import Iterator

from humble_relay.core.addressing.hosts import address_in
from humble_relay.core.endpoints.calls import Call
from humble_relay.core.judging.answer import HOLDS, Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Router
from humble_relay.core.reach.hop_answers import hop_verdicts, rendezvous_verdicts, route_verdicts
from humble_relay.core.reach.routing.call_hops import CallHop, CallPacket, addressed
from humble_relay.core.reach.routing.nat_traversal import NatSide, strictest
from humble_relay.core.reach.routing.routing_table import answering_sockets


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
    other_way = gets_out(case, call, router, there) if call.both else None
    return CallHop("router", Thing("router", router.id), words, "not-let-in", verdict, other_way=other_way)


def gets_out(case: Case, call: Call, router: Router, there: str) -> bool:
    """Of two that call each other at once past a filter that does not translate: whether the listener's own call gets out there."""
    back = call._replace(caller=call.listener, listener=call.caller)
    line = case.uplinks[router.uplinks[0]] if router.uplinks else None
    out = hop_verdicts.ruled(case, back, router, there, None)
    if line and line.lets_out and out.state == "holds":
        out = hop_verdicts.let_out(case, back, line)
    return out.state == "holds"


def arrival(case: Case, call: Call, ref: str, sent: CallPacket, port: int | None = None) -> Iterator[CallHop]:
    """The socket that is called, and the one that answers. `port`: where a forward led to, if it was another than was asked for."""
    socket, device = case.ports[ref], case.device_of(ref)
    thing = Thing("device", device.id, socket.id)
    expected = call.both and not (
        call.media and sent.sides
    )  # a browser sends to no address that it was not told
    yield CallHop("socket", thing, f"{case.port_name(ref)} {addressed(socket)} {'takes them' if call.media else 'listens'}",
                  "firewall-in-the-box", HOLDS if expected else hop_verdicts.firewall(call, device))  # fmt: skip
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
