"""What may mend a stream that does not get through: another address, a forward, the other end calling, an open port."""

from collections.abc import Iterator

from humble_relay.core.addressing.address_plan import free_address
from humble_relay.core.addressing.hosts import readdressed
from humble_relay.core.addressing.subnets import subnet
from humble_relay.core.cures.address_cures import onto_one_network, set_port
from humble_relay.core.cures.cure import Cure, Cures, set_link, stream_of
from humble_relay.core.egress.outbound import (
    in_the_cloud,
    line_routers,
    router_out,
    uplink_by_policy,
    uplink_out,
)
from humble_relay.core.endpoints.browser_links import links_mixed_up
from humble_relay.core.endpoints.calls import Call, call_of
from humble_relay.core.frozen import free_id, free_name
from humble_relay.core.judging.answer import Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import listed
from humble_relay.core.lan.sockets import picture_sockets
from humble_relay.core.plan import Device, Forward, Opening, Port, Router, Rule, StaticRoute, Stream, Uplink
from humble_relay.core.plan.edits import Edit, SetField, added
from humble_relay.core.reach.browser_sides import sides_do_not_meet
from humble_relay.core.reach.exposure import open_to_the_world
from humble_relay.core.reach.firewalls import (
    clock_not_set,
    firewall_in_the_box,
    kept_apart,
    not_admitted,
    not_let_in,
    not_let_out,
    sign_in_page,
)
from humble_relay.core.reach.intersite_streams import far_address
from humble_relay.core.reach.local_streams import local_address
from humble_relay.core.reach.routing.public_address import outside_of
from humble_relay.core.reach.routing.routing_table import static_route
from humble_relay.core.reach.trace.connection_trace import connection_traces
from humble_relay.core.uplinks.policy_routes import line_not_chosen


def _let_out(case: Case, thing: Thing) -> Iterator[Cure]:
    stream = stream_of(case, thing)
    sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
    both = set(sender.encoding.protocols if sender.encoding else ()) & set(taker.ingest.protocols if taker.ingest else ())  # fmt: skip
    if "rtmps" in both and stream.protocol != "rtmps":
        yield Cure(title="Send RTMPS", edits=(set_link(stream.id, "protocol", "rtmps"),))
    for journey in connection_traces(case).get(stream.id, ()):
        call = journey.call
        for at in journey.waypoints:
            if (
                at.question != "not-let-out"
                or at.verdict.state == "holds"
                or call.port is None
                or at.thing.noun != "uplink"
            ):
                continue
            line = case.uplinks[at.thing.id]
            opened = (*line.opened, *(Opening(transport=t, port=call.port) for t in call.transports))
            yield Cure(
                title=f"{call.wants} has been opened",
                how="It is in the request to the network department, under Papers.",
                needs="the network department, in time",
                edits=(set_list("uplink", line.id, "opened", opened),),
            )
    yield from other_lines(case, stream)


def other_lines(case: Case, stream: Stream) -> Iterator[Cure]:
    """The other uplinks of the caller's router: by a rule for this stream alone, or taken first by everything."""
    router = router_out(case, call_of(case, stream).caller)
    now = uplink_by_policy(router, stream) if router else None
    for line in router.uplinks if router else ():
        if not router or line == now:
            continue
        yield from by_rule(case, router, stream, line)
        order = [line, *(u for u in router.uplinks if u != line)]
        if order[0] != router.uplinks[0]:
            edit = SetField(noun="router", id=router.id, field="uplinks", value=order)
            yield Cure(title=f"Go out by {case.uplinks[line].name} first", how="Everything on this router then goes by it.", edits=(edit,))  # fmt: skip


def by_rule(case: Case, router: Router, stream: Stream, line: str) -> Iterator[Cure]:
    """A stream by another line of its router, where that can (or nobody looked)."""
    if router.steers is False:
        return
    first = router.uplinks[:1] == (line,)
    yield Cure(
        title=f"Send {stream.name} by {case.uplinks[line].name}",
        how=f"A rule of {router.name} for this stream alone; the rest goes as it did.",
        needs="" if first else "a router with rules by source and destination",
        edits=(set_link(stream.id, "line", None if first else line),),
    )


