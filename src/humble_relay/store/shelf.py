"""The shelf: gear models of one's own and the stock, shared by all plans."""

import json
from collections.abc import Sequence

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from humble_relay.core.catalogue.gear import Model
from humble_relay.core.catalogue.stock import Holding
from humble_relay.core.hidden_text import HIDDEN
from humble_relay.core.plan.secrets import opened_document, sealed, secrets_of
from humble_relay.core.plan.upgrades import FORM, upgraded
from humble_relay.store.changes import TooMuch
from humble_relay.store.database import Database
from humble_relay.store.tables import HoldingRow, ModelRow

MOST = 5000
"""Models, and holdings, that a shelf takes."""


class NotOnTheShelf(LookupError):
    """There is no such model or holding."""


class Shelf:
    """The models and holdings of one database. Both come out sealed."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def models(self) -> tuple[Model, ...]:
        """Every model of one's own."""
        with self._database.reading() as session:
            return tuple(sealed(m, self._database.put) for m in models_in(session))

    def holdings(self) -> tuple[Holding, ...]:
        """Every holding."""
        with self._database.reading() as session:
            return tuple(sealed(h, self._database.put) for h in holdings_in(session))

    def put_models(self, models: Sequence[Model]) -> list[Model]:
        """Adds the models, each in place of one of the same id. All or none. They come back sealed."""
        with self._database.writing() as session:
            secrets = secrets_of(models_in(session), self._database.put)
            for model in models:
                document = opened_document(model.model_dump(mode="json"), secrets, otherwise=HIDDEN)
                text = Model.model_validate(document).model_dump_json()
                session.merge(ModelRow(id=model.id, form=FORM, document=text))
            _not_too_many(session, ModelRow)
        return [sealed(m, self._database.put) for m in models]

    def remove_model(self, id: str) -> None:
        """Takes a model of one's own out; a shipped one of that id shows again. Raises LookupError."""
        self._remove(ModelRow, id, f"There is no model of your own called {id}.")

    def put_holdings(self, holdings: Sequence[Holding]) -> list[Holding]:
        """Adds the holdings, each in place of one of the same id. They come back sealed."""
        with self._database.writing() as session:
            secrets = secrets_of(holdings_in(session), self._database.put)
            for holding in holdings:
                document = opened_document(holding.model_dump(mode="json"), secrets, otherwise=HIDDEN)
                text = Holding.model_validate(document).model_dump_json()
                session.merge(HoldingRow(id=holding.id, form=FORM, document=text))
            _not_too_many(session, HoldingRow)
        return [sealed(h, self._database.put) for h in holdings]

    def remove_holding(self, id: str) -> None:
        """Takes a holding out. Raises LookupError."""
        self._remove(HoldingRow, id, f"There is no holding called {id}.")

    def _remove(self, table: type[ModelRow] | type[HoldingRow], id: str, missing: str) -> None:
        with self._database.writing() as session:
            row = session.get(table, id)
            if row is None:
                raise NotOnTheShelf(missing)
            session.delete(row)


def models_in(session: Session) -> tuple[Model, ...]:
    """The models, within a transaction already begun; one that cannot be read is left out."""
    found = []
    for row in session.scalars(select(ModelRow).order_by(ModelRow.id)):
        try:
            found.append(Model.model_validate(upgraded("model", json.loads(row.document), row.form)))
        except (ValueError, KeyError, TypeError, AttributeError):
            continue
    return tuple(found)


def holdings_in(session: Session) -> tuple[Holding, ...]:
    """The holdings, within a transaction already begun; one that cannot be read is left out."""
    found = []
    for row in session.scalars(select(HoldingRow).order_by(HoldingRow.id)):
        try:
            found.append(Holding.model_validate(upgraded("holding", json.loads(row.document), row.form)))
        except (ValueError, KeyError, TypeError, AttributeError):
            continue
    return tuple(found)


def _not_too_many(session: Session, table: type[ModelRow] | type[HoldingRow]) -> None:
    session.flush()
    if (session.scalar(select(func.count()).select_from(table)) or 0) > MOST:
        raise TooMuch(f"A shelf takes at most {MOST} of these: take some off first.")
