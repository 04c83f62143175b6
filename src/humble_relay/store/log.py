"""The log of a plan as it is kept: entries in the order they came, each once; nothing of it is ever changed."""

import json
from collections.abc import Iterable, Sequence
from datetime import datetime
from typing import Any

from cachetools import LRUCache
from pydantic import TypeAdapter
from sqlalchemy import func, insert, select
from sqlalchemy.orm import Session

from humble_relay.core.frozen import Frozen, Slug
from humble_relay.core.hidden_text import Put
from humble_relay.core.log.entries import (
    MOST_ENTRIES,
    AnyEntry,
    Entry,
    FactEntry,
    FaultEntry,
    LostEntry,
    MeasurementEntry,
    SeenEntry,
    same_entry,
    subject_of,
)
from humble_relay.core.log.fold import folded
from humble_relay.core.plan import NOUNS, Plan
from humble_relay.core.plan.secrets import sealed_text, telling_keys
from humble_relay.core.plan.survey import Survey
from humble_relay.core.plan.upgrades import FORM, upgraded
from humble_relay.store.changes import TooMuch
from humble_relay.store.revisions import Unreadable, aware, document, now, revision_of
from humble_relay.store.tables import EntryRow, LastChangeRow, PlanRow

LARGEST_LOG = 24_000_000
"""Bytes of a log: what is exported can be imported again."""
_ENTRY: TypeAdapter[AnyEntry] = TypeAdapter(Entry)


class Acknowledged(Frozen):
    """What became of an entry that was sent: its place in the log, or why it was not taken."""

    id: Slug
    sequence: int | None = None
    why: str = ""


def log_in(session: Session, id: str, after: int = 0) -> tuple[AnyEntry, ...]:
    """The entries of a plan behind a place in the log, oldest first. Raises Unreadable."""
    rows = session.execute(
        select(EntryRow.sequence, EntryRow.key, EntryRow.form, EntryRow.received_at, EntryRow.document)
        .where(EntryRow.plan_id == id, EntryRow.sequence > after)
        .order_by(EntryRow.sequence)
    )
    return tuple(read_entry(id, *row) for row in rows)


def sealed_log(put: Put, session: Session, row: PlanRow, after: int = 0) -> tuple[AnyEntry, ...]:
    """The same, with a mark in place of each secret, and of the plan's own keys wherever one was written down."""
    try:
        known = telling_keys(document(session, row.id, revision_of(session, row.id, row.version).content))
    except Unreadable:
        known = frozenset()
    return tuple(sealed_text(e, put, known) for e in log_in(session, row.id, after))


def survey_of(session: Session, id: str) -> Survey:
    """What the plan's log comes to. Raises Unreadable."""
    last = session.scalar(select(func.max(EntryRow.sequence)).where(EntryRow.plan_id == id)) or 0
    known: LRUCache[tuple[str, int], Survey] = session.info.setdefault("surveys", LRUCache(16))
    found = known.get((id, last))
    if found is None:
        found = folded(log_in(session, id))
        known[id, last] = found
    return found


def add_entries(
    session: Session, id: str, plan: Plan | None, entries: Sequence[AnyEntry]
) -> list[Acknowledged]:
    """Adds the entries that are not there yet, and says of each what became of it. Raises TooMuch, Unreadable.

    One that was sent before has the place it had. One of a thing that the `plan` never had is not taken; without a plan, all are.
    """
    there, refused = _by_key(session, id, entries), dict[str, str]()
    _not_too_much(session, id, entries)
    received, fresh = now(), dict[str, AnyEntry]()
    for entry in entries:
        known = there.get(entry.id) or fresh.get(entry.id)
        if known is None and (why := plan and _unknown(session, id, plan, entry)):
            refused[entry.id] = why
        elif known is None:
            fresh[entry.id] = entry
        elif not same_entry(known, entry):
            refused[entry.id] = "Another entry has this id: send it under one of its own."
    if fresh:
        rows = [
            {
                "plan_id": id,
                "key": e.id,
                "form": FORM,
                "received_at": e.received_at or received,
                "document": document_of(e),
            }
            for e in fresh.values()
        ]
        session.execute(insert(EntryRow), rows)
    there |= _by_key(session, id, fresh.values())
    return [
        Acknowledged(id=e.id, why=refused[e.id])
        if e.id in refused
        else Acknowledged(id=e.id, sequence=there[e.id].sequence)
        for e in entries
    ]


