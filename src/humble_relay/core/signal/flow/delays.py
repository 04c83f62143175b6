"""What each hop adds to the delay of a picture, and their sum, in ms: the one place where delays are added up."""

from collections.abc import Iterable, Sequence

from humble_relay.core.judging.answer import Thing, Verdict, Want, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import Step, Working
from humble_relay.core.plan import ENDS, Device, Link, Protocol, Stream


def protocol_delay_ms(case: Case, protocol: Protocol | None, taker: Device) -> float:
    """What a stream adds by its protocol, in ms; a cable or radio link (None) nothing, and what a platform does with
    it after is its own."""
    return 0.0 if protocol is None or taker.ingest else case.figures[_figure(protocol)]


def hop_delay_ms(case: Case, protocol: Protocol | None, taker: Device, ends: bool = False) -> float:
    """What a link and the box at its end add, in ms; of a box where the picture ends only the link."""
    passes = not ends and taker.kind not in ENDS
    return protocol_delay_ms(case, protocol, taker) + ((taker.delay_ms or 0.0) if passes else 0.0)


def protocol_of(link: Link) -> Protocol | None:
    """The protocol of a stream; None for a cable or a radio link."""
    return link.protocol if isinstance(link, Stream) else None


def delays_along(case: Case, source: Device, links: Sequence[Link], takers: Sequence[Device]) -> list[float]:
    """The delay from the scene to the end of each link, in ms."""
    total, found = source.delay_ms or 0.0, []
    for link, taker in zip(links, takers, strict=True):
        total += hop_delay_ms(case, protocol_of(link), taker)
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
    for link, taker in zip(links, takers, strict=True):
        protocol = protocol_of(link)
        if protocol and protocol_delay_ms(case, protocol, taker):
            steps.append(case.figures.step(_figure(protocol)))
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
        return f"measured {fact.at.astimezone(case.plan.show.clock):%d %b %Y}{f', by {fact.by}' if fact.by else ''}"
    return f"{device.model}, as set in this plan" if device.model else "set in this plan"
