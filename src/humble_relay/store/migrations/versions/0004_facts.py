"""What was found out about things, beside the measurements of lines."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    op.create_table(
        "facts",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("plan_id", sa.Text, sa.ForeignKey("plans.id", ondelete="CASCADE"), nullable=False),
        sa.Column("key", sa.Text, nullable=False),
        sa.Column("form", sa.Integer, nullable=False),
        sa.Column("document", sa.Text, nullable=False),
    )
    op.create_index("facts_by_plan", "facts", ["plan_id", "key"], unique=True)