def _by_key(session: Session, id: str, entries: Iterable[AnyEntry]) -> dict[str, AnyEntry]:
    """Those of the entries that are kept, by their ids."""
    keys, found = [e.id for e in entries], dict[str, AnyEntry]()
    for at in range(0, len(keys), 500):
        rows = session.execute(
            select(EntryRow.sequence, EntryRow.key, EntryRow.form, EntryRow.received_at, EntryRow.document)
            .where(EntryRow.plan_id == id, EntryRow.key.in_(keys[at : at + 500]))
        )  # fmt: skip
        found |= {row.key: read_entry(id, *row) for row in rows}
    return found


def document_of(entry: AnyEntry) -> str:
    """The entry as it is kept: what the server adds to it stands beside it."""
    return entry.model_dump_json(exclude={"received_at", "sequence"}, exclude_defaults=True)[:-1] + (
        f',"kind":"{entry.kind}"}}'
    )


def read_entry(id: str, sequence: int, key: str, form: int, received_at: datetime, text: str) -> AnyEntry:
    """An entry of a plan's log, out of its row. Raises Unreadable."""
    try:
        doc: dict[str, Any] = json.loads(text)
        if form < FORM:
            doc = upgraded("entry", doc, form)
        return _ENTRY.validate_python(
            {**doc, "id": key, "sequence": sequence, "received_at": aware(received_at)}
        )
    except (ValueError, KeyError, TypeError, AttributeError) as error:
        raise Unreadable(f"Entry {key} in the log of {id} cannot be read ({type(error).__name__}).") from None


def _unknown(session: Session, id: str, plan: Plan, entry: AnyEntry) -> str:
    """Why an entry is of nothing that the plan has or had; empty where it is."""
    match entry:
        case MeasurementEntry():
            noun, thing = "uplink", entry.body.uplink
        case FactEntry():
            noun, thing = entry.body.noun, entry.body.thing
        case SeenEntry() | LostEntry() | FaultEntry():
            noun, thing = subject_of(entry)
        case _:
            return ""
    if any(x.id == thing for x in getattr(plan, NOUNS[noun].collection)):  # type: ignore[index]
        return ""
    if session.get(LastChangeRow, (id, noun, thing)):
        return ""  # it was taken out meanwhile: what was found is kept all the same
    what = "measuring it" if noun == "uplink" else "writing down what was found"
    return f"The plan has no {noun} called {thing}: add it before {what}."


def _not_too_much(session: Session, id: str, added: Sequence[AnyEntry]) -> None:
    count, size = session.execute(
        select(func.count(), func.coalesce(func.sum(func.length(EntryRow.document)), 0)).where(
            EntryRow.plan_id == id
        )
    ).one()
    log_not_too_large(added, count, size)


def log_not_too_large(added: Sequence[AnyEntry], count: int = 0, size: int = 0) -> None:
    """Raises TooMuch for more entries than a plan keeps, beside `count` of `size` bytes that are there."""
    if count + len(added) > MOST_ENTRIES:
        raise TooMuch(f"That would be {count + len(added)} entries; a plan keeps at most {MOST_ENTRIES}.")
    if count + len(added) > 5000:  # an entry is at most 4 kB
        size += sum(len(document_of(e).encode()) for e in added)
        if size > LARGEST_LOG:
            raise TooMuch(
                f"The log would be more than {LARGEST_LOG / 1e6:.0f} MB; shorten the notes of the measurements."
            )
