"""Why there is no way: the condition that fails, and what would make one."""

from collections.abc import Iterator, Sequence

from humble_relay.core.catalogue.cables import PROTOCOL_WORDS
from humble_relay.core.catalogue.words import CONNECTOR_WORDS
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import listed
from humble_relay.core.lan.sockets import networks_for
from humble_relay.core.places.distances import cable_can_go
from humble_relay.core.plan import Device, Port, Protocol
from humble_relay.core.plan.vocabulary import MIXERS, VIDEO, is_source
from humble_relay.core.signal.finder.over_networks import is_online, meetings, spoken
from humble_relay.core.signal.finder.route import Route
from humble_relay.core.signal.finder.routing_problem import Inlet, RoutingProblem, Start
from humble_relay.core.signal.flow.conversion import refusal
from humble_relay.core.signal.flow.propagation import flow


def why_not(
    on: RoutingProblem, giver: Device, taker: Device, starts: Sequence[Start], routes: Sequence[Route]
) -> str:
    """Why no way is ready: nothing gets in, nothing gets out, nothing joins the two, or something is to be got first."""
    if not on.ends:
        return _no_way_in(on.case, taker)
    if not starts:
        return _no_way_out(on.case, giver)
    if not routes:
        between = dict.fromkeys(_between(on, giver, taker, starts))
        return " ".join(between) or (
            f"There is no way: no free port, cable, converter, radio pair or network joins {giver.name} to {taker.name}."
        )
    lacking = routes[0].to_get
    if len(lacking) == 1:
        return f"There is no way with what is free and in stock. One item would make one: a {lacking[0]}."
    return f"There is no way with what is free and in stock. It would take {' and '.join(lacking)}."


def _no_way_in(case: Case, taker: Device) -> str:
    inputs = [p for p in taker.ports if p.way == "in" and VIDEO & set(p.types)]
    if not inputs and taker.decoding is None and taker.ingest is None:
        carries = taker.kind in ("network-switch", "router", "injector")
        hint = "choose the box that shows them." if carries else "choose what it is plugged into."
        what = "It carries streams to other boxes: " if carries else "For its other cables, "
        return f"{taker.name} takes no picture: it has no video input, and shows no stream. {what}{hint}"
    used = [f"{p.name} has {x}" for p in inputs if (x := _in_it(case, taker, p))]
    streams = len(case.streams_to.get(taker.id, ()))
    if taker.decoding and streams >= taker.decoding.at_once:
        used.append(f"it shows {taker.decoding.at_once} stream{'s' * (streams > 1)} at once, and has as many")
    full = [g.name for g in taker.groups if any(p.group == g.id for p in inputs)]
    if full and len(used) < len(inputs):
        used.append(f"of {listed(full)} no more work at once")
    said = "; ".join(used[:8]) + ("; and more" if len(used) > 8 else "")
    return f"There is no way: every input of {taker.name} that takes a picture is in use ({said}). Free one, or put a switch before it."


def _in_it(case: Case, device: Device, port: Port) -> str:
    far = case.other_end(f"{device.id}/{port.id}")
    if far:
        return case.device_of(far).name
    return next((s.name for s in case.streams_to.get(device.id, ()) if s.input == port.id), "")


def _no_way_out(case: Case, giver: Device) -> str:
    outputs = [p for p in giver.ports if p.way == "out" and VIDEO & set(p.types)]
    if not outputs and giver.encoding is None:
        return f"{giver.name} gives no picture: it has no video output, and sends no stream."
    if not is_source(giver) and giver.kind not in MIXERS and not flow(case).arriving[giver.id]:
        return (
            f"There is no way yet: no picture arrives at {giver.name} for it to pass on. Get one there first."
        )
    used = [f"{p.name} goes to {x}" for p in outputs if (x := _in_it(case, giver, p))]
    if giver.encoding and len(case.streams_from.get(giver.id, ())) >= giver.encoding.destinations:
        used.append(
            f"it sends to {giver.encoding.destinations} destination{'s' * (giver.encoding.destinations > 1)} at once, and has as many"
        )
    said = f" ({'; '.join(used[:8])})" if used else ""
    return f"There is no way: {giver.name} has no output free that carries this picture{said}, and none that a splitter fits."