def _let_in(case: Case, thing: Thing) -> Iterator[Cure]:
    """Best first: the right address, a forward to an address that stays, the other end calling."""
    stream = stream_of(case, thing)
    call = call_of(case, stream)
    inside = next((p.address for p in picture_sockets(call.listener) if p.network and p.address), "")
    if inside and _shares_a_site(case, call):
        yield Cure(title=f"Use {inside}", edits=(set_link(stream.id, "address", readdressed(stream.address, inside)),))  # fmt: skip
    yield from _media_by_tcp(stream)
    if stream.listens_port:
        yield Cure(
            title=f"Set {call.listener.name} to the port that is called",
            edits=(set_link(stream.id, "listens_port", None),),
        )
    line = _own_line(case, call.listener, stream)
    if line and line.address and call.host != line.address and outside_of(line) == "public":
        yield Cure(title=f"Use {line.address}", edits=(set_link(stream.id, "address", readdressed(stream.address, line.address)), *_forward(case, call, line)))  # fmt: skip
    if line and (edits := _forward(case, call, line)):
        yield _opening(call, edits, line, inside)
    for journey in connection_traces(case).get(stream.id, ()):
        for at in journey.waypoints:
            if at.question == "not-let-in" and at.verdict.state == "fails" and at.thing.noun == "router":
                yield from _ruled_in(_router(case, at.thing.id), journey.call)
    yield from _other_end_calls(case, stream, call)
    yield from _through_a_relay(case, stream)


def _router(case: Case, id: str) -> Router:
    return next(r for r in case.plan.routers if r.id == id)


def _right_address(case: Case, thing: Thing) -> Iterator[Cure]:
    """The address of the listener, as it is reached from the caller: inside where both are at one site, else the outside of
    its line, with the forward that this needs."""
    stream = stream_of(case, thing)
    call = call_of(case, stream)
    port = next((p for p in picture_sockets(call.listener) if p.network), None)
    if _shares_a_site(case, call):
        if port and port.address:
            yield Cure(
                title=f"Use {port.address}",
                how=f"The address of {call.listener.name} on its network.",
                edits=(set_link(stream.id, "address", readdressed(stream.address, port.address)),),
            )
        return
    line = _own_line(case, call.listener, stream)
    if line and line.address and outside_of(line) == "public":
        edits = (
            set_link(stream.id, "address", readdressed(stream.address, line.address)),
            *_forward(case, call, line),
        )
        yield Cure(
            title=f"Use {line.address}",
            how=f"The outside of {line.name}.",
            needs="the router's forward",
            edits=edits,
        )


def _opening(call: Call, edits: tuple[Edit, ...], line: Uplink, inside: str) -> Cure:
    to = next((f["to_address"] for e in edits if isinstance(e, SetField) and e.field == "forwards" and isinstance(e.value, list) for f in e.value[-1:] if isinstance(f, dict)), inside)  # fmt: skip
    secret = "who must know its passphrase" if call.stream.key else "and it asks nobody for a passphrase"
    return Cure(
        title=f"Forward {call.transports[0].upper()} {call.port} to {to}",
        how=f"Opens {call.listener.name} to everybody on the internet at {line.address or 'the address of ' + line.name}, {secret}.",
        needs="the router's forward, and the address reserved",
        edits=edits,
    )


def _forward(case: Case, call: Call, line: Uplink) -> tuple[Edit, ...]:
    """A forward of the port at each router between the line and the listener, and its address kept as it is."""
    router = line_routers(case).get(line.id)
    socket = next(
        (p for p in picture_sockets(call.listener) if router and p.network in router.networks), None
    )
    if router is None or socket is None or call.port is None:
        return ()
    address, edits = _kept(case, call.listener, socket)
    if not address:
        return ()
    forwards = [f for f in router.forwards if f.port != call.port or f.transport not in call.transports]
    made = Forward(transport=call.transports[0], port=call.port, to_address=address)
    return (*edits, set_list("router", router.id, "forwards", (*forwards, made)))


def _kept(case: Case, device: Device, socket: Port) -> tuple[str, tuple[Edit, ...]]:
    """An address of a box that stays, and what makes it stay."""
    ref, free = f"{device.id}/{socket.id}", socket.address or free_address(case, case.networks[socket.network or ""], device.kind)  # fmt: skip
    if not free:
        return "", ()
    if socket.addressing != "dhcp" and socket.address:
        return socket.address, ()
    kept = "reserved" if socket.addressing == "dhcp" else socket.addressing
    return str(free), (set_port(ref, "address", str(free)), set_port(ref, "addressing", kept))


