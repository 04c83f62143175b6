"""The rows of one plan, within a transaction already begun: its revisions and documents."""

import json
from collections.abc import Callable, Sequence
from datetime import UTC, date, datetime
from threading import Lock
from typing import Any

from cachetools import LRUCache
from pydantic import TypeAdapter
from sqlalchemy import bindparam, func, select
from sqlalchemy.orm import Session, aliased, load_only
from zstandard import ZstdError

from humble_relay.core.catalogue.stock import Taken, items_used, used
from humble_relay.core.frozen import Frozen
from humble_relay.core.judgement.acceptance_notes import lacks_notes, with_notes
from humble_relay.core.plan import Plan
from humble_relay.core.plan.acceptance import ComparedValues
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.upgrades import FORM, What, upgraded
from humble_relay.store.changes import NoSuchPlan
from humble_relay.store.documents import pack, unpack, unpacked_size
from humble_relay.store.tables import PlanRow, RevisionRow

_EDITS: TypeAdapter[list[Edit]] = TypeAdapter(list[Edit])
_FULL_EVERY = 100
"""A document is kept in full this often; those between are packed against it."""
_ENTRY = (RevisionRow.number, RevisionRow.content, RevisionRow.parent, RevisionRow.what, RevisionRow.why,
          RevisionRow.who, RevisionRow.at)  # fmt: skip
"""All of a revision but its document and its edits."""


class Unreadable(Exception):
    """A kept document cannot be read; the message says which, and what to do."""


class HistoryEntry(Frozen):
    """One line of a plan's history. `current` marks the content in force."""

    number: int
    content: int
    what: tuple[str, ...]
    why: str
    who: str
    at: datetime
    current: bool


def plan_row(session: Session, id: str) -> PlanRow:
    """The plan's row. Raises NoSuchPlan."""
    row = session.get(PlanRow, id)
    if row is None:
        raise NoSuchPlan(f"There is no plan called {id}.")
    return row


def revision(session: Session, id: str, number: int) -> RevisionRow | None:
    """A revision without its document."""
    return session.get(RevisionRow, (id, number), options=[load_only(*_ENTRY)])


def revision_of(session: Session, id: str, number: int) -> RevisionRow:
    """A revision that there is, without its document."""
    found = revision(session, id, number)
    assert found is not None
    return found


def entries(session: Session, id: str, after: int = 0) -> list[HistoryEntry]:
    """The revisions after a number, oldest first."""
    plan = plan_row(session, id)
    head = session.get_one(RevisionRow, (id, plan.version), options=[load_only(*_ENTRY)])
    rows = session.execute(
        select(*_ENTRY)
        .where(RevisionRow.plan_id == id, RevisionRow.number > after)
        .order_by(RevisionRow.number)
    )
    return [
        HistoryEntry(
            number=r.number, content=r.content, what=tuple(r.what), why=r.why, who=r.who, at=aware(r.at),
            current=r.content == head.content,
        )
        for r in rows
    ]  # fmt: skip


def child(session: Session, id: str, content: int) -> int | None:
    """The newest content whose parent this is, if it was left by undoing: what redo goes to."""
    return session.scalar(
        select(func.max(RevisionRow.number)).where(
            RevisionRow.plan_id == id,
            RevisionRow.parent == content,
            RevisionRow.content == RevisionRow.number,
        )
    )


def document(session: Session, id: str, content: int) -> Plan:
    """The plan as a revision left it, in today's form. Raises Unreadable."""
    row = session.get_one(RevisionRow, (id, content), populate_existing=True)
    full = None
    if row.base is not None:
        full = session.get_one(RevisionRow, (id, row.base), populate_existing=True).body or b""
    try:
        plan = _plan_in(
            row.body or b"", full, row.form, session.info.get("read_plan", Plan.model_validate_json)
        )
        return with_notes(plan, noted_of(session, id)) if lacks_notes(plan) else plan
    except (ZstdError, ValueError, KeyError, TypeError, AttributeError) as error:
        raise Unreadable(
            f"Revision {content} of {id} cannot be read ({type(error).__name__}). It is left as it is: go back to an earlier revision in the history, or restore a backup."
        ) from None


def noted_of(session: Session, id: str) -> dict[str, ComparedValues]:
    """What the accepted doubts of a plan compared when it was first opened in today's form, by finding."""
    found = session.scalar(select(PlanRow.noted).where(PlanRow.id == id)) or {}
    return {finding: ComparedValues.model_validate(values) for finding, values in found.items()}


_Packed = tuple[bytes, bytes | None, int]
_READ: LRUCache[_Packed, tuple[Plan, int]] = LRUCache(40_000_000, getsizeof=lambda kept: kept[1])
"""The last plans read or written, by the bytes of their documents: what is remembered is never out of date. So many bytes
of documents: a dozen of the usual plans and more, or three of the largest."""
_READING = Lock()
ReadPlan = Callable[[str], Plan]
"""How a document in today's form becomes a plan."""


