"""Whether the two sides of a browser link get through to each other: beside each other, through their routers, or by a relay."""

from collections.abc import Iterable
from functools import partial
from typing import NamedTuple

from humble_relay.core.egress.outbound import line_routers, uplink_out
from humble_relay.core.endpoints.calls import Call, CloudHost, InsideHost
from humble_relay.core.judging.answer import (
    HOLDS,
    Choice,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    fails,
    holds,
    wants,
)
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.lan.sockets import sockets_on_networks
from humble_relay.core.plan import Device, Router, Stream, Uplink
from humble_relay.core.reach.routing.call_hops import CallHop
from humble_relay.core.reach.routing.nat_traversal import meet, side_of
from humble_relay.core.reach.trace.outward_hops import from_caller


class BrowserLink(NamedTuple):
    """A browser link and the lines by which its two sides go out."""

    stream: Stream
    lines: tuple[Uplink, ...]


def _browser_links(case: Case) -> Iterable[tuple[Thing, BrowserLink]]:
    for stream in case.streams:
        if stream.protocol == "web":
            ends = (case.devices[stream.from_device], case.devices[stream.to_device])
            lines = (uplink_out(case, d, stream) for d in ends)
            known = tuple(case.uplinks[up] for up in lines if up)
            if len(known) == 2:
                yield Thing("link", stream.id, "meet"), BrowserLink(stream, known)


BROWSER_LINKS: SubjectKind[BrowserLink] = SubjectKind("browser link whose two sides go out", _browser_links)


@check(
    "sides-do-not-meet", BROWSER_LINKS, "addresses", "Do the two sides of the browser link get through to each other?",
    "RFC 8445; RFC 4787; RFC 8656; RFC 8835", "plan", tried=True,
)  # fmt: skip
def sides_do_not_meet(case: Case, what: BrowserLink) -> Verdict:
    """Whether two browsers find a way: beside each other, through their routers, or by the service's relay. Most services
    have a relay, and most routers keep a port (common practice): what nobody said is taken so, and told as practice."""
    stream, lines = what
    a, b = case.devices[stream.from_device], case.devices[stream.to_device]
    beside = _beside(case, stream)
    if beside:
        return HOLDS
    blocked = _no_udp(case, stream, a, b) or _no_udp(case, stream, b, a)
    if blocked is None:
        through = meet(side_of(case, a, stream), side_of(case, b, stream))
        first, second = (_last_router(case, line) for line in lines)
        if through and first is second and first is not None:
            # Both are seen at its one address. Few routers turn round more than what they forward (RFC 4787 §6).
            through = False if first.reflects is False else None
        if through or stream.relayed:
            return HOLDS
        if beside is None and not through:
            through = None
        if through is None:
            return (
                holds(evidence="practice")
                if stream.relayed is None
                else doubtful(partial(_may_not_meet, case, stream))
            )
        if stream.relayed is None:
            asked = f"Has the service of {stream.name} a relay (TURN) for two sides that do not get through to each other?"
            return wants(Want(Thing("link", stream.id), "relayed", asked, choices=_RELAYED))
        return fails(partial(_may_not_meet, case, stream))
    if stream.relayed:
        return HOLDS
    say = partial(_by_relay, case, stream, blocked)
    return fails(say) if stream.relayed is False and beside is False else doubtful(say)


_RELAYED = (Choice(value=True, words="it has one"), Choice(value=False, words="it has none"))


def _beside(case: Case, stream: Stream) -> bool | None:
    """Whether one of the two sides reaches the address that the other has itself, on a network of both or by routers between
    (a host candidate, RFC 8445 §5.1.1): the other answers to where it hears it from. None where that is not known."""
    a, b = case.devices[stream.from_device], case.devices[stream.to_device]
    known: bool | None = False
    for one, other in ((a, b), (b, a)):
        key = (one.id, other.id, stream.line)
        if key not in (known_pairs := _pairs(case)):
            known_pairs[key] = _reaches(case, stream, one, other)
        reached = known_pairs[key]
        if reached:
            return True
        known = None if reached is None else known
    return known


@analysis
def _pairs(_: Case) -> dict[tuple[str, str, str | None], bool | None]:
    """What has been found of two devices already: many links join the same two."""
    return {}


def _reaches(case: Case, stream: Stream, one: Device, other: Device) -> bool | None:
    found: bool | None = False
    for port in sockets_on_networks(case)[other.id]:
        call = Call(stream, one, other, ("udp",), None, port.address, both=True, media=True)
        states = set()
        for hop in from_caller(case, call, InsideHost(f"{other.id}/{port.id}", port.network or "")):
            states.add(hop.verdict.state)
            if hop.verdict.state == "fails":
                break
        if states == {"holds"}:
            return True
        found = found if "fails" in states else None
    return found


def _last_router(case: Case, line: Uplink) -> Router | None:
    """The router of the line by which a device is seen on the internet, which may hang behind others."""
    passed: set[str] = set()
    while line.behind and line.id not in passed:
        passed.add(line.id)
        outer = case.router_of.get(line.behind)
        if outer is None or not outer.uplinks:
            break
        line = case.uplinks[outer.uplinks[0]]
    return line_routers(case).get(line.id)


def _no_udp(case: Case, stream: Stream, side: Device, other: Device) -> CallHop | None:
    """Where UDP of one side is stopped towards the internet; None where it is not."""
    call = Call(stream, side, other, ("udp",), None, "", media=True)
    return next((hop for hop in from_caller(case, call, CloudHost()) if hop.verdict.state == "fails"), None)


def _may_not_meet(case: Case, stream: Stream) -> Words:
    a, b = case.devices[stream.from_device], case.devices[stream.to_device]
    return Words(
        f"The routers of {a.name} and {b.name} do not let the two sides of {stream.name} through to each other, and the service has no relay.",
        "The guest is seen in the lobby and never in the picture.",
        "Put one side on another line, such as mobile data, or use a service with a relay.",
    )


def _by_relay(case: Case, stream: Stream, blocked: CallHop) -> Words:
    line = case.uplinks.get(blocked.thing.id) if blocked.thing.noun == "uplink" else None
    lets = {"web": "web pages only", "proxy": "web pages through a proxy only"}
    stops = f"{line.name} lets {lets.get(line.lets_out or '', 'no UDP')} pass outward" if line else f"{blocked.says}, and no UDP gets out there"  # fmt: skip
    return Words(
        f"{stops}; {stream.name} has to go by a relay on port 443, or is blocked.",
        "The guest is seen in the lobby and never in the picture, or only after the service is allowed.",
        "Have the service allowed by name in time, or put the phone on mobile data. Try it there.",
    )


CHECKS = (sides_do_not_meet,)
