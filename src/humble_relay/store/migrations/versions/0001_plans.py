"""Plans, revisions, measurements."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "plans",
        sa.Column("id", sa.Text, primary_key=True),
        sa.Column("name", sa.Text, nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("changed_at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_table(
        "revisions",
        sa.Column("plan_id", sa.Text, sa.ForeignKey("plans.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("number", sa.Integer, primary_key=True),
        sa.Column("content", sa.Integer, nullable=False),
        sa.Column("parent", sa.Integer),
        sa.Column("what", sa.JSON, nullable=False),
        sa.Column("why", sa.Text, nullable=False),
        sa.Column("who", sa.Text, nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("edits", sa.JSON),
        sa.Column("document", sa.Text),
    )
    op.create_table(
        "measurements",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("plan_id", sa.Text, sa.ForeignKey("plans.id", ondelete="CASCADE"), nullable=False),
        sa.Column("document", sa.Text, nullable=False),
    )
    op.create_index("measurements_by_plan", "measurements", ["plan_id"])
