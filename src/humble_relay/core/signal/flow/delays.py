"""What each hop adds to the delay of a picture, and their sum, in ms: the one place where delays are added up."""

from collections.abc import Iterable, Sequence

from humble_relay.core.judging.answer import Thing, Verdict, Want, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import said_day
from humble_relay.core.judging.working import Step, Working
from humble_relay.core.plan import ENDS, Device, Link, Protocol, Stream


def repeats(device: Device) -> bool:
    """Whether a box repeats streams as it is sent them, and shows none: a server, a relay."""
    return device.kind == "distribution" and device.encoding is not None


def protocol_delay_ms(case: Case, protocol: Protocol | None, taker: Device, held_ms: float = 0.0) -> float:
    """What a stream adds by its protocol, in ms; a cable or radio link (None) nothing, and what a platform does with
    it after is its own. A server only repeats: the picture waits where it is shown, as long as the slowest protocol on
    its way there has it wait (`held_ms`: of those before)."""
    if protocol is None or taker.ingest or repeats(taker):
        return 0.0
    return max(held_ms, case.figures[_figure(protocol)])


def held_back_ms(case: Case, protocol: Protocol | None, taker: Device, held_ms: float = 0.0) -> float:
    """What a stream into a server will have the picture wait where it is shown, in ms; 0 behind any other box."""
    if protocol is None or not repeats(taker) or taker.ingest:
        return 0.0
    return max(held_ms, case.figures[_figure(protocol)])


def hop_delay_ms(
    case: Case, protocol: Protocol | None, taker: Device, ends: bool = False, held_ms: float = 0.0
) -> float:
    """What a link and the box at its end add, in ms; of a box where the picture ends only the link."""
    passes = not ends and taker.kind not in ENDS
    return protocol_delay_ms(case, protocol, taker, held_ms) + ((taker.delay_ms or 0.0) if passes else 0.0)


def protocol_of(link: Link) -> Protocol | None:
    """The protocol of a stream; None for a cable or a radio link."""
    return link.protocol if isinstance(link, Stream) else None


def delays_along(case: Case, source: Device, links: Sequence[Link], takers: Sequence[Device]) -> list[float]:
    """The delay from the scene to the end of each link, in ms."""
    total, held, found = source.delay_ms or 0.0, 0.0, []
    for link, taker in zip(links, takers, strict=True):
        total += hop_delay_ms(case, protocol_of(link), taker, held_ms=held)
        held = held_back_ms(case, protocol_of(link), taker, held)
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
    """How much later than promised a picture may come through these boxes, in ms: a compressed radio kit that nobody
    measured was found as late as two and a half times its promise (common practice, no source)."""
    promised = sum(
        box.delay_ms or 0
        for box in boxes
        if box.kind == "radio" and (box.delay_ms or 0) >= 1 and not case.fact("device", box.id, "delay_ms")
    )
    return promised * (case.figures["radio-promise"] - 1)


def delay_along(
    case: Case, title: str, source: Device, links: Sequence[Link], takers: Sequence[Device]
) -> Working:
    """The delay from the scene to the end of a way, in ms, with what each part of it adds."""
    steps = [Step(name=source.name, value=source.delay_ms or 0.0, unit="ms", source=_told(case, source))]
    held, waits_by = 0.0, None
    for link, taker in zip(links, takers, strict=True):
        protocol = protocol_of(link)
        if protocol and protocol_delay_ms(case, protocol, taker):
            slower = waits_by and held > case.figures[_figure(protocol)]
            steps.append(case.figures.step(_figure(waits_by if slower and waits_by else protocol)))
        held = held_back_ms(case, protocol, taker, held)
        waits_by = protocol if held else None
        box = hop_delay_ms(case, None, taker)
        if box:
            steps.append(Step(name=taker.name, value=box, unit="ms", source=_told(case, taker)))
    total = (delays_along(case, source, links, takers) or [source.delay_ms or 0.0])[-1]
    steps.append(Step(name="Sum", value=total, unit="ms", how="of all the above, one after the other"))
    return Working(name=f"Delay, {title}", value=round(total, 1), unit="ms", steps=tuple(steps))


def _figure(protocol: Protocol) -> str:
    """The catalogue figure for what a protocol adds between two boxes."""
    return f"{'rtmp' if protocol == 'rtmps' else protocol}-delay"


def _told(case: Case, device: Device) -> str:
    """Where a box's delay is from."""
    fact = case.fact("device", device.id, "delay_ms")
    if fact:
        return f"measured {said_day(fact.at.astimezone(case.plan.show.clock))}{f', by {fact.by}' if fact.by else ''}"
    return f"{device.model}, as set in this plan" if device.model else "set in this plan"
