"""The hops of two ends that call each other at once, at the router of the one that is called: its port, its forwards, its own WAN port."""

from collections.abc import Iterator

from humble_relay.core.egress.outbound import line_routers
from humble_relay.core.endpoints.calls import Call
from humble_relay.core.endpoints.forwarded_ports import forward_for
from humble_relay.core.judging.answer import Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.lan.sockets import picture_sockets
from humble_relay.core.plan import Forward, Router, Uplink
from humble_relay.core.reach.hop_answers import hop_verdicts, rendezvous_verdicts, route_verdicts
from humble_relay.core.reach.hop_answers.forward_targets import (
    forwarded_to,
    is_behind,
    line_at,
    networks_behind,
)
from humble_relay.core.reach.routing.call_hops import CallHop, CallPacket
from humble_relay.core.reach.routing.nat_traversal import may_keep_its_port, side_up_to, strictest
from humble_relay.core.reach.routing.routing_table import answering_sockets, default_sockets


def meets(case: Case, call: Call, router: Router, line: Uplink, forward: Forward | None, sent: CallPacket) -> Iterator[CallHop]:  # fmt: skip
    """Two that call each other at once: at the router of the one that is not followed from its socket on."""
    thing = Thing("router", router.id)
    words = (
        f"{router.name} keeps the port that {call.listener.name} opened itself, by calling at the same time"
    )
    behind, answering = networks_behind(case, router), answering_sockets(case, call.listener, sent)
    here = [p.network in behind for p in answering]
    if not is_behind(case, call.listener, router) or not any(here):
        yield CallHop("router", thing, words, "not-let-in", rendezvous_verdicts.not_behind(call, line))
        return
    if not router.translates:
        yield CallHop(
            "router", thing, words, "not-let-in", rendezvous_verdicts.nobody_there(call, line, router)
        )
        return
    if not all(here):
        verdict = hop_verdicts.default_route(case, call.listener, answering)
        yield CallHop("router", thing, words, "not-let-in", verdict)
        return
    caller, listener = strictest(sent.sides), side_up_to(case, call.listener, call.stream, line.id)
    met = rendezvous_verdicts.met(case, call, caller, listener)
    home = _forwarded_home(case, call, router, call.port)
    helped = home and may_keep_its_port(caller)
    if helped and met.state == "fails":  # the forward lets the caller in, if that calls first
        met = rendezvous_verdicts.met_by_forward(call, router)
    yield CallHop("router", thing, words, "not-let-in", met)
    if forward and not home:
        words = f"{router.name} forwards {call.wants} to {forward.to_address}"
        verdict = rendezvous_verdicts.met_by_another(call, router, forward)
        yield CallHop("router", thing, words, "not-let-in", verdict)
    for hop in _out_to_meet(case, call, router, line):
        shut = helped and hop.verdict.state == "fails"
        yield hop._replace(verdict=rendezvous_verdicts.met_by_forward(call, router)) if shut else hop


def _forwarded_home(case: Case, call: Call, router: Router, port: int | None) -> bool:
    """Whether the forwards from a router on lead a call of both ends to its listener: it then gets through, whichever calls first."""
    forward = forward_for(call, router, port)
    if forward is None or (forward.to_port or port) != port:
        return False
    behind = line_at(case, router, forward.to_address)
    inner = line_routers(case).get(behind.id) if behind else None
    if behind and inner and inner is not router:
        ruled = route_verdicts.ruled_in(case, call, router, behind.behind or "")
        return ruled.state == "holds" and _forwarded_home(case, call, inner, port)
    ref, verdict = forwarded_to(case, call, router, forward)
    if ref is None or verdict.state != "holds" or case.ports[ref] not in default_sockets(case, call.listener):
        return False
    return route_verdicts.ruled_in(case, call, router, case.ports[ref].network or "").state == "holds"


def _out_to_meet(case: Case, call: Call, router: Router, line: Uplink) -> Iterator[CallHop]:
    """The other call of a rendezvous: the listener's own outbound route, which opens the port that the caller's comes in by."""
    back = call._replace(caller=call.listener, listener=call.caller)
    here = next((p.network for p in picture_sockets(call.listener) if p.network in router.networks), None)
    if here:
        words = f"{router.name} lets {call.listener.name} call out by {line.name}"
        yield CallHop("router", Thing("router", router.id), words, "kept-apart", hop_verdicts.ruled(case, back, router, here, None))  # fmt: skip
    yield CallHop("line", Thing("uplink", line.id), f"{line.name} carries {call.wants} out", "not-let-out", hop_verdicts.let_out(case, back, line))  # fmt: skip
