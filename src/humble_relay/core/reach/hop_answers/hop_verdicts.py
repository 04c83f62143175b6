"""The answers at each hop of a journey: what a network, a router, a line and a box let through, and from whom."""

from functools import partial
from ipaddress import IPv4Address

from humble_relay.core.addressing.hosts import address_in
from humble_relay.core.addressing.subnets import classify, ipv4
from humble_relay.core.catalogue.words import LETS_OUT_WORDS, OUTSIDE_WORDS
from humble_relay.core.endpoints.calls import FAR_ADDRESS, Call
from humble_relay.core.judging.answer import (
    HOLDS,
    YES_NO,
    Choice,
    DependsOn,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    fails,
    holds,
    waits,
    wants,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device, Forward, Network, Port, Router, Rule, Uplink
from humble_relay.core.reach.routing.public_address import address_words, outside_of

WEB_PAGES = (80, 443)
"""The TCP ports of web pages (RFC 9110)."""
_WAITS = "The caller tries, waits, and says that it cannot connect; the listener shows nothing at all."


NO_ROUTE = fails(partial(Words, "No way leads from the one to the other.", _WAITS, "Put both on one network, or on networks that a router joins."))  # fmt: skip
NOWHERE = fails(partial(Words, "The address is not the listener's.", _WAITS, "Type the address at which the other end is reached."))  # fmt: skip


DOWN = fails(
    partial(
        Words, "The line is down.", _WAITS, "Let the other end call, or go through a relay that both call."
    )
)


def isolation(case: Case, call: Call, network: Network) -> Verdict:
    """Whether a network lets two of its own boxes talk: guest Wi-Fi keeps them apart, and a venue's must be asked."""
    if network.guest_isolation:
        return fails(
            lambda: Words(
                f"{network.name} keeps its boxes apart from each other: {call.caller.name} does not reach {call.listener.name}.",
                "Each of them has internet, and neither sees the other: it looks like a box that is off.",
                "Put both on a network without guest isolation, by cable where there is one.",
            )
        )
    venue = (site := case.sites.get(network.site)) is not None and site.run_by == "venue"
    if network.guest_isolation is None and network.medium == "wifi" and venue:
        asked = f"Does {network.name} keep its boxes apart from each other (guest isolation)? Ping one from another."
        return wants(Want(Thing("network", network.id), "guest_isolation", asked, choices=YES_NO))
    return HOLDS


def guests_shut_off(router: Router, guests: Network) -> Verdict:
    """A guest network whose boxes are kept apart: what sets that up mostly shuts them off from the other networks too (common practice)."""
    return doubtful(
        lambda: Words(
            f"{guests.name} keeps its devices apart from each other, and mostly such a network is shut off from the others of {router.name} too.",
            "The device has internet, and nobody on the show's network finds it.",
            f"Put it on the show's network, or say by a rule of {router.name} that it lets this pass.",
        ),
        compared=(guests.id, router.id),
    )


def ruled(case: Case, call: Call, router: Router, here: str | None, there: str | None, otherwise: Verdict = HOLDS) -> Verdict:  # fmt: skip
    """What a router's own rules say of a call from one of its networks to another, out (to None) or in (from None);
    `otherwise`, where none is about it."""
    rule = next((r for r in router.rules if _about(r, call, here, there)), None)
    if rule is None:
        return otherwise
    if rule.lets:
        return HOLDS
    if call.media and rule.ports:
        return doubtful(
            partial(_some_ports_stopped, case, call, router, rule), compared=(router.id, *rule.ports)
        )
    if call.port is None and rule.ports:
        return waits(DependsOn(FAR_ADDRESS, Thing("link", call.stream.id)))
    where = case.networks[there].name if there else "outside"
    return fails(
        lambda: Words(
            f"A rule of {router.name} keeps {call.wants} of {case.networks[here].name if here else 'outside'} from {where}.",
            _WAITS,
            f"Let {call.wants} pass from {call.caller.name} to {call.listener.name} only, or put both on one network.",
        )
    )


def _some_ports_stopped(case: Case, call: Call, router: Router, rule: Rule) -> Words:
    first, last = rule.ports or (0, 0)
    return Words(
        f"A rule of {router.name} stops UDP {first} to {last}, and {call.listener.name} chooses the ports of {call.stream.name} itself.",
        "The connection stands, and on some tries no picture comes.",
        f"Have {call.listener.name} take the media by TCP, or let all UDP pass from {call.caller.name} to it.",
    )


CHOSEN_PORTS = (1024, 65_535)
"""Where a receiver chooses its ports of (RFC 6335 §6: the user and dynamic ports)."""


def _about(rule: Rule, call: Call, here: str | None, there: str | None) -> bool:
    if rule.from_network != here or rule.to_network != there:
        return False
    if rule.transport and rule.transport not in call.transports:
        return False
    if call.media and rule.ports and rule.lets:  # it must let pass all that the receiver may choose
        return rule.ports[0] <= CHOSEN_PORTS[0] and rule.ports[1] == CHOSEN_PORTS[1]
    return rule.ports is None or call.port is None or rule.ports[0] <= call.port <= rule.ports[1]


def taken_for_a_neighbour(call: Call, here: Network, there: Network | None) -> Verdict:
    """An address that a network on the way holds too: what is sent to it stays there."""
    alike = f"{here.name} and {there.name} have the same addresses ({here.range} and {there.range})" if there else f"{call.host} is an address of {here.name} ({here.range}) too"  # fmt: skip
    return fails(
        lambda: Words(
            f"{alike}: {call.caller.name} looks for {call.host or call.listener.name} there.",
            "Nobody answers there, and nothing is ever sent on to where the other end is.",
            f"Give {here.name} another range, such as 192.168.77.0/24.",
        )
    )


def no_v6(call: Call, network: Network) -> Verdict:
    """A caller without IPv6 asked for an IPv6 address."""
    return fails(
        lambda: Words(
            f"{call.host} is an IPv6 address, and {network.name} of {call.caller.name} has no IPv6.",
            "The caller says that there is no route, at once.",
            "Ask for an IPv4 address, or put the caller on a network with IPv6.",
        )
    )


def unique_local(call: Call, network: Network) -> Verdict:
    """A caller whose IPv6 addresses are its own site's: no answer from the internet finds its way back (RFC 4193 §4.3)."""
    return fails(
        lambda: Words(
            f"{call.host} is on the internet, and {network.name} of {call.caller.name} has unique local addresses only ({network.range_v6}).",
            "What is sent goes out, and no answer comes back.",
            "Ask for an IPv4 address, or have the provider give the network a prefix of its own.",
        )
    )


def reflected(call: Call, router: Router, line: Uplink) -> Verdict:
    """A box inside that asks for its own outside address: many routers do not turn it round (RFC 4787 §6)."""
    if router.reflects:
        return HOLDS

    def say() -> Words:
        known = "does not turn it round" if router.reflects is False else "may not turn it round"
        return Words(
            f"{call.caller.name} asks for the outside address of its own line {line.name}, and {router.name} {known}.",
            "It works from everywhere but from here: the picture is missing in the one room where it is watched.",
            f"Ask for the inside address of {call.listener.name} here, and for the outside one elsewhere.",
        )

    return fails(say) if router.reflects is False else doubtful(say)


def let_out(case: Case, call: Call, line: Uplink) -> Verdict:
    """Whether a line lets a call out. A mobile line, and one whose network is our own, let everything out unless someone
    says otherwise (common practice); a venue's must be asked."""
    lets, port = line.lets_out, call.port
    if lets is None:
        if line.kind == "mobile" or case.sites[line.site].run_by == "us":
            return holds(evidence="practice")
        asked = f"What does {line.name} let out? The venue's network department knows, or try it."
        return wants(Want(Thing("uplink", line.id), "lets_out", asked, choices=LETS_OUT))
    if lets == "everything" or any((o.transport, o.port) == (t, port) for o in line.opened for t in call.transports):  # fmt: skip
        return HOLDS
    if lets == "tcp" and "tcp" in call.transports:
        if "udp" not in call.transports:
            return HOLDS
        return doubtful(partial(_not_let_out, call, line))  # a maker's link may go by either
    if lets == "web" and port in WEB_PAGES and "tcp" in call.transports:
        return HOLDS
    return fails(partial(_not_let_out, call, line))


LETS_OUT = tuple(Choice(value=value, words=words) for value, words in LETS_OUT_WORDS.items())
_LET_OUT_WORDS = {"tcp": "lets no UDP pass outward", "web": "lets only web pages pass (TCP 80 and 443)", "proxy": "lets only web pages pass, through a proxy that reads them"}  # fmt: skip


def _not_let_out(call: Call, line: Uplink) -> Words:
    port = f"port {call.port or 'of its own'}" if call.transports == ("tcp",) else call.wants if call.port else f"{call.wants} on a port of its own"  # fmt: skip
    do = "Have the port opened in time, send by RTMPS to port 443, or use another line."
    if line.lets_out == "proxy" and call.port in WEB_PAGES:
        do = "Have the service let past the proxy by name, or use another line."
    return Words(
        f"{line.name} {_LET_OUT_WORDS[line.lets_out or 'web']}; {call.stream.name} goes to {port}.",
        "The encoder cannot connect, while every web page opens on the laptop beside it.",
        do,
    )


CLICKS = ("computer", "phone")
"""The kinds of device that can pass a captive portal."""


def signed_in(call: Call, line: Uplink) -> Verdict:
    """Whether the caller gets past a captive portal: a device without a browser does not, unless the line knows it already."""
    caller = call.caller
    if any(p.interface and p.interface.admitted for p in caller.ports):
        return HOLDS
    if caller.kind in CLICKS:
        return holds(
            remark=lambda: Words(
                f"{line.name} asks {caller.name} to sign in on a page, and again when the time is up.",
                "The stream ends in the middle when the sign-in runs out.",
                "Sign in before the rehearsal, and ask how long it lasts.",
            )
        )
    return fails(
        lambda: Words(
            f"{line.name} shows a page to sign in on, and {caller.name} has nobody who could.",
            "The box has an address and says that there is no internet.",
            "Have its hardware address exempted from the captive portal, or use another uplink.",
        )
    )


def called_from_outside(case: Case, call: Call, line: Uplink) -> Verdict:
    """Whether anybody on the internet can call a line's address at all."""
    other = call.host and ipv4(line.address) and address_in(call.host) not in (None, ipv4(line.address))
    if (
        other and outside_of(line) != "private"
    ):  # behind another router, it is that one's address that is called
        return fails(
            lambda: Words(
                f"{call.stream.name} asks for {call.host}, and {line.name} has {line.address}.",
                "It calls another machine, or the address that the uplink had last week.",
                f"Type {line.address}, or a name that follows it.",
            )
        )
    match "private" if line.behind else outside_of(line):  # another router stands before it
        case "public":
            return HOLDS
        case "shared":
            return fails(partial(_not_callable, call, line))
        case "private":
            return doubtful(
                lambda: Words(
                    f"{line.name} has {address_words(line)}: the router before it must forward {call.wants} too.",
                    "One forward is set, and nothing arrives: the first router never passes it on.",
                    "Set the same forward in both routers, have the first only pass packets on, or let the other side be called.",
                ),
                compared=(
                    line.id,
                    call.port,
                ),
            )
        case _:
            asked = f"Has {line.name} a public address of its own? Compare what its router shows with what a web page says."
            return wants(Want(Thing("uplink", line.id), "outside", asked, choices=_OUTSIDE))


_OUTSIDE = tuple(Choice(value=value, words=words) for value, words in OUTSIDE_WORDS.items())


def _not_callable(call: Call, line: Uplink) -> Words:
    return Words(
        f"{line.name} has {address_words(line)}: nobody calls {call.listener.name} there.",
        "The caller asks the carrier's router, which knows of nobody: no setting on site mends that.",
        f"Let {call.listener.name} call instead, or go through a relay that both call.",
    )


def no_router(call: Call, line: Uplink) -> Verdict:
    """A line that no router of the plan hangs on: what it forwards cannot be told."""
    return wants(Want(Thing("uplink", line.id), "router", f"Which router hangs on {line.name}, and does it forward {call.wants} to {call.listener.name}?"))  # fmt: skip


def not_forwarded(case: Case, call: Call, router: Router, port: int | None) -> Verdict:
    """A router lets nothing in that nobody inside asked for: a forward is needed. A venue's router is not in our hands."""
    if port is None:
        return waits(DependsOn(FAR_ADDRESS, Thing("link", call.stream.id)))
    over = " or ".join(t.upper() for t in call.transports)
    to = next((p.address for p in call.listener.ports if p.network in router.networks and p.address), "")
    if case.sites[router.site].run_by == "venue":
        asked = f"Does {router.name} forward {over} {port} to {call.listener.name}? The venue's network department sets it."
        return wants(Want(Thing("router", router.id), "forwards", asked))
    return fails(
        lambda: Words(
            f"{router.name} lets {over} {port} in to nobody: {call.caller.name} does not reach {call.listener.name}.",
            _WAITS,
            f"Forward {over} {port} to {to or call.listener.name}, and keep its address as it is.",
        )
    )


def forwarded_elsewhere(call: Call, router: Router, forward: Forward, holder: Device | None) -> Verdict:
    """A forward that leads to another device, or to none."""
    where = f"which {holder.name} has" if holder else "which nobody in this plan has"
    return fails(
        lambda: Words(
            f"{router.name} forwards {forward.transport.upper()} {forward.port} to {forward.to_address}, {where}: {call.listener.name} hears nothing.",
            "The forward was right before the box got another address.",
            f"Reserve an address for {call.listener.name}, and forward to that.",
        )
    )


def answers_come_back(case: Case, call: Call, called: Port, answering: tuple[Port, ...]) -> Verdict:
    """Whether the listener answers by the socket that was called: a device on two networks answers by its own routing table
    (RFC 1122 §3.3.4.2), and what comes back from another address is thrown away."""
    listener = call.listener
    if any(p.network == called.network for p in answering):
        return default_route(case, listener, answering)
    out = case.networks[answering[0].network or ""]
    return doubtful(
        lambda: Words(
            f"{call.caller.name} calls {listener.name} on {case.networks[called.network or ''].name}, and {listener.name} answers by {out.name}.",
            "Its answers come from another address than the one that was called, and are thrown away.",
            f"Call its address on {out.name}, or make the network that is called its first route out.",
        ),
        compared=(called.id, out.id),
    )


def default_route(case: Case, device: Device, sockets: tuple[Port, ...]) -> Verdict:
    """Not known: by which of several sockets that are alike a device goes out."""
    names = " or ".join(case.networks[p.network or ""].name for p in sockets)
    asked = f"Is {sockets[0].name} of {device.name} the socket that it goes out by, or another of its sockets? Its default route may go by {names}."
    return wants(
        Want(Thing("device", device.id, sockets[0].id), "interface.default_route", asked, choices=_GOES_OUT)
    )


_GOES_OUT = (Choice(value=True, words="this one"), Choice(value=False, words="another"))


def not_translated(case: Case, router: Router, line: Uplink, source: object) -> Verdict | None:
    """Where a router passes packets on to the internet under the addresses of the devices behind it: private ones get no
    answer (RFC 1918 §3). None where that is no question."""
    if line.behind is None:
        if not isinstance(source, IPv4Address) or classify(str(source))[0] != "private":
            return None
        return fails(
            lambda: Words(
                f"{router.name} does not translate addresses, and sends {source} out by {line.name}: no answer finds its way back.",
                "The device has a network and an address, and says that there is no internet.",
                f"Switch NAT on in {router.name}, or give the devices behind it public addresses.",
            )
        )
    return None


def alike_inside_and_out(router: Router, inner: Network, outer: Network) -> Verdict:
    """A router whose networks inside and outside hold the same addresses does not know on which side a device is."""
    return fails(
        lambda: Words(
            f"{router.name} has {inner.range} inside and {outer.range} outside: it does not know on which side an address is.",
            "Its page opens, and nothing gets past it.",
            f"Give {inner.name} another range, such as 192.168.77.0/24.",
        )
    )


def firewall(call: Call, device: Device) -> Verdict:
    """Whether the listener's own firewall lets a caller in. Boxes made to listen do; a computer asks once (common practice)."""
    if device.lets_in is False:
        return fails(
            lambda: Words(
                f"The firewall of {device.name} lets {call.wants} in from nobody.",
                "Everything on the way is right, and the computer itself throws the packets away without a word.",
                f"Allow {call.wants} for the program that listens, on this kind of network.",
            )
        )
    if device.kind == "computer" and device.lets_in is None:
        return holds(
            remark=lambda: Words(
                f"{device.name} listens at {call.wants}, and its firewall may ask first.",
                "The question stands behind another window, and nothing arrives.",
                "Start the program once on this network, and allow it.",
            ),
            evidence="practice",
        )
    return HOLDS
