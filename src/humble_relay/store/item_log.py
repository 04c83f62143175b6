"""Which entries are about which item of the shelf, across the logs of all plans."""

from collections.abc import Collection, Sequence

from sqlalchemy import insert, select, tuple_
from sqlalchemy.orm import Session

from humble_relay.core.log.entries import AnyEntry, LostEntry, SeenEntry, WithdrawalEntry
from humble_relay.core.plan import Plan
from humble_relay.core.setup.items import ItemEntry
from humble_relay.store.log import Acknowledged, read_entry
from humble_relay.store.revisions import Unreadable
from humble_relay.store.tables import EntryRow, ItemEntryRow

_MOST = 4000
"""Entries about the items of one plan that are read, the newest ones."""


def note_items(
    session: Session, id: str, plan: Plan, entries: Sequence[AnyEntry], kept: Sequence[Acknowledged]
) -> None:
    """Notes beside entries that were just kept which items they are about, as the plan names them now."""
    named = {d.id: (d.model, d.item) for d in plan.devices if d.item}
    at = {a.id: a.sequence for a in kept if a.sequence is not None}
    rows = [
        {"model": model, "item": item, "sequence": at[entry.id], "plan_id": id, "device": device}
        for entry in entries
        if entry.id in at
        for device, (model, item) in _about(session, id, entry, named).items()
    ]
    if rows:
        session.execute(insert(ItemEntryRow).prefix_with("OR IGNORE"), rows)


def _about(
    session: Session, id: str, entry: AnyEntry, named: dict[str, tuple[str, str]]
) -> dict[str, tuple[str, str]]:
    match entry:
        case LostEntry():
            devices = {entry.body.device}
        case SeenEntry():
            devices = {seen.step.partition(":")[0] for seen in entry.body.steps}
        case WithdrawalEntry():
            of = select(ItemEntryRow).join(EntryRow, EntryRow.sequence == ItemEntryRow.sequence)
            rows = session.scalars(of.where(EntryRow.plan_id == id, EntryRow.key == entry.body.of))
            return {row.device: (row.model, row.item) for row in rows}
        case _:
            return {}
    return {device: named[device] for device in devices if device in named}


def item_entries(session: Session, id: str, items: Collection[tuple[str, str]]) -> list[ItemEntry]:
    """What the logs of the other plans say of the items (model and label), oldest first; what was withdrawn there is left out, and so
    is what cannot be read."""
    if not items:
        return []
    rows = session.execute(
        select(ItemEntryRow, EntryRow)
        .join(EntryRow, EntryRow.sequence == ItemEntryRow.sequence)
        .where(tuple_(ItemEntryRow.model, ItemEntryRow.item).in_(list(items)), ItemEntryRow.plan_id != id)
        .order_by(EntryRow.sequence.desc())
        .limit(_MOST)
    ).all()
    found: list[tuple[tuple[str, str], ItemEntry]] = []
    out: dict[tuple[str, str], bool] = {}
    for about, row in reversed(rows):
        try:
            entry = read_entry(row.plan_id, row.sequence, row.key, row.form, row.received_at, row.document)
        except Unreadable:
            continue
        if isinstance(entry, WithdrawalEntry):
            out[row.plan_id, entry.body.of] = entry.body.withdrawn
        elif isinstance(entry, SeenEntry | LostEntry):
            found.append(((row.plan_id, entry.id), ItemEntry(about.model, about.item, about.device, entry)))
    return [entry for key, entry in found if not out.get(key)]
