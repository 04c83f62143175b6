"""The signal map: places as bands, signal running left to right, and what every hop says of itself."""

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from typing import Literal, NamedTuple

from humble_relay.core.catalogue.cables import CABLE_WORDS, PROTOCOL_WORDS
from humble_relay.core.judging.answer import State, weakest
from humble_relay.core.judging.case import Case, analysis_of_each
from humble_relay.core.load.cable_load import on_cables
from humble_relay.core.load.stream_load import loads
from humble_relay.core.places.distances import length_words
from humble_relay.core.plan import Cable, Device, Link, Radio, Stream
from humble_relay.core.plan.vocabulary import VIDEO, ends_of
from humble_relay.core.signal.diagram.model import DETAILS, SCALES, Detail, Pattern, SignalMap, Wire
from humble_relay.core.signal.diagram.pixels import Drawing, drawn, size
from humble_relay.core.signal.diagram.placement import band_of, placed
from humble_relay.core.signal.flow.delays import protocol_delay_ms
from humble_relay.core.signal.flow.propagation import flow, is_dark
from humble_relay.core.signal.flow.tracing import trace

_NETWORK_GEAR = ("router", "network-switch", "injector")


class _Sight(NamedTuple):
    """What is looked at: which box each device is drawn in, and what stands out of the rest."""

    node: Mapping[str, str]
    labelled: frozenset[str] | None
    """The links that say what they are; None for all."""
    lit: frozenset[str] | None
    """The devices and links on the way that was picked; None where none is."""
    marks: Mapping[str, State]


def signal_map(
    case: Case,
    detail: Detail = "full",
    network: bool = False,
    turned: Iterable[str] = (),
    picked: str | None = None,
    marks: Mapping[str, State] | None = None,
) -> SignalMap:
    """The map of the whole plan at one detail; with network cables where asked.

    `turned` places are drawn the other way than the detail has it: as one box, or opened. `picked` is a device
    whose ways stay in full while the rest steps back, or a link whose boxes come out of their places. `marks` are the states, by id,
    of what does not hold.
    """
    return drawn(_drawing(case, detail, network, turned, picked, marks or {}))


def fitting(
    case: Case, width: float, height: float, network: bool = False, marks: Mapping[str, State] | None = None
) -> Detail:
    """The nearest detail at which the whole map, its marks included, is seen at once in so many px; the furthest where none
    is."""
    marked = frozenset((marks or {}).items())
    for detail in DETAILS:
        wide, high = _size(case, (detail, network, marked))
        if wide <= width and high <= height:
            return detail
    return DETAILS[-1]


@analysis_of_each
def _size(case: Case, asked: tuple[Detail, bool, frozenset[tuple[str, State]]]) -> tuple[float, float]:
    """The width and height of the whole map (px) at a detail, with network cables or without, with its marks."""
    detail, network, marks = asked
    return size(_drawing(case, detail, network, (), None, dict(marks)))


def _drawing(
    case: Case,
    detail: Detail,
    network: bool,
    turned: Iterable[str],
    picked: str | None,
    marks: Mapping[str, State],
) -> Drawing:
    """What is drawn, where it was placed."""
    closed = frozenset(turned) ^ (
        frozenset(case.places) | {"unplaced"} if detail == "places" else frozenset()
    )
    sight = _sight(case, detail, closed, picked, marks)
    lines = _bundled(_lines(case, network), sight)
    if detail == "places" and sight.lit is not None:
        lines = [
            line for line in lines if not line.back
        ]  # from so far, the way that was picked is all that is seen
    joined = {end for line in lines for end in (line.a, line.b)}
    aside: dict[str, list[str]] = defaultdict(list)
    inside: dict[str, list[Device]] = defaultdict(list)
    bands: dict[str, list[str]] = defaultdict(list)
    for device in case.devices.values():
        band, id = band_of(device), sight.node[device.id]
        if id not in joined and device.kind in _NETWORK_GEAR and id == device.id:
            aside[band].append(device.name)
            bands.setdefault(band, [])
            continue
        if id not in inside:
            bands[band].append(id)
        inside[id].append(device)
    where = placed(lines, bands, case.places, abreast=detail == "places" and not picked)
    return Drawing(case, lines, where, detail, inside, aside, closed, marks, sight.lit)


def _sight(
    case: Case, detail: Detail, closed: frozenset[str], picked: str | None, marks: Mapping[str, State]
) -> _Sight:
    lit, full = None, frozenset[str]()
    if picked in case.devices:
        found = trace(case, picked)
        full = frozenset({*found.devices, *found.links})
        lit = full if found.links else None  # where there is no way, nothing steps back for it
    elif picked in case.links:
        full = frozenset({picked, *ends_of(case.links[picked])})
    node = {
        d.id: f"place:{band_of(d)}" if band_of(d) in closed and d.id not in full else d.id
        for d in case.devices.values()
    }
    # What is picked says what it is where all do: the map does not move for it.
    return _Sight(node, None if SCALES[detail].labels else frozenset(), lit, marks)


