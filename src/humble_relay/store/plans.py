"""Plans as they are kept: read, changed and taken out. Every change is one transaction, committed before it is told.

A change is worked out, validated and judged on what a reader sees; only then is the write lock taken, to compare the
version and write. Plans come out **sealed** (`core/plan/secrets.py`): `clear` is the one with its keys.
"""

from collections.abc import Callable, Sequence
from contextlib import suppress
from datetime import datetime
from typing import NamedTuple, TypeVar

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from humble_relay.core.catalogue.stock import Stock
from humble_relay.core.frozen import Frozen, free_id
from humble_relay.core.plan import COLLECTIONS, Plan, Stream
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.edits.draft import told
from humble_relay.core.plan.secrets import HIDDEN, Put, hidden_in_field, hide, opened, sealed, secrets_of
from humble_relay.core.plan.survey import Found, Survey, numbered
from humble_relay.core.plan.upgrades import FORM
from humble_relay.store.changes import (
    Change,
    Edited,
    Measured,
    NoSuchPlan,
    NothingToDo,
    Redone,
    Restored,
    TooMuch,
    Undone,
    UnknownThing,
)
from humble_relay.store.database import Database
from humble_relay.store.requests import digest, done_before, remember
from humble_relay.store.revisions import (
    HistoryEntry,
    Unreadable,
    add_found,
    append,
    aware,
    child,
    days_of,
    document,
    entries,
    facts_kept,
    now,
    plan_row,
    revision,
    survey_of,
    taken_by_others,
    uses_of,
)
from humble_relay.store.shelf import holdings_in, models_in
from humble_relay.store.tables import PlanRow, RevisionRow
from humble_relay.store.trouble import StoreTrouble

LARGEST_PLAN, LARGEST_SURVEY = 12_000_000, 24_000_000
"""Bytes of a plan's document and of its measurements: what is exported can be imported again."""
MOST_PLANS = 2000
_TRIES = 30
_MOST_LINES = 60
"""Lines of one change that its history tells, and revisions that a conflict tells."""
T = TypeVar("T")


class Listed(Frozen):
    """A plan in the list of plans."""

    id: str
    name: str
    version: int
    changed_at: datetime


class Kept(Frozen):
    """A plan as it stands, sealed, with its version and survey; `clear` and `clear_survey` hold the secrets."""

    id: str
    version: int
    plan: Plan
    survey: Survey
    stock: Stock
    can_undo: bool
    can_redo: bool
    clear: Plan
    clear_survey: Survey


class StalePlan(ValueError):
    """The plan has moved on; carries its version and what changed since."""

    def __init__(self, version: int, changed: Sequence[HistoryEntry]) -> None:
        super().__init__(f"the plan is at version {version}")
        self.version, self.changed = version, tuple(changed)


class _Overtaken(Exception):
    """Something was written between reading and writing that the change does not mind: it is worked out again."""


class _Next(NamedTuple):
    """A change worked out: the plan as it will stand, and what is to be written."""

    kept: Kept
    content: int | None
    parent: int | None
    what: tuple[str, ...]
    text: str | None = None
    added: Survey | None = None
    measured: tuple[int, int] = (0, 0)
    """How many measurements and facts there were."""


def _as_it_is(kept: Kept) -> Kept:
    return kept


