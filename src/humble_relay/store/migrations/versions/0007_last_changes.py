"""Which revision changed each thing last, beside the plans."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.create_table(
        "last_changes",
        sa.Column(
            "plan_id",
            sa.Text,
            sa.ForeignKey("plans.id", ondelete="CASCADE"),
            primary_key=True,
            nullable=False,
        ),
        sa.Column("noun", sa.Text, primary_key=True, nullable=False),
        sa.Column("thing", sa.Text, primary_key=True, nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("gone", sa.Boolean, nullable=False),
    )
