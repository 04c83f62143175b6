"""What each hop adds to the delay of a picture, and their sum, in ms: the one place where delays are added up."""

from collections.abc import Iterable, Sequence
from itertools import takewhile
from typing import NamedTuple

from humble_relay.core.egress.outbound import stays
from humble_relay.core.judging.answer import Thing, Verdict, Want, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import said_day
from humble_relay.core.judging.working import Step, Working
from humble_relay.core.plan import ENDS, Device, Link, Protocol, Stream


def repeats(device: Device) -> bool:
    """Whether a box repeats streams as it is sent them, and shows none: a server, a relay."""
    return device.kind == "distribution" and device.encoding is not None


class ThoughtOf(NamedTuple):
    """A stream that is not in the plan yet: its protocol, and whether both its ends stand at one site."""

    protocol: Protocol
    stays: bool


Carrier = Stream | ThoughtOf | None
"""What brings a picture on: a stream of the plan, one that is only thought of, or (None) a cable or radio link."""


def protocol_delay_ms(case: Case, by: Carrier, taker: Device, held_ms: float = 0.0) -> float:
    """What a stream adds by its protocol and its latency, in ms; a cable or radio link (None) nothing, and what a platform does with
    it after is its own. A server only repeats: the picture waits where it is shown, as long as the slowest protocol on
    its way there has it wait (`held_ms`: of those before)."""
    if by is None or taker.ingest or repeats(taker):
        return 0.0
    return max(held_ms, _adds_ms(case, by))


def _adds_ms(case: Case, by: Stream | ThoughtOf) -> float:
    """What a receiver holds a stream back, in ms: the latency that is set for SRT, else what is usual for its protocol."""
    if isinstance(by, Stream) and by.protocol == "srt" and by.latency_ms is not None:
        return by.latency_ms
    return case.figures[_figure(case, by)]


def held_back_ms(case: Case, by: Carrier, taker: Device, held_ms: float = 0.0) -> float:
    """What a stream into a server will have the picture wait where it is shown, in ms; 0 behind any other box."""
    if by is None or not repeats(taker) or taker.ingest:
        return 0.0
    return max(held_ms, _adds_ms(case, by))


def hop_delay_ms(case: Case, by: Carrier, taker: Device, ends: bool = False, held_ms: float = 0.0) -> float:
    """What a link and the box at its end add, in ms; of a box where the picture ends only the link."""
    passes = not ends and taker.kind not in ENDS
    return protocol_delay_ms(case, by, taker, held_ms) + ((taker.delay_ms or 0.0) if passes else 0.0)


def carrier_of(link: Link) -> Stream | None:
    """The stream that a link is; None for a cable or a radio link."""
    return link if isinstance(link, Stream) else None


def delays_along(case: Case, source: Device, links: Sequence[Link], takers: Sequence[Device]) -> list[float]:
    """The delay from the scene to the end of each link, in ms."""
    total, held, found = source.delay_ms or 0.0, 0.0, []
    for link, taker in zip(links, takers, strict=True):
        total += hop_delay_ms(case, carrier_of(link), taker, held_ms=held)
        held = held_back_ms(case, carrier_of(link), taker, held)
        found.append(total)
    return found


def delay_unsaid(boxes: Iterable[Device]) -> Verdict | None:
    """That it is not known how late the first of these boxes is whose delay (ms) nobody said; None where all are said."""
    box = next((b for b in boxes if b.delay_ms is None), None)
    if box is None:
        return None
    asked = f"How late is the picture that comes out of {box.name}?"
    return wants(Want(Thing("device", box.id), "delay_ms", asked, "ms", box.model))


def beyond_promise_ms(case: Case, boxes: Sequence[Device]) -> float:
    """How much later than promised a picture may come through these boxes, in ms: a compressed radio kit that nobody measured may be
    as late as such a pair was measured, if it promises less (common practice, no source). What was measured of one side is the pair's."""
    beyond, at = 0.0, 0
    while at < len(boxes):
        kit = list(takewhile(lambda box: box.kind == "radio", boxes[at : at + 2]))
        promised = sum(box.delay_ms or 0 for box in kit)
        if promised > 1 and not any(case.fact("device", box.id, "delay_ms") for box in kit):
            beyond += max(0.0, case.figures["radio-measured"] - promised)
        at += max(1, len(kit))
    return beyond


def delay_along(
    case: Case, title: str, source: Device, links: Sequence[Link], takers: Sequence[Device]
) -> Working:
    """The delay from the scene to the end of a way, in ms, with what each part of it adds."""
    steps = [Step(name=source.name, value=source.delay_ms or 0.0, unit="ms", source=_told(case, source))]
    held, waits_by = 0.0, None
    for link, taker in zip(links, takers, strict=True):
        stream = carrier_of(link)
        if stream and protocol_delay_ms(case, stream, taker):
            slower = waits_by is not None and held > _adds_ms(case, stream)
            steps.append(_step(case, waits_by if slower and waits_by else stream))
        held = held_back_ms(case, stream, taker, held)
        waits_by = stream if held else None
        box = hop_delay_ms(case, None, taker)
        if box:
            steps.append(Step(name=taker.name, value=box, unit="ms", source=_told(case, taker)))
    total = (delays_along(case, source, links, takers) or [source.delay_ms or 0.0])[-1]
    steps.append(Step(name="Sum", value=total, unit="ms", how="of all the above, one after the other"))
    return Working(name=f"Delay, {title}", value=round(total, 1), unit="ms", steps=tuple(steps))


def _step(case: Case, stream: Stream) -> Step:
    if stream.protocol == "srt" and stream.latency_ms is not None:
        return Step(
            name=f"Latency of {stream.name}", value=stream.latency_ms, unit="ms", source="set in this plan"
        )
    return case.figures.step(_figure(case, stream))


def _figure(case: Case, by: Stream | ThoughtOf) -> str:
    """The catalogue figure for what a protocol adds between two boxes: a maker's own link less within a site than across the
    internet."""
    near = stays(case, by) if isinstance(by, Stream) else by.stays
    if by.protocol == "paired" and near:
        return "paired-lan-delay"
    return f"{'rtmp' if by.protocol == 'rtmps' else by.protocol}-delay"


def _told(case: Case, device: Device) -> str:
    """Where a box's delay is from."""
    fact = case.fact("device", device.id, "delay_ms")
    if fact:
        return f"measured {said_day(fact.at.astimezone(case.plan.show.clock))}{f', by {fact.by}' if fact.by else ''}"
    return f"{device.model}, as set in this plan" if device.model else "set in this plan"
