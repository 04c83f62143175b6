"""One hop of a route: which boxes a picture can go to from an exit, by which medium, and at what effort."""

import math
from collections.abc import Iterator

from humble_relay.core.catalogue.cables import CABLE_FOR, FITS, PROTOCOL_WORDS, REPEATABLE, stock_lay
from humble_relay.core.judging.case import Case
from humble_relay.core.picture.serial import serial_rate
from humble_relay.core.places.distances import cable_can_go, distance_m, run_length_m, walls_between
from humble_relay.core.plan import CableKind, Connector, Port
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.plan.vocabulary import VIDEO, is_source
from humble_relay.core.radio.range_of_links import through_the_air
from humble_relay.core.radio.walls import as_far_as_m
from humble_relay.core.signal.cabling.cable_reach import cable_reach, usb_load
from humble_relay.core.signal.cabling.port_speeds import port_speed
from humble_relay.core.signal.finder.over_networks import stream_hops
from humble_relay.core.signal.finder.routing_problem import (
    EFFORT,
    MOST_REPEATERS,
    NEAR_M,
    NEVER_M,
    Inlet,
    Leg,
    Outlet,
    RoutingProblem,
    Unit,
    effort_of_entering,
    hands_on,
    to_get,
)
from humble_relay.core.signal.flow.conversion import refusal
from humble_relay.core.signal.flow.delays import ThoughtOf, held_back_ms, hop_delay_ms


def onward(on: RoutingProblem, exit: Outlet) -> list[Leg]:
    """Every hop that can be made from an exit, in the order of the plan and the library."""
    key = ("onward", exit.spot, on.avoid, on.to_get)
    if key not in on.memo:
        on.memo[key] = [
            h for h in _every_hop(on, exit) if (on.to_get or not h.entry.box.to_get) and not _avoided(on, h)
        ]
    found: list[Leg] = on.memo[key]  # type: ignore[assignment]
    return found


def _every_hop(on: RoutingProblem, exit: Outlet) -> list[Leg]:
    key = ("hops", exit.spot)
    if key not in on.memo:
        connectors: tuple[str, ...] = ("stream",)
        if exit.port:
            connectors = (exit.port.assigned,) if exit.port.assigned else exit.port.types
        on.memo[key] = [
            hop
            for connector in connectors
            for entry in _entries(on, exit.box.place, connector)
            if entry.box.key != exit.box.key
            for hop in _hops(on, exit, entry, connector)
        ]
    found: list[Leg] = on.memo[key]  # type: ignore[assignment]
    return found


def leaving(on: RoutingProblem, hop: Leg) -> Iterator[tuple[Leg, Outlet]]:
    """The exits of the box a hop enters, each with the hop as it is then set."""
    box, came = hop.entry.box, hop.sent or hop.exit.format
    made = box.device.produces
    made_options = [came] if made is None else [*dict.fromkeys([made, *_wanted(on, came)])]
    for fmt in made_options:
        set_hop = hop if made is None or fmt == made else hop._replace(sent=fmt)
        for port in box.device.ports:
            if port.way != "out" or not VIDEO & set(port.types):
                continue
            if port.carries == "loop" and port.loop_of != (hop.entry.port.id if hop.entry.port else None):
                continue
            left = hop.exit.format if port.carries == "loop" else port.produces or fmt
            yield set_hop, Outlet(box, port, left, hop.exit.protected or port.protected)
        if box.device.encoding:
            by = ThoughtOf(hop.medium, stays=False) if hop.medium in PROTOCOL_WORDS else None
            held = held_back_ms(on.case, by, box.device, hop.exit.held_ms)
            yield set_hop, Outlet(box, None, fmt, hop.exit.protected, held)


