"""The crew of each plan: its code, and the phones that joined by it."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    op.create_table("crew_codes", _plan(primary_key=True), sa.Column("code", sa.Text, nullable=False))
    op.create_table(
        "crew",
        sa.Column("id", sa.Text, primary_key=True),
        _plan(),
        sa.Column("name", sa.Text, nullable=False),
        sa.Column("token", sa.Text, nullable=False),
        sa.Column("joined_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("revoked", sa.Boolean, nullable=False),
    )
    op.create_index("crew_by_token", "crew", ["token"], unique=True)


def _plan(primary_key: bool = False) -> sa.Column[str]:
    of = sa.ForeignKey("plans.id", ondelete="CASCADE")
    return sa.Column("plan_id", sa.Text, of, primary_key=primary_key, nullable=False)