def _plan_in(body: bytes, full: bytes | None, form: int, read: ReadPlan) -> Plan:
    """The plan in a packed document."""
    with _READING:
        found = _READ.get((body, full, form))
    if found:
        return found[0]
    text = unpack(body, unpack(full) if full is not None else None)
    plan = read(text) if form == FORM else Plan.model_validate(_upgraded("plan", text, form))
    return _remembered((body, full, form), plan, len(text))


def _remembered(packed: _Packed, plan: Plan, size: int) -> Plan:
    with _READING:
        _READ[packed] = (plan, size)
    return plan


def _upgraded(what: What, text: str, form: int) -> dict[str, Any]:
    return upgraded(what, json.loads(text), form)


def append(
    session: Session,
    plan: PlanRow,
    content: int | None,
    parent: int | None,
    what: Sequence[str],
    why: str = "",
    who: str = "",
    edits: Sequence[Edit] | None = None,
    text: str | None = None,
    whole: Plan | None = None,
) -> None:
    """One more revision: with a document, or pointing at the content of an older one. `whole` is the plan in the
    document, where it is at hand: it need not be read again."""
    plan.version += 1
    plan.changed_at = now()
    base, body = None, None
    if text is not None:
        base, body, full = _packed(session, plan.id, parent, plan.version, text)
        if whole is not None:
            _remembered((body, full, FORM), whole, len(text))
    session.add(
        RevisionRow(
            plan_id=plan.id, number=plan.version, content=content or plan.version, parent=parent, what=[*what],
            why=why, who=who, at=plan.changed_at, form=FORM, base=base, body=body,
            edits=pack(_EDITS.dump_json([*edits]).decode()) if edits is not None else None,
        )
    )  # fmt: skip
    session.flush()


def _packed(
    session: Session, id: str, parent: int | None, number: int, text: str
) -> tuple[int | None, bytes, bytes | None]:
    """What the document is packed against, its bytes, and those of what it is packed against; in full where the last
    full one is too far or too unlike."""
    if parent is not None:
        row = session.get_one(RevisionRow, (id, parent), options=[load_only(RevisionRow.base)])
        full = row.base or parent
        if number - full <= _FULL_EVERY:
            base = session.get_one(RevisionRow, (id, full), populate_existing=True)
            body = pack(text, unpack(base.body or b""))
            if len(body) < len(text) / 20:
                return full, body, base.body or b""
    return None, pack(text), None


def document_bytes(session: Session, id: str) -> int:
    """How large the plan's document is, in bytes. It is not unpacked for that. Raises NoSuchPlan."""
    begin = session.scalar(_BEGIN_OF_DOCUMENT, {"id": id})
    if begin is None:
        raise NoSuchPlan(f"There is no plan called {id}.")
    return unpacked_size(begin)


_HEAD = aliased(RevisionRow)
_BEGIN_OF_DOCUMENT = (
    select(func.substr(RevisionRow.body, 1, 18))
    .join(_HEAD, (_HEAD.plan_id == RevisionRow.plan_id) & (_HEAD.content == RevisionRow.number))
    .join(PlanRow, (PlanRow.id == _HEAD.plan_id) & (PlanRow.version == _HEAD.number))
    .where(PlanRow.id == bindparam("id"))
)


def uses_of(plan: Plan) -> dict[str, Any]:
    """What a plan takes from the stock, its first and last day, and when and where it is, as kept beside it."""
    days = days_of(plan)
    show = plan.show
    return {
        "form": FORM,
        "starts": f"{show.starts_at.astimezone(show.clock):%Y-%m-%dT%H:%M}" if show.starts_at else "",
        "where": ", ".join(site.name for site in plan.sites[:3]),
        "days": [d.isoformat() for d in days] if days else None,
        "models": used(plan) if days and plan.settings.takes_stock else {},
        "items": items_used(plan) if days and plan.settings.takes_stock else {},
    }


def taken_by_others(session: Session, id: str, days: tuple[date, date]) -> list[Taken]:
    """What the plans of the same days take. One that cannot be read takes nothing."""
    found = []
    rows = session.execute(
        select(PlanRow.id, PlanRow.name, PlanRow.version, PlanRow.uses)
        .where(PlanRow.id != id)
        .order_by(PlanRow.id)
    )
    for other, name, version, uses in rows:
        if not uses or uses.get("form") != FORM:
            try:
                uses = uses_of(
                    document(session, other, session.get_one(RevisionRow, (other, version)).content)
                )
            except Unreadable:
                continue
        when = [date.fromisoformat(d) for d in uses["days"] or ()]
        if when and when[0] <= days[1] and days[0] <= when[1]:
            items = uses["items"]
            found += [
                Taken(plan=name, model=m, count=n, items=tuple(items.get(m, ())))
                for m, n in uses["models"].items()
            ]
    return found


def days_of(plan: Plan) -> tuple[date, date] | None:
    """The first and last day of a show, in its own time."""
    first, last = plan.show.starts_at or plan.show.ends_at, plan.show.ends_at or plan.show.starts_at
    return (first.date(), last.date()) if first and last else None


def aware(at: datetime) -> datetime:
    """The moment, which SQLite keeps without its zone."""
    return at.replace(tzinfo=UTC) if at.tzinfo is None else at


def now() -> datetime:
    """The moment a change is made."""
    return datetime.now(UTC)
