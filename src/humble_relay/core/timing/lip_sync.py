"""Whether a sound desk's line meets the picture where both come in."""

import math
from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.judging.answer import Numbers, Thing, Verdict, Words, within
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import port_of
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.plan.vocabulary import MIXERS
from humble_relay.core.signal.flow.delays import delay_unsaid
from humble_relay.core.signal.flow.propagation import flow
from humble_relay.core.signal.flow.sound import DeskLine, desk_lines
from humble_relay.core.timing.together import TimedPath, way_into


class LineAndPicture(NamedTuple):
    """A desk's line into a box that mixes, and the ways of the cameras' pictures into it."""

    line: DeskLine
    ways: tuple[TimedPath, ...]


def _lines(case: Case) -> Iterator[tuple[Thing, LineAndPicture]]:
    for line in desk_lines(case):
        mixer = case.devices[line.device]
        if mixer.kind in MIXERS:
            arriving = flow(case).arriving[mixer.id]
            ways = tuple(way for at in arriving if (way := way_into(case, mixer, at)))
            if ways:
                yield port_of(line.to_port), LineAndPicture(line, ways)


LINES: SubjectKind[LineAndPicture] = SubjectKind("desk's line into a box that cameras come into", _lines)


@check(
    "lip-sync", LINES, "signal", "Is the sound held back as long as the picture is late?", "ITU-R BT.1359-1", "gear",
    tried=True,
)  # fmt: skip
def lip_sync(case: Case, what: LineAndPicture) -> Verdict:
    """Whether a desk's sound comes within what nobody notices of the quickest camera's picture (ms): up to 45 before it,
    or 125 after. Beyond, it is doubtful: the delay may be dialled in on the day."""
    line, ways = what
    if unsaid := delay_unsaid(box for way in ways for box in way.boxes[:-1]):
        return unsaid
    held = case.ports[line.to_port].sound_delay_ms
    quickest = min(ways, key=lambda w: w.delay_ms)
    early = round(quickest.delay_ms - held, 1)
    figure = "sound-early" if early >= 0 else "sound-late"

    def say() -> Words:
        side = "before" if early >= 0 else "after"
        steps = (
            Step(name=f"{quickest.source.name}, its picture", value=quickest.delay_ms, unit="ms", how="the quickest"),
            Step(name=f"Held back at {case.ports[line.to_port].name}", value=held, unit="ms"),
            case.figures.step(figure),
        )  # fmt: skip
        return Words(
            f"The sound of {case.device_of(line.from_port).name} is at {case.devices[line.device].name} {number(abs(early))} ms {side} the picture of {quickest.source.name}; {case.figures[figure]:g} ms go unnoticed.",
            "Lips and words come apart: a few say so, all are tired by it.",
            f"Hold the sound back by {number(max(0, quickest.delay_ms))} ms where it comes in.",
            Working(name="Sound before picture", value=early, unit="ms", steps=steps),
        )

    return within(Numbers(abs(early), case.figures[figure], math.inf, "ms"), say)


CHECKS = (lip_sync,)
