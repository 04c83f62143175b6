"""The log of a show in words, entry by entry: who wrote what of which thing, and what of it still stands."""

from collections.abc import Iterable
from datetime import datetime
from typing import Literal

from humble_relay.core.catalogue.words import LOSS_WORDS
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import number
from humble_relay.core.log.entries import (
    AnyEntry,
    EntryKind,
    FactEntry,
    FaultEntry,
    LineEntry,
    LogLine,
    LostEntry,
    MeasurementEntry,
    MendedEntry,
    PhotographEntry,
    SeenEntry,
    SetupSeen,
    TaskEntry,
    TriedEntry,
    WithdrawalEntry,
    subject_of,
)
from humble_relay.core.log.fault_kinds import SYMPTOMS
from humble_relay.core.log.fold import roots
from humble_relay.core.plan.survey import Fact, Measurement
from humble_relay.core.setup.setup_list import setup_list
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
                says=_says(case, entry, tasks, first),
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


def _says(case: Case, entry: AnyEntry, tasks: dict[str, str], known: dict[str, AnyEntry]) -> str:
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
        case SeenEntry(body=seen):
            return f"{_seen(case, seen)}{'' if seen.right else ': wrong'}"
        case FaultEntry(body=begun):
            return f"fault: {SYMPTOMS[begun.symptom]}, at {_picture_name(case, begun.picture)}"
        case TriedEntry(body=tried):
            answer = {"good": "as it should be", "bad": "not as it should be", "cannot-tell": "cannot tell"}[
                tried.answer
            ]
            return f"tried {_readable(case, tried.test)}: {answer}"
        case MendedEntry(body=mended):
            return f"fault ended: {_readable(case, mended.cause) if mended.cause else 'nobody knows why'}"
        case LostEntry(body=lost):
            return LOSS_WORDS[lost.how]
        case LineEntry(body=line):
            return line.text
        case PhotographEntry(body=taken):
            return taken.text or "photograph"
        case WithdrawalEntry(body=gone):
            of = known.get(gone.of)
            what = _says(case, of, tasks, {}) if of else gone.of
            return f"{'withdrawn' if gone.withdrawn else 'counts again'}: {what}"
    return ""


def _seen(case: Case, seen: SetupSeen) -> str:
    """What was looked at: a picture by where, settings by what they are called."""
    picture = next((s.step for s in seen.steps if s.step.startswith("picture:")), "")
    if picture:
        return f"picture seen at {_picture_name(case, picture.removeprefix('picture:'))}"
    known = {s.id: s.says for s in setup_list(case)}
    said = [known.get(s.step, s.step.replace(":", " ").replace("-", " ")) for s in seen.steps]
    more = f", and {len(said) - _MOST_SAID} more" if len(said) > _MOST_SAID else ""
    return f"seen: {', '.join(said[:_MOST_SAID])}{more}"


def _picture_name(case: Case, id: str) -> str:
    """Where a picture is seen, in words."""
    link = id.partition(":")[2]
    return case.port_name(id) if id in case.ports else case.link_name(link) if link in case.links else id


def _readable(case: Case, id: str) -> str:
    """A test or a cause by its kind and what it is of, by their names."""
    kind, *of = id.split(":")
    names = (
        case.devices[x].name if x in case.devices else case.link_name(x) if x in case.links else x for x in of
    )
    return ", ".join([kind.replace("-", " "), *names])


_MOST_SAID = 4
