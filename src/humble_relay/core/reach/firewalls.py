"""Whether what lies between the two ends of a stream lets it through: lines, networks, routers, and the boxes themselves."""

from collections.abc import Callable, Iterable

from humble_relay.core.judging.answer import (
    HOLDS,
    WEAKEST,
    YES_NO,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    fails,
    holds,
    wants,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import NETWORK_PORTS
from humble_relay.core.plan import Network, Port, Stream, Uplink
from humble_relay.core.reach.routing.call_hops import HopQuestion
from humble_relay.core.reach.trace.connection_trace import connection_traces

EachVerdict = Callable[[Case], Iterable[tuple[Thing, Verdict]]]


def _about(question: HopQuestion, part: str) -> EachVerdict:
    """Every stream on whose journeys the question is asked, with its weakest answer."""

    def each(case: Case) -> Iterable[tuple[Thing, Verdict]]:
        for id, found in connection_traces(case).items():
            answers = [s.verdict for j in found for s in j.waypoints if s.question == question]
            if answers:
                yield Thing("link", id, part), min(answers, key=lambda v: WEAKEST.index(v.state))

    return each


LEAVING_BY: SubjectKind[Verdict] = SubjectKind("stream that leaves by a line", _about("not-let-out", "out"))
PASSING: SubjectKind[Verdict] = SubjectKind("stream that crosses a network", _about("kept-apart", "apart"))
LET_IN: SubjectKind[Verdict] = SubjectKind("stream that is called from outside", _about("not-let-in", "in"))
LISTENED: SubjectKind[Verdict] = SubjectKind(
    "stream that a box listens for", _about("firewall-in-the-box", "door")
)
SIGNED_IN: SubjectKind[Verdict] = SubjectKind(
    "stream by an uplink with a captive portal", _about("sign-in-page", "sign-in")
)


@check("not-let-out", LEAVING_BY, "addresses", "Does the line let it out?", "RFC 9110; common practice", "plan", tried=True)  # fmt: skip
def not_let_out(_: Case, answer: Verdict) -> Verdict:
    """Whether the outbound filter of every uplink on its route lets its transport and port pass."""
    return answer


@check(
    "kept-apart", PASSING, "addresses", "Do the networks and routers on its way let it pass?",
    "RFC 1122 §3.3.1; RFC 1812 §5.2.4; common practice", "plan",
)  # fmt: skip
def kept_apart(_: Case, answer: Verdict) -> Verdict:
    """Whether guest isolation, a router's rule, equal addresses on two networks or a missing IPv6 stops it."""
    return answer


@check(
    "not-let-in", LET_IN, "addresses", "Does the other side's line and router let the call in?",
    "RFC 4787; RFC 5382; RFC 6598; RFC 6092", "plan",
)  # fmt: skip
def not_let_in(_: Case, answer: Verdict) -> Verdict:
    """Whether the listener's line can be called at all, and its router forwards the port to it."""
    return answer


@check(
    "firewall-in-the-box", LISTENED, "addresses", "Does the firewall of the box that listens let it in?",
    "common practice, no source", "plan", tried=True,
)  # fmt: skip
def firewall_in_the_box(_: Case, answer: Verdict) -> Verdict:
    """Whether the listener's own firewall is known to be shut."""
    return answer


@check(
    "sign-in-page", SIGNED_IN, "addresses", "Does its sender get past the captive portal of the uplink?", "RFC 8952", "plan", tried=True
)  # fmt: skip
def sign_in_page(_: Case, answer: Verdict) -> Verdict:
    """Whether the box that calls has a browser to sign in with, or is known to the line."""
    return answer


CHOOSY: SubjectKind[tuple[str, Port, Network]] = SubjectKind(
    "port on a network that does not take every box",
    lambda case: ((thing, each) for thing, each in NETWORK_PORTS.each(case) if each[2].admission != "open"),
)


@check(
    "not-admitted", CHOOSY, "addresses", "Is it registered on the network, or has it the login?", "IEEE 802.1X; common practice", "plan", tried=True
)  # fmt: skip
def not_admitted(case: Case, what: tuple[str, Port, Network]) -> Verdict:
    """Whether a network that takes only boxes it knows, or that log in, takes this one."""
    ref, port, network = what
    admitted = port.interface.admitted if port.interface else None
    if admitted:
        return HOLDS
    needs = "its hardware address registered" if network.admission == "registered" else "a login (802.1X)"
    if admitted is None:
        asked = f"Has {case.port_name(ref)} {needs} on {network.name}?"
        thing = Thing("device", *ref.split("/"))
        return wants(Want(thing, "interface.admitted", asked, choices=YES_NO))
    return fails(
        lambda: Words(
            f"{network.name} takes {case.port_name(ref)} only with {needs}, and it has none.",
            "The socket's lamp is on and the box gets no address: it looks like a bad cable.",
            "Give the department the hardware address in time; few encoders can log in by 802.1X.",
        )
    )


ON_TLS: SubjectKind[Stream] = SubjectKind(
    "stream over TLS",
    lambda case: ((Thing("link", s.id, "clock"), s) for s in case.streams if s.protocol in ("rtmps", "web") and case.devices[s.from_device].place),
)  # fmt: skip


@check(
    "clock-not-set", ON_TLS, "addresses", "Is the clock of its sender right, for TLS?", "RFC 5280 §4.1.2.5; common practice", "plan"
)  # fmt: skip
def clock_not_set(case: Case, stream: Stream) -> Verdict:
    """Whether the sender's date is known to be wrong: then no certificate is valid. Boxes set it by network (common practice)."""
    sender = case.devices[stream.from_device]
    if sender.clock_set is None:
        return holds(evidence="practice")
    if sender.clock_set:
        return HOLDS
    return fails(
        lambda: Words(
            f"The clock of {sender.name} is not set, and {stream.name} goes over TLS.",
            "Every certificate looks as if it were not valid yet: 'cannot connect', with the right key and address.",
            "Set date and time in the box, or let it ask a time server.",
        )
    )


SRT_PACKET = 7 * 188 + 16 + 8
"""Bytes of a full SRT packet over the IP header: seven transport packets, the SRT and the UDP header."""


def _datagrams(case: Case) -> Iterable[tuple[Thing, tuple[Stream, Uplink]]]:
    for id, found in connection_traces(case).items():
        lines = [case.uplinks[s.thing.id] for j in found for s in j.waypoints if s.kind == "line"]
        small = min((u for u in lines if u.mtu), key=lambda u: u.mtu or 0, default=None)
        if small and found[0].call.stream.protocol == "srt":
            yield Thing("link", id, "size"), (found[0].call.stream, small)


DATAGRAMS: SubjectKind[tuple[Stream, Uplink]] = SubjectKind(
    "SRT stream over a line of known packet size", _datagrams
)


@check(
    "packets-too-large", DATAGRAMS, "addresses", "Do its packets go over the line whole?",
    "draft-sharabayko-srt; RFC 768; RFC 791; RFC 8900", "standard", tried=True,
)  # fmt: skip
def packets_too_large(_: Case, what: tuple[Stream, Uplink]) -> Verdict:
    """Whether a full SRT packet (1360 bytes with IPv4's header) fits the line's largest; TCP fits itself (RFC 9293)."""
    stream, line = what
    size = SRT_PACKET + 20
    if (line.mtu or size) >= size:
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{line.name} carries packets of {line.mtu} bytes, and those of {stream.name} have {size}.",
            "They are cut in two or thrown away: it connects, and shows nothing or breaks up.",
            f"Send fewer transport packets in each: {(line.mtu or size) - 44} bytes hold {((line.mtu or size) - 44) // 188}.",
        ),
        compared=(
            line.id,
            line.mtu,
            size,
        ),
    )