def _other_end_calls(case: Case, stream: Stream, call: Call) -> Iterator[Cure]:
    """SRT lets either end call: the one that was called calls then, at the address of the other's line."""
    if stream.protocol != "srt":
        return
    as_it_is = ((call.caller, call.listener),) if call.both else ()
    for caller, listener in (*as_it_is, (call.listener, call.caller)):
        line = _own_line(case, listener, stream)
        if line is None:
            continue
        turned = call._replace(caller=caller, listener=listener, both=False)
        address = line.address if outside_of(line) == "public" and line.address else f"{line.id}.example"
        typed = readdressed(stream.address, address) if listener is not call.listener else stream.address
        calls = "sender" if caller.id == stream.from_device else "receiver"
        forwarding = _forward(case, turned, line)
        yield Cure(
            title=f"Let {caller.name} call",
            how=f"{listener.name} listens at {call.wants} of {line.address or line.name}, which is then open to everybody on the internet.",
            needs="the forward there" + ("" if line.address else ", and its outside address typed"),
            edits=(set_link(stream.id, "caller", calls), set_link(stream.id, "address", typed), *forwarding),
        )


def _through_a_relay(case: Case, stream: Stream) -> Iterator[Cure]:
    """The picture sent to a relay on the internet that the plan has, and asked for there: both ends only call out."""
    sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
    for relay in case.devices.values():
        if (
            not in_the_cloud(relay)
            or relay.encoding is None
            or relay.ingest is None
            or taker.decoding is None
        ):
            continue
        first = next((p for p in relay.ingest.protocols if sender.encoding and p in sender.encoding.protocols and (p != "rtsp")), None)  # fmt: skip
        then = next((p for p in ("srt", "rtmps", "rtmp", "hls") if p in relay.encoding.protocols and p in taker.decoding.protocols), None)  # fmt: skip
        if first is None or then is None or relay.id in (sender.id, taker.id):
            continue
        leg = stream.model_copy(
            update={
                "id": free_id(f"{stream.id}-from-{relay.id}"[:60], case.links),
                "name": free_name(f"{stream.name} from {relay.name}", {s.name for s in case.streams}),
                "from_device": relay.id, "protocol": then, "address": "", "key": None, "stream_id": "",
                "caller": "receiver" if then == "srt" else None,
            }
        )  # fmt: skip
        turned = {"to_device": relay.id, "protocol": first, "address": "", "caller": None, "input": None, "latency_ms": None}  # fmt: skip
        yield Cure(
            title=f"Go by {relay.name}",
            how=f"{sender.name} sends it there, {taker.name} asks for it there: both only call out.",
            needs=f"an account at {relay.name}, its key, and its delay once more",
            edits=(
                *(set_link(stream.id, field, value) for field, value in turned.items()),
                added(leg),
            ),
        )


def _own_line(case: Case, device: Device, stream: Stream) -> Uplink | None:
    line = uplink_out(case, device, stream)
    return case.uplinks[line] if line else None


def _shares_a_site(case: Case, call: Call) -> bool:
    return case.site_of(call.caller) == case.site_of(call.listener) and case.site_of(call.caller) is not None


def _passed(case: Case, thing: Thing) -> Iterator[Cure]:
    """Both on one network, the rule that is in the way opened for this alone, or the way back known."""
    yield from onto_one_network(case, thing)
    yield from _media_by_tcp(stream_of(case, thing))
    for journey in connection_traces(case).get(thing.id, ()):
        for at in journey.waypoints:
            if at.question == "kept-apart" and at.verdict.state != "holds" and at.thing.noun == "router":
                router = _router(case, at.thing.id)
                yield from _ruled_in(router, journey.call)
                yield from _way_back(case, router)


def _ruled_in(router: Router, call: Call) -> Iterator[Cure]:
    for transport in call.transports:
        for rule in router.rules:
            if rule.lets or call.port is None:
                continue
            first = Rule(lets=True, from_network=rule.from_network, to_network=rule.to_network, transport=transport, first_port=call.port)  # fmt: skip
            yield Cure(
                title=f"Let {transport.upper()} {call.port} pass",
                how=f"A rule of {router.name} before the one that stops it, for this port alone.",
                needs="the operator of the router",
                edits=(set_list("router", router.id, "rules", (first, *router.rules)),),
            )


def _way_back(case: Case, router: Router) -> Iterator[Cure]:
    """A static route to each network behind a router that hangs on this one and does not translate; or its NAT on."""
    for line in case.uplinks.values():
        inner = line_routers(case).get(line.id)
        if inner is None or inner.translates or line.behind not in router.networks:
            continue
        lacking = [
            case.networks[n]
            for n in inner.networks
            if (known := subnet(case.networks[n])) and not static_route(router, known.range[1])
        ]
        if lacking and line.address:
            routes = (
                *(router.routes or ()),
                *(StaticRoute(to_range=n.range, via=line.address) for n in lacking),
            )
            yield Cure(
                title=f"Add a static route to {listed(n.range for n in lacking)}",
                how=f"{router.name} then knows that it is behind {line.address}, the address of {inner.name}.",
                needs="the operator of the router",
                edits=(set_list("router", router.id, "routes", routes),),
            )
        yield Cure(
            title=f"Switch NAT on in {inner.name}",
            edits=(SetField(noun="router", id=inner.id, field="translates", value=True),),
        )


