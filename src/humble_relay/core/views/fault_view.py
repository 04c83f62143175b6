"""Faults as they are worked on: what to look at next, what it may be, what was tried by whom, and how the show goes on meanwhile."""

from collections.abc import Iterable
from datetime import datetime

from humble_relay.core.cures.cure import Cure
from humble_relay.core.faults.causes import come_now, path_of_picture, picture_of
from humble_relay.core.faults.fault_finding import NextTest, Understood, find_out, is_long, workarounds
from humble_relay.core.faults.fault_fixes import fault_fixes
from humble_relay.core.faults.fault_log import Fault, faults_in
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import said_moment
from humble_relay.core.log.entries import AnyEntry, FaultBegun, SeenStep
from humble_relay.core.log.fault_kinds import SYMPTOMS, Came, FaultAnswer, Spread, Symptom
from humble_relay.core.setup.day import SetupDay, day_of
from humble_relay.core.setup.seen_pictures import SeenPicture, seen_pictures
from humble_relay.core.setup.setup_list import setup_list
from humble_relay.core.setup.step import SetupStep, SetValue

_NEXT, _LIKELY, _TRIED, _MOST_VALUES = 4, 6, 40, 8
_FOUND = 0.5
"""A cause that is likelier than all others together is worked with as the cause."""
_ABOUT_SETTINGS = ("settings", "address", "account")


class FaultStep(Frozen):
    """A test to make: one sentence, two answers, where, in how many minutes, and which pictures it takes down."""

    id: str
    says: str
    good: str
    bad: str
    minutes: int
    """With the way there."""
    where: str
    device: str
    interrupts: tuple[str, ...]
    mends: bool
    """Whether it mends something: its answer is good where the picture is back."""
    values: tuple[SetValue, ...]
    """What has to be set there, where it is about settings."""
    contradicts: tuple[SeenStep, ...]
    """The steps of the set-up that are open again where the answer is bad."""


class LikelyCause(Frozen):
    """A cause, how likely it is in percent, and what mends it."""

    id: str
    says: str
    mend: str
    percent: int


class TriedTest(Frozen):
    """A test that was made; `entry` says so, and may be withdrawn."""

    entry: str
    says: str
    answer: FaultAnswer
    answered: str
    at: str
    by: str


class FaultLine(Frozen):
    """A fault: where, what is seen there, since when, and all that is known of it."""

    id: str
    picture: str
    at: str
    gone: bool
    """Whether the plan no longer has this picture: an edit has moved or removed it."""
    path: tuple[str, ...]
    symptom: Symptom
    symptom_says: str
    came: Came | None
    spread: Spread | None
    since: str
    by: str
    open: bool
    ended: str
    cause: str
    """What it was, where it ended and is known."""
    next: tuple[FaultStep, ...]
    """The best test first, then others."""
    likely: tuple[LikelyCause, ...]
    tried: tuple[TriedTest, ...]
    workarounds: tuple[str, ...]
    workaround_first: bool
    """After two tests in vain, or five minutes."""
    fixes: tuple[Cure, ...]
    """What the desk may keep in the plan of it, once the cause is known or most likely."""


class FaultPlace(Frozen):
    """Where a fault may be begun: a picture, with what was seen of it today as a first guess."""

    picture: str
    at: str
    device: str
    place: str
    path: tuple[str, ...]
    came: Came
    spread: Spread | None
    first: tuple[FaultStep, ...]
    """What to look at first, for a phone that does not reach the desk."""


class FaultsView(Frozen):
    """All faults of the day, and every picture of which one may be begun."""

    faults: tuple[FaultLine, ...]
    places: tuple[FaultPlace, ...]


def faults_view(case: Case, log: Iterable[AnyEntry], now: datetime, first: bool = False) -> FaultsView:
    """The faults of a plan out of its log, the last one first; with `first`, what to look at first of each picture too."""
    log = list(log)
    day = day_of(case, log, now)
    return FaultsView(
        faults=tuple(
            _fault(case, f, p, day, now)
            if (p := picture_of(case, f.begun.picture))
            else _of_no_picture(case, f, now)
            for f in faults_in(log)
        ),
        places=tuple(_place(case, p, day, first) for p in seen_pictures(case)),
    )


def guess(case: Case, picture: SeenPicture, day: SetupDay) -> tuple[Came, Spread | None]:
    """What was seen of it today, as the first guess: it stopped where it was seen; it is alone where another comes by the same device."""
    came: Came = "never" if day.pictures[picture.id].state == "open" else "stopped"
    devices = set(path_of_picture(picture))
    return came, "this" if devices & come_now(case, picture, day) else None


def _place(case: Case, picture: SeenPicture, day: SetupDay, first: bool) -> FaultPlace:
    came, spread = guess(case, picture, day)
    begun = FaultBegun(picture=picture.id, symptom="black", came=came, spread=spread)
    return FaultPlace(
        picture=picture.id,
        at=picture.at,
        device=picture.device,
        place=case.devices[picture.device].place or "",
        path=tuple(case.devices[d].name for d in path_of_picture(picture)),
        came=came,
        spread=spread,
        first=_next(case, find_out(case, picture, begun, day)) if first else (),
    )


