"""The shelf: gear models of one's own and the stock, shared by all plans."""

from collections.abc import Sequence

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from humble_relay.core.gear import Model
from humble_relay.core.stock import Holding
from humble_relay.store.tables import HoldingRow, ModelRow


class Shelf:
    """The models and holdings of one database."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine

    def models(self) -> tuple[Model, ...]:
        """Every model of one's own."""
        with Session(self._engine) as session, session.begin():
            return models_in(session)

    def holdings(self) -> tuple[Holding, ...]:
        """Every holding."""
        with Session(self._engine) as session, session.begin():
            return holdings_in(session)

    def put_models(self, models: Sequence[Model]) -> None:
        """Adds the models, each in place of one of the same id. All or none."""
        with Session(self._engine) as session, session.begin():
            for model in models:
                session.merge(ModelRow(id=model.id, document=model.model_dump_json()))

    def remove_model(self, id: str) -> None:
        """Takes a model of one's own out; a shipped one of that id shows again. Raises LookupError."""
        self._remove(ModelRow, id, f"There is no model of your own called {id}.")

    def put_holdings(self, holdings: Sequence[Holding]) -> None:
        """Adds the holdings, each in place of one of the same id."""
        with Session(self._engine) as session, session.begin():
            for holding in holdings:
                session.merge(HoldingRow(id=holding.id, document=holding.model_dump_json()))

    def remove_holding(self, id: str) -> None:
        """Takes a holding out. Raises LookupError."""
        self._remove(HoldingRow, id, f"There is no holding called {id}.")

    def _remove(self, table: type[ModelRow] | type[HoldingRow], id: str, missing: str) -> None:
        with Session(self._engine) as session, session.begin():
            row = session.get(table, id)
            if row is None:
                raise NotOnTheShelf(missing)
            session.delete(row)


class NotOnTheShelf(LookupError):
    """There is no such model or holding."""


def models_in(session: Session) -> tuple[Model, ...]:
    """The models, within a transaction already begun."""
    rows = session.scalars(select(ModelRow).order_by(ModelRow.id))
    return tuple(Model.model_validate_json(r.document) for r in rows)


def holdings_in(session: Session) -> tuple[Holding, ...]:
    """The holdings, within a transaction already begun."""
    rows = session.scalars(select(HoldingRow).order_by(HoldingRow.id))
    return tuple(Holding.model_validate_json(r.document) for r in rows)
