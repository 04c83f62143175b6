"""A source followed to everything it reaches, and an end followed back to what feeds it."""

from collections.abc import Callable
from dataclasses import replace

from humble_relay.core.catalogue.cables import CABLE_WORDS, PROTOCOL_WORDS
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.working import Working
from humble_relay.core.places.distances import length_words
from humble_relay.core.plan import ENDS, Device, Link, Port, Stream
from humble_relay.core.plan.vocabulary import ends_of, is_public, is_source
from humble_relay.core.signal.flow.conversion import conversion, refusal
from humble_relay.core.signal.flow.delays import (
    carrier_of,
    delay_along,
    delays_along,
    held_back_ms,
    hop_delay_ms,
)
from humble_relay.core.signal.flow.propagation import Signal, downstream_order, flow


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


class TracedWay(Frozen):
    """One source to one end, by the quickest path the plan has for it."""

    source: str
    end: str
    title: str
    hops: tuple[TraceHop, ...]
    delay: Working


class Trace(Frozen):
    """What one device has to do with: every way from it and to it, and all that is on them."""

    device: str
    ways: tuple[TracedWay, ...]
    links: tuple[str, ...]
    devices: tuple[str, ...]
    nothing: str
    """Why there is no way, in words, where there is none."""


def trace(case: Case, id: str) -> Trace:
    """Every way that begins, ends or passes at the device. Raises KeyError when the plan has no such device."""
    device = case.devices[id]
    found = flow(case)
    if is_source(device):
        quickest = _from_source(case, id)
        ends = [end for end in quickest if end != id and case.devices[end].kind in ENDS]
        ways = [_way(case, id, end, _links_to(quickest, end)) for end in ends]
        nothing = f"{device.name} reaches no screen, recorder or platform."
    else:
        heard = {s for signal in found.arriving[id].values() for s in signal.sources}
        ways, passing = list[TracedWay](), device.kind not in ENDS
        for source in (s for s in case.devices if s in heard):
            case.pulse()
            quickest = _from_source(case, source)
            ways += [_way(case, source, id, _links_to(quickest, id))] if id in quickest else []
            if passing:  # onward from here, for the first source: the way is the same for the others
                ways += [
                    _way(case, source, end, _links_to(quickest, end))
                    for end in _beyond(quickest, id)
                    if case.devices[end].kind in ENDS
                ]
                passing = False
        ways.sort(key=lambda w: w.end != id)
        nothing = f"No picture reaches {device.name}."
    links = dict.fromkeys(hop.link for way in ways for hop in way.hops)
    devices = dict.fromkeys([id, *(d for link in links for d in ends_of(case.links[link]))])
    return Trace(
        device=id, ways=tuple(ways), links=tuple(links), devices=tuple(devices),
        nothing="" if ways else nothing,
    )  # fmt: skip


def paths_to(case: Case, end: str, wanted: Callable[[Signal], bool]) -> list[tuple[str, tuple[str, ...]]]:
    """Each source of the first picture at a device that is wanted, in the plan's order, with the links of its quickest
    path there: through whatever brings that picture, and no other input."""
    arriving = flow(case).arriving[end]
    for into, signal in arriving.items():
        if not wanted(signal):
            continue
        join = case.join_at.get(f"{end}/{into}")
        last = join or next(s for s in case.streams_to[end] if into in (s.input, s.id))
        giver = ends_of(last)[0]
        found = []
        for source in (s for s in case.devices if s in signal.sources):
            quickest = _from_source(case, source)
            if giver in quickest:
                found.append((source, (*_links_to(quickest, giver), last.id)))
        return found
    return []


Quickest = dict[str, tuple[float, str, str]]
"""For each device reached: the delay there in ms, the device before it, and the link between them."""


@analysis
def _found_so_far(_: Case) -> dict[str, Quickest]:
    """The ways of each source, once they are worked out."""
    return {}


def _from_source(case: Case, source: str) -> Quickest:
    """How a source's picture gets quickest to each device it reaches, in the order of the signal."""
    known = _found_so_far(case)
    if source not in known:
        known[source] = _worked_out(case, source)
    return known[source]


def _worked_out(case: Case, source: str) -> Quickest:
    found = flow(case)
    best: Quickest = {source: (case.devices[source].delay_ms or 0.0, "", "")}
    held: dict[str, float] = {}
    for id in downstream_order(case):
        if id not in best:
            continue
        delay = best[id][0]
        for link in links_leaving(case).get(id, ()):
            taker = ends_of(case.links[link])[1]
            if source not in found.on_link[link].sources or not _arrives(case, link, taker):
                continue
            stream, box, waits = carrier_of(case.links[link]), case.devices[taker], held.get(id, 0.0)
            total = delay + hop_delay_ms(case, stream, box, held_ms=waits)
            if taker not in best or total < best[taker][0]:
                best[taker] = (total, id, link)
                held[taker] = held_back_ms(case, stream, box, waits)
    return best


