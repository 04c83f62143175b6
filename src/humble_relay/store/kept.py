"""A plan as it is handed out: sealed, with its survey, and the stock as it finds it."""

from sqlalchemy.orm import Session

from humble_relay.core.catalogue.stock import Stock
from humble_relay.core.frozen import Frozen
from humble_relay.core.hidden_text import Put, hide
from humble_relay.core.plan import Plan
from humble_relay.core.plan.secrets import sealed
from humble_relay.core.plan.survey import Survey
from humble_relay.store.revisions import child, days_of, document, revision_of, survey_of, taken_by_others
from humble_relay.store.shelf import holdings_in, models_in
from humble_relay.store.tables import PlanRow


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


def kept_at(
    put: Put,
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
        can_undo = revision_of(session, row.id, content).parent is not None
    if can_redo is None:
        can_redo = child(session, row.id, content) is not None
    stock = stock_for(put, session, row.id, plan)
    return sealed_kept(put, row.id, version, plan, survey, stock, can_undo, can_redo)


def sealed_kept(
    put: Put, id: str, version: int, plan: Plan, survey: Survey, stock: Stock, can_undo: bool, can_redo: bool
) -> Kept:
    """The plan as it stands, with a mark in place of each secret."""
    return Kept.model_construct(
        id=id, version=version, plan=sealed(plan, put), survey=sealed_survey(put, survey), stock=stock,
        can_undo=can_undo, can_redo=can_redo, clear=plan, clear_survey=survey,
    )  # fmt: skip


def sealed_survey(put: Put, survey: Survey) -> Survey:
    """The survey with a mark in place of each secret."""
    found = tuple(sealed(m, put) if m.note or m.method else m for m in survey.measurements)
    return Survey.model_construct(measurements=found, facts=tuple(sealed(f, put) for f in survey.facts))


def stock_for(put: Put, session: Session, id: str, plan: Plan) -> Stock:
    """The shelf as this plan finds it: less what plans on the same day take."""
    holdings, days = tuple(sealed(h, put) for h in holdings_in(session)), days_of(plan)
    taken = taken_by_others(session, id, days) if holdings and days else []
    taken = [t.model_copy(update={"plan": hide(t.plan, put)}) for t in taken]
    models = tuple(sealed(m, put) for m in models_in(session))
    return Stock.model_construct(holdings=holdings, taken=tuple(taken), models=models)
