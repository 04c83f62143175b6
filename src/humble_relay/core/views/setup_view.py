"""The day's set-up as it is looked at: place by place what is left, picture by picture how far it is seen, device by device what to set."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from humble_relay.core.catalogue.words import KIND_WORDS
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import said_moment
from humble_relay.core.log.entries import AnyEntry, SeenStep
from humble_relay.core.places.walking import walking_order
from humble_relay.core.setup.day import SetupDay, Sight, StepState, day_of
from humble_relay.core.setup.numbered import Confirmation, numbered_confirmations, shown_by_pictures
from humble_relay.core.setup.seen_pictures import SeenPicture, seen_pictures
from humble_relay.core.setup.setup_list import steps_by_device
from humble_relay.core.setup.step import SetupStep, SetValue
from humble_relay.core.show.day_jobs import day_jobs
from humble_relay.core.show.time_to_spare import time_to_spare


@dataclass(frozen=True, slots=True)
class StepLine:
    """A step on the page: what to set, what shows it, and what the day knows of it."""

    id: str
    stamp: str
    says: str
    values: tuple[SetValue, ...]
    where: str
    looks: str
    """What is seen when it is right."""
    by_picture: bool
    """Whether a picture downstream shows it: it is then not asked by itself."""
    state: StepState
    note: str
    """When it was seen and by whom, or why it is open again."""
    file: str
    """The stream whose settings file this end takes over; empty where it is typed."""


class SetupDevice(Frozen):
    """A device with its steps. `ask` are those that are open and that no picture shows: one tick confirms them."""

    id: str
    name: str
    about: str
    place: str
    steps: tuple[StepLine, ...]
    ask: tuple[SeenStep, ...]
    number: int
    """Of its tick on paper; 0 where there is none."""


class Segment(Frozen):
    """A device on the way of a picture: inked once it was seen there, or further on."""

    device: str
    name: str
    inked: bool


class PictureRow(Frozen):
    """A picture that can be looked at, its path in segments, and what seeing it proves."""

    id: str
    at: str
    device: str
    place: str
    segments: tuple[Segment, ...]
    links: tuple[str, ...]
    """The links that it comes by."""
    proves: tuple[SeenStep, ...]
    state: StepState
    note: str
    number: int


class SetupPlace(Frozen):
    """A place in walking order, and how many confirmations are left there."""

    id: str
    name: str
    left: int
    of: int


class SetupCount(Frozen):
    """How much of the set-up was seen today."""

    seen: int
    of: int


class SetupView(Frozen):
    """The set-up of the day. What is confirmed by one hand is counted once: a picture, or the whole of one device."""

    seen: int
    of: int
    next: str
    """The id of the line of the run sheet that comes next; empty where nothing is left."""
    next_says: str
    next_device: str
    """The device that it is about; empty where it is about several, or none."""
    spare: str
    """How much time is left over; where it is short, with the remedy."""
    short: bool
    places: tuple[SetupPlace, ...]
    pictures: tuple[PictureRow, ...]
    devices: tuple[SetupDevice, ...]


def setup_view(case: Case, log: Iterable[AnyEntry], now: datetime) -> SetupView:
    """The set-up of a plan as of a moment, out of its log."""
    day = day_of(case, log, now)
    places = [place for place, _ in walking_order(case)]
    at = {place: n for n, place in enumerate(places)}
    lines = numbered_confirmations(case)
    lines_of_pictures = {line.id: line for line in lines if line.picture}
    numbers = {line.id: line.number for line in lines if not line.picture}
    devices = sorted(
        (_device(case, day, id, steps, numbers.get(id, 0)) for id, steps in steps_by_device(case).items()),
        key=lambda d: (at.get(d.place, len(at)), d.number),
    )
    reached = _reached(case, day)
    pictures = sorted(
        (_picture(case, day, p, reached, lines_of_pictures[p.id]) for p in seen_pictures(case)),
        key=lambda p: p.number,
    )
    done = [(line.place, _done(day, line)) for line in lines]
    spare = time_to_spare(case, day, case.plan.show.judge_at or now)
    first = min(spare.when, key=lambda id: (spare.when[id].at, id), default="")
    job = next((d for d in day_jobs(case) if d.job.id == first), None)
    return SetupView.model_construct(
        seen=sum(seen for _, seen in done),
        of=len(done),
        next=first,
        next_says=job.what.partition(":")[0] if job else "",
        next_device=job.device if job else "",
        spare=spare.says,
        short=spare.spare_min is not None and spare.spare_min < 0,
        places=tuple(_places(case, [*places, ""], done)),
        pictures=tuple(pictures),
        devices=tuple(devices),
    )


def setup_count(case: Case, log: Iterable[AnyEntry], now: datetime) -> SetupCount:
    """How many confirmations there are, and how many of them were given."""
    day, lines = day_of(case, log, now), numbered_confirmations(case)
    return SetupCount(seen=sum(_done(day, line) for line in lines), of=len(lines))


def _places(case: Case, places: list[str], done: list[tuple[str, bool]]) -> Iterable[SetupPlace]:
    for place in places:
        here = [seen for p, seen in done if p == place or (not place and p not in case.places)]
        if here:
            name = case.places[place].name if place else "On the internet"
            yield SetupPlace(id=place, name=name, left=here.count(False), of=len(here))


def _done(day: SetupDay, line: Confirmation) -> bool:
    if line.picture:
        return day.pictures[line.id].state != "open"
    return all(day.steps[id].state != "open" for id, _ in line.steps)


def _device(case: Case, day: SetupDay, id: str, steps: tuple[SetupStep, ...], number: int) -> SetupDevice:
    device, proven = case.devices[id], shown_by_pictures(case)
    lines = tuple(_step(case, s, day.steps[s.id], s.id in proven) for s in steps)
    return SetupDevice(
        id=id,
        name=device.name,
        about=device.model or KIND_WORDS[device.kind],
        place=device.place or "",
        steps=lines,
        ask=tuple(
            SeenStep(step=s.id, stamp=s.stamp) for s in lines if s.state == "open" and not s.by_picture
        ),
        number=number,
    )


def _step(case: Case, step: SetupStep, sight: Sight, by_picture: bool) -> StepLine:
    return StepLine(
        id=step.id,
        stamp=step.stamp,
        says=step.says,
        values=step.values,
        where=step.where,
        looks=step.seen,
        by_picture=by_picture,
        state=sight.state,
        note=_note(case, sight),
        file=next(iter(step.at), "") if step.kind == "settings-file" else "",
    )


def _note(case: Case, sight: Sight) -> str:
    if sight.state == "open" or sight.at is None:
        return sight.why
    at = said_moment(sight.at.astimezone(case.plan.show.clock))
    return f"{at}{f', {sight.by}' if sight.by else ''}"


def _picture(
    case: Case, day: SetupDay, picture: SeenPicture, reached: set[str], line: Confirmation
) -> PictureRow:
    sight = day.pictures[picture.id]
    inked = [sight.state != "open" or h.link in reached for h in picture.hops]
    on_the_way = [
        (picture.hops[0].giver, inked[0]),
        *zip((h.taker for h in picture.hops), inked, strict=True),
    ]
    segments = (Segment(device=d, name=case.devices[d].name, inked=seen) for d, seen in on_the_way)
    return PictureRow(
        id=picture.id,
        at=picture.at,
        device=picture.device,
        place=case.devices[picture.device].place or "",
        segments=tuple(segments),
        links=tuple(h.link for h in picture.hops),
        proves=tuple(SeenStep(step=id, stamp=stamp) for id, stamp in line.steps),
        state=sight.state,
        note=_note(case, sight),
        number=line.number,
    )


def _reached(case: Case, day: SetupDay) -> set[str]:
    """The links through which a picture came that was seen."""
    return {h.link for p in seen_pictures(case) if day.pictures[p.id].state != "open" for h in p.hops}
