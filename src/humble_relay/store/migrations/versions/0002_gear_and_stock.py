"""Own gear models, and the stock."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    for table in ("models", "holdings"):
        op.create_table(
            table,
            sa.Column("id", sa.Text, primary_key=True),
            sa.Column("document", sa.Text, nullable=False),
        )
