"""Where the sound of each end comes from: the desk's line, or the cameras' own microphones."""

from collections.abc import Iterator

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import listed
from humble_relay.core.judging.things import port_of
from humble_relay.core.plan import ENDS, Device
from humble_relay.core.plan.vocabulary import ends_of
from humble_relay.core.signal.flow.propagation import flow, hears


class SoundAtEnd(Frozen):
    """The sound at one end. `line` is the input that brings the desk in; `open` the microphones also heard."""

    end: str
    name: str
    source: str
    line: str | None
    channels: str
    open: tuple[str, ...]
    delay: str


class DeskLine(Frozen):
    """A line from a sound desk into a box: its ports, and whether one mono line fills both sides."""

    from_port: str
    to_port: str
    device: str
    mono: bool
    both: bool


@analysis
def desk_lines(case: Case) -> list[DeskLine]:
    """Every sound cable into a box that takes pictures."""
    found = []
    for cable in case.cables:
        if cable.cable != "audio" or cable.broken:
            continue
        out, into = case.ports[cable.from_port], case.ports[cable.to_port]
        mono = out.sound == "mono"
        found.append(
            DeskLine(
                from_port=cable.from_port,
                to_port=cable.to_port,
                device=case.device_of(cable.to_port).id,
                mono=mono,
                both=not mono or into.both_sides,
            )
        )
    return found


def sounds(case: Case) -> tuple[SoundAtEnd, ...]:
    """What is heard at every screen, recorder and platform that gets a picture."""
    by_mixer = {line.device: line for line in desk_lines(case)}
    found = []
    for id, signals in flow(case).arriving.items():
        device = case.devices[id]
        signal = next(iter(signals.values()), None)
        if device.kind not in ENDS or signal is None:
            continue
        line = next((by_mixer[d] for d in (id, *signal.through) if d in by_mixer), None)
        if line and line.device != id and case.device_of(line.from_port).id not in signal.sound:
            line = None  # it was lost on the way
        heard = [case.devices[s] for s in sorted(signal.sources & signal.sound)]
        if line:
            desk = case.device_of(line.from_port)
            sides = (
                "mono on both sides" if line.both and line.mono else "stereo" if line.both else "left only"
            )
            at = case.device_of(line.to_port).name
            source, channels = desk.name, sides
            delay = f"needs the delay of the picture as far as {at}"
        else:
            source = (
                listed(f"{d.name} (own {'microphone' if d.microphone else 'sound'})" for d in heard) or "none"
            )
            channels, delay = ("as the camera sends it" if heard else ""), "none: it travels with the picture"
            delay = delay if heard else ""
        found.append(
            SoundAtEnd(
                end=id,
                name=device.name,
                source=source,
                line=line.to_port if line else None,
                channels=channels,
                open=tuple(d.name for d in heard) if line else (),
                delay=delay,
            )
        )
    return tuple(found)


def _heard(case: Case) -> Iterator[tuple[Thing, tuple[DeskLine, Device]]]:
    """The sources with a microphone at each box that a desk's line goes into."""
    for line in desk_lines(case):
        heard = {s for signal in flow(case).arriving[line.device].values() for s in signal.sources}
        for id in sorted(heard):
            if case.devices[id].microphone:
                yield Thing("device", id, line.device), (line, case.devices[id])


MICROPHONES: SubjectKind[tuple[DeskLine, Device]] = SubjectKind("microphone beside a desk's line", _heard)
DESK_LINES: SubjectKind[DeskLine] = SubjectKind(
    "line from a sound desk",
    lambda case: ((port_of(line.to_port), line) for line in desk_lines(case)),
)


@check(
    "microphone-open", MICROPHONES, "signal",
    "Is the camera's own microphone muted where the desk is the sound?", "common practice, no source",
)  # fmt: skip
def microphone_open(case: Case, what: tuple[DeskLine, Device]) -> Verdict:
    """Whether a source's own microphone is muted while the desk's line is the sound."""
    line, source = what
    if not hears(source):
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{source.name}'s own microphone is open, and {case.device_of(line.from_port).name} is the sound at {case.devices[line.device].name}.",
            "Every voice is heard twice, the second time late and from across the water.",
            "Mute the camera's microphone where its picture comes in.",
        ),
        compared=(
            line.from_port,
            line.device,
        ),
    )


@check(
    "mono-one-side", DESK_LINES, "signal",
    "Does the desk's line fill both sides of the stereo pair?", "common practice, no source",
)  # fmt: skip
def mono_one_side(case: Case, line: DeskLine) -> Verdict:
    """Whether a mono line is put on both sides."""
    if line.both:
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{case.port_name(line.to_port)} puts the mono line of {case.device_of(line.from_port).name} on one side only.",
            "Half of the listeners on one earphone hear nothing.",
            "Tell the input to put the line on both sides, or send the desk's line twice.",
        ),
        compared=(line.from_port,),
    )


DESKS: SubjectKind[Device] = SubjectKind(
    "sound desk",
    lambda case: (
        (Thing("device", d.id, "line"), d) for d in case.devices.values() if d.kind == "sound-desk"
    ),
)


@check(
    "desk-goes-nowhere", DESKS, "signal", "Does its line go into a device?", "common practice, no source"
)  # fmt: skip
def desk_goes_nowhere(case: Case, desk: Device) -> Verdict:
    """Whether an intact audio cable leads from a sound desk to a device."""
    if any(ends_of(c)[0] == desk.id for c in case.cables if c.cable == "audio" and not c.broken):
        return HOLDS
    return doubtful(
        lambda: Words(
            f"The line of {desk.name} goes into no device.",
            "The desk is manned and its meters move, and nothing of it is heard.",
            f"Bring its line to the device that mixes: type {desk.name}, to, and the name of that device.",
        )
    )


CHECKS = (microphone_open, mono_one_side, desk_goes_nowhere)
