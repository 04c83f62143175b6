"""Plans and their revisions: every change is one transaction, committed before it is acknowledged."""

from collections.abc import Sequence
from datetime import UTC, date, datetime

from pydantic import TypeAdapter
from sqlalchemy import Engine, delete, func, select
from sqlalchemy.orm import Session

from humble_relay.core.edits import Edit, apply, describe
from humble_relay.core.frozen import Frozen
from humble_relay.core.gear import free_id
from humble_relay.core.plan import Plan
from humble_relay.core.stock import Stock, Taken, used
from humble_relay.core.survey import Measurement, Survey
from humble_relay.store.shelf import holdings_in, models_in
from humble_relay.store.tables import MeasurementRow, PlanRow, RevisionRow

_EDITS: TypeAdapter[list[Edit]] = TypeAdapter(list[Edit])


class Entry(Frozen):
    """One line of a plan's history. `current` marks the content in force."""

    number: int
    content: int
    what: tuple[str, ...]
    why: str
    who: str
    at: datetime
    current: bool


class Listed(Frozen):
    """A plan in the list of plans."""

    id: str
    name: str
    version: int
    changed_at: datetime


class Kept(Frozen):
    """A plan as it stands, with its version and survey."""

    id: str
    version: int
    plan: Plan
    survey: Survey
    stock: Stock
    can_undo: bool
    can_redo: bool


class NoSuchPlan(LookupError):
    """There is no plan of that id."""


class NothingToDo(ValueError):
    """There is nothing to undo, redo or restore."""


class StalePlan(ValueError):
    """The plan has moved on; carries its version and what changed since."""

    def __init__(self, version: int, changed: Sequence[Entry]) -> None:
        super().__init__(f"the plan is at version {version}")
        self.version, self.changed = version, tuple(changed)


