"""Whether what arrives at each input will show, in its colours and without juddering."""

from collections.abc import Iterator
from functools import lru_cache

from humble_relay.core.judging.answer import (
    HOLDS,
    USUAL,
    Choice,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    fails,
    holds,
    wants,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import listed
from humble_relay.core.plan import Device, Port, Stream
from humble_relay.core.plan.video import Rate, VideoFormat, frames_per_second
from humble_relay.core.plan.vocabulary import MIXERS
from humble_relay.core.signal.flow.conversion import refusal
from humble_relay.core.signal.flow.propagation import Signal, arrivals, flow

ArrivingPicture = tuple[Device, Port, Signal]


def _arriving(case: Case) -> Iterator[tuple[Thing, ArrivingPicture]]:
    for device, port, signal in arrivals(case):
        yield Thing("device", device.id, port.id), (device, port, signal)


ARRIVALS: SubjectKind[ArrivingPicture] = SubjectKind("input that a picture arrives at", _arriving)
CONVERTED: SubjectKind[ArrivingPicture] = SubjectKind(
    "input that takes other frame rates",
    lambda case: (
        (thing, what)
        for thing, what in _arriving(case)
        if what[2].format
        and what[0].produces
        and what[1].scales
        and not refusal(what[0], what[1], what[2].format)
    ),
)
PROTECTED: SubjectKind[ArrivingPicture] = SubjectKind(
    "input behind an output that asks for content protection",
    lambda case: ((thing, what) for thing, what in _arriving(case) if what[2].protected),
)
IN_FULL_RANGE: SubjectKind[ArrivingPicture] = SubjectKind(
    "input that a picture in full colour range arrives at",
    lambda case: ((thing, what) for thing, what in _arriving(case) if what[2].full_range),
)


@check(
    "format-refused", ARRIVALS, "signal", "Does the input take the raster, frame rate and scan that arrive?",
    "the maker's data; SMPTE ST 274: 59.94 is not 60", "gear", tried=True,
)  # fmt: skip
def format_refused(case: Case, what: ArrivingPicture) -> Verdict:
    """Whether the input takes the picture that arrives at it."""
    device, port, signal = what
    fmt = signal.format
    if fmt is None:
        maker = case.devices[signal.origin]
        asked = f"What picture does {maker.name} send: raster, frame rate and scan?"
        return wants(Want(Thing("device", maker.id), "produces", asked, choices=USUAL))
    reason = refusal(device, port, fmt)
    if not reason:
        return HOLDS
    return fails(
        lambda: Words(
            f"{_name(case, what)} gets {fmt.label}; it {reason}.",
            "The input stays black, or the box shows 'no signal' while the camera is plainly on.",
            "Set the source to a format the input takes, or put a scaler between them.",
        )
    )


@check(
    "rate-converted", CONVERTED, "signal", "Does the frame rate go into the system's evenly?", "arithmetic", "standard"
)  # fmt: skip
def rate_converted(case: Case, what: ArrivingPicture) -> Verdict:
    """Whether an input that converts makes whole frames of what arrives: 59.94 is not 60, and 30 is not 50."""
    device, _port, signal = what
    made, fmt = device.produces, signal.format
    assert made and fmt
    if divides(fmt.rate, made.rate):
        return HOLDS
    return holds(
        remark=lambda: Words(
            f"{_name(case, what)} gets {fmt.rate} frames/s and makes {made.rate} of it.",
            "Frames are doubled or dropped: pans judder, most of all where it is cut against the others.",
            "Set the source to the system's frame rate where it can be.",
        )
    )


@check(
    "protected-picture", PROTECTED, "signal", "Does the input show a protected picture?", "common practice, no source",
    "gear", tried=True,
)  # fmt: skip
def protected_picture(case: Case, what: ArrivingPicture) -> Verdict:
    """Whether an input behind an output that asks for content protection shows its picture."""
    device, port, signal = what
    if port.takes_protected:
        return HOLDS
    if port.takes_protected is None:
        asked = f"Does {_name(case, what)} show a protected picture, or stay black on it?"
        shows = (Choice(value=True, words="shows it"), Choice(value=False, words="stays black"))
        return wants(
            Want(
                Thing("device", device.id, port.id),
                "takes_protected",
                asked,
                model=device.model,
                choices=shows,
            )
        )
    return fails(
        lambda: Words(
            f"{case.port_name(signal.protected or '')} asks for content protection; {_name(case, what)} stays black on it.",
            "Slides show on a monitor and are black here, the moment a protected film or page is opened.",
            "Turn content protection off where the picture is made. It cannot be taken out on the way.",
        )
    )


@check(
    "levels-differ", IN_FULL_RANGE, "signal", "Does the input expect the colour range that is sent?", "CTA-861", "gear",
    tried=True,
)  # fmt: skip
def levels_differ(case: Case, what: ArrivingPicture) -> Verdict:
    """Whether a picture in full colour range meets an input that expects limited."""
    _device, port, signal = what
    if port.levels != "limited":
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{case.port_name(signal.full_range or '')} sends full colour range; {_name(case, what)} expects limited.",
            "Blacks crush and whites clip: text on slides loses its edges.",
            "Set the laptop's output to limited range, or the input to full.",
        ),
        compared=(signal.full_range,),
    )


