"""The picture followed from each source through every box: what arrives where, and in which format."""

from collections import defaultdict
from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.endpoints.stream_names import asked_of_servers
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.plan import Cable, Carries, Device, Kind, Port, Stream
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.plan.vocabulary import MIXERS, VIDEO, ends_of, is_source


class Signal(NamedTuple):
    """A picture on its way: its format, the device that made or mixed it, and what was done to it."""

    format: VideoFormat | None
    origin: str
    carries: Carries
    sources: frozenset[str]
    through: tuple[str, ...] = ()
    """The boxes it went through since its source, the last one first."""
    protected: str | None = None
    """The port that put content protection on it."""
    full_range: str | None = None
    """The port that sends it in full colour range."""
    overlay: str | None = None
    """The port that burnt its menus into it."""
    sound: frozenset[str] = frozenset()
    """The sound desks and microphones that are heard with it."""
    silenced: str | None = None
    """The link or box where its sound was lost."""
    sound_by: str | None = None
    """A box it went through of which nobody said whether it passes sound on."""
    alone: "Signal | None" = None
    """Of a program: the one picture that came to its mixer, where that was all it had."""

    @property
    def shows(self) -> Iterator["Signal"]:
        """The picture, and what it shows where its mixer had one picture alone."""
        yield self
        if self.alone and self.carries != "multi-view":
            yield from self.alone.shows


class Flow(NamedTuple):
    """The signal on every port and link that has one, and those that arrive at each device, by port or stream."""

    on_port: dict[str, Signal]
    on_link: dict[str, Signal]
    arriving: dict[str, dict[str, Signal]]


@analysis
def flow(case: Case) -> Flow:
    """Every signal of the plan. Loops are walked once; what stands on a closed loop may see no signal."""
    found = Flow({}, {}, {id: {} for id in case.devices})
    streams, lines = {s.id for s in case.streams}, lines_into(case)
    for id in downstream_order(case):
        device = case.devices[id]
        for ref, signal in _leaving(case, device, found.arriving[id], lines.get(id, frozenset())):
            if ref in streams:
                stream = case.links[ref]
                assert isinstance(stream, Stream)
                signal = signal._replace(format=stream.format)
                if not stream.audio_kbps:
                    signal = _silent(signal, stream.id)
                found.on_link[ref] = signal
                if not is_dark(case, stream):
                    found.arriving[stream.to_device].setdefault(stream.input or ref, signal)
                continue
            found.on_port[ref] = signal
            join = case.join_at.get(ref)
            if join and join.from_port == ref and not join.broken:
                if isinstance(join, Cable) and join.cable == "vga":
                    signal = _silent(signal, join.id)
                found.on_link[join.id] = found.on_port[join.to_port] = signal
                taker, _, port = join.to_port.partition("/")
                found.arriving[taker][port] = signal
    return found


def arrivals(case: Case) -> Iterator[tuple[Device, Port, Signal]]:
    """Every input that a signal arrives at, with its device and the signal."""
    for id, arriving in flow(case).arriving.items():
        device = case.devices[id]
        for port in device.ports:
            if port.id in arriving:
                yield device, port, arriving[port.id]


def network_inputs(device: Device) -> list[Port]:
    """The inputs of a device that may show a stream and must be told which."""
    return [p for p in device.ports if p.way == "in" and "network" in p.types]


def is_dark(case: Case, stream: Stream) -> bool:
    """Whether the stream arrives at a box that does not show it: its input is not assigned to it."""
    if stream.broken:
        return True
    taker = case.devices[stream.to_device]
    if not network_inputs(taker):
        return False
    return stream.input is None or case.ports[f"{taker.id}/{stream.input}"].type != "network"


@analysis
def formats(case: Case) -> dict[str, VideoFormat]:
    """The format on every port that carries a picture, by port."""
    return {ref: s.format for ref, s in flow(case).on_port.items() if s.format}


@analysis
def feeds(case: Case) -> dict[str, set[str]]:
    """For every device, the devices it hands picture to directly."""
    found: dict[str, set[str]] = {id: set() for id in case.devices}
    for link in case.plan.links:
        if (
            case.brings_picture(link)
            and not link.broken
            and not (isinstance(link, Stream) and is_dark(case, link))
        ):
            giver, taker = ends_of(link)
            found[giver].add(taker)
    return found


@analysis
def downstream_order(case: Case) -> list[str]:
    """All devices, each after those that feed it; a loop is cut where it closes."""
    before: dict[str, list[str]] = defaultdict(list)
    for id, after in feeds(case).items():
        for taker in after:
            before[taker].append(id)
    done: dict[str, bool] = {}
    order: list[str] = []
    for start in case.devices:
        stack = [(start, False)]
        while stack:
            id, finished = stack.pop()
            if finished:
                order.append(id)
            elif id not in done:
                done[id] = True
                stack.append((id, True))
                stack.extend((b, False) for b in sorted(before[id]) if b not in done)
    return order


