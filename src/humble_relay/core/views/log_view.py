"""The log of a show in words, entry by entry: who wrote what of which thing, and what of it still stands."""

from collections.abc import Iterable
from datetime import datetime
from typing import Literal

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import number
from humble_relay.core.log.entries import (
    AnyEntry,
    EntryKind,
    FactEntry,
    LineEntry,
    LogLine,
    MeasurementEntry,
    PhotographEntry,
    TaskEntry,
    WithdrawalEntry,
    subject_of,
)
from humble_relay.core.log.fold import roots
from humble_relay.core.plan.survey import Fact, Measurement
from humble_relay.core.show.go_live_order import order
from humble_relay.core.views.survey_view import fact_in_words, fact_subject, thing_name


class LoggedLine(Frozen):
    """An entry in words: when it was written, by whom, of what, what it says, and whether it still stands."""

    id: str
    sequence: int
    at: datetime | None
    role: str
    kind: EntryKind
    of: str
    says: str
    state: Literal["stands", "corrected", "withdrawn"]
    photo: str = ""
    """Of a photograph: which."""
    body: Measurement | Fact | LogLine | None = None
    """What another entry may say in its place; None where it is withdrawn instead, or done anew."""


def logged_lines(case: Case, log: Iterable[AnyEntry]) -> tuple[LoggedLine, ...]:
    """Every entry, the last one first. Times are on the show's own clock."""
    log, clock = list(log), case.plan.show.clock
    first = {e.id: e for e in log}
    corrected = {e.corrects for e in log if e.corrects}
    out = set(case.whole_survey.withdrawn)
    root = roots(log)
    tasks = {t.id: t.what for t in order(case)}
    found = []
    for entry in log:
        noun, thing = subject_of(entry)
        found.append(
            LoggedLine(
                id=entry.id,
                sequence=entry.sequence or 0,
                at=entry.at.astimezone(clock) if entry.at else None,
                role=entry.role,
                kind=entry.kind,
                of=fact_subject(case, entry.body)
                if isinstance(entry, FactEntry)
                else ""
                if noun == "show"
                else thing_name(case, noun, thing),
                says=_says(entry, tasks, first),
                body=entry.body if isinstance(entry.body, Measurement | Fact | LogLine) else None,
                photo=entry.body.photo if isinstance(entry, PhotographEntry) else "",
                state="withdrawn"
                if root[entry.id] in out
                else "corrected"
                if entry.id in corrected
                else "stands",
            )
        )
    return tuple(reversed(found))


def _says(entry: AnyEntry, tasks: dict[str, str], known: dict[str, AnyEntry]) -> str:
    match entry:
        case MeasurementEntry(body=m):
            parts = [
                f"{number(m.up_mbps)} Mb/s up",
                f"{number(m.down_mbps)} Mb/s down" if m.down_mbps is not None else "",
                f"RTT {number(m.rtt_ms)} ms" if m.rtt_ms is not None else "",
                f"{number(m.loss_pct)} % lost" if m.loss_pct is not None else "",
                m.note,
            ]
            return ", ".join(filter(None, parts))
        case FactEntry(body=fact):
            return ", ".join(filter(None, (fact_in_words(fact), fact.conditions, fact.note)))
        case TaskEntry(body=task):
            return f"{'done' if task.done else 'open again'}: {tasks.get(task.task, task.task.replace(':', ' ').replace('-', ' '))}"
        case LineEntry(body=line):
            return line.text
        case PhotographEntry(body=taken):
            return taken.text or "photograph"
        case WithdrawalEntry(body=gone):
            of = known.get(gone.of)
            what = _says(of, tasks, {}) if of else gone.of
            return f"{'withdrawn' if gone.withdrawn else 'counts again'}: {what}"
    return ""