SENT_ON: SubjectKind[tuple[Stream, tuple[Rate, ...]]] = SubjectKind(
    "stream of a picture whose frame rate is known",
    lambda case: (
        (Thing("link", s.id, "rate"), (s, rates)) for s in case.streams if (rates := _made_of(case, s))
    ),
)


def _made_of(case: Case, stream: Stream) -> tuple[Rate, ...]:
    """The frame rates of which a stream may be made: its device's own, or those of the pictures that come into it and are in the stream;
    none where nobody said."""
    sender, went = case.devices[stream.from_device], flow(case).on_link.get(stream.id)
    if sender.produces:
        return (sender.produces.rate,)
    came = flow(case).arriving[sender.id].values()
    rates = (s.format.rate for s in came if s.format and went and s.sources <= went.sources)
    return tuple(dict.fromkeys(rates))


@check(
    "stream-rate", SENT_ON, "signal", "Does the frame rate that comes in go into the stream's evenly?", "arithmetic", "standard", tried=True
)  # fmt: skip
def stream_rate(case: Case, what: tuple[Stream, tuple[Rate, ...]]) -> Verdict:
    """Whether an encoder or a relay sends every frame it gets, or each second one: 50 makes 25, and 50 makes no 30."""
    stream, came = what
    if any(divides(rate, stream.format.rate) for rate in came):
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{case.devices[stream.from_device].name} gets {came[0]} frames/s, and {stream.name} sends {stream.format.rate}.",
            "Frames are dropped or doubled unevenly: pans judder, and some encoders refuse the setting.",
            "Send the rate that comes in, or half of it; or set the cameras and the system to the brief's.",
        ),
        compared=(came[0], stream.format.rate),
    )


MIXING: SubjectKind[tuple[Device, list[Signal]]] = SubjectKind(
    "mixer that no system format is set for",
    lambda case: (
        (Thing("device", d.id, "system"), (d, signals))
        for d in case.devices.values()
        if d.kind in MIXERS
        and d.produces is None
        and len(signals := [*flow(case).arriving[d.id].values()]) > 1
    ),
)


@check(
    "no-system-format", MIXING, "signal", "Is it known which format it mixes in, where its sources differ?",
    "common practice, no source", "plan",
)  # fmt: skip
def no_system_format(case: Case, what: tuple[Device, list[Signal]]) -> Verdict:
    """Whether a mixer's sources are all of one format, or its own format is known: others it must convert, or refuses. Two formats on
    inputs that do not scale fail whatever it is set to."""
    device, signals = what
    if len({s.format for s in signals}) == 1:
        return HOLDS
    arriving = flow(case).arriving[device.id]
    plain = {p.id: s.format for p in device.ports if not p.scales and (s := arriving.get(p.id)) and s.format}
    if device.kind == "switcher" and len(set(plain.values())) > 1:
        return fails(lambda: _no_format_for_all(device, plain))
    asked = f"Which system format is {device.name} set to: raster, frame rate and scan? Its sources differ."
    return wants(Want(Thing("device", device.id), "produces", asked, choices=USUAL))


def _no_format_for_all(device: Device, plain: dict[str, VideoFormat]) -> Words:
    names = {p.id: p.name for p in device.ports}
    gets = listed(f"{fmt.label} at {names[id]}" for id, fmt in plain.items())
    return Words(
        f"{device.name} gets {gets}, on inputs that do not scale: no system format shows them all.",
        "Whatever it is set to, some inputs stay black.",
        "Set the sources to one format, or bring one of them to an input that scales.",
    )


@lru_cache(maxsize=256)
def divides(rate: Rate, made: Rate) -> bool:
    """Whether whole frames make the other rate: 25 makes 50 by showing each twice.

    >>> divides("25", "50"), divides("59.94", "60")
    (True, False)
    """
    ratio = frames_per_second(made) / frames_per_second(rate)
    return ratio.denominator == 1 or ratio.numerator == 1


def _name(case: Case, what: ArrivingPicture) -> str:
    return case.port_name(f"{what[0].id}/{what[1].id}")


CHECKS = (format_refused, no_system_format, rate_converted, stream_rate, protected_picture, levels_differ)
