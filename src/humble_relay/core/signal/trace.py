"""A source followed to everything it reaches, and an end followed back to what feeds it."""

from humble_relay.core.frozen import Frozen
from humble_relay.core.index import PlanIndex
from humble_relay.core.plan import ENDS, Device, Link, Port, Stream
from humble_relay.core.signal.delays import box_delay_ms, delay_figure, link_delay_ms
from humble_relay.core.signal.follow import Signal, downstream_order, ends_of, flow, is_source
from humble_relay.core.signal.inputs import conversion, refusal
from humble_relay.core.signal.reach import CABLE_WORDS, PROTOCOL_WORDS
from humble_relay.core.working import Step, Working


class TraceHop(Frozen):
    """One hop of a way: the link, its ends in words, the format on it, what the box at its end does to it."""

    link: str
    what: str
    from_name: str
    to_name: str
    format: str
    carries: str
    """Which picture of a switcher it is, and what is to be known of it: range, protection, overlay."""
    becomes: str
    delay_ms: float
    """From the scene to this hop's far end, in ms."""


class Way(Frozen):
    """One source to one end, by the quickest path the plan has for it."""

    source: str
    end: str
    title: str
    hops: tuple[TraceHop, ...]
    delay: Working


class Trace(Frozen):
    """What one device has to do with: every way from it and to it, and all that is on them."""

    device: str
    ways: tuple[Way, ...]
    links: tuple[str, ...]
    devices: tuple[str, ...]
    nothing: str
    """Why there is no way, in words, where there is none."""


def trace(plan: PlanIndex, id: str) -> Trace:
    """Every way that begins, ends or passes at the device. Raises KeyError when the plan has no such device."""
    device = plan.devices[id]
    found = plan.once(flow)
    if is_source(device):
        ways = [w for w in _from_source(plan, id).values() if plan.devices[w.end].kind in ENDS]
        nothing = f"{device.name} reaches no screen, recorder or platform."
    else:
        heard = {s for signal in found.arriving[id].values() for s in signal.sources}
        fed = [_from_source(plan, s) for s in sorted(heard, key=list(plan.devices).index)]
        ways = [w[id] for w in fed if id in w]
        if device.kind not in ENDS:
            ways += [
                w for each in fed[:1] for w in each.values()
                if plan.devices[w.end].kind in ENDS and any(id in ends_of(plan.links[h.link]) for h in w.hops)
            ]  # fmt: skip
        nothing = f"No picture reaches {device.name}."
    links = dict.fromkeys(hop.link for way in ways for hop in way.hops)
    devices = dict.fromkeys([id, *(d for link in links for d in ends_of(plan.links[link]))])
    return Trace(
        device=id, ways=tuple(ways), links=tuple(links), devices=tuple(devices),
        nothing="" if ways else nothing,
    )  # fmt: skip


def _from_source(plan: PlanIndex, source: str) -> dict[str, Way]:
    """The quickest way from a source to each device its picture reaches."""
    found = plan.once(flow)
    after: dict[str, list[str]] = {}
    for link, signal in found.on_link.items():
        if source in signal.sources and not plan.links[link].broken:
            after.setdefault(ends_of(plan.links[link])[0], []).append(link)
    best: dict[str, tuple[float, tuple[str, ...]]] = {source: (plan.devices[source].delay_ms or 0.0, ())}
    for id in plan.once(downstream_order):
        if id not in best:
            continue
        delay, links = best[id]
        for link in after.get(id, ()):
            taker = ends_of(plan.links[link])[1]
            if not _arrives(plan, link, taker):
                continue
            total = delay + link_delay_ms(plan, plan.links[link]) + box_delay_ms(plan.devices[taker])
            if taker not in best or total < best[taker][0]:
                best[taker] = (total, (*links, link))
    return {id: _way(plan, source, id, links) for id, (_, links) in best.items() if links}


def _arrives(plan: PlanIndex, link_id: str, taker: str) -> bool:
    """Whether what is on the link shows at its end: a stream may stay dark."""
    link = plan.links[link_id]
    if not isinstance(link, Stream):
        return True
    return (link.input or link.id) in plan.once(flow).arriving[taker]


def _way(plan: PlanIndex, source: str, end: str, links: tuple[str, ...]) -> Way:
    found, hops, first = plan.once(flow), [], plan.devices[source]
    delay = first.delay_ms or 0.0
    steps = [Step(name=first.name, value=delay, unit="ms", source=_told(first))]
    for id in links:
        link, signal = plan.links[id], found.on_link[id]
        taker = plan.devices[ends_of(link)[1]]
        into = None
        if not isinstance(link, Stream):
            into, names = (
                plan.ports[link.to_port],
                (plan.port_name(link.from_port), plan.port_name(link.to_port)),
            )
        else:
            into = plan.ports.get(f"{taker.id}/{link.input}") if link.input else None
            names = plan.devices[link.from_device].name, f"{taker.name}, {into.name}" if into else taker.name
            added = link_delay_ms(plan, link)
            if added:
                steps.append(plan.figures.step(delay_figure(link.protocol)))
            delay += added
        box = box_delay_ms(taker)
        if box:
            steps.append(Step(name=taker.name, value=box, unit="ms", source=_told(taker)))
        delay += box
        hops.append(
            TraceHop(
                link=id,
                what=medium_words(link),
                from_name=names[0],
                to_name=names[1],
                format=signal.format.label if signal.format else "",
                carries=_marks(signal),
                becomes=_becomes(taker, into, signal),
                delay_ms=round(delay, 1),
            )
        )
    title = f"{first.name} to {plan.devices[end].name}"
    steps.append(Step(name="Sum", value=delay, unit="ms", how="of all the above, one after the other"))
    working = Working(name=f"Delay, {title}", value=round(delay, 1), unit="ms", steps=tuple(steps))
    return Way(source=source, end=end, title=title, hops=tuple(hops), delay=working)


def _marks(signal: Signal) -> str:
    """What is to be known of a picture beside its format."""
    marks: list[str] = ["" if signal.carries == "picture" else signal.carries]
    marks += [words for words, at in (("full range", signal.full_range), ("protected", signal.protected),
                                      ("menu overlay on", signal.overlay)) if at]  # fmt: skip
    return ", ".join(filter(None, marks))


def _becomes(taker: Device, into: Port | None, signal: Signal) -> str:
    """What the box does with it: refuses it, turns it into another format, or nothing to speak of."""
    reason = refusal(taker, into, signal.format) if into and signal.format else None
    return f"refused: it {reason}" if reason else conversion(taker, into, signal.format)


def medium_words(link: Link) -> str:
    """What a link runs on, such as `SDI coax 44 m` or `RTMPS 8 Mb/s`."""
    if isinstance(link, Stream):
        return f"{PROTOCOL_WORDS[link.protocol]} {link.video_mbps:g} Mb/s"
    if link.kind == "radio":
        return f"Radio {link.distance_m:g} m"
    return f"{CABLE_WORDS[link.cable]} {link.length_m:g} m"


def _told(device: Device) -> str:
    return f"{device.model}, as set in this plan" if device.model else "set in this plan"
