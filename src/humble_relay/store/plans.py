"""Plans as they are kept: read, changed and taken out. Every change is one transaction, committed before it is told.

A change is worked out, validated and judged on what a reader sees; only then is the write lock taken, to compare the
version and write. Plans come out **sealed** (`core/plan/secrets.py`): `clear` is the one with its keys.
"""

import random
import time
from collections.abc import Callable, Collection, Sequence
from contextlib import suppress
from datetime import datetime
from typing import TypeVar

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from humble_relay.core.frozen import Frozen, free_id
from humble_relay.core.hidden_text import Put, hide
from humble_relay.core.judgement.acceptance_notes import lacks_notes, notes, with_notes
from humble_relay.core.judging.case import Case
from humble_relay.core.log.entries import AnyEntry
from humble_relay.core.log.fold import folded
from humble_relay.core.plan import Noun, Plan
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.secrets import marked, opened, secrets_of, telling_keys
from humble_relay.core.plan.upgrades import FORM
from humble_relay.core.setup.items import ItemEntry
from humble_relay.store.changes import (
    Edited,
    NoSuchPlan,
    PlanChange,
    TooMuch,
)
from humble_relay.store.database import Database
from humble_relay.store.item_log import item_entries, note_items
from humble_relay.store.kept import Kept, hidden, kept_at, masked, sealed_kept, stock_for
from humble_relay.store.last_changes import LastChange, last_change, note_changes
from humble_relay.store.log import Acknowledged, add_entries, log_in, log_not_too_large, sealed_log, survey_of
from humble_relay.store.outcomes import MOST_LINES, Outcome, not_too_large, worked_out
from humble_relay.store.requests import digest, done_before, remember
from humble_relay.store.revisions import (
    HistoryEntry,
    Unreadable,
    append,
    aware,
    document,
    document_bytes,
    entries,
    now,
    plan_row,
    revision_of,
    uses_of,
)
from humble_relay.store.shelf import models_in
from humble_relay.store.tables import PlanRow
from humble_relay.store.trouble import StoreTrouble

MOST_PLANS = 2000
LARGE_BYTES = 1_500_000
"""Bytes of a large plan's document: some 400 boxes with their cables."""
_TRIES, _PAUSE_S = 60, 0.005
"""How often a change is tried that others overtake, and by how much longer at most it lets them go first each time, in s."""
T = TypeVar("T")


class Listed(Frozen):
    """A plan in the list of plans."""

    id: str
    name: str
    version: int
    changed_at: datetime
    starts: str
    """When the show begins, on its own clock, as `2026-09-12T19:30`; empty where nobody said."""
    where: str
    """Its sites; empty where there are none yet."""


class StalePlan(ValueError):
    """The plan has moved on; carries its version and what changed since."""

    def __init__(self, version: int, changed: Sequence[HistoryEntry]) -> None:
        super().__init__(f"the plan is at version {version}")
        self.version, self.changed = version, tuple(changed)


class _Overtaken(Exception):
    """Something was written between reading and writing that the change does not mind: it is worked out again."""


def _as_it_is(kept: Kept) -> Kept:
    return kept


