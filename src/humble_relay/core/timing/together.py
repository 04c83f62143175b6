"""Whether the sources that meet at one mixer are as late as each other."""

import math
from fractions import Fraction
from typing import NamedTuple

from humble_relay.core.judging.answer import USUAL, Numbers, Thing, Verdict, Want, Words, wants, within
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.plan import Device, Link
from humble_relay.core.plan.video import frame_duration_ms
from humble_relay.core.plan.vocabulary import MIXERS, SOURCES, ends_of
from humble_relay.core.signal.flow.delays import beyond_promise_ms, delay_unsaid, delays_along
from humble_relay.core.signal.flow.propagation import flow

FRAMES = {"sport": 1, "mixed": 1, "talk": 3}
"""How many frames apart two pictures may be before a cut between them shows (common practice, no source)."""


class TimedPath(NamedTuple):
    """The way of one camera's picture into a mixer: its boxes from the camera on, and its delay there in ms."""

    source: Device
    boxes: tuple[Device, ...]
    delay_ms: float
    at_most_ms: float
    """Its delay where what compressed radio kits promise is as far off as they were measured to be."""


class Meeting(NamedTuple):
    """A mixer, and the cameras' pictures that come into it."""

    mixer: Device
    ways: tuple[TimedPath, ...]


@analysis
def _meetings(case: Case) -> list[tuple[Thing, Meeting]]:
    found = []
    for device in case.devices.values():
        if device.kind in MIXERS:
            ways = [way for at in flow(case).arriving[device.id] if (way := way_into(case, device, at))]
            quickest = {w.source.id: w for w in sorted(ways, key=lambda w: -w.delay_ms)}
            if (
                len(quickest) > 1
            ):  # a camera that comes in twice, to measure a path or to play back, is not cut with itself
                own = tuple(w for w in ways if quickest[w.source.id] is w)
                found.append((Thing("device", device.id, "together"), Meeting(device, own)))
    return found


def way_into(case: Case, mixer: Device, at: str, passed: frozenset[str] = frozenset()) -> TimedPath | None:
    """The way of the live picture at an input of a mixer, or of a stream into it, back to its camera or phone; where it
    is another mixer's program, to the latest of that one's cameras.

    None where it is no camera's: a laptop's slides.
    """
    links: list[Link] = []
    boxes: list[Device] = [mixer]
    arriving = flow(case).arriving
    while True:
        device = boxes[0]
        found = case.join_at.get(f"{device.id}/{at}") or _stream_at(case, device, at)
        if found is None or found in links:
            return None
        links.insert(0, found)
        giver = case.devices[ends_of(found)[0]]
        if giver.kind in SOURCES:
            delay = delays_along(case, giver, links, boxes)[-1] - (mixer.delay_ms or 0)
            return TimedPath(giver, (giver, *boxes), delay, delay + beyond_promise_ms(case, boxes[:-1]))
        boxes.insert(0, giver)
        if not arriving[giver.id] or giver.id in passed:
            return None
        passed |= {giver.id}
        at = next(iter(arriving[giver.id]))
        if giver.kind in MIXERS and len(arriving[giver.id]) > 1:
            inner = {each: way for each in arriving[giver.id] if (way := way_into(case, giver, each, passed))}
            if not inner:
                return None
            at = max(inner, key=lambda each: inner[each].at_most_ms)


def _stream_at(case: Case, device: Device, at: str) -> Link | None:
    """The stream that an input shows, or the stream of that id."""
    return next((s for s in case.streams_to.get(device.id, ()) if at in (s.input, s.id)), None)


MEETINGS: SubjectKind[Meeting] = SubjectKind("box that mixes the pictures of several cameras", _meetings)


@check(
    "sources-apart", MEETINGS, "signal", "Are the cameras that it cuts between as late as each other?",
    "common practice, no source", "gear", tried=True,
)  # fmt: skip
def sources_apart(case: Case, meeting: Meeting) -> Verdict:
    """Whether the delays (ms) of the cameras at a mixer lie within one frame of each other, or three where people talk."""
    mixer, ways = meeting
    picture = mixer.produces or case.plan.show.format
    if picture is None:
        asked = "Which picture is the show in: raster, frame rate and scan?"
        return wants(Want(Thing("show", "show"), "format", asked, choices=USUAL))
    if unsaid := delay_unsaid(box for way in ways for box in way.boxes[:-1]):
        return unsaid
    first, last = min(ways, key=lambda w: w.delay_ms), max(ways, key=lambda w: w.at_most_ms)
    frames = FRAMES.get(case.plan.show.content, 1)
    frame = frame_duration_ms(picture.rate)
    allowed = float(Fraction(frame) * frames)
    apart = round(last.at_most_ms - first.delay_ms, 1)
    promised = last.at_most_ms == last.delay_ms

    def say() -> Words:
        steps = (
            *(
                Step(name=f"{w.source.name}, to {mixer.name}", value=round(w.delay_ms, 1), unit="ms")
                for w in ways
            ),
            Step(name="A frame", value=round(float(frame), 3), unit="ms", how=f"1000 ÷ {picture.rate}"),
            Step(name="Frames that do not show", value=frames, unit="", source="common practice, no source"),
            *(() if promised else (case.figures.step("radio-measured"),)),
            Step(name="Apart", value=apart, unit="ms", how=f"{last.at_most_ms:g} − {first.delay_ms:g}"),
        )
        return Words(
            f"{last.source.name} {'comes' if promised else 'may come'} into {mixer.name} {number(apart)} ms later than {first.source.name}; {number(allowed)} ms do not show.",
            "A cut between them jumps in time: a step is taken twice, a word comes before the lips.",
            "Cut between them where nobody sees it, delay the others as much, or bring it a faster way.",
            Working(name=f"Apart at {mixer.name}", value=apart, unit="ms", steps=steps),
        )

    return within(Numbers(apart, round(allowed, 3), math.inf, "ms"), say)


CHECKS = (sources_apart,)