def _entries(on: RoutingProblem, place: str | None, connector: str) -> list[Inlet]:
    """Where a picture can go from a place by a connector: the end, idle boxes, and new ones here or there."""
    key = ("entries", place, connector)
    if key not in on.memo:
        there = on.ends[0].box.place
        new = []
        for model in on.case.models.values():
            if hands_on(model.device):
                lacking = to_get(on.case, model.device)
                for at in (None,) if model.device.ingest else dict.fromkeys((place, there)):
                    new.append(Unit(f"{model.id}@{at}", model.device, at, True, lacking))
        found = [e for e in on.ends if _fits(e, connector)]
        for box in (*on.idle, *new):
            if connector == "stream":
                found += [Inlet(box, None)] if box.device.decoding or box.device.ingest else []
            else:
                found += [
                    Inlet(box, p)
                    for p in box.device.ports
                    if p.way == "in" and _fits(Inlet(box, p), connector)
                ]
        on.memo[key] = found
    entries: list[Inlet] = on.memo[key]  # type: ignore[assignment]
    return entries


def _fits(entry: Inlet, connector: str) -> bool:
    if entry.port is None:
        return connector == "stream"
    types = (entry.port.assigned,) if entry.port.assigned else entry.port.types
    return ("network" if connector == "stream" else connector) in types


def _avoided(on: RoutingProblem, hop: Leg) -> bool:
    if not on.avoid:
        return False
    ends = f"{hop.exit.box.key}/{hop.exit.port.id if hop.exit.port else ''}>{hop.entry.box.key}/{hop.entry.port.id if hop.entry.port else ''} by {hop.medium}"
    run = "run" if hop.is_long else "medium"
    return bool(
        on.avoid
        & {
            (run, hop.medium),
            ("by", hop.by or "-"),
            ("model", hop.entry.box.device.model or "-"),
            ("hop", ends),
        }
    )


def _hops(on: RoutingProblem, exit: Outlet, entry: Inlet, connector: str) -> list[Leg]:
    """The hops from an exit to an entry by a connector: one, or one for each protocol; none that would not arrive."""
    if connector == "stream":
        return stream_hops(on, exit, entry)
    hop = _by_wire(on, exit, entry, connector)
    return [hop] if hop else []


def _by_wire(on: RoutingProblem, exit: Outlet, entry: Inlet, connector: str) -> Leg | None:
    port, fmt = entry.port, exit.format
    if port is None or exit.port is None or refusal(entry.box.device, port, fmt):
        return None
    if exit.protected and port.takes_protected is False:
        return None
    kin = entry.box.device.family, exit.box.device.family
    if connector == "fibre" and all(kin) and kin[0] != kin[1]:
        return None
    cost = effort_of_entering(on, entry)
    if exit.protected and port.takes_protected is None:
        cost += EFFORT["not known"]
    if connector == "radio":
        return _radio(on, exit, entry, cost)
    kind = CABLE_FOR[connector]  # type: ignore[index]
    laid = _laid(on, exit.box.place, entry.box.place, kind, fmt)
    if laid is None or not _fast_enough(on, FITS[kind], fmt, exit.port, port):
        return None
    length, joints, repeaters = laid
    cost += (
        (EFFORT["unmeasured"] if length is None else length * EFFORT["metre"])
        + joints * EFFORT["joint"]
        + repeaters * EFFORT["repeater"]
        + sum(EFFORT["change"] for p in (exit.port, port) if p.type is None)
    )
    delay = _delay(on, entry)
    return Leg(exit, entry, kind, length, cost + delay * EFFORT["ms"], joints, repeaters, delay_ms=delay)


def _delay(on: RoutingProblem, entry: Inlet) -> float:
    """What the hop adds in ms: of the box where the search ends nothing, which is not the way's."""
    return hop_delay_ms(on.case, None, entry.box.device, entry.box.key == on.ends[0].box.key)