class Plans:
    """The plans of one database."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self.put: Put = database.put
        self._note_uses()
        self._note_acceptances()

    def all(self) -> list[Listed]:
        """All plans, the last changed first."""
        with self._database.reading() as session:
            rows = session.scalars(select(PlanRow).order_by(PlanRow.changed_at.desc(), PlanRow.id))
            return [
                Listed(
                    id=r.id,
                    name=hide(r.name, self.put),
                    version=r.version,
                    changed_at=aware(r.changed_at),
                    starts=(r.uses or {}).get("starts", ""),
                    where=hide((r.uses or {}).get("where", ""), self.put),
                )
                for r in rows
            ]

    def get(self, id: str) -> Kept:
        """The plan as it stands. Raises NoSuchPlan, Unreadable, StoreTrouble."""
        with self._database.reading() as session:
            row = plan_row(session, id)
            return kept_at(self.put, session, row, revision_of(session, id, row.version).content)

    def is_large(self, id: str) -> bool:
        """Whether the plan is so large that whatever is asked about it takes long. Raises NoSuchPlan, StoreTrouble."""
        with self._database.reading() as session:
            return document_bytes(session, id) > LARGE_BYTES

    def history(self, id: str) -> list[HistoryEntry]:
        """Every revision, newest first. No document is read."""
        with self._database.reading() as session:
            found = entries(session, id)
        return [self._masked(e) for e in reversed(found)]

    def last_change(self, id: str, noun: Noun, thing: str) -> LastChange | None:
        """What changed a thing last, and whether that took it out; None where nothing is noted of it."""
        with self._database.reading() as session:
            found = last_change(session, id, noun, thing)
        what = masked(found.what) if found else ()
        return found and found.model_copy(update={"what": what})

    def create(
        self,
        plan: Plan,
        log: Sequence[AnyEntry],
        id: str,
        what: str,
        request: str | None = None,
        judge: Callable[[Kept], T] = _as_it_is,  # type: ignore[assignment]
    ) -> T:
        """A new plan under `id`, or the next free one like it, with a log; what `judge` says of it, asked before it is kept."""
        everything = folded(log)
        if lacks_notes(plan):
            plan = with_notes(plan, notes(Case(plan, everything, now())))
        text = plan.model_dump_json()
        not_too_large(text)
        log_not_too_large(log)
        made = digest(text, *log)
        for _ in range(_TRIES):
            with self._database.reading() as session:
                done = done_before(session, request, made)
                taken = set(session.scalars(select(PlanRow.id)))
                stock = stock_for(self.put, session, "", plan)
            if done:
                return judge(self.get(done))
            if len(taken) >= MOST_PLANS:
                raise TooMuch(
                    f"There are {len(taken)} plans here, the most that can be kept: take some out first."
                )
            free = free_id(id, taken)
            answer = judge(sealed_kept(self.put, free, 1, plan, everything, stock))
            with self._database.writing() as session:
                if done_before(session, request, made) or session.get(PlanRow, free):
                    continue  # another was quicker: look again
                row = PlanRow(
                    id=free,
                    name=plan.show.name,
                    version=0,
                    changed_at=now(),
                    uses=uses_of(plan),
                    noted={},
                )
                session.add(row)
                session.flush()
                append(session, row, None, None, [hide(what, hidden)], text=text, whole=plan)
                note_items(session, free, plan, log, add_entries(session, free, None, log))
                remember(session, request, free, made)
            return answer
        raise StoreTrouble("busy", "Others are adding plans all the time. Nothing was changed: try again.")

    def make(
        self,
        id: str,
        version: int | None,
        change: PlanChange,
        request: str | None = None,
        judge: Callable[[Kept], T] = _as_it_is,  # type: ignore[assignment]
    ) -> T:
        """Makes the change on the plan at `version`, and gives what `judge` says of the plan after it.

        `judge` is asked before anything is written: if it raises, nothing is kept. A change that was made before
        under the same request id is not made again. Raises StalePlan, EditRefused, NothingToDo, TooMuch, NoSuchPlan,
        StoreTrouble; nothing is changed then.
        """
        older = isinstance(change, Edited) and change.older
        mark = digest(
            id, *change[:3], kind=type(change).__name__
        )  # not whether it is older: it is one change
        for tried in range(_TRIES):
            with self._database.reading() as session:
                row = plan_row(session, id)
                done = done_before(session, request, mark, older)
                at = row.version
                if not done:
                    if version not in (None, at):
                        raise self._stale(session, id, version or 0)
                    found = worked_out(
                        self.put, session, row, change, lambda plan: self._secrets(session, plan)
                    )
            if done:
                return judge(self.get(id))
            answer = judge(found.kept)
            try:
                self._write(id, at, version, change, request, mark, found)
            except _Overtaken:
                time.sleep(random.uniform(0, _PAUSE_S * tried))
                continue
            return answer
        raise StoreTrouble(
            "busy", "Others are writing to this plan all the time. Nothing was changed: try again."
        )

    def write(self, id: str, entries: Sequence[AnyEntry]) -> list[Acknowledged]:
        """Adds entries to the log of a plan, each once however often it is sent; what became of each. Nothing is judged, and the
        plan's version stays. Raises NoSuchPlan, Unreadable, TooMuch, StoreTrouble."""
        with self._database.writing() as session:
            row = plan_row(session, id)
            plan = document(session, id, revision_of(session, id, row.version).content)
            found = add_entries(session, id, plan, entries)
            note_items(session, id, plan, entries, found)
            row.changed_at = now()
        return found

    def log(self, id: str, after: int = 0, clear: bool = True) -> tuple[AnyEntry, ...]:
        """The entries of a plan behind a place in the log, oldest first; unless `clear`, with a mark in place of each secret. Raises NoSuchPlan,
        Unreadable, StoreTrouble."""
        with self._database.reading() as session:
            row = plan_row(session, id)
            return log_in(session, id, after) if clear else sealed_log(self.put, session, row, after)

    def item_entries(self, id: str, items: Collection[tuple[str, str]]) -> list[ItemEntry]:
        """What the logs of the other plans say of items of the shelf, by model and label. Raises StoreTrouble."""
        with self._database.reading() as session:
            return item_entries(session, id, items)

    def remove(self, id: str, version: int) -> None:
        """Takes the plan out for good, with its history and measurements: its keys are gone from the file."""
        with self._database.writing() as session:
            if plan_row(session, id).version != version:
                raise self._stale(session, id, version)
            session.execute(delete(PlanRow).where(PlanRow.id == id))
        with suppress(StoreTrouble):  # it is gone; the side file is emptied at the latest when we stop
            self._database.settle()

    def opened(self, kept: Kept, edits: Sequence[Edit]) -> list[Edit]:
        """The edits with the secrets of the plan, and of one's own models, in place of their marks."""
        with self._database.reading() as session:
            return opened(edits, self._secrets(session, kept.clear) if marked(edits) else {})

    def behind(self, id: str, mark: str) -> str | None:
        """The secret a mark of the plan or its survey stands for; None where there is none."""
        kept = self.get(id)
        found = secrets_of(kept.clear, self.put) | secrets_of(
            (kept.clear_survey.measurements, kept.clear_survey.facts), self.put
        )
        return found.get(mark)

    def _secrets(self, session: Session, plan: Plan) -> dict[str, str]:
        return secrets_of(models_in(session), self.put) | secrets_of(plan, self.put)

    def _note_uses(self) -> None:
        """Writes beside each plan what it takes from the stock, where an older version did not."""
        with self._database.reading() as session:
            rows = session.execute(select(PlanRow.id, PlanRow.version, PlanRow.uses))
            lacking = [
                (id, version)
                for id, version, uses in rows
                if not uses or uses.get("form") != FORM or "where" not in uses
            ]
        for id, version in lacking:
            with suppress(Unreadable, NoSuchPlan), self._database.writing() as session:
                row = plan_row(session, id)
                row.uses = uses_of(document(session, id, revision_of(session, id, version).content))

    def _note_acceptances(self) -> None:
        """Notes what the accepted doubts of each plan compare, where its document is of a form that did not keep it."""
        with self._database.reading() as session:
            lacking = session.scalars(select(PlanRow.id).where(PlanRow.noted.is_(None))).all()
        for id in lacking:
            with suppress(Unreadable, NoSuchPlan), self._database.writing() as session:
                row = plan_row(session, id)
                plan = document(session, id, revision_of(session, id, row.version).content)
                row.noted = {}
                if lacks_notes(plan):
                    case = Case(plan, survey_of(session, id), now(), stock_for(self.put, session, id, plan))
                    row.noted = {f: c.model_dump(mode="json") for f, c in notes(case).items()}

    def _write(
        self,
        id: str,
        at: int,
        version: int | None,
        change: PlanChange,
        request: str | None,
        mark: str,
        found: Outcome,
    ) -> None:
        """Writes what was worked out on version `at`, if the plan is still there."""
        with self._database.writing() as session:
            row = plan_row(session, id)
            if done_before(session, request, mark, isinstance(change, Edited) and change.older):
                return
            if row.version != at:
                raise _Overtaken if version is None else self._stale(session, id, version)
            if found.text is not None or found.content is not None:
                edited = change if isinstance(change, Edited) else Edited([])
                why = self._masked_text(edited.why, found.kept.clear)
                edits = edited.edits if isinstance(change, Edited) else None
                before_it = revision_of(session, id, row.version).content
                append(
                    session,
                    row,
                    found.content,
                    found.parent,
                    found.what,
                    why,
                    edited.who,
                    edits,
                    found.text,
                    found.kept.clear if found.text else None,
                )
                with suppress(Unreadable):  # what was damaged is gone back from: nobody knows what it changed
                    before = document(session, id, before_it)
                    note_changes(session, id, row.version, before, found.kept.clear)
                row.name, row.uses = found.kept.clear.show.name, uses_of(found.kept.clear)
            kept = add_entries(session, id, None, found.entries)
            note_items(session, id, found.kept.clear, found.entries, kept)
            remember(session, request, id, mark)

    def _masked_text(self, text: str, plan: Plan) -> str:
        return hide(text, hidden, telling_keys(plan))

    def _masked(self, entry: HistoryEntry) -> HistoryEntry:
        """The entry without what an older version may have written into it."""
        return entry.model_copy(update={"what": masked(entry.what), "why": hide(entry.why, hidden)})

    def _stale(self, session: Session, id: str, version: int) -> StalePlan:
        changed = [self._masked(e) for e in entries(session, id, version)[-MOST_LINES:]]
        return StalePlan(plan_row(session, id).version, changed)
