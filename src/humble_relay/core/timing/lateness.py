"""Whether what was asked for comes soon enough for what it is for."""

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from humble_relay.core.judging.answer import (
    DependsOn,
    Numbers,
    Thing,
    Verdict,
    Words,
    doubtful,
    waits,
    within,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.plan import ENDS, Aim, Device, Link, Protocol, Stream
from humble_relay.core.plan.vocabulary import ends_of
from humble_relay.core.signal.flow.delays import (
    beyond_promise_ms,
    delay_unsaid,
    delays_along,
    protocol_delay_ms,
)
from humble_relay.core.signal.flow.tracing import paths_to, viewers_figure
from humble_relay.core.signal.ports.coverage import aim_not_met, meets


class Deadline(NamedTuple):
    """An aim, and how late (ms) its picture may come: well, and at all."""

    aim: Aim
    good_ms: float
    most_ms: float


def _deadlines(case: Case) -> Iterator[tuple[Thing, Deadline]]:
    for aim in case.plan.aims:
        if aim.longest_delay_ms is not None:
            yield Thing("aim", aim.id, "delay"), Deadline(aim, aim.longest_delay_ms, aim.longest_delay_ms)
        elif aim.liveness == "talked-back":
            good, most = case.figures["talk-good"], case.figures["talk-limit"]
            yield Thing("aim", aim.id, "delay"), Deadline(aim, good, most)


DEADLINES: SubjectKind[Deadline] = SubjectKind(
    "aim that is talked back to, or has a longest delay", _deadlines
)


@check(
    "later-than-asked", DEADLINES, "signal", "Does it come soon enough for what it is for?",
    "ITU-T G.114; the brief; common practice", "gear", tried=True,
)  # fmt: skip
def later_than_asked(case: Case, what: Deadline) -> Verdict:
    """Whether the latest way (ms, the whole of it added up) is within the longest delay asked for, or what a conversation
    stands. What a compressed radio kit promises may be exceeded; what viewers of a platform see is seconds late."""
    aim = what.aim
    ways = [_boxes(case, *way) for way in paths_to(case, aim.end, lambda signal: meets(aim, signal))]
    if not ways:
        return waits(DependsOn(aim_not_met, Thing("aim", aim.id)))
    passed = [box for boxes, _ in ways for box in boxes if box.kind not in ENDS and box.ingest is None]
    if unsaid := delay_unsaid(passed):
        return unsaid
    late = viewers_figure(case.devices[aim.end])
    after = case.figures[late] if late else 0.0
    least = [delays_along(case, boxes[0], links, boxes[1:])[-1] + after for boxes, links in ways]
    most = [ms + beyond_promise_ms(case, boxes) for ms, (boxes, _) in zip(least, ways, strict=True)]
    latest = most.index(max(most))
    numbers = Numbers(round(most[latest], 1), what.good_ms, what.most_ms, "ms")

    def say() -> Words:
        steps = (
            Step(name=f"From {ways[latest][0][0].name}", value=round(least[latest], 1), unit="ms", how="the whole way added up"),
            *((case.figures.step("radio-measured"),) if most[latest] > least[latest] else ()),
            *((case.figures.step(late),) if late else ()),
        )  # fmt: skip
        name, end = ways[latest][0][0].name, case.devices[aim.end].name
        return Words(
            f"What {name} sees is at {end} {number(numbers.value)} ms later; {number(what.good_ms)} ms was asked for.",
            "Both ends talk at once, wait, and talk at once again."
            if aim.liveness == "talked-back"
            else "It comes after the moment it was wanted for.",
            "Take a quicker way. For talking back, use a telephone beside the picture.",
            Working(name=f"Delay at {end}", value=numbers.value, unit="ms", steps=steps),
        )

    verdict = within(numbers, say)
    surely = max(ms - _not_sure_ms(case, links) for ms, (_, links) in zip(least, ways, strict=True))
    return doubtful(say, numbers) if verdict.state == "fails" and surely <= what.most_ms else verdict


SURELY_MS: dict[Protocol, float] = {"rtsp": 1000, "rtmp": 3000, "rtmps": 3000, "hls": 3000}
"""What a protocol adds between two boxes at least, in ms (common practice, no source): 1 to 2 s, and 3 to 4; segments
of a second three of those (RFC 8216 §6.3.3). Of the others
nobody says a least: what they add is set, or differs from network to network."""


def _not_sure_ms(case: Case, links: Sequence[Link]) -> float:
    """How much of what the streams of a way are reckoned to add may be less, in ms."""
    streams = [x for x in links if isinstance(x, Stream)]
    reckoned = ((s, protocol_delay_ms(case, s, case.devices[s.to_device])) for s in streams)
    return sum(max(0.0, ms - _surely_ms(s)) for s, ms in reckoned)


def _surely_ms(stream: Stream) -> float:
    """What a stream adds at least, in ms: the latency that is set for SRT, all of it (TSBPD, draft-sharabayko-srt §4.5)."""
    if stream.protocol == "srt" and stream.latency_ms is not None:
        return stream.latency_ms
    return SURELY_MS.get(stream.protocol, 0.0)


def _boxes(case: Case, source: str, ids: tuple[str, ...]) -> tuple[list[Device], list[Link]]:
    links = [case.links[id] for id in ids]
    return [case.devices[source], *(case.devices[ends_of(x)[1]] for x in links)], links


CHECKS = (later_than_asked,)
