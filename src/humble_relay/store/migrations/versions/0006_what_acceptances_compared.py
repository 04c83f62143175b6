"""What the accepted doubts of a plan of an older form compare, noted when its folder is opened."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.add_column("plans", sa.Column("noted", sa.JSON, nullable=True))
