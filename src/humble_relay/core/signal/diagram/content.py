"""The signal map: places as bands, signal running left to right, and what every hop says of itself."""

from collections import defaultdict
from collections.abc import Iterable, Iterator
from typing import Literal

from humble_relay.core.capacity.load import loads
from humble_relay.core.catalogue.cables import CABLE_WORDS, PROTOCOL_WORDS
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Cable, Device, Link, Radio, Stream
from humble_relay.core.signal.diagram.model import Pattern, SignalMap, Wire
from humble_relay.core.signal.diagram.pixels import drawn
from humble_relay.core.signal.diagram.placement import band_of, placed
from humble_relay.core.signal.flow.delays import protocol_delay_ms
from humble_relay.core.signal.flow.propagation import VIDEO, ends_of, flow, is_dark

_NETWORK_GEAR = ("router", "network-switch", "injector")


def signal_map(case: Case, network: bool = False, collapsed: Iterable[str] = ()) -> SignalMap:
    """The map of the whole plan; with network cables where asked, and some places drawn as one box."""
    closed = frozenset(collapsed)
    node = {d.id: _node(d, closed) for d in case.devices.values()}
    lines = _bundled(case, _lines(case, network), node)
    joined = {end for line in lines for end in (line.a, line.b)}
    aside: dict[str, list[str]] = defaultdict(list)
    names: dict[str, str] = {}
    bands: dict[str, list[str]] = defaultdict(list)
    for device in case.devices.values():
        band, id = band_of(device), node[device.id]
        if id not in joined and device.kind in _NETWORK_GEAR and id == device.id:
            aside[band].append(device.name)
            bands.setdefault(band, [])
        elif id not in names:
            names[id] = device.name
            bands[band].append(id)
    return drawn(case, lines, placed(lines, bands, case.places), aside, closed)


def _node(device: Device, closed: frozenset[str]) -> str:
    return f"place:{band_of(device)}" if band_of(device) in closed else device.id


def _lines(case: Case, network: bool) -> Iterator[Wire]:
    """Every link that is drawn, with its words, in the order of the inputs it goes to."""
    found, each = case.once(flow), case.once(loads)
    place_of_port = {ref: i for i, ref in enumerate(case.ports)}
    for link in case.links.values():
        a, b = ends_of(link)
        if isinstance(link, Cable) and link.cable == "ethernet" and not network:
            continue
        signal = found.on_link.get(link.id)
        state: Literal["live", "dark", "broken"] = "live" if signal else "dark"
        if link.broken:
            state = "broken"
        elif isinstance(link, Stream) and is_dark(case, link):
            state = "dark"
        elif isinstance(link, Cable) and link.cable in ("audio", "ethernet"):
            state = "live"
        ref = (
            f"{b}/{link.input}" if isinstance(link, Stream) and link.input else getattr(link, "to_port", None)
        )
        order = place_of_port.get(ref or "", len(place_of_port))
        label, detail = _words(case, link)
        if isinstance(link, Stream):
            delay = protocol_delay_ms(case, link.protocol, case.devices[link.to_device])
            label = f"{PROTOCOL_WORDS[link.protocol]} {each[link.id].total.value:.3g} Mb/s{f', {delay:g} ms' if delay else ''}"
        if ref and sum(p.way == "in" and bool(VIDEO & set(p.types)) for p in case.devices[b].ports) > 2:
            detail = ", ".join(filter(None, (detail, case.ports[ref].name)))
        elif signal and signal.carries in ("multi-view", "clean"):
            detail = ", ".join(filter(None, (signal.carries, detail)))
        yield Wire(link.id, a, b, order, _pattern(link), state, label, detail)


def _words(case: Case, link: Link) -> tuple[str, str]:
    """Two short lines on a link: what it is and how long, and what is on it."""
    signal = case.once(flow).on_link.get(link.id)
    fmt = signal.format if signal else None
    if isinstance(link, Stream):
        return "", link.format.label
    word = "Radio" if isinstance(link, Radio) else "SDI" if link.cable == "coax" else CABLE_WORDS[link.cable]
    metres = link.distance_m if isinstance(link, Radio) else link.length_m
    return f"{word} {metres:g} m", fmt.label if fmt else ""


def _pattern(link: Link) -> Pattern:
    if isinstance(link, Stream):
        return "stream"
    if isinstance(link, Radio):
        return "radio"
    return "network" if link.cable == "ethernet" else "sound" if link.cable == "audio" else "cable"


def _bundled(case: Case, lines: Iterable[Wire], node: dict[str, str]) -> list[Wire]:
    """The lines between boxes: those inside a closed place go, those between the same two boxes become one."""
    found: dict[tuple[str, str, str], Wire] = {}
    count: dict[tuple[str, str, str], int] = defaultdict(int)
    for line in lines:
        a, b = node[line.a], node[line.b]
        if a == b and a != line.a:
            continue
        whole = a != line.a or b != line.b
        key = (a, b, "" if whole else line.id)
        count[key] += 1
        kept = found.get(key)
        if kept:
            pattern = line.pattern if line.pattern == kept.pattern else "cable"
            found[key] = kept._replace(label=f"{count[key]} links", detail="", pattern=pattern)
        else:
            found[key] = line._replace(a=a, b=b)
    return list(found.values())
