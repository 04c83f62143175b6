"""The media of an RTSP stream that do not come over the connection that asked for them, but by UDP to ports that the receiver
chose (RFC 7826 Appendix C): a call of the other direction, which no router expects."""

from functools import partial

from humble_relay.core.addressing.subnets import address_or_none
from humble_relay.core.egress.outbound import in_the_cloud
from humble_relay.core.endpoints.calls import Call, CloudHost, InsideHost
from humble_relay.core.judging.answer import Thing, Words, doubtful, fails
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Router
from humble_relay.core.reach.routing.call_hops import CallHop, ConnectionTrace
from humble_relay.core.reach.trace.outward_hops import from_caller


def media_trace(case: Case, asked: ConnectionTrace) -> ConnectionTrace:
    """The hops of the media, from whom was asked to who asked. Where the receiver asked under the address of a router, that
    expects nothing at the ports that the receiver chose; some receivers send something out first, which helps where the sender
    stands in the open."""
    receiver, sender = asked.call.caller, asked.call.listener
    socket = asked.waypoints[0].thing.part
    port = next((p for p in receiver.ports if p.id == socket), None)
    six = asked.call.host.count(":") > 1
    host = ((port.interface.address_v6 if port.interface else "") if six else port.address) if port else ""
    call = Call(asked.call.stream, sender, receiver, ("udp",), None, host, media=True)
    under = next((w for w in asked.waypoints if w.translates), None)
    if under:
        say = partial(_not_expected, case, call, under.thing.id)
        verdict = doubtful(say, compared=(under.thing.id,)) if in_the_cloud(sender) else fails(say)
        words = (
            f"{_router(case, under.thing.id).name} expects nothing at the ports that {receiver.name} chose"
        )
        start = CallHop("socket", Thing("device", sender.id), f"{sender.name} sends the media by UDP")
        return ConnectionTrace(call, (start, CallHop("router", under.thing, words, "not-let-in", verdict)))
    if in_the_cloud(receiver) or port is None:
        return ConnectionTrace(call, tuple(from_caller(case, call, CloudHost())))
    to = InsideHost(f"{receiver.id}/{port.id}", port.network or "", address_or_none(host) is not None and six)
    return ConnectionTrace(call, tuple(from_caller(case, call, to)))


def _router(case: Case, id: str) -> Router:
    return next(r for r in case.plan.routers if r.id == id)


def _not_expected(case: Case, call: Call, router: str) -> Words:
    return Words(
        f"{call.stream.name} is asked for by TCP and sent by UDP, and {_router(case, router).name} lets no UDP in that {call.listener.name} did not ask for.",
        "The connection stands, the receiver shows the stream's name, and no picture comes.",
        f"Have {call.listener.name} take the media by TCP (interleaved).",
    )
