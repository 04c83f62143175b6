"""One log of entries instead of tables of measurements and facts, with what plans said of them: which are struck out, which tasks
are done. Plan and survey are seen together, once; every measurement and fact keeps its id."""

import json
from datetime import UTC, datetime
from typing import Any

import sqlalchemy as sa
from alembic import op

from humble_relay.core.plan.upgrades import form_13, upgraded
from humble_relay.store.documents import unpack

revision = "0008"
down_revision = "0007"
_BEFORE = 12


def upgrade() -> None:
    op.create_table(
        "entries",
        sa.Column("sequence", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("plan_id", sa.Text, sa.ForeignKey("plans.id", ondelete="CASCADE"), nullable=False),
        sa.Column("key", sa.Text, nullable=False),
        sa.Column("form", sa.Integer, nullable=False),
        sa.Column("received_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("document", sa.Text, nullable=False),
        sqlite_autoincrement=True,
    )
    op.create_index("entries_by_plan", "entries", ["plan_id", "key"], unique=True)
    op.create_index("entries_in_order", "entries", ["plan_id", "sequence"])
    db = op.get_bind()
    now = datetime.now(UTC).replace(tzinfo=None).isoformat(sep=" ")
    for (plan,) in db.exec_driver_sql("SELECT id FROM plans ORDER BY id").fetchall():
        for key, document in _log(db, plan):
            db.exec_driver_sql(
                "INSERT INTO entries (plan_id, key, form, received_at, document) VALUES (?, ?, 13, ?, ?)",
                (plan, key, now, document),
            )
    op.drop_table("measurements")
    op.drop_table("facts")
    op.drop_column("plans", "measured")


def _log(db: sa.Connection, plan: str) -> list[tuple[str, str]]:
    """The entries of a plan, by their ids. One that cannot be read is kept as it is, and says so when it is asked for."""
    found, unread = dict[str, list[dict[str, Any]]](), list[tuple[str, str]]()
    taken: set[str] = set()
    for kind, table in (("measurement", "measurements"), ("fact", "facts")):
        found[kind] = []
        rows = db.exec_driver_sql(
            f"SELECT key, form, document FROM {table} WHERE plan_id = ? ORDER BY id", (plan,)
        )
        for key, form, text in rows.fetchall():
            try:
                body = upgraded(kind, json.loads(text), form, to=_BEFORE)  # type: ignore[arg-type]
                # A measurement and a fact could have one id: entries cannot.
                found[kind].append({**body, "id": key if key not in taken else f"fact-{key}"[:60]})
            except (ValueError, KeyError, TypeError, AttributeError):
                unread.append((key, text))
            taken.add(key)
    entries = form_13.log(_plan(db, plan), found["measurement"], found["fact"])
    return [*((e["id"], json.dumps(e, separators=(",", ":"))) for e in entries), *unread]


def _plan(db: sa.Connection, plan: str) -> dict[str, Any]:
    """The plan's document as it stands, of the form before; nothing of one that cannot be read."""
    head = db.exec_driver_sql(
        "SELECT held.form, held.body, base.body FROM plans JOIN revisions AS head ON head.plan_id = plans.id AND head.number = plans.version "
        "JOIN revisions AS held ON held.plan_id = plans.id AND held.number = head.content "
        "LEFT JOIN revisions AS base ON base.plan_id = plans.id AND base.number = held.base WHERE plans.id = ?",
        (plan,),
    ).fetchone()
    try:
        form, body, full = head  # type: ignore[misc]
        found = upgraded("plan", json.loads(unpack(body, unpack(full) if full else None)), form, to=_BEFORE)
        return found if isinstance(found, dict) else {}
    except Exception:  # a damaged revision is left as it is, for whoever opens it
        return {}