class Plans:
    """The plans of one database."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._uses: dict[tuple[str, int], tuple[str, tuple[date, date] | None, dict[str, int]]] = {}

    def all(self) -> list[Listed]:
        """All plans, the last changed first."""
        with Session(self._engine) as session, session.begin():
            rows = session.scalars(select(PlanRow).order_by(PlanRow.changed_at.desc(), PlanRow.id))
            return [
                Listed(id=r.id, name=r.name, version=r.version, changed_at=_aware(r.changed_at)) for r in rows
            ]

    def create(self, plan: Plan, survey: Survey, id: str, what: str) -> Kept:
        """A new plan under `id`, or the next free one like it."""
        with Session(self._engine) as session, session.begin():
            id = free_id(id, set(session.scalars(select(PlanRow.id))))
            session.add(PlanRow(id=id, name=plan.show.name, version=0, changed_at=_now()))
            session.flush()
            self._append(session, id, None, what=[what], document=plan)
            _add_measurements(session, id, survey.measurements)
            return self._kept(session, id)

    def get(self, id: str) -> Kept:
        """The plan as it stands."""
        with Session(self._engine) as session, session.begin():
            return self._kept(session, id)

    def remove(self, id: str, version: int) -> None:
        """Takes the plan out for good, with its history and measurements."""
        with Session(self._engine) as session, session.begin():
            self._check(session, id, version)
            session.execute(delete(PlanRow).where(PlanRow.id == id))

    def edit(self, id: str, version: int, edits: Sequence[Edit], why: str = "", who: str = "") -> Kept:
        """The plan after the edits, made on `version`. Raises StalePlan or EditRefused, and changes nothing."""
        with Session(self._engine) as session, session.begin():
            head = self._check(session, id, version)
            before = self._document(session, id, head.content)
            after = apply(before, edits)
            what = describe(before, edits)
            self._append(session, id, head.content, what, why, who, edits, after)
            return self._kept(session, id, after)

    def undo(self, id: str, version: int) -> Kept:
        """The plan as it was before its last change that stands."""
        with Session(self._engine) as session, session.begin():
            head = self._check(session, id, version)
            target = self._own(session, id, head.content).parent
            if target is None:
                raise NothingToDo("There is nothing to undo: this is how the plan began.")
            return self._go_to(session, id, target, "undid")

    def redo(self, id: str, version: int) -> Kept:
        """The plan with the last undone change made again."""
        with Session(self._engine) as session, session.begin():
            head = self._check(session, id, version)
            child = self._child(session, id, head.content)
            if child is None:
                raise NothingToDo("There is nothing to redo.")
            return self._go_to(session, id, child, "did again")

    def restore(self, id: str, version: int, number: int) -> Kept:
        """The plan as it stood after revision `number`."""
        with Session(self._engine) as session, session.begin():
            self._check(session, id, version)
            row = session.get(RevisionRow, (id, number))
            if row is None:
                raise NothingToDo(f"There is no revision {number} of this plan.")
            return self._go_to(session, id, row.content, f"went back to revision {row.content}")

    def history(self, id: str) -> list[Entry]:
        """Every revision, newest first."""
        with Session(self._engine) as session, session.begin():
            head = self._head(session, id)
            rows = session.scalars(
                select(RevisionRow).where(RevisionRow.plan_id == id).order_by(RevisionRow.number.desc())
            )
            return [_entry(r, head.content) for r in rows]

    def measure(self, id: str, measurements: Sequence[Measurement]) -> Kept:
        """The plan with more measurements: they are added, never changed."""
        with Session(self._engine) as session, session.begin():
            kept = self._kept(session, id)
            known = {u.id for u in kept.plan.uplinks}
            for m in measurements:
                if m.uplink not in known:
                    raise ValueError(f"The plan has no uplink called {m.uplink}: add it before measuring it.")
            _add_measurements(session, id, measurements)
            return self._kept(session, id)

    def _append(
        self,
        session: Session,
        id: str,
        parent: int | None,
        what: list[str],
        why: str = "",
        who: str = "",
        edits: Sequence[Edit] | None = None,
        document: Plan | None = None,
        content: int | None = None,
    ) -> None:
        plan = session.get_one(PlanRow, id)
        plan.version += 1
        plan.changed_at = _now()
        if document is not None:
            plan.name = document.show.name
        session.add(
            RevisionRow(
                plan_id=id,
                number=plan.version,
                content=content or plan.version,
                parent=parent,
                what=what,
                why=why,
                who=who,
                at=plan.changed_at,
                edits=_EDITS.dump_python([*edits], mode="json") if edits is not None else None,
                document=document.model_dump_json() if document is not None else None,
            )
        )
        session.flush()

    def _go_to(self, session: Session, id: str, content: int, verb: str) -> Kept:
        head = self._head(session, id)
        named = self._own(session, id, head.content if verb == "undid" else content)
        what = [verb] if verb.startswith("went") else [f"{verb}: {line}" for line in named.what]
        self._append(session, id, head.content, what, content=content)
        session.get_one(PlanRow, id).name = self._document(session, id, content).show.name
        return self._kept(session, id)

    def _head(self, session: Session, id: str) -> RevisionRow:
        plan = session.get(PlanRow, id)
        if plan is None:
            raise NoSuchPlan(f"There is no plan called {id}.")
        return session.get_one(RevisionRow, (id, plan.version))

    def _check(self, session: Session, id: str, version: int) -> RevisionRow:
        head = self._head(session, id)
        if head.number != version:
            rows = session.scalars(
                select(RevisionRow)
                .where(RevisionRow.plan_id == id, RevisionRow.number > version)
                .order_by(RevisionRow.number)
            )
            raise StalePlan(head.number, [_entry(r, head.content) for r in rows])
        return head

    def _own(self, session: Session, id: str, content: int) -> RevisionRow:
        return session.get_one(RevisionRow, (id, content))

    def _child(self, session: Session, id: str, content: int) -> int | None:
        """The newest content whose parent this is, if it was left by undoing: what redo goes to."""
        return session.scalar(
            select(func.max(RevisionRow.number)).where(
                RevisionRow.plan_id == id,
                RevisionRow.parent == content,
                RevisionRow.content == RevisionRow.number,
            )
        )

    def _document(self, session: Session, id: str, content: int) -> Plan:
        text = self._own(session, id, content).document
        return Plan.model_validate_json(text or "null")

    def _kept(self, session: Session, id: str, plan: Plan | None = None) -> Kept:
        """The plan as it stands; read from its document unless it is at hand."""
        head = self._head(session, id)
        rows = session.scalars(
            select(MeasurementRow).where(MeasurementRow.plan_id == id).order_by(MeasurementRow.id)
        )
        measurements = [Measurement.model_validate_json(r.document) for r in rows]
        plan = plan or self._document(session, id, head.content)
        return Kept(
            id=id,
            version=head.number,
            plan=plan,
            stock=self._stock(session, id, plan),
            survey=Survey(measurements=tuple(measurements)),
            can_undo=self._own(session, id, head.content).parent is not None,
            can_redo=self._child(session, id, head.content) is not None,
        )

    def _stock(self, session: Session, id: str, plan: Plan) -> Stock:
        """The shelf as this plan finds it: less what plans on the same day take."""
        holdings, taken = holdings_in(session), []
        days = _days(plan)
        if holdings and days:
            others = session.scalars(select(PlanRow).where(PlanRow.id != id).order_by(PlanRow.id))
            for other in others:
                name, when, uses = self._use(session, other)
                if when and when[0] <= days[1] and days[0] <= when[1]:
                    taken += [Taken(plan=name, model=m, count=n) for m, n in uses.items()]
        return Stock(holdings=holdings, taken=tuple(taken), models=models_in(session))

    def _use(self, session: Session, row: PlanRow) -> tuple[str, tuple[date, date] | None, dict[str, int]]:
        """A plan's name, its days and what gear it uses; read once for each of its contents."""
        content = session.get_one(RevisionRow, (row.id, row.version)).content
        if (row.id, content) not in self._uses:
            plan = self._document(session, row.id, content)
            self._uses[row.id, content] = (plan.show.name, _days(plan), used(plan))
        return self._uses[row.id, content]


def _days(plan: Plan) -> tuple[date, date] | None:
    """The first and last day of a show, in its own time."""
    first, last = plan.show.starts_at or plan.show.ends_at, plan.show.ends_at or plan.show.starts_at
    return (first.date(), last.date()) if first and last else None


def _add_measurements(session: Session, id: str, measurements: Sequence[Measurement]) -> None:
    session.add_all(MeasurementRow(plan_id=id, document=m.model_dump_json()) for m in measurements)
    session.flush()


def _entry(row: RevisionRow, current: int) -> Entry:
    return Entry(
        number=row.number,
        content=row.content,
        what=tuple(row.what),
        why=row.why,
        who=row.who,
        at=_aware(row.at),
        current=row.content == current,
    )


def _aware(at: datetime) -> datetime:
    return at.replace(tzinfo=UTC) if at.tzinfo is None else at


def _now() -> datetime:
    return datetime.now(UTC)
