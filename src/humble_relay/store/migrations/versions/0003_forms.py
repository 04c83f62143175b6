"""Every document says its form; revisions packed; measurements and changes with ids of their own."""

from collections import defaultdict

import sqlalchemy as sa
from alembic import op

from humble_relay.store.documents import pack, unpack

revision = "0003"
down_revision = "0002"

_KEYFRAME_EVERY = 100


def upgrade() -> None:
    db = op.get_bind()
    op.add_column("plans", sa.Column("measured", sa.Integer, nullable=False, server_default="0"))
    op.add_column("plans", sa.Column("uses", sa.JSON))
    for table in ("models", "holdings", "measurements"):
        op.add_column(table, sa.Column("form", sa.Integer, nullable=False, server_default="1"))
    op.add_column("measurements", sa.Column("key", sa.Text, nullable=False, server_default=""))
    count: dict[str, int] = defaultdict(int)
    for id, plan in db.execute(sa.text("SELECT id, plan_id FROM measurements ORDER BY id")).fetchall():
        count[plan] += 1
        db.execute(
            sa.text("UPDATE measurements SET key = :key WHERE id = :id"), {"key": f"m{count[plan]}", "id": id}
        )
    for plan, measured in count.items():
        db.execute(sa.text("UPDATE plans SET measured = :n WHERE id = :id"), {"n": measured, "id": plan})
    op.drop_index("measurements_by_plan", "measurements")
    op.create_index("measurements_by_plan", "measurements", ["plan_id", "key"], unique=True)
    op.create_table(
        "settings", sa.Column("name", sa.Text, primary_key=True), sa.Column("value", sa.Text, nullable=False)
    )
    op.create_table(
        "requests",
        sa.Column("id", sa.Text, primary_key=True),
        sa.Column("plan_id", sa.Text, sa.ForeignKey("plans.id", ondelete="CASCADE"), nullable=False),
        sa.Column("digest", sa.Text, nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_index("ix_requests_plan_id", "requests", ["plan_id"])
    _pack_revisions(db)


def _pack_revisions(db: sa.Connection) -> None:
    op.rename_table("revisions", "revisions_loose")
    packed = op.create_table(
        "revisions",
        sa.Column("plan_id", sa.Text, sa.ForeignKey("plans.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("content", sa.Integer, nullable=False),
        sa.Column("parent", sa.Integer),
        sa.Column("what", sa.JSON, nullable=False),
        sa.Column("why", sa.Text, nullable=False),
        sa.Column("who", sa.Text, nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("form", sa.Integer, nullable=False),
        sa.Column("edits", sa.LargeBinary),
        sa.Column("base", sa.Integer),
        sa.Column("body", sa.LargeBinary),
    )
    frames: dict[str, tuple[int, str]] = {}
    rows = sa.text("SELECT * FROM revisions_loose ORDER BY plan_id, number")
    same = ("plan_id", "number", "content", "parent", "why", "who")
    for loose in db.execute(rows).mappings():
        plan, number, text = loose["plan_id"], loose["number"], loose["document"]
        frame = frames.get(plan)
        if text is not None and (frame is None or number - frame[0] > _KEYFRAME_EVERY):
            frame = None
        base = frame if text is not None else None
        values = {name: loose[name] for name in same} | {
            "form": 1,
            "base": base[0] if base else None,
            "body": pack(text, base[1] if base else None) if text is not None else None,
            "edits": pack(loose["edits"]) if loose["edits"] not in (None, "null") else None,
        }
        if text is not None and base is None:
            frames[plan] = (number, text)
        db.execute(
            sa.text(
                "INSERT INTO revisions (plan_id, number, content, parent, what, why, who, at, form, edits, base, body) VALUES (:plan_id, :number, :content, :parent, :what, :why, :who, :at, :form, :edits, :base, :body)"
            ),
            values | {"what": loose["what"], "at": loose["at"]},
        )
        if values["body"] is not None and unpack(values["body"], base[1] if base else None) != text:
            raise RuntimeError(f"revision {number} of {plan} does not read back")
    assert packed is not None
    op.drop_table("revisions_loose")