@analysis_of_each
def _lines(case: Case, network: bool) -> tuple[Wire, ...]:
    """Every link that is drawn, with its words, in the order of the inputs it goes to."""
    return tuple(_each_line(case, network))


def _each_line(case: Case, network: bool) -> Iterator[Wire]:
    found, each = flow(case), loads(case)
    place_of_port = {ref: i for i, ref in enumerate(case.ports)}
    for link in case.links.values():
        a, b = ends_of(link)
        if link.id in case.lan_cables and not network:
            continue
        signal = found.on_link.get(link.id)
        state: Literal["live", "dark", "broken"] = "live" if signal else "dark"
        if link.broken:
            state = "broken"
        elif isinstance(link, Stream) and is_dark(case, link):
            state = "dark"
        elif not case.brings_picture(link):
            state = "live"
        ref = (
            f"{b}/{link.input}" if isinstance(link, Stream) and link.input else getattr(link, "to_port", None)
        )
        order = place_of_port.get(ref or "", len(place_of_port))
        label, detail = _words(case, link)
        if isinstance(link, Stream):
            delay = protocol_delay_ms(case, link, case.devices[link.to_device])
            label = f"{PROTOCOL_WORDS[link.protocol]} {each[link.id].total.value:.3g} Mb/s{f', {delay:g} ms' if delay else ''}"
        if ref and sum(p.way == "in" and bool(VIDEO & set(p.types)) for p in case.devices[b].ports) > 2:
            detail = ", ".join(filter(None, (detail, case.ports[ref].name)))
        elif signal and signal.carries in ("multi-view", "clean"):
            detail = ", ".join(filter(None, (signal.carries, detail)))
        title = ", ".join(filter(None, (label, detail, "" if state == "live" else state)))
        ends = f"{case.devices[a].name} to {case.devices[b].name}: {title}"
        yield Wire(link.id, a, b, order, _pattern(case, link), state, label, detail, ends)


def _words(case: Case, link: Link) -> tuple[str, str]:
    """Two short lines on a link: what it is and how long, and what is on it."""
    signal = flow(case).on_link.get(link.id)
    fmt = signal.format if signal else None
    if isinstance(link, Stream):
        return "", link.format.label
    if isinstance(link, Cable) and link.id in case.lan_cables:
        mbps, most = on_cables(case).get(link.id, (0.0, None))
        load = "" if not mbps else f"{mbps:.3g} Mb/s" if most is None else f"{mbps:.3g} of {most:g} Mb/s"
        return f"{CABLE_WORDS[link.cable]} {length_words(case, link)}", load
    word = "Radio" if isinstance(link, Radio) else "SDI" if link.cable == "coax" else CABLE_WORDS[link.cable]
    return f"{word} {length_words(case, link)}", fmt.label if fmt else ""


def _pattern(case: Case, link: Link) -> Pattern:
    if isinstance(link, Stream):
        return "stream"
    if isinstance(link, Radio):
        return "radio"
    return "network" if link.id in case.lan_cables else "sound" if link.cable == "audio" else "cable"


def _bundled(lines: Iterable[Wire], sight: _Sight) -> list[Wire]:
    """The lines between boxes: those inside a closed place go, those between the same two boxes become one."""
    found: dict[tuple[str, str, str], list[Wire]] = defaultdict(list)
    for line in lines:
        a, b = sight.node[line.a], sight.node[line.b]
        if a == b and a != line.a:
            continue
        whole = a != line.a or b != line.b
        found[(a, b, "" if whole else line.id)].append(line._replace(a=a, b=b))
    return [_as_one(bundle, sight) for bundle in found.values()]


def _as_one(bundle: list[Wire], sight: _Sight) -> Wire:
    """The lines of a bundle as one: how many they are, and the weakest that is said of any."""
    line = bundle[0]
    if len(bundle) > 1:
        same = len({x.pattern for x in bundle}) == 1
        words = f"{len(bundle)} links"
        state = "live" if any(x.state == "live" for x in bundle) else line.state
        line = line._replace(
            pattern=line.pattern if same else "cable", state=state, label=words, detail="",
            title="\n".join([words, *(x.title for x in bundle[:12]), *(["and others"] if len(bundle) > 12 else [])]),
        )  # fmt: skip
    if sight.labelled is not None and not any(x.id in sight.labelled for x in bundle):
        line = line._replace(label="", detail="")
    return line._replace(
        mark=weakest(sight.marks.get(x.id) for x in bundle),
        back=sight.lit is not None and not any(x.id in sight.lit for x in bundle),
    )