def _between(on: RoutingProblem, giver: Device, taker: Device, starts: Sequence[Start]) -> Iterator[str]:
    """What stands between the exits there are and the inputs there are, each in a sentence."""
    sending = next((s for s in starts if s.exit.port is None), None)
    taking = next((e for e in on.ends if e.port is None or "network" in e.port.types), None)
    if sending and taking:
        yield from _by_network(on.case, sending, taking)
    wired = [s for s in starts if s.exit.port]
    for entry in (e for e in on.ends if e.port):
        yield from _by_cable(on.case, wired, entry)
    if not wired and not (sending and taking):
        yield (
            f"There is no way: {giver.name} only sends streams, and {taker.name} shows none."
            if sending
            else ""
        )
    if wired and all(e.port is None for e in on.ends) and not sending:
        takes = taker.ingest or taker.decoding
        yield f"There is no way: {taker.name} takes streams ({_names(takes.protocols if takes else ())}), and no encoder that reaches it is free or on a network."


def _by_network(case: Case, sending: Start, taking: Inlet) -> Iterator[str]:
    sender, taker = sending.exit.box.device, taking.box.device
    takes = taker.ingest or taker.decoding
    both = spoken(sender, taker)
    if not both:
        yield f"There is no way by network: {sender.name} sends {_names(sender.encoding.protocols if sender.encoding else ())}, and {taker.name} takes {_names(takes.protocols if takes else ())}."
        return
    if any(meetings(case, sending.exit.box, taking.box, p) for p in both):
        yield f"There is no way by network: {taker.name} does not take {sending.exit.format.label} from {sender.name} as it is."
        return
    for unit in (sending.exit.box, taking.box):
        if is_online(unit):
            continue
        networks = networks_for(case, unit.device, unit.place, not unit.new)
        place = case.places.get(unit.place or "")
        if place is None and not networks:
            yield f"There is no way by network yet: {unit.device.name} stands in no place. Say where it stands."
        elif not networks:
            site = case.sites[place.site].name if place else ""
            yield f"There is no way by network yet: {unit.device.name} is on no network{f', and {site} has none' if site else ''}. Give its site one with an uplink."
        elif not any(case.uplink_of(n) for n in networks):
            yield f"There is no way by network yet: {case.networks[networks[0]].name}, which {unit.device.name} is on, has no uplink."
    yield f"{sender.name} and {taker.name} share no network on which {_names(both)} would find the way."


def _by_cable(case: Case, wired: Sequence[Start], entry: Inlet) -> Iterator[str]:
    port, taker = entry.port, entry.box.device
    assert port
    fitting = [s for s in wired if s.exit.port and set(s.exit.port.types) & set(port.types)]
    barred = next((s for s in fitting if not cable_can_go(case, s.exit.box.place, entry.box.place)), None)
    if barred:
        a, b = (case.places[p].name for p in (barred.exit.box.place, entry.box.place) if p)
        yield f"There is no way by cable: none can be laid from {a} to {b}."
        return
    for start in fitting:
        if why := refusal(taker, port, start.exit.format):
            yield f"{taker.name}, {port.name} {why}; {start.exit.box.device.name} gives {start.exit.format.label}."
            return
    if not fitting and wired:
        outs = dict.fromkeys(CONNECTOR_WORDS[t] for s in wired if s.exit.port for t in s.exit.port.types)
        ins = [CONNECTOR_WORDS[t] for t in port.types]
        yield f"{' or '.join(outs)} does not go into {taker.name}, {port.name} ({' or '.join(ins)}), and no converter that does it is free."


def _names(protocols: Sequence[Protocol]) -> str:
    return ", ".join(PROTOCOL_WORDS[p] for p in protocols) or "nothing"
