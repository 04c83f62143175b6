"""The faults of a day out of the log: those that are open, what was tried of each by whom, and how the others ended."""

from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from humble_relay.core.log.entries import (
    AnyEntry,
    FaultBegun,
    FaultEntry,
    MendedEntry,
    TriedEntry,
    WithdrawalEntry,
)
from humble_relay.core.log.fault_kinds import FaultAnswer, FaultTestId


class FaultAttempt(NamedTuple):
    """A test that was made, what it showed, when and by whom."""

    test: FaultTestId
    answer: FaultAnswer
    at: datetime | None
    by: str
    entry: str = ""
    """The entry that says so."""


class Fault(NamedTuple):
    """A fault; `ids` are the entries that began it: two people who report one picture have one fault."""

    id: str
    ids: tuple[str, ...]
    begun: FaultBegun
    since: datetime | None
    by: str
    attempts: tuple[FaultAttempt, ...]
    ended: datetime | None
    cause: str | None
    """What it was, where it ended; empty where nobody knows."""


def faults_in(log: Iterable[AnyEntry]) -> tuple[Fault, ...]:
    """Every fault, the last one first. What was withdrawn is none; of two open ones at one picture the later report joins the first,
    with what it says more exactly."""
    log = list(log)
    out = {e.body.of: e.body.withdrawn for e in log if isinstance(e, WithdrawalEntry)}
    found: dict[str, Fault] = {}
    joined: dict[str, str] = {}
    for entry in log:
        if out.get(entry.id):
            continue
        match entry:
            case FaultEntry():
                same = next(
                    (f for f in found.values() if f.ended is None and f.begun.picture == entry.body.picture),
                    None,
                )
                if same:
                    more = {k: v for k, v in dict(entry.body).items() if v is not None}
                    begun = same.begun.model_copy(update=more)
                    found[same.id] = same._replace(ids=(*same.ids, entry.id), begun=begun)
                    joined[entry.id] = same.id
                else:
                    found[entry.id] = Fault(
                        entry.id, (entry.id,), entry.body, entry.at, entry.role, (), None, None
                    )
            case TriedEntry():
                id = joined.get(entry.body.fault, entry.body.fault)
                if id in found:
                    attempt = FaultAttempt(entry.body.test, entry.body.answer, entry.at, entry.role, entry.id)
                    found[id] = found[id]._replace(attempts=(*found[id].attempts, attempt))
            case MendedEntry():
                id = joined.get(entry.body.fault, entry.body.fault)
                if id in found and found[id].ended is None:
                    found[id] = found[id]._replace(
                        ended=entry.at or entry.received_at, cause=entry.body.cause
                    )
    return tuple(reversed(found.values()))