class Plans:
    """The plans of one database."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self.put: Put = database.put
        self._note_uses()

    def all(self) -> list[Listed]:
        """All plans, the last changed first."""
        with self._database.reading() as session:
            rows = session.scalars(select(PlanRow).order_by(PlanRow.changed_at.desc(), PlanRow.id))
            return [
                Listed(
                    id=r.id, name=hide(r.name, self.put), version=r.version, changed_at=aware(r.changed_at)
                )
                for r in rows
            ]

    def get(self, id: str) -> Kept:
        """The plan as it stands. Raises NoSuchPlan, Unreadable, StoreTrouble."""
        with self._database.reading() as session:
            row = plan_row(session, id)
            return self._kept(session, row, _revision(session, id, row.version).content)

    def history(self, id: str) -> list[HistoryEntry]:
        """Every revision, newest first. No document is read."""
        with self._database.reading() as session:
            found = entries(session, id)
        return [self._masked(e) for e in reversed(found)]

    def create(
        self,
        plan: Plan,
        survey: Survey,
        id: str,
        what: str,
        request: str | None = None,
        judge: Callable[[Kept], T] = _as_it_is,  # type: ignore[assignment]
    ) -> T:
        """A new plan under `id`, or the next free one like it; what `judge` says of it, asked before it is kept."""
        text, whole = plan.model_dump_json(), numbered(survey.measurements)
        found = numbered(survey.facts, letter="f")
        everything = Survey.model_construct(measurements=whole, facts=found)
        _not_too_large(text, everything)
        made = digest(text, *whole, *found)
        for _ in range(_TRIES):
            with self._database.reading() as session:
                done = done_before(session, request, made)
                taken = set(session.scalars(select(PlanRow.id)))
                stock = self._stock(session, "", plan)
            if done:
                return judge(self.get(done))
            if len(taken) >= MOST_PLANS:
                raise TooMuch(
                    f"There are {len(taken)} plans here, the most that can be kept: take some out first."
                )
            free = free_id(id, taken)
            answer = judge(self._sealed(free, 1, plan, everything, stock, False, False))
            with self._database.writing() as session:
                if done_before(session, request, made) or session.get(PlanRow, free):
                    continue  # another was quicker: look again
                row = PlanRow(
                    id=free, name=plan.show.name, version=0, changed_at=now(), measured=0, uses=uses_of(plan)
                )
                session.add(row)
                session.flush()
                append(session, row, None, None, [hide(what, _hidden)], text=text)
                add_found(session, row, everything)
                remember(session, request, free, made)
            return answer
        raise StoreTrouble("busy", "Others are adding plans all the time. Nothing was changed: try again.")

    def make(
        self,
        id: str,
        version: int | None,
        change: Change,
        request: str | None = None,
        judge: Callable[[Kept], T] = _as_it_is,  # type: ignore[assignment]
    ) -> T:
        """Makes the change on the plan at `version`, and gives what `judge` says of the plan after it.

        `judge` is asked before anything is written: if it raises, nothing is kept. A change that was made before
        under the same request id is not made again. Raises StalePlan, EditRefused, NothingToDo, TooMuch, NoSuchPlan,
        StoreTrouble; nothing is changed then. Measurements mind no version.
        """
        mark = digest(id, *change, kind=type(change).__name__)
        for _ in range(_TRIES):
            with self._database.reading() as session:
                row = plan_row(session, id)
                done = done_before(session, request, mark)
                at = row.version
                if not done:
                    if version not in (None, at):
                        raise self._stale(session, id, version or 0)
                    found = self._worked_out(session, row, change)
            if done:
                return judge(self.get(id))
            answer = judge(found.kept)
            try:
                self._write(id, at, version, change, request, mark, found)
            except _Overtaken:
                continue
            return answer
        raise StoreTrouble(
            "busy", "Others are writing to this plan all the time. Nothing was changed: try again."
        )

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
            return opened(edits, self._secrets(session, kept.clear))

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
            lacking = [(id, version) for id, version, uses in rows if not uses or uses.get("form") != FORM]
        for id, version in lacking:
            with suppress(Unreadable, NoSuchPlan), self._database.writing() as session:
                row = plan_row(session, id)
                row.uses = uses_of(document(session, id, _revision(session, id, version).content))

    def _write(
        self,
        id: str,
        at: int,
        version: int | None,
        change: Change,
        request: str | None,
        mark: str,
        found: _Next,
    ) -> None:
        """Writes what was worked out on version `at`, if the plan is still there."""
        with self._database.writing() as session:
            row = plan_row(session, id)
            if done_before(session, request, mark):
                return
            if row.version != at:
                raise _Overtaken if version is None else self._stale(session, id, version)
            if found.added:
                if (row.measured, facts_kept(session, id)) != found.measured:
                    raise _Overtaken
                add_found(session, row, found.added)
                row.changed_at = now()
            else:
                edited = change if isinstance(change, Edited) else Edited([])
                why = self._masked_text(edited.why, found.kept.clear)
                edits = edited.edits if isinstance(change, Edited) else None
                append(
                    session, row, found.content, found.parent, found.what, why, edited.who, edits, found.text
                )
                row.name, row.uses = found.kept.clear.show.name, uses_of(found.kept.clear)
            remember(session, request, id, mark)

    def _worked_out(self, session: Session, row: PlanRow, change: Change) -> _Next:
        head = _revision(session, row.id, row.version)
        match change:
            case Edited():
                before = document(session, row.id, head.content)
                edits = opened(change.edits, self._secrets(session, before))
                plan, lines = told(before, edits, hidden_in_field)
                text = plan.model_dump_json()
                _not_too_large(text, Survey())
                known = _keys(before) | _keys(plan)
                if len(lines) > _MOST_LINES:
                    lines = [*lines[:_MOST_LINES], f"and {len(lines) - _MOST_LINES} more"]
                what = tuple(hide(line, _hidden, known) for line in lines)
                kept = self._kept(session, row, head.content, plan, can_undo=True, can_redo=False)
                return _Next(kept, None, head.content, what, text)
            case Undone():
                if head.content != head.number:
                    head = _revision(session, row.id, head.content)
                if head.parent is None:
                    raise NothingToDo("There is nothing to undo: this is how the plan began.")
                return self._gone_to(session, row, head.parent, "undid", head)
            case Redone():
                forward = child(session, row.id, head.content)
                if forward is None:
                    raise NothingToDo("There is nothing to redo.")
                return self._gone_to(session, row, forward, "did again", _revision(session, row.id, forward))
            case Restored(number):
                found = revision(session, row.id, number)
                if found is None:
                    raise NothingToDo(f"There is no revision {number} of this plan.")
                return self._gone_to(
                    session, row, found.content, f"went back to revision {found.content}", None
                )
            case Measured():
                return self._measured(session, row, head.content, change)

    def _gone_to(
        self, session: Session, row: PlanRow, content: int, verb: str, named: RevisionRow | None
    ) -> _Next:
        parent = _revision(session, row.id, row.version).content
        what = tuple(f"{verb}: {line}" for line in named.what) if named else (verb,)
        kept = self._kept(session, row, content)
        return _Next(kept.model_copy(update={"version": row.version + 1}), content, parent, what)

    def _measured(self, session: Session, row: PlanRow, content: int, change: Measured) -> _Next:
        kept = self._kept(session, row, content)
        known = {u.id for u in kept.clear.uplinks}
        for m in change.measurements:
            if m.uplink not in known:
                raise UnknownThing(f"The plan has no uplink called {m.uplink}: add it before measuring it.")
        for fact in change.facts:
            if fact.thing not in {x.id for x in getattr(kept.clear, COLLECTIONS[fact.noun])}:
                raise UnknownThing(f"The plan has no {fact.noun} called {fact.thing}: add it first.")
        there = kept.clear_survey
        whole = numbered(
            (*there.measurements, *_anew(change.measurements, there.measurements)), row.measured + 1
        )
        facts = numbered((*there.facts, *_anew(change.facts, there.facts)), len(there.facts) + 1, "f")
        survey = Survey.model_construct(measurements=whole, facts=facts)
        _not_too_large("", survey)
        kept = kept.model_copy(update={"clear_survey": survey, "survey": self._sealed_survey(survey)})
        added = Survey.model_construct(
            measurements=whole[len(there.measurements) :], facts=facts[len(there.facts) :]
        )
        return _Next(kept, None, None, (), added=added, measured=(row.measured, len(there.facts)))

    def _kept(
        self,
        session: Session,
        row: PlanRow,
        content: int,
        plan: Plan | None = None,
        can_undo: bool | None = None,
        can_redo: bool | None = None,
    ) -> Kept:
        """The plan at a content; read from its document unless it is at hand, and then one version on."""
        version = row.version if plan is None else row.version + 1
        plan = plan or document(session, row.id, content)
        survey = survey_of(session, row.id)
        if can_undo is None:
            can_undo = _revision(session, row.id, content).parent is not None
        if can_redo is None:
            can_redo = child(session, row.id, content) is not None
        stock = self._stock(session, row.id, plan)
        return self._sealed(row.id, version, plan, survey, stock, can_undo, can_redo)

    def _sealed(
        self, id: str, version: int, plan: Plan, survey: Survey, stock: Stock, can_undo: bool, can_redo: bool
    ) -> Kept:
        return Kept.model_construct(
            id=id, version=version, plan=sealed(plan, self.put), survey=self._sealed_survey(survey), stock=stock,
            can_undo=can_undo, can_redo=can_redo, clear=plan, clear_survey=survey,
        )  # fmt: skip

    def _sealed_survey(self, survey: Survey) -> Survey:
        found = tuple(sealed(m, self.put) if m.note or m.method else m for m in survey.measurements)
        return Survey.model_construct(
            measurements=found, facts=tuple(sealed(f, self.put) for f in survey.facts)
        )

    def _stock(self, session: Session, id: str, plan: Plan) -> Stock:
        """The shelf as this plan finds it: less what plans on the same day take."""
        holdings, days = tuple(sealed(h, self.put) for h in holdings_in(session)), days_of(plan)
        taken = taken_by_others(session, id, days) if holdings and days else []
        taken = [t.model_copy(update={"plan": hide(t.plan, self.put)}) for t in taken]
        models = tuple(sealed(m, self.put) for m in models_in(session))
        return Stock.model_construct(holdings=holdings, taken=tuple(taken), models=models)

    def _masked_text(self, text: str, plan: Plan) -> str:
        return hide(text, _hidden, _keys(plan))

    def _masked(self, entry: HistoryEntry) -> HistoryEntry:
        """The entry without what an older version may have written into it."""
        what = tuple(hide(line, _hidden) for line in entry.what)
        return entry.model_copy(update={"what": what, "why": hide(entry.why, _hidden)})

    def _stale(self, session: Session, id: str, version: int) -> StalePlan:
        changed = [self._masked(e) for e in entries(session, id, version)[-_MOST_LINES:]]
        return StalePlan(plan_row(session, id).version, changed)


def _hidden(_: str) -> str:
    return HIDDEN


def _keys(plan: Plan) -> set[str]:
    return {s.key for s in plan.links if isinstance(s, Stream) and s.key and len(s.key) >= 6}


def _revision(session: Session, id: str, number: int) -> RevisionRow:
    found = revision(session, id, number)
    assert found is not None
    return found


def _anew(added: Sequence[Found], there: Sequence[Found]) -> list[Found]:
    """What is added, without the ids that are in use."""
    taken = {x.id for x in there}
    return [x if x.id not in taken else x.model_copy(update={"id": None}) for x in added]


def _not_too_large(text: str, survey: Survey) -> None:
    if len(text.encode()) > LARGEST_PLAN:
        raise TooMuch(
            f"The plan would be larger than {LARGEST_PLAN / 1e6:.0f} MB, the most that can be kept."
        )
    found = (*survey.measurements, *survey.facts)
    if len(survey.measurements) > 50_000 or len(survey.facts) > 20_000:
        raise TooMuch(
            f"That would be {len(survey.measurements)} measurements and {len(survey.facts)} facts; a plan keeps at most 50 000 and 20 000."
        )
    size = (len(x.model_dump_json(exclude_defaults=True).encode()) for x in found)
    if len(found) > 5000 and sum(size) > LARGEST_SURVEY:  # a measurement is at most 4 kB
        raise TooMuch(
            f"The measurements would be more than {LARGEST_SURVEY / 1e6:.0f} MB; shorten their notes."
        )
