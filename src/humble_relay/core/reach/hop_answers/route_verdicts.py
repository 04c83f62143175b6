"""The answers at hops that go by routes: whether a router knows the way, and the way back, and what it lets in unasked."""

from functools import partial
from ipaddress import IPv4Address, IPv6Address

from humble_relay.core.endpoints.calls import Call
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Want, Words, doubtful, fails, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device, Port, Router, StaticRoute, Uplink
from humble_relay.core.reach.hop_answers.hop_verdicts import ruled

_WAITS = "The caller tries, waits, and says that it cannot connect; the listener shows nothing at all."


def ruled_in(case: Case, call: Call, router: Router, there: str, otherwise: Verdict = HOLDS) -> Verdict:
    """What a router's inbound rules say of a call from outside to one of its networks."""
    return ruled(case, call, router, None, there, otherwise)


def passed_in(case: Case, call: Call, router: Router, there: str) -> Verdict:
    """Whether a router passes on to one of its networks what comes from outside for an address there. One that translates
    throws it away (RFC 4787 §5); one that does not may filter or not, and is asked."""
    network = case.networks[there]
    if router.translates:
        return ruled_in(
            case,
            call,
            router,
            there,
            fails(
                lambda: Words(
                    f"{router.name} translates addresses, and lets nothing in for {call.host or call.listener.name}, an address behind it.",
                    _WAITS,
                    f"Forward {call.wants} in {router.name} and call its outside address, or let the call in by a rule.",
                )
            ),
        )
    asked = f"Does {router.name} let {call.wants} in from outside to {network.name}, or only answers? Say it as a rule."
    return ruled_in(case, call, router, there, wants(Want(Thing("router", router.id), "rules", asked)))


def routes_unknown(router: Router, line: Uplink, address: IPv4Address | IPv6Address | None) -> Verdict:
    """Not known: the static routes of a router, where a network behind another router is to be reached through it."""
    where = f"{address} and its network" if address else "the networks behind it"
    asked = f"Which static routes has {router.name}? Answers need one to {where}, by {line.address or 'the address of ' + line.name}."
    return wants(Want(Thing("router", router.id), "routes", asked))


def line_address_unknown(router: Router, line: Uplink, route: StaticRoute) -> Verdict:
    """Not known: whether a static route leads to a line whose address nobody said."""
    asked = (
        f"Which address has {line.name}? {router.name} has a static route to {route.to_range} by {route.via}."
    )
    return wants(Want(Thing("uplink", line.id), "address", asked))


def no_route_to(case: Case, router: Router, line: Uplink, address: IPv4Address | IPv6Address) -> Verdict:
    """A router without a route to a network behind another one."""
    behind = line.name
    return fails(
        lambda: Words(
            f"{router.name} has no static route that leads to {address} by {line.address or behind}: what is meant for it goes elsewhere.",
            "What is sent out arrives, and every answer is lost.",
            f"Add a static route to {router.name} for that network, by {line.address or 'the address of ' + behind}, or have the router behind {behind} translate addresses (NAT).",
        )
    )


def by_another_line(router: Router, line: Uplink, back: Uplink) -> Verdict:
    """What goes out of a router by one of its lines and comes back by another: one that checks where packets come from throws
    the answers away (RFC 3704 §2.2, strict reverse path forwarding)."""
    return doubtful(
        lambda: Words(
            f"What comes by {line.name} is answered by {router.name} by way of {back.name}.",
            "A router that checks from where its packets come throws the answers away.",
            f"Give {router.name} a static route by {line.address or line.name}, or send by {back.name}.",
        ),
        compared=(line.id, back.id),
    )


def next_hop_unknown(case: Case, router: Router, route: StaticRoute | None) -> Verdict:
    """A static route to an address that no router of the plan has."""
    via = route.via if route else ""

    def say() -> Words:
        return Words(
            f"{router.name} has a static route by {via or 'a router'}, and no router of this plan has that address.",
            "What is sent there is lost where nobody answers.",
            f"Write the outside address of the next router into the route of {router.name}, or into that router's uplink.",
        )

    return doubtful(say, compared=(router.id, via))


def half_seen(call: Call, router: Router) -> Verdict:
    """A router that passes a call on by the network that it came in by sees the answers no more: one that keeps track of
    connections may throw away the rest of a TCP one (RFC 7857 §2; common practice)."""
    if "tcp" not in call.transports:
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{router.name} sends {call.stream.name} back onto the network that it came from: it sees one direction of the connection alone.",
            "It connects, or stalls after the first packets, as the firewall of the router has it.",
            f"Give {call.caller.name} and the next router a network of their own between them, or call over UDP.",
        ),
        compared=(router.id, call.stream.id),
    )


def listens_elsewhere(call: Call, at: int, listens: int) -> Verdict:
    """A call that arrives at another port than its listener is set to."""
    return fails(
        lambda: Words(
            f"{call.stream.name} arrives at port {at} of {call.listener.name}, which listens at {listens}.",
            "The caller is refused, or hears nothing, though every address is right.",
            f"Have the forward lead to port {listens}, or set {call.listener.name} to {at}.",
        )
    )


def no_default_route(device: Device, socket: Port) -> Verdict:
    """A device asked from elsewhere that has nowhere to send its answers (RFC 1122 §3.3.1.2)."""
    return fails(partial(_nowhere_to_send, device, socket))


def _nowhere_to_send(device: Device, socket: Port) -> Words:
    return Words(
        f"{device.name} has no default route by {socket.name}: it reaches its own network and nothing else.",
        "Its page opens from the next device, and from nowhere else.",
        f"Type the gateway of its network into {device.name}.",
    )


def line_without_v6(call: Call, line: Uplink) -> Verdict:
    """A call by IPv6 over a line that has none."""
    return fails(
        lambda: Words(
            f"{line.name} has no IPv6, and {call.stream.name} goes to {call.host}.",
            "The caller says that there is no route, or waits for ever.",
            "Call an IPv4 address, or have the provider switch IPv6 on.",
        )
    )
