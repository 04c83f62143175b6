"""Photographs, beside the log."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    of = sa.ForeignKey("plans.id", ondelete="CASCADE")
    op.create_table(
        "photographs",
        sa.Column("plan_id", sa.Text, of, primary_key=True, nullable=False),
        sa.Column("key", sa.Text, primary_key=True, nullable=False),
        sa.Column("received_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("data", sa.LargeBinary, nullable=False),
    )
