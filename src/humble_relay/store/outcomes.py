"""What a change makes of a plan: worked out on what a reader sees, before anything is written."""

from collections.abc import Callable, Sequence
from typing import NamedTuple

from sqlalchemy.orm import Session

from humble_relay.core.hidden_text import Put, hide
from humble_relay.core.plan import NOUNS, Plan
from humble_relay.core.plan.edits.draft import told
from humble_relay.core.plan.secrets import marked, opened, sealed, telling_keys
from humble_relay.core.plan.survey import Found, Survey, numbered
from humble_relay.store.changes import (
    Edited,
    Measured,
    NothingToDo,
    PlanChange,
    Redone,
    Restored,
    TooMuch,
    Undone,
    UnknownThing,
)
from humble_relay.store.kept import Kept, hidden, kept_at, sealed_survey
from humble_relay.store.revisions import child, document, revision, revision_of
from humble_relay.store.tables import PlanRow, RevisionRow

LARGEST_PLAN, LARGEST_SURVEY = 12_000_000, 24_000_000
"""Bytes of a plan's document and of its measurements: what is exported can be imported again."""
MOST_LINES = 60
"""Lines of one change that its history tells, and revisions that a conflict tells."""


class Outcome(NamedTuple):
    """A change worked out: the plan as it will stand, and what is to be written."""

    kept: Kept
    content: int | None
    parent: int | None
    what: tuple[str, ...]
    text: str | None = None
    added: Survey | None = None
    measured: tuple[int, int] = (0, 0)
    """How many measurements and facts there were."""


def worked_out(
    put: Put, session: Session, row: PlanRow, change: PlanChange, secrets: Callable[[Plan], dict[str, str]]
) -> Outcome:
    """What the change makes of the plan as it stands. Raises EditRefused, NothingToDo, UnknownThing, TooMuch.

    `secrets` are those that marks in the edits may stand for.
    """
    head = revision_of(session, row.id, row.version)
    match change:
        case Edited():
            before = document(session, row.id, head.content)
            edits = opened(change.edits, secrets(before) if marked(change.edits) else {})
            plan, lines = told(before, edits, lambda thing: sealed(thing, hidden))
            text = plan.model_dump_json()
            not_too_large(text, Survey())
            known = telling_keys(before) | telling_keys(plan)
            if len(lines) > MOST_LINES:
                lines = [*lines[:MOST_LINES], f"and {len(lines) - MOST_LINES} more"]
            what = tuple(hide(line, hidden, known) for line in lines)
            kept = kept_at(put, session, row, head.content, plan, what)
            return Outcome(kept, None, head.content, what, text)
        case Undone():
            if head.content != head.number:
                head = revision_of(session, row.id, head.content)
            if head.parent is None:
                raise NothingToDo("There is nothing to undo: this is how the plan began.")
            return _gone_to(put, session, row, head.parent, "undid", head)
        case Redone():
            forward = child(session, row.id, head.content)
            if forward is None:
                raise NothingToDo("There is nothing to redo.")
            return _gone_to(put, session, row, forward, "did again", revision_of(session, row.id, forward))
        case Restored(number):
            found = revision(session, row.id, number)
            if found is None:
                raise NothingToDo(f"There is no revision {number} of this plan.")
            return _gone_to(put, session, row, found.content, f"went back to revision {found.content}", None)
        case Measured():
            return _measured(put, session, row, head.content, change)


def _gone_to(
    put: Put, session: Session, row: PlanRow, content: int, verb: str, named: RevisionRow | None
) -> Outcome:
    parent = revision_of(session, row.id, row.version).content
    what = tuple(f"{verb}: {line}" for line in named.what) if named else (verb,)
    kept = kept_at(put, session, row, content)
    return Outcome(kept.model_copy(update={"version": row.version + 1}), content, parent, what)


def _measured(put: Put, session: Session, row: PlanRow, content: int, change: Measured) -> Outcome:
    kept = kept_at(put, session, row, content)
    known = {u.id for u in kept.clear.uplinks}
    for m in change.measurements:
        if m.uplink not in known:
            raise UnknownThing(f"The plan has no uplink called {m.uplink}: add it before measuring it.")
    for fact in change.facts:
        if fact.thing not in {x.id for x in getattr(kept.clear, NOUNS[fact.noun].collection)}:
            raise UnknownThing(f"The plan has no {fact.noun} called {fact.thing}: add it first.")
    there = kept.clear_survey
    whole = numbered((*there.measurements, *_anew(change.measurements, there.measurements)), row.measured + 1)
    facts = numbered((*there.facts, *_anew(change.facts, there.facts)), len(there.facts) + 1, "f")
    survey = Survey.model_construct(measurements=whole, facts=facts)
    not_too_large("", survey)
    kept = kept.model_copy(update={"clear_survey": survey, "survey": sealed_survey(put, survey)})
    added = Survey.model_construct(
        measurements=whole[len(there.measurements) :], facts=facts[len(there.facts) :]
    )
    return Outcome(kept, None, None, (), added=added, measured=(row.measured, len(there.facts)))


def _anew(added: Sequence[Found], there: Sequence[Found]) -> list[Found]:
    """What is added, without the ids that are in use."""
    taken = {x.id for x in there}
    return [x if x.id not in taken else x.model_copy(update={"id": None}) for x in added]


def not_too_large(text: str, survey: Survey) -> None:
    """Raises TooMuch for more than a plan can hold."""
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
