"""How long things take here, as the log shows: proposed in place of the figures of practice, never put there by itself."""

from collections import defaultdict
from collections.abc import Iterable, Iterator
from datetime import datetime
from itertools import pairwise
from statistics import median

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.log.entries import AnyEntry, SeenEntry, TaskEntry, WithdrawalEntry
from humble_relay.core.plan.edits import Edit, SetFigure
from humble_relay.core.show.day_jobs import walk_of

_FEWEST = 3
"""So few times say nothing yet."""
_LONGEST_MIN = 60.0
"""Longer than this between two ticks something else was done."""
_APART = 1.25
"""A figure that is off by less than this factor stays as it is."""


class LoggedMinutes(Frozen):
    """A figure of the minutes, what is planned, the median of what the log shows, and how many times it was timed."""

    figure: str
    name: str
    planned: float
    logged: float
    times: int
    edits: tuple[Edit, ...]


def logged_minutes(case: Case, log: Iterable[AnyEntry]) -> tuple[LoggedMinutes, ...]:
    """The figures that the log contradicts: what one person ticked one after the other, less the walk between."""
    timed: dict[str, list[float]] = defaultdict(list)
    for figure, minutes in _timed(case, log):
        timed[figure].append(minutes)
    found = []
    for figure, each in timed.items():
        planned, logged = case.figures[figure], round(median(each), 1)
        if (
            len(each) >= _FEWEST
            and logged > 0
            and max(planned / logged, logged / planned if planned else 9) >= _APART
        ):
            found.append(
                LoggedMinutes(
                    figure=figure,
                    name=case.figures.step(figure).name,
                    planned=planned,
                    logged=logged,
                    times=len(each),
                    edits=(SetFigure(figure=figure, value=logged),),
                )
            )
    return tuple(found)


def _timed(case: Case, log: Iterable[AnyEntry]) -> Iterator[tuple[str, float]]:
    """Each thing that was ticked right after another by the same person, with the minutes it took."""
    out: dict[str, bool] = {}
    ticks: dict[str, list[tuple[datetime, str, str]]] = defaultdict(list)
    log = list(log)
    for entry in log:
        if isinstance(entry, WithdrawalEntry):
            out[entry.body.of] = entry.body.withdrawn
    for entry in log:
        if entry.at and not out.get(entry.id) and (about := _about(case, entry)):
            ticks[entry.role].append((entry.at, *about))
    walk = walk_of(case)
    for each in ticks.values():
        each.sort()
        for (before, from_place, _), (at, place, figure) in pairwise(each):
            minutes = (at - before).total_seconds() / 60 - walk(from_place, place)
            if figure and 0 < minutes <= _LONGEST_MIN:
                yield figure, minutes


def _about(case: Case, entry: AnyEntry) -> tuple[str, str] | None:
    """Where a tick was made, and the figure that says how long that takes; none of ticks that are timed by no figure."""
    match entry:
        case SeenEntry() if entry.body.device in case.devices:
            place = case.devices[entry.body.device].place or ""
            return place, "look-minutes" if entry.body.picture and entry.body.right else ""
        case TaskEntry() if entry.body.done:
            kind, _, of = entry.body.task.partition(":")
            place = (case.devices[of].place or "") if of in case.devices else ""
            return place, {"stand": "camera-minutes", "pull-the-cable": "drill-minutes"}.get(kind, "")
    return None
