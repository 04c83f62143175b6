"""What a change makes of a plan: worked out on what a reader sees, before anything is written."""

from collections.abc import Callable
from secrets import token_hex
from typing import NamedTuple

from sqlalchemy.orm import Session

from humble_relay.core.hidden_text import Put, hide
from humble_relay.core.judging.found import typed_over, with_entries
from humble_relay.core.log.entries import AnyEntry
from humble_relay.core.plan import Plan
from humble_relay.core.plan.edits.draft import told
from humble_relay.core.plan.secrets import marked, opened, sealed, telling_keys
from humble_relay.store.changes import (
    Edited,
    NothingToDo,
    PlanChange,
    Redone,
    Restored,
    TooMuch,
    Undone,
)
from humble_relay.store.kept import Kept, hidden, kept_at, sealed_survey
from humble_relay.store.log import survey_of
from humble_relay.store.revisions import child, document, now, revision, revision_of
from humble_relay.store.tables import PlanRow, RevisionRow

LARGEST_PLAN = 12_000_000
"""Bytes of a plan's document: what is exported can be imported again."""
MOST_LINES = 60
"""Lines of one change that its history tells, and revisions that a conflict tells."""


class Outcome(NamedTuple):
    """A change worked out: the plan as it will stand, and what is to be written."""

    kept: Kept
    content: int | None
    parent: int | None
    what: tuple[str, ...]
    text: str | None = None
    entries: tuple[AnyEntry, ...] = ()
    """What corrects what was found, where it was typed over."""


def worked_out(
    put: Put, session: Session, row: PlanRow, change: PlanChange, secrets: Callable[[Plan], dict[str, str]]
) -> Outcome:
    """What the change makes of the plan as it stands. Raises EditRefused, NothingToDo, TooMuch.

    `secrets` are those that marks in the edits may stand for.
    """
    head = revision_of(session, row.id, row.version)
    match change:
        case Edited():
            before = document(session, row.id, head.content)
            edits = opened(change.edits, secrets(before) if marked(change.edits) else {})
            survey = survey_of(session, row.id)
            over, of_plan = typed_over(survey, edits, now(), f"over-{token_hex(8)}")
            if over and not of_plan:
                # What was found is corrected, and the plan stays as it is: there is nothing to undo.
                kept = _corrected(put, kept_at(put, session, row, head.content), over)
                return Outcome(kept, None, None, (), None, over)
            plan, lines = told(before, of_plan, lambda thing: sealed(thing, hidden))
            text = plan.model_dump_json()
            not_too_large(text)
            known = telling_keys(before) | telling_keys(plan)
            if len(lines) > MOST_LINES:
                lines = [*lines[:MOST_LINES], f"and {len(lines) - MOST_LINES} more"]
            what = tuple(hide(line, hidden, known) for line in lines)
            kept = kept_at(put, session, row, head.content, plan, what)
            return Outcome(_corrected(put, kept, over), None, head.content, what, text, over)
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


def _corrected(put: Put, kept: Kept, over: tuple[AnyEntry, ...]) -> Kept:
    """The plan with what was found, once it is corrected."""
    survey = with_entries(kept.clear_survey, over)
    if survey is kept.clear_survey:
        return kept
    return kept.model_copy(
        update={"clear_survey": survey, "survey": sealed_survey(put, survey, telling_keys(kept.clear))}
    )


def _gone_to(
    put: Put, session: Session, row: PlanRow, content: int, verb: str, named: RevisionRow | None
) -> Outcome:
    parent = revision_of(session, row.id, row.version).content
    what = tuple(f"{verb}: {line}" for line in named.what) if named else (verb,)
    kept = kept_at(put, session, row, content)
    return Outcome(kept.model_copy(update={"version": row.version + 1}), content, parent, what)


def not_too_large(text: str) -> None:
    """Raises TooMuch for more than a plan can hold."""
    if len(text.encode()) > LARGEST_PLAN:
        raise TooMuch(
            f"The plan would be larger than {LARGEST_PLAN / 1e6:.0f} MB, the most that can be kept."
        )
