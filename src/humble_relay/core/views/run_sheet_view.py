"""The run sheet as it is looked at: every task at its moment, what is done, and how much time is left over."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import said_moment
from humble_relay.core.log.entries import AnyEntry
from humble_relay.core.plan.show import Show
from humble_relay.core.setup.day import day_of
from humble_relay.core.show.day_jobs import Phase
from humble_relay.core.show.go_live_order import Task, order
from humble_relay.core.show.minutes_in_log import LoggedMinutes, logged_minutes
from humble_relay.core.show.time_to_spare import TimeToSpare, time_to_spare


@dataclass(frozen=True, slots=True)
class RunLine:
    """A line of the run sheet: when it is begun, and by when at the latest; how long it takes, where, and what is then to be seen."""

    id: str
    at: str
    latest: str
    takes_min: float
    place: str
    what: str
    seen: str
    done: bool
    phase: Phase
    device: str
    """The device whose settings it is, where it is of one."""


class RunSheetView(Frozen):
    """Every task in the order of time, for as many people as set up."""

    people: int
    spare: str
    """How much time is left over; where it is short, with the remedy."""
    short: bool
    tasks: tuple[RunLine, ...]
    proposed: tuple[LoggedMinutes, ...]
    """Figures that the log contradicts."""


def run_sheet_view(case: Case, log: Iterable[AnyEntry], now: datetime) -> RunSheetView:
    """The run sheet of a plan as of a moment: what is still to be done is begun as late as it can be."""
    log = list(log)
    spare = time_to_spare(case, day_of(case, log, now), case.plan.show.judge_at or now)
    tasks = sorted(order(case), key=lambda t: spare.when[t.id].at if t.id in spare.when else t.minutes)
    return RunSheetView(
        people=round(case.figures["people"]),
        spare=spare.says,
        short=spare.spare_min is not None and spare.spare_min < 0,
        tasks=tuple(_run_line(case, t, spare) for t in tasks),
        proposed=logged_minutes(case, log),
    )


def _run_line(case: Case, task: Task, spare: TimeToSpare) -> RunLine:
    show = case.plan.show
    at = spare.when[task.id].at if task.id in spare.when else task.minutes
    of = task.id.removeprefix("set:")
    return RunLine(
        id=task.id,
        at=_moment(show, at),
        latest="" if task.latest is None else _moment(show, task.latest),
        takes_min=task.takes,
        place=case.places[task.place].name if task.place in case.places else "",
        what=task.what,
        seen=task.seen,
        phase=task.phase,
        done=task.done or task.id in spare.done,
        device=of if of in case.devices else "",
    )


def _moment(show: Show, minutes: float) -> str:
    """A moment on the show's clock; without a start, how far from it."""
    if show.starts_at:
        return said_moment((show.starts_at + timedelta(minutes=minutes)).astimezone(show.clock))
    return f"{abs(minutes):.0f} min {'before' if minutes < 0 else 'after'}"