def _leaving(
    case: Case, device: Device, arriving: dict[str, Signal], lines: frozenset[str]
) -> list[tuple[str, Signal]]:
    """What the device puts on its outputs and its streams, by port or stream."""
    first: Signal | None = None
    if arriving:
        first = next((arriving[p.id] for p in device.ports if p.id in arriving), None)
        first = first or next(iter(arriving.values()))
    own: Signal | None = None
    if is_source(device):
        sources = frozenset([device.id])
        own = Signal(
            device.produces, device.id, "picture", sources, sound=lines | sources if hears(device) else lines
        )
    elif first and device.kind in MIXERS:
        sources = frozenset[str]().union(*(s.sources for s in arriving.values()))
        through = (device.id, *first.through)
        own = Signal(device.produces or first.format, device.id, "program", sources, through)
        sound = frozenset[str]().union(*(s.sound for s in arriving.values()))
        by = next((s.sound_by for s in arriving.values() if s.sound and s.sound_by), None)
        lost = next((s.silenced for s in arriving.values() if s.silenced), None)
        alone = first if len(arriving) == 1 else None
        own = _through(device, own._replace(sound=sound, sound_by=by, silenced=lost, alone=alone), lines)
    elif first:
        own = first._replace(format=device.produces or first.format, through=(device.id, *first.through))
        own = _through(device, own, lines)
    found: list[tuple[str, Signal]] = []
    for port in device.ports:
        ref = f"{device.id}/{port.id}"
        if port.way != "out" or VIDEO.isdisjoint(port.types):
            continue
        signal = arriving.get(port.loop_of or "") if port.carries == "loop" else own
        if signal is None:
            continue
        if port.carries in ("program", "multi-view", "clean") and device.kind in MIXERS:
            signal = signal._replace(carries=port.carries)
        if port.produces or port.protected or port.levels or port.overlay:
            signal = signal._replace(
                format=port.produces or signal.format,
                protected=ref if port.protected else signal.protected,
                full_range=_levels(ref, port, signal),
                overlay=ref if port.overlay in ("on", "not-known") else signal.overlay,
            )
        found.append((ref, signal))
    if own:
        found += [
            (s.id, _asked_for(case, s, arriving, own))
            for s in case.streams_from.get(device.id, [])
            if not s.broken
        ]
    return found


def _asked_for(case: Case, stream: Stream, arriving: dict[str, Signal], own: Signal) -> Signal:
    """The picture that a stream takes along: of a server, the one that is published under the name that it is asked for."""
    published = asked_of_servers(case).get(stream.id, ())
    named = (
        next((arriving[s.id] for s in published if s.id in arriving), None) if len(published) == 1 else None
    )
    return named._replace(through=(stream.from_device, *named.through)) if named else own


SOUND_IS_ASKED: tuple[Kind, ...] = ("converter", "capture", "radio", "distribution", "decoder", "encoder")
"""Boxes of which some pass sound on with the picture and some do not. Others mix it, or end it."""


def _through(device: Device, signal: Signal, lines: frozenset[str]) -> Signal:
    """The picture with the sound that gets through a box, and what a desk's line brings into it."""
    if device.sound_through is False and signal.sound:
        signal = _silent(signal, device.id)
    elif device.sound_through is None and device.kind in SOUND_IS_ASKED and signal.sound:
        signal = signal._replace(sound_by=signal.sound_by or device.id)
    return signal._replace(sound=signal.sound | lines, sound_by=None) if lines else signal


def _silent(signal: Signal, at: str) -> Signal:
    return signal._replace(sound=frozenset(), sound_by=None, silenced=at) if signal.sound else signal


def hears(device: Device) -> bool:
    """Whether a source's own sound is heard: of an open microphone, or what a laptop plays."""
    if device.kind == "computer":
        return is_source(device)
    return device.microphone is not None and not device.microphone.muted


@analysis
def lines_into(case: Case) -> dict[str, frozenset[str]]:
    """For each box that a sound cable goes into, the desks at the other ends."""
    found: dict[str, frozenset[str]] = {}
    for cable in case.cables:
        if cable.cable == "audio" and not cable.broken:
            desk, box = ends_of(cable)
            found[box] = found.get(box, frozenset()) | {desk}
    return found


def _levels(ref: str, port: Port, signal: Signal) -> str | None:
    return signal.full_range if port.levels is None else (ref if port.levels == "full" else None)
