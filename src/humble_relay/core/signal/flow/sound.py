"""Where the sound of each end comes from: the desk's line, or the cameras' own microphones."""

from collections.abc import Iterator

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Fault, Fix, rule
from humble_relay.core.plan import ENDS
from humble_relay.core.plan.edits import SetField, SetPort
from humble_relay.core.signal.flow.propagation import flow


class Sound(Frozen):
    """The sound at one end. `line` is the input that brings the desk in; `open` the microphones also heard."""

    end: str
    name: str
    source: str
    line: str | None
    channels: str
    open: tuple[str, ...]
    delay: str


class Line(Frozen):
    """A line from a sound desk into a box: its ports, and whether one mono line fills both sides."""

    from_port: str
    to_port: str
    device: str
    mono: bool
    both: bool


def lines(case: Case) -> list[Line]:
    """Every sound cable into a box that takes pictures."""
    found = []
    for cable in case.cables:
        if cable.cable != "audio" or cable.broken:
            continue
        out, into = case.ports[cable.from_port], case.ports[cable.to_port]
        mono = out.sound == "mono"
        found.append(
            Line(
                from_port=cable.from_port,
                to_port=cable.to_port,
                device=case.device_of(cable.to_port).id,
                mono=mono,
                both=not mono or into.both_sides,
            )
        )
    return found


def sounds(case: Case) -> tuple[Sound, ...]:
    """What is heard at every screen, recorder and platform that gets a picture."""
    by_mixer = {line.device: line for line in case.once(lines)}
    found = []
    for id, signals in case.once(flow).arriving.items():
        device = case.devices[id]
        signal = next(iter(signals.values()), None)
        if device.kind not in ENDS or signal is None:
            continue
        line = next((by_mixer[d] for d in (id, *signal.through) if d in by_mixer), None)
        heard = [case.devices[s] for s in sorted(signal.sources) if case.devices[s].microphone == "open"]
        if line:
            desk = case.device_of(line.from_port)
            sides = (
                "mono on both sides" if line.both and line.mono else "stereo" if line.both else "left only"
            )
            at = case.device_of(line.to_port).name
            source, channels = desk.name, sides
            delay = f"needs the delay of the picture as far as {at}"
        else:
            source = " and ".join(d.name for d in heard) + " (own microphone)" if heard else "none"
            channels, delay = ("as the camera sends it" if heard else ""), "none: it travels with the picture"
            delay = delay if heard else ""
        found.append(
            Sound(
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


@rule("microphone-open", "signal")
def microphone_open(case: Case) -> Iterator[Fault]:
    """Cameras whose own microphone is open while the desk's line is the sound."""
    for line in case.once(lines):
        heard = {s for signal in case.once(flow).arriving[line.device].values() for s in signal.sources}
        for id in sorted(heard):
            source = case.devices[id]
            if source.microphone != "open":
                continue
            edit = SetField(noun="device", id=id, field="microphone", value="muted")
            yield Fault(
                severity="risks",
                noun="device",
                subject=id,
                part=line.device,
                wrong=f"{source.name}'s own microphone is open, and {case.device_of(line.from_port).name} is the sound at {case.devices[line.device].name}.",
                means="Every voice is heard twice, the second time late and from across the water.",
                do="Mute the camera's microphone where its picture comes in.",
                fixes=(Fix(title=f"Mute {source.name}'s microphone", edits=(edit,)),),
            )


@rule("mono-one-side", "signal")
def mono_one_side(case: Case) -> Iterator[Fault]:
    """A mono line that fills only one side of the stereo pair."""
    for line in case.once(lines):
        if line.both:
            continue
        yield Fault(
            severity="risks",
            noun="device",
            subject=line.device,
            part=line.to_port.split("/")[1],
            wrong=f"{case.port_name(line.to_port)} puts the mono line of {case.device_of(line.from_port).name} on one side only.",
            means="Half of the listeners on one earphone hear nothing.",
            do="Tell the input to put the line on both sides, or send the desk's line twice.",
            fixes=(
                Fix(
                    title="Put it on both sides",
                    edits=(SetPort(port=line.to_port, field="both_sides", value=True),),
                ),
            ),
        )