def _media_by_tcp(stream: Stream) -> Iterator[Cure]:
    if stream.media_over == "udp":
        yield Cure(
            title="Take the media by TCP",
            how="Interleaved in the connection that asks for them.",
            edits=(set_link(stream.id, "media_over", "tcp"),),
        )


def set_list(
    noun: str, id: str, field: str, items: tuple[Opening | Forward | Rule | StaticRoute, ...]
) -> SetField:
    """An edit of a whole list of a router or an uplink."""
    return SetField.model_validate({"noun": noun, "id": id, "field": field, "value": [i.model_dump(mode="json") for i in items]})  # fmt: skip


def _allowed(case: Case, thing: Thing) -> Iterator[Cure]:
    shut = {w.thing.id for journey in connection_traces(case).get(thing.id, ()) for w in journey.waypoints if w.question == "firewall-in-the-box" and w.verdict.state == "fails"}  # fmt: skip
    edits = tuple(SetField(noun="device", id=device, field="lets_in", value=True) for device in sorted(shut))
    yield Cure(title="It has been allowed", needs="the settings of the device", edits=edits)
    yield from _media_by_tcp(stream_of(case, thing))


def _known_to_the_line(case: Case, thing: Thing) -> Iterator[Cure]:
    for journey in connection_traces(case).get(thing.id, ()):
        socket = journey.waypoints[0].thing
        if socket.noun == "device" and socket.part:
            edit = set_port(f"{socket.id}/{socket.part}", "admitted", True)
            yield Cure(title="Its hardware address is exempted from the portal", needs="the network department, in time", edits=(edit,))  # fmt: skip


def _registered(case: Case, thing: Thing) -> Iterator[Cure]:
    edit = set_port(f"{thing.id}/{thing.part}", "admitted", True)
    yield Cure(title="It has been registered", needs="the network department, in time", edits=(edit,))


def _clock_set(case: Case, thing: Thing) -> Iterator[Cure]:
    edit = SetField(noun="device", id=stream_of(case, thing).from_device, field="clock_set", value=True)
    yield Cure(title="It has been set", edits=(edit,))


def _relayed(case: Case, thing: Thing) -> Iterator[Cure]:
    yield Cure(title="Use a service with a relay", needs="its relay on TCP 443 allowed where UDP is not", edits=(set_link(thing.id, "relayed", True),))  # fmt: skip
    yield from other_lines(case, stream_of(case, thing))


def _closed(case: Case, thing: Thing) -> Iterator[Cure]:
    """The port shut; the stream that is called there would not be."""
    router = _router(case, thing.id)
    transport, port, _ = thing.part.split("-")
    kept = tuple(f for f in router.forwards if (f.transport, f.port) != (transport, int(port)))
    yield Cure(
        title=f"Close {transport.upper()} {port}",
        needs="the router's settings",
        edits=(set_list("router", router.id, "forwards", kept),),
    )


def _turned_round(case: Case, thing: Thing) -> Iterator[Cure]:
    stream = stream_of(case, thing)
    if stream.address != stream.view_address:
        edits = (
            set_link(stream.id, "address", stream.view_address),
            set_link(stream.id, "view_address", stream.address),
        )
        yield Cure(title="Swap the two links", edits=edits)


def _by_the_first(case: Case, thing: Thing) -> Iterator[Cure]:
    stream = stream_of(case, thing)
    edits = (set_link(stream.id, "line", None),)
    yield Cure(
        title=f"Let {stream.name} go by the first line", how="As its router sends it by itself.", edits=edits
    )


CURES: Cures = {
    local_address: _right_address,
    far_address: _right_address,
    links_mixed_up: _turned_round,
    open_to_the_world: _closed,
    not_let_out: _let_out,
    not_let_in: _let_in,
    kept_apart: _passed,
    firewall_in_the_box: _allowed,
    sign_in_page: _known_to_the_line,
    not_admitted: _registered,
    clock_not_set: _clock_set,
    sides_do_not_meet: _relayed,
    line_not_chosen: _by_the_first,
}
