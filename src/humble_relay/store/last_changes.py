"""Which revision changed a thing last: written as the revision is, and read without any document."""

from collections.abc import Iterator
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from humble_relay.core.frozen import Frozen
from humble_relay.core.plan import NOUNS, Noun, Plan
from humble_relay.store.revisions import aware
from humble_relay.store.tables import LastChangeRow, RevisionRow


class LastChange(Frozen):
    """What changed a thing last, and when; `gone` where that took it out."""

    number: int
    at: datetime
    what: tuple[str, ...]
    gone: bool


def note_changes(session: Session, id: str, number: int, before: Plan, after: Plan) -> None:
    """Notes the revision beside every thing that it added, changed or took out."""
    rows = [
        {"plan_id": id, "noun": noun, "thing": thing, "number": number, "gone": gone}
        for noun, thing, gone in _changed(before, after)
    ]
    if not rows:
        return
    wish = insert(LastChangeRow)
    new = {"number": wish.excluded.number, "gone": wish.excluded.gone}
    session.execute(wish.on_conflict_do_update(index_elements=["plan_id", "noun", "thing"], set_=new), rows)


def _changed(before: Plan, after: Plan) -> Iterator[tuple[Noun, str, bool]]:
    for noun, row in NOUNS.items():
        was = {x.id: x for x in getattr(before, row.collection)}
        now = {x.id: x for x in getattr(after, row.collection)}
        for thing in was | now:
            old, new = was.get(thing), now.get(thing)
            if old is not new and old != new:
                yield noun, thing, new is None


def last_change(session: Session, id: str, noun: Noun, thing: str) -> LastChange | None:
    """What changed a thing last; None of one that is as the plan began, or was changed before this was noted."""
    found = session.execute(
        select(LastChangeRow.gone, RevisionRow.number, RevisionRow.at, RevisionRow.what)
        .join(
            RevisionRow,
            (RevisionRow.plan_id == LastChangeRow.plan_id) & (RevisionRow.number == LastChangeRow.number),
        )
        .where(LastChangeRow.plan_id == id, LastChangeRow.noun == noun, LastChangeRow.thing == thing)
    ).first()
    if found is None:
        return None
    return LastChange(number=found.number, at=aware(found.at), what=tuple(found.what), gone=found.gone)
