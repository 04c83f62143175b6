"""The crew of a plan: the code that lets a phone in, and the phones that are in, each by a token of its own, kept as a hash."""

import hashlib
import secrets
from collections.abc import Callable
from datetime import datetime

from sqlalchemy import select

from humble_relay.core.frozen import Frozen
from humble_relay.store.database import Database
from humble_relay.store.revisions import aware, now, plan_row
from humble_relay.store.tables import CrewCodeRow, CrewRow

MOST_JOINED = 500


class CrewMember(Frozen):
    """A phone of the crew: the role that was typed on it, when it joined, and whether it was sent away."""

    id: str
    name: str
    joined_at: datetime
    revoked: bool


class CrewPhone(Frozen):
    """What a token lets its phone do: read one plan, and write into its log."""

    id: str
    plan: str
    name: str


class CrewFull(ValueError):
    """More phones than a plan's crew can be."""


class Crew:
    """The crews of one database."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def code(self, plan: str, made: Callable[[], str], anew: bool = False) -> str:
        """The code of a plan's crew, made where there is none, or `anew`. Raises NoSuchPlan."""
        with self._database.reading() as session:
            plan_row(session, plan)
            row = session.get(CrewCodeRow, plan)
            if row and not anew:
                return row.code
        with self._database.writing() as session:
            row = session.get(CrewCodeRow, plan)
            if row is None:
                row = CrewCodeRow(plan_id=plan, code=made())
                session.add(row)
            elif anew:
                row.code = made()
            return row.code

    def plan_of(self, code: str) -> str | None:
        """The plan whose crew a code lets in, compared without telling by time how much of it fits."""
        with self._database.reading() as session:
            rows = session.execute(select(CrewCodeRow.plan_id, CrewCodeRow.code)).all()
        fits = [plan for plan, known in rows if secrets.compare_digest(_plain(known), _plain(code))]
        return fits[0] if fits else None

    def join(self, plan: str, name: str) -> str:
        """A token for one more phone of the crew; it is told once, and kept as a hash. Raises CrewFull."""
        token = secrets.token_urlsafe(24)
        with self._database.writing() as session:
            plan_row(session, plan)
            if len(session.scalars(select(CrewRow.id).where(CrewRow.plan_id == plan)).all()) >= MOST_JOINED:
                raise CrewFull(f"{MOST_JOINED} phones have joined this plan: send some of them away first.")
            row = CrewRow(
                id=secrets.token_hex(6),
                plan_id=plan,
                name=name,
                token=_hash(token),
                joined_at=now(),
                revoked=False,
            )
            session.add(row)
        return token

    def joined(self, token: str) -> CrewPhone | None:
        """Whose a token is; None of one that is of nobody, or was taken back."""
        with self._database.reading() as session:
            row = session.scalar(select(CrewRow).where(CrewRow.token == _hash(token)))
            return (
                None if row is None or row.revoked else CrewPhone(id=row.id, plan=row.plan_id, name=row.name)
            )

    def members(self, plan: str) -> list[CrewMember]:
        """The phones of a plan's crew, in the order they joined. Raises NoSuchPlan."""
        with self._database.reading() as session:
            plan_row(session, plan)
            rows = session.scalars(select(CrewRow).where(CrewRow.plan_id == plan).order_by(CrewRow.joined_at))
            return [
                CrewMember(id=r.id, name=r.name, joined_at=aware(r.joined_at), revoked=r.revoked)
                for r in rows
            ]

    def revoke(self, plan: str, member: str) -> None:
        """Sends a phone away: from here on its token lets nobody in. Nothing where there is none of that id."""
        with self._database.writing() as session:
            row = session.get(CrewRow, member)
            if row and row.plan_id == plan:
                row.revoked = True


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def _plain(code: str) -> bytes:
    return code.strip().lower().replace("-", "").replace(" ", "").encode()
