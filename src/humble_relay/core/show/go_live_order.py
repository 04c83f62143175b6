"""The go-live order: what to do, when, counted back from the start; feed first, publish later."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from humble_relay.core.judging.answer import (
    HOLDS,
    Thing,
    Verdict,
    Words,
    doubtful,
)
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import said_moment
from humble_relay.core.judging.working import Step, Working
from humble_relay.core.plan import SCREENS
from humble_relay.core.plan.vocabulary import is_public
from humble_relay.core.setup.setup_list import steps_by_device
from humble_relay.core.show.crew_schedule import latest_starts
from humble_relay.core.show.day_jobs import Phase, all_begun, day_jobs, walk_of
from humble_relay.core.signal.flow.propagation import flow


@dataclass(frozen=True, slots=True)
class Task:
    """One line of the order. `minutes` counts from the start of the show: before it is negative."""

    id: str
    phase: Phase
    minutes: float
    at: datetime | None
    what: str
    why: str
    lead: bool
    """Others need this long: late is late."""
    done: bool
    working: Working | None = None
    place: str = ""
    takes: float = 0.0
    """How long it takes, in min."""
    latest: float | None = None
    """By when it must begin, in min from the start, with as many people as it takes; None where it is at its own time."""
    after: tuple[str, ...] = ()
    """The tasks that come before it."""
    seen: str = ""
    """What is then to be seen."""


@analysis
def order(case: Case) -> tuple[Task, ...]:
    """Every task in the order of time, derived from what the plan contains."""
    return tuple(sorted((*_ahead(case), *_on_the_day(case)), key=lambda t: t.minutes))


def _lead_times(case: Case) -> Iterator[tuple[Thing, Task]]:
    for task in _ahead(case):
        if task.lead and task.at is not None:
            yield Thing("show", task.id.replace(":", "-")), task


LEAD_TIMES: SubjectKind[Task] = SubjectKind("task that others need time for", _lead_times)


@check(
    "lead-time-missed", LEAD_TIMES, "brief", "Is there time left to begin it?", "common practice, no source"
)
def lead_time_missed(case: Case, task: Task) -> Verdict:
    """Whether a task that needs others' time is done, or can still be begun."""
    if task.done or task.at is None or case.as_of <= task.at:
        return HOLDS
    late = (case.as_of - task.at).total_seconds() / 3600
    begun = said_moment(task.at)
    return doubtful(
        lambda: Words(
            f"{task.what}: this had to be begun by {begun}, {late:.0f} h before the moment judged.",
            task.why,
            "Ask now whether it can still be had. If not, plan without it.",
            task.working,
        ),
        compared=(task.at,),
    )


CHECKS = (lead_time_missed,)


MakeTask = Callable[..., Task]


def _task(case: Case) -> MakeTask:
    """What makes a task of this show: its moment counted from the start, and whether it is ticked off."""
    show, done = case.plan.show, set(case.survey.done)

    def task(
        id: str,
        phase: Phase,
        minutes: float,
        what: str,
        why: str,
        lead: bool = False,
        working: Working | None = None,
        aliases: tuple[str, ...] = (),
        **more: Any,
    ) -> Task:
        at = show.starts_at and (show.starts_at + timedelta(minutes=minutes)).astimezone(show.clock)
        return Task(
            id=id, phase=phase, minutes=minutes, at=at, what=what, why=why, lead=lead, done=not done.isdisjoint((id, *aliases)), working=working, **more
        )  # fmt: skip

    return task


@analysis
def _ahead(case: Case) -> tuple[Task, ...]:
    """What has to be begun days before."""
    return tuple(_ahead_of_it(case, _task(case)))