def _fault(case: Case, fault: Fault, picture: SeenPicture, day: SetupDay, now: datetime) -> FaultLine:
    known = find_out(case, picture, fault.begun, day, fault.attempts)
    causes = {c.id: c for c in known.causes}
    likely = sorted(known.causes, key=lambda c: -known.odds[c.id])[:_LIKELY]
    tests = {n.test.id: n.test for n in known.tests}
    tried = tuple(
        TriedTest(
            entry=a.entry,
            says=tests[a.test].says if a.test in tests else a.test,
            answer=a.answer,
            answered="cannot tell" if a.answer == "cannot-tell" else tests[a.test].answers[a.answer == "bad"].lower() if a.test in tests else a.answer,
            at=_said(case, a.at, now),
            by=a.by,
        )
        for a in reversed(fault.attempts[-_TRIED:])
    )  # fmt: skip
    cause = causes.get(fault.cause or "")
    found = cause or next((c for c in likely[:1] if known.odds[c.id] > _FOUND), None)
    return FaultLine(
        id=fault.id,
        picture=picture.id,
        at=picture.at,
        gone=False,
        path=tuple(case.devices[d].name for d in path_of_picture(picture)),
        symptom=fault.begun.symptom,
        symptom_says=SYMPTOMS[fault.begun.symptom],
        came=fault.begun.came,
        spread=fault.begun.spread,
        since=_said(case, fault.since, now),
        by=fault.by,
        open=fault.ended is None,
        ended=_said(case, fault.ended, now),
        cause=cause.says if cause else "",
        next=_next(case, known) if fault.ended is None else (),
        likely=tuple(
            LikelyCause(id=c.id, says=c.says, mend=c.mend, percent=round(100 * known.odds[c.id]))
            for c in likely
        ),
        tried=tried,
        workarounds=workarounds(case, picture, day) if fault.ended is None else (),
        workaround_first=is_long(fault.since, fault.attempts, now),
        fixes=fault_fixes(case, found) if found else (),
    )


def _of_no_picture(case: Case, fault: Fault, now: datetime) -> FaultLine:
    """A fault of a picture that the plan no longer has: an edit has moved or removed it."""
    at, begun = fault.begun.picture, fault.begun
    device = case.devices.get(at.partition("/")[0].partition(":")[0])
    where = case.port_name(at) if at in case.ports else device.name if device else at
    family, _, rest = (fault.cause or "").partition(":")
    of = rest.partition(":")[0]
    thing = case.devices.get(of) or case.uplinks.get(of)
    name = case.link_name(of) if of in case.links else thing.name if thing else ""
    return FaultLine(
        id=fault.id, picture=at, at=where, gone=True, path=(), symptom=begun.symptom, symptom_says=SYMPTOMS[begun.symptom],
        came=begun.came, spread=begun.spread, since=_said(case, fault.since, now), by=fault.by,
        open=fault.ended is None, ended=_said(case, fault.ended, now),
        cause=f"{family.capitalize()}: {name}" if name else "",
        next=(), likely=(), tried=(), workarounds=(), workaround_first=False, fixes=(),
    )  # fmt: skip


def _said(case: Case, at: datetime | None, now: datetime) -> str:
    """A moment on the show's clock: today's by its time alone."""
    if at is None:
        return ""
    here, today = at.astimezone(case.plan.show.clock), now.astimezone(case.plan.show.clock).date()
    return f"{here:%H:%M}" if here.date() == today else said_moment(here)


def _next(case: Case, known: Understood) -> tuple[FaultStep, ...]:
    return tuple(_step(case, known, n) for n in known.tests[:_NEXT])


def _step(case: Case, known: Understood, next_: NextTest) -> FaultStep:
    test = next_.test
    of = {test.mends} if test.mends else test.bad_if if test.kind in _ABOUT_SETTINGS else set()
    steps = {s for c in known.causes if c.id in of for s in c.steps}
    here = [s for s in setup_list(case) if s.id in steps] if steps else []
    return FaultStep(
        id=test.id,
        says=test.says,
        good=test.answers[0],
        bad=test.answers[1],
        minutes=max(1, round(next_.minutes)),
        where=case.places[test.place].name if test.place in case.places else "",
        device=test.device,
        interrupts=test.interrupts,
        values=tuple(dict.fromkeys(v for s in here for v in _values(s)))[:_MOST_VALUES],
        mends=bool(test.mends),
        contradicts=() if test.mends else tuple(SeenStep(step=s.id, stamp=s.stamp) for s in here),
    )


def _values(step: SetupStep) -> tuple[SetValue, ...]:
    """What is to be set in a step; where there is no value to type, the step itself."""
    return tuple(v for v in step.values if not v.prose) or (SetValue(label="Set", value=step.says),)
