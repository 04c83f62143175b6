"""The answers where two ends call each other at once (SRT's rendezvous): whether each finds the other at the port that it called from."""

from humble_relay.core.egress.outbound import uplink_out
from humble_relay.core.endpoints.calls import Call, call_of
from humble_relay.core.judging.answer import Verdict, Words, doubtful, fails, holds
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Forward, Router, Stream, Uplink
from humble_relay.core.reach.routing.nat_traversal import NatSide, rendezvous


def met(case: Case, call: Call, caller: NatSide, listener: NatSide) -> Verdict:
    """Whether two ends that call each other at once get through what translates before each (SRT's rendezvous)."""
    through = rendezvous(caller, listener)
    if through and (other := port_taken(case, call)):
        return doubtful(
            lambda: Words(
                f"{call.stream.name} and {other.name} both meet at UDP {call.port} behind one router, which keeps a port for one device alone.",
                "The one that calls first comes up, and the other does not.",
                f"Give {other.name} a port of its own.",
            ),
            compared=(other.id, call.port),
        )
    if through:
        return holds(evidence="practice")

    def say() -> Words:
        known = (
            "give the box another port towards each side"
            if through is False
            else "may give the box another port"
        )
        return Words(
            f"Both ends of {call.stream.name} call at once, and the routers between them {known}.",
            "It comes up on one try in ten, or never, and nobody knows why.",
            "Let one end listen behind a forwarded port, or go through a relay.",
        )

    return fails(say) if through is False else doubtful(say)


def not_behind(call: Call, line: Uplink) -> Verdict:
    """A rendezvous at the address of a line behind which the other end does not stand: such as one's own."""
    return fails(
        lambda: Words(
            f"{call.stream.name} is to meet at {call.host or line.address}, the address of {line.name}, and {call.listener.name} is not behind that.",
            "Both ends call, and neither hears the other.",
            f"Type the public address of {call.listener.name}'s site at {call.caller.name}, and of this one there.",
        )
    )


def nobody_there(call: Call, line: Uplink, router: Router) -> Verdict:
    """A rendezvous at the address of a router that does not translate: nobody calls from there."""
    return fails(
        lambda: Words(
            f"{call.stream.name} is to meet at {call.host or line.address}, which {router.name} has itself, and {call.listener.name} calls from its own address.",
            "Both ends call, and neither hears the other.",
            f"Type the address of {call.listener.name} itself: {router.name} does not translate addresses.",
        )
    )


def met_by_forward(call: Call, router: Router) -> Verdict:
    """A rendezvous that comes about by a forward alone: if the side that it lets through calls first."""
    return doubtful(
        lambda: Words(
            f"{router.name} lets {call.wants} in to {call.listener.name} by a forward, and nothing else lets the two ends of {call.stream.name} meet.",
            f"It comes up where {call.caller.name} calls first, and not where {call.listener.name} does.",
            f"Have {call.listener.name} listen, and {call.caller.name} call.",
        ),
        compared=(router.id, call.port),
    )


def met_by_another(call: Call, router: Router, forward: Forward) -> Verdict:
    """A rendezvous at a port that is forwarded to another device or port: the first packet decides who gets it."""
    return doubtful(
        lambda: Words(
            f"{router.name} forwards {call.wants} to {forward.to_address}, and {call.listener.name} is to meet {call.caller.name} at that port.",
            "Where the caller's packets come first, the other device gets them, and the two never meet.",
            f"Take another port for {call.stream.name}, or close the forward.",
        ),
        compared=(router.id, forward.port, forward.to_address),
    )


def one_port_for_two(call: Call, router: Router) -> Verdict:
    """A rendezvous of two devices behind one router at its outside address: both are to have the same port of it."""
    return fails(
        lambda: Words(
            f"{call.caller.name} and {call.listener.name} are both behind {router.name}, and are to meet at UDP {call.port} of its one outside address.",
            "The port is given to one of them; neither hears the other.",
            f"Type the inside addresses at both, or have {call.listener.name} listen.",
        )
    )


def port_taken(case: Case, call: Call) -> Stream | None:
    """Another stream that meets at the same port, from another device behind the same line: a router that keeps ports gives it
    to one of the two alone (RFC 4787 §4.2.2). None where there is none."""
    ends = {d.id: uplink_out(case, d, call.stream) for d in (call.caller, call.listener)}
    for stream in case.streams:
        if stream is call.stream or stream.caller != "rendezvous" or call_of(case, stream).port != call.port:
            continue
        for device in (case.devices[stream.from_device], case.devices[stream.to_device]):
            line = uplink_out(case, device, stream)
            if device.id not in ends and line and line in ends.values():
                return stream
    return None
