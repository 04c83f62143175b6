"""A plan as it is handed out: sealed, with its survey, and the stock as it finds it."""

from collections.abc import Collection, Iterable

from sqlalchemy.orm import Session

from humble_relay.core.catalogue.stock import Stock
from humble_relay.core.frozen import Frozen
from humble_relay.core.hidden_text import HIDDEN, Put, hide
from humble_relay.core.plan import Plan
from humble_relay.core.plan.secrets import sealed, sealed_text, telling_keys
from humble_relay.core.plan.survey import Survey
from humble_relay.store.log import survey_of
from humble_relay.store.revisions import child, days_of, document, revision_of, taken_by_others
from humble_relay.store.shelf import holdings_in, models_in
from humble_relay.store.tables import PlanRow


class Kept(Frozen):
    """A plan as it stands, sealed, with its version and survey; `clear` and `clear_survey` hold the secrets.

    `undoes` is what the last change did, line by line, `redoes` what the last undone one did; None where there is none.
    """

    id: str
    version: int
    plan: Plan
    survey: Survey
    stock: Stock
    undoes: tuple[str, ...] | None
    redoes: tuple[str, ...] | None
    clear: Plan
    clear_survey: Survey


def kept_at(
    put: Put,
    session: Session,
    row: PlanRow,
    content: int,
    plan: Plan | None = None,
    what: tuple[str, ...] = (),
) -> Kept:
    """The plan at a content, read from its document; or a `plan` at hand that is one version on, by the change that did `what`."""
    survey = survey_of(session, row.id)
    undoes: tuple[str, ...] | None
    redoes: tuple[str, ...] | None
    if plan is not None:
        version, undoes, redoes = row.version + 1, what, None
    else:
        version, plan = row.version, document(session, row.id, content)
        head, forward = revision_of(session, row.id, content), child(session, row.id, content)
        undoes = masked(head.what) if head.parent is not None else None
        redoes = None if forward is None else masked(revision_of(session, row.id, forward).what)
    stock = stock_for(put, session, row.id, plan)
    return sealed_kept(put, row.id, version, plan, survey, stock, undoes, redoes)


def masked(lines: Iterable[str]) -> tuple[str, ...]:
    """Lines of the history without what an older version may have written into them."""
    return tuple(hide(line, hidden) for line in lines)


def hidden(_: str) -> str:
    """What stands for a secret in the history."""
    return HIDDEN


def sealed_kept(
    put: Put,
    id: str,
    version: int,
    plan: Plan,
    survey: Survey,
    stock: Stock,
    undoes: tuple[str, ...] | None = None,
    redoes: tuple[str, ...] | None = None,
) -> Kept:
    """The plan as it stands, with a mark in place of each secret."""
    return Kept.model_construct(
        id=id, version=version, plan=sealed(plan, put), survey=sealed_survey(put, survey, telling_keys(plan)), stock=stock,
        undoes=undoes, redoes=redoes, clear=plan, clear_survey=survey,
    )  # fmt: skip


def sealed_survey(put: Put, survey: Survey, known: Collection[str]) -> Survey:
    """The survey with a mark in place of each secret, and of the plan's own keys (`known`) wherever one was written down."""
    found = tuple(sealed_text(m, put, known) if m.note or m.method else m for m in survey.measurements)
    facts = tuple(sealed_text(f, put, known) for f in survey.facts)
    return Survey.model_construct(
        measurements=found, facts=facts, withdrawn=survey.withdrawn, done=survey.done
    )


def stock_for(put: Put, session: Session, id: str, plan: Plan) -> Stock:
    """The shelf as this plan finds it: less what plans on the same day take."""
    holdings, days = tuple(sealed(h, put) for h in holdings_in(session)), days_of(plan)
    taken = taken_by_others(session, id, days) if holdings and days else []
    taken = [t.model_copy(update={"plan": hide(t.plan, put)}) for t in taken]
    models = tuple(sealed(m, put) for m in models_in(session))
    return Stock.model_construct(holdings=holdings, taken=tuple(taken), models=models)
