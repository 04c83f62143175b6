"""The photographs of a plan, beside its log: in the folder and in backups of it, in no export."""

from sqlalchemy import func, select

from humble_relay.store.changes import TooMuch
from humble_relay.store.database import Database
from humble_relay.store.revisions import now, plan_row
from humble_relay.store.tables import PhotographRow

MOST_PHOTOGRAPHS = 500


class Photographs:
    """The photographs of one database."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def keep(self, plan: str, key: str, jpeg: bytes) -> None:
        """Keeps a photograph under the id that its phone gave it; one that is there already stays. Raises NoSuchPlan, TooMuch."""
        with self._database.writing() as session:
            plan_row(session, plan)
            if session.get(PhotographRow, (plan, key)):
                return
            of = select(func.count()).select_from(PhotographRow).where(PhotographRow.plan_id == plan)
            if (session.scalar(of) or 0) >= MOST_PHOTOGRAPHS:
                raise TooMuch(
                    f"There are {MOST_PHOTOGRAPHS} photographs of this plan, the most that are kept."
                )
            session.add(PhotographRow(plan_id=plan, key=key, received_at=now(), data=jpeg))

    def get(self, plan: str, key: str) -> bytes | None:
        """The photograph as JPEG; None where it is not in this folder, as after an import."""
        with self._database.reading() as session:
            row = session.get(PhotographRow, (plan, key))
            return row.data if row else None