def _ahead_of_it(case: Case, task: MakeTask) -> Iterator[Task]:
    venue = [s for s in case.sites.values() if s.run_by == "venue"]
    platforms = [d for d in case.devices.values() if d.ingest and case.streams_to.get(d.id)]

    def ahead(figure: str, margin_h: float = 0) -> tuple[float, Working]:
        hours = case.figures[figure] + margin_h
        steps = [case.figures.step(figure)]
        if margin_h:
            steps.append(case.figures.step("rehearse-lead"))
        steps.append(Step(name="Counted back from the start", value=-hours, unit="h"))
        return -hours * 60, Working(name="Begin by", value=hours, unit="h before", steps=tuple(steps))

    for site in venue:
        minutes, working = ahead("network-lead", case.figures["rehearse-lead"])
        yield task(
            f"ask-network:{site.id}", "ahead", minutes,
            f"Send the network request to the network department of {site.name}, and talk to them",
            "A port takes days to open, or is refused. Better known before the rehearsal than on the evening.",
            lead=True, working=working,
        )  # fmt: skip
    for platform in platforms:
        if platform.ingest and platform.ingest.new_account:
            minutes, working = ahead("account-lead")
            yield task(
                f"open-account:{platform.id}", "ahead", minutes,
                f"Ask {platform.name} to enable live streaming on the account",
                "A new account can wait a day before its first live stream. Nothing shortens it.",
                lead=True, working=working,
            )  # fmt: skip
    charged = [case.devices[d].name for d, steps in steps_by_device(case).items() if any(x.kind == "charged" for x in steps)]  # fmt: skip
    if charged:
        yield task("charge", "ahead", -_DAY_BEFORE, f"Put on charge overnight: {', '.join(charged)}", "What was charged last week is half empty.")  # fmt: skip
    if case.links:
        yield task("pack", "ahead", -_DAY_BEFORE + 60, "Pack by the pull list, and count it", "What is missing now can still be had.")  # fmt: skip
    show = case.plan.show
    held = [
        s for s in show.sessions if s.kind == "rehearsal" and show.starts_at and s.starts_at < show.starts_at
    ]
    for n, rehearsal in enumerate(held):
        assert show.starts_at
        before = (rehearsal.starts_at - show.starts_at).total_seconds() / 60
        yield task(f"rehearse:{n + 1}", "ahead", before, f"Rehearsal, until {said_moment(rehearsal.ends_at.astimezone(show.clock))}: in the real place, with people in it",
                   "What was never tried does not work.")  # fmt: skip
    if held:
        return
    minutes, working = ahead("rehearse-lead")
    yield task("rehearse", "ahead", minutes, "Rehearse in the real place, at the real hour, with people in it",
               "What was never tried does not work.", working=working)  # fmt: skip


_DAY_BEFORE = 26 * 60.0
"""The afternoon before, in min before the start."""


def _on_the_day(case: Case) -> Iterator[Task]:
    """What is done on the day, from the first cable laid to the last device off. What comes before going on air is begun as late as it
    can be by the people there are; what comes after goes the way back."""
    task, show = _task(case), case.plan.show
    jobs = day_jobs(case)
    when, latest = all_begun(case), latest_starts([d.job for d in jobs], walk_of(case))
    for day in jobs:
        job = day.job
        yield task(
            job.id, day.phase, when[job.id].at, day.what, day.why,
            aliases=day.aliases, takes=job.minutes, place=job.place, seen=day.seen, after=job.after, latest=latest[job.id],
        )  # fmt: skip
    local = [s for s in case.streams if not case.devices[s.to_device].ingest]
    shown = [d for d in case.devices.values() if d.kind in SCREENS and flow(case).arriving[d.id]]
    yield task("start", "show", 0, f"{show.name} starts", "")
    length = (show.ends_at - show.starts_at).total_seconds() / 60 if show.starts_at and show.ends_at else 0
    if length > 0:
        yield task("over", "show", length, f"{show.name} ends", "")
    for i, stream in enumerate(case.streams):
        if is_public(case.devices[stream.to_device]):
            yield task(
                f"end-platform:{stream.id}",
                "end",
                max(length, 1) + 2 + i / 10,
                f"End the show on {case.devices[stream.to_device].name}",
                "First here, so that viewers see an end and not a stall.",
            )
        if case.devices[stream.to_device].ingest:
            yield task(
                f"stop-feed:{stream.id}",
                "end",
                max(length, 1) + 4 + i / 10,
                f"Stop the feed on {case.devices[stream.from_device].name}",
                "Then the encoder.",
            )
    for i, stream in enumerate(local):
        yield task(f"stop-stream:{stream.id}", "end", max(length, 1) + 5 + i / 10, f"Stop {stream.name} on {case.devices[stream.from_device].name}",
                   "A camera left sending fills the network, and its card, until a person comes by.")  # fmt: skip
    for i, device in enumerate(d for d in shown if d.kind == "recorder"):
        yield task(f"stop-recording:{device.id}", "end", max(length, 1) + 6 + i / 10, f"Stop recording on {device.name}, and wait until it has written",
                   "A card pulled too early holds a file that does not open.")  # fmt: skip
        yield task(f"copy-off:{device.id}", "end", max(length, 1) + 10 + i / 10, f"Copy what {device.name} recorded to a second place, and open it there",
                   "One copy is none. The card is formatted only when the copy has been seen to open.")  # fmt: skip