def _laid(
    on: RoutingProblem, a: str | None, b: str | None, kind: CableKind, fmt: VideoFormat
) -> tuple[float | None, int, int] | None:
    """Length, joints and repeaters of a run between two places, or None when it cannot be had; a length of None where
    nobody has measured the way. Boxes of two sites are joined by no cable."""
    key = ("laid", a, b, kind, fmt)
    if key not in on.memo:
        need = on.lengths.get((a, b)) or run_length_m(on.case, a, b)
        on.memo[key] = None
        if need is None:
            on.memo[key] = (None, 0, 0) if cable_can_go(on.case, a, b) and _one_site(on.case, a, b) else None
        elif need <= NEVER_M and cable_can_go(on.case, a, b):
            lay = stock_lay(kind, need)
            for repeaters in range(MOST_REPEATERS + 1 if kind in REPEATABLE else 1):
                joints = max(0, lay.joints - repeaters)
                if cable_reach(kind, fmt, on.case.figures, repeaters, joints).value >= need:
                    on.memo[key] = (need, joints, repeaters)
                    break
    found: tuple[float | None, int, int] | None = on.memo[key]  # type: ignore[assignment]
    return found


def _one_site(case: Case, a: str | None, b: str | None) -> bool:
    """Whether two places may be of one site: a box that stands nowhere yet may come to stand in any."""
    here, there = case.places.get(a or ""), case.places.get(b or "")
    return here is None or there is None or here.site == there.site


def _fast_enough(on: RoutingProblem, connector: Connector, fmt: VideoFormat, out: Port, into: Port) -> bool:
    """Whether serial and USB ports take the rate of the picture."""
    if connector == "sdi":
        key = ("rate", fmt)
        if key not in on.memo:
            rate = serial_rate(fmt)
            on.memo[key] = rate.value if rate else math.inf
        need: float = on.memo[key]  # type: ignore[assignment]
        return need < math.inf and all(p.max_gbps is None or need <= p.max_gbps for p in (out, into))
    if connector == "usb":
        load = usb_load(fmt, out.sends or "raw", on.case.figures)
        return load.value <= min(into.max_gbps or 1e9, on.case.figures["usb3-share"])
    if connector in ("hdmi", "vga", "fibre"):
        speeds = (port_speed(p, connector, fmt, on.case.figures) for p in (out, into))
        return all(s is None or not s.relied or s.value <= s.relied for s in speeds)
    return True


def _radio(on: RoutingProblem, exit: Outlet, entry: Inlet, cost: float) -> Leg | None:
    sender, taker = exit.box.device, entry.box.device
    if not sender.family or sender.family != taker.family:
        return None
    a, b = exit.box.place, entry.box.place
    far = (on.air or {}).get((a, b)) or distance_m(on.case, a, b) or on.lengths.get((a, b))
    if far is None and a is not None and a == b:
        far = NEAR_M
    if far is None and not _one_site(on.case, a, b):
        return None
    walls = walls_between(on.case, a, b)
    air = through_the_air(on.case, a, b, (sender, taker), walls)
    delay = _delay(on, entry)
    cost += EFFORT["radio"] + walls * EFFORT["wall"] + delay * EFFORT["ms"]
    if far is None:
        cost += EFFORT["unmeasured"]
    elif as_far_as_m(far, air.loss.least_db) > air.quoted_m:
        return None
    elif not air.clear(far):
        cost += EFFORT["may not reach"]
    return Leg(exit, entry, "radio", far, cost, walls=walls, delay_ms=delay)


def _wanted(on: RoutingProblem, fmt: VideoFormat) -> list[VideoFormat]:
    """The formats worth scaling to: what each input of the end takes nearest to this one."""
    found = []
    for entry in on.ends:
        device, port = entry.box.device, entry.port
        if port and device.produces and not port.scales and not is_source(device):
            found.append(device.produces)
        elif port and port.accepts and (nearest := port.accepts.nearest(fmt)):
            found.append(nearest)
        elif port:
            found.append(fmt)
    return found


def connector_of(medium: str) -> Connector:
    """The connector a picture medium ends in."""
    return FITS[medium]  # type: ignore[index]
