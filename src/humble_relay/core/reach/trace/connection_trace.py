"""The journey of a call: hop by hop from the box that calls to the one that listens, and where it ends.

Each hop is judged as if all before it let the call pass; the journey ends where the first one does not. Answers come back
the way the call came: routers remember whom they let out (RFC 4787 for UDP, RFC 5382 for TCP), and the listener must answer
by the socket that was called.
"""

from humble_relay.core.egress.outbound import in_the_cloud, on_the_internet
from humble_relay.core.endpoints.calls import (
    Call,
    call_of,
    destination,
    service_calls,
)
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.plan import Device, Router, Stream
from humble_relay.core.reach.routing.call_hops import CallHop, ConnectionTrace
from humble_relay.core.reach.trace.media_hops import media_trace
from humble_relay.core.reach.trace.outward_hops import from_caller


@analysis
def connection_traces(case: Case) -> dict[str, tuple[ConnectionTrace, ...]]:
    """The journey of each stream's call; of a browser link those of both sides to its service; of RTSP whose media go by UDP
    theirs too."""
    return {
        s.id: _traces(case, s)
        for s in case.streams
        if not in_the_cloud(case.devices[s.from_device]) or not on_the_internet(case.devices[s.to_device])
    }


def _traces(case: Case, stream: Stream) -> tuple[ConnectionTrace, ...]:
    if stream.protocol == "web":
        return tuple(journey(case, call) for call in service_calls(case, stream))
    asked = journey(case, call_of(case, stream))
    apart = stream.protocol == "rtsp" and stream.media_over == "udp" and not stream.multicast
    return (asked, media_trace(case, asked)) if apart else (asked,)


def journey(case: Case, call: Call) -> ConnectionTrace:
    """The hops of a call to where it is addressed to."""
    return ConnectionTrace(call, tuple(from_caller(case, call, destination(case, call))))


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