@analysis
def links_leaving(case: Case) -> dict[str, list[str]]:
    """For each device, the links that take a picture away from it."""
    after: dict[str, list[str]] = {}
    for link in flow(case).on_link:
        if not case.links[link].broken:
            after.setdefault(ends_of(case.links[link])[0], []).append(link)
    return after


def _links_to(quickest: Quickest, end: str) -> tuple[str, ...]:
    links: list[str] = []
    seen = {end}
    while quickest[end][2]:
        _, before, link = quickest[end]
        links.append(link)
        if before in seen:
            break
        seen.add(before)
        end = before
    return tuple(reversed(links))


def _beyond(quickest: Quickest, id: str) -> list[str]:
    """The devices that are reached through one, in the order of the signal."""
    after: dict[str, list[str]] = {}
    for taker, (_, before, _link) in quickest.items():
        after.setdefault(before, []).append(taker)
    stack, seen = [id], {id}
    while stack:
        fresh = [taker for taker in after.get(stack.pop(), ()) if taker not in seen]
        seen.update(fresh)
        stack += fresh
    return [taker for taker in quickest if taker in seen and taker != id]


def _arrives(case: Case, link_id: str, taker: str) -> bool:
    """Whether what is on the link shows at its end: a stream may stay dark."""
    link = case.links[link_id]
    if not isinstance(link, Stream):
        return True
    return (link.input or link.id) in flow(case).arriving[taker]


def _way(case: Case, source: str, end: str, ids: tuple[str, ...]) -> TracedWay:
    found, first = flow(case), case.devices[source]
    links = [case.links[id] for id in ids]
    takers = [case.devices[ends_of(link)[1]] for link in links]
    hops = []
    for link, taker, delay in zip(links, takers, delays_along(case, first, links, takers), strict=True):
        signal, into = found.on_link[link.id], None
        if not isinstance(link, Stream):
            into = case.ports[link.to_port]
            names = case.port_name(link.from_port), case.port_name(link.to_port)
        else:
            into = case.ports.get(f"{taker.id}/{link.input}") if link.input else None
            names = case.devices[link.from_device].name, f"{taker.name}, {into.name}" if into else taker.name
        hops.append(
            TraceHop(
                link=link.id,
                what=medium_words(case, link),
                from_name=names[0],
                to_name=names[1],
                format=signal.format.label if signal.format else "",
                carries=_marks(case, signal),
                becomes=_becomes(taker, into, signal),
                delay_ms=round(delay, 1),
            )
        )
    title = f"{first.name} to {case.devices[end].name}"
    delay_of_all = _as_viewers_see_it(case, delay_along(case, title, first, links, takers), case.devices[end])
    return TracedWay(source=source, end=end, title=title, hops=tuple(hops), delay=delay_of_all)


def viewers_figure(end: Device) -> str:
    """The figure of how late viewers see it at a platform, by its mode; empty of any other end. Where nobody said which, the least."""
    if end.kind != "platform":
        return ""
    how = end.ingest.publication if end.ingest else None
    return "platform-delay-normal" if how and how.delay_mode == "normal" else "platform-delay"


def _as_viewers_see_it(case: Case, delay: Working, end: Device) -> Working:
    """The delay to an end, in ms; of a platform with what its viewers see late after it, at least."""
    if not is_public(end):
        return delay
    after = case.figures.step(viewers_figure(end))
    total = round((delay.value or 0) + (after.value or 0), 1)
    whole = replace(delay.steps[-1], value=total)
    return replace(delay, value=total, steps=(*delay.steps[:-1], after, whole))


def _marks(case: Case, signal: Signal) -> str:
    """What is to be known of a picture beside its format."""
    marks: list[str] = ["" if signal.carries == "picture" else signal.carries]
    marks += [words for words, at in (("full range", signal.full_range), ("protected", signal.protected),
                                      (_overlay(case, signal), signal.overlay)) if at]  # fmt: skip
    return ", ".join(filter(None, marks))


def _overlay(case: Case, signal: Signal) -> str:
    sure = signal.overlay and case.ports[signal.overlay].overlay == "on"
    return "menu overlay on" if sure else "menu overlay not known"


def _becomes(taker: Device, into: Port | None, signal: Signal) -> str:
    """What the box does with it: refuses it, turns it into another format, or nothing to speak of."""
    reason = refusal(taker, into, signal.format) if into and signal.format else None
    return f"refused: it {reason}" if reason else conversion(taker, into, signal.format)


def medium_words(case: Case, link: Link) -> str:
    """What a link runs on, such as `SDI coax 44 m` or `RTMPS 8 Mb/s`."""
    if isinstance(link, Stream):
        return f"{PROTOCOL_WORDS[link.protocol]} {link.video_mbps:g} Mb/s"
    if link.kind == "radio":
        return f"Radio {length_words(case, link)}"
    return f"{CABLE_WORDS[link.cable]} {length_words(case, link)}"