def _fixed_and_leaving(case: Case) -> Iterable[tuple[Thing, tuple[Port, Network]]]:
    leaving: set[str] = set()
    for found in connection_traces(case).values():
        for journey in found:
            if any(at.kind == "line" for at in journey.waypoints):
                ends = (
                    journey.waypoints[0],
                    *(w for w in journey.waypoints if w.question == "firewall-in-the-box"),
                )
                leaving |= {f"{w.thing.id}/{w.thing.part}" for w in ends if w.kind == "socket"}
    for thing, (ref, port, network) in NETWORK_PORTS.each(case):
        if ref in leaving and port.addressing == "fixed" and network.range:
            yield thing, (port, network)


FIXED_AND_LEAVING: SubjectKind[tuple[Port, Network]] = SubjectKind(
    "fixed socket by which a stream leaves or comes in", _fixed_and_leaving
)


@check(
    "gateway-missing", FIXED_AND_LEAVING, "addresses", "Is the gateway known that has to be typed into it?",
    "RFC 1122 §3.3.1.2", "plan",
)  # fmt: skip
def gateway_missing(case: Case, what: tuple[Port, Network]) -> Verdict:
    """Whether the network's gateway was written down: a box with a fixed address is told it by hand, and reaches nothing
    outside without."""
    _, network = what
    if network.gateway:
        return HOLDS
    asked = f"Which address has the gateway of {network.name}? Its router shows it, and a box with a fixed address needs it."
    return wants(Want(Thing("network", network.id), "gateway", asked))


CHECKS = (
    gateway_missing, not_let_out, kept_apart, not_let_in, firewall_in_the_box, sign_in_page, not_admitted, clock_not_set,
    packets_too_large,
)  # fmt: skip
