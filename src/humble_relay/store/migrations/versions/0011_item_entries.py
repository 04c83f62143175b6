"""Which entries of which logs are about which item of the shelf."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    of = sa.ForeignKey("plans.id", ondelete="CASCADE")
    op.create_table(
        "item_entries",
        sa.Column("model", sa.Text, primary_key=True, nullable=False),
        sa.Column("item", sa.Text, primary_key=True, nullable=False),
        sa.Column("sequence", sa.Integer, primary_key=True, nullable=False),
        sa.Column("plan_id", sa.Text, of, nullable=False),
        sa.Column("device", sa.Text, nullable=False),
    )
    op.create_index("item_entries_by_plan", "item_entries", ["plan_id"])
