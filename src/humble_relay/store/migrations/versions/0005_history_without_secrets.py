"""Lines of history that an older version wrote with a secret in them: an address whole, a stream id, a password cut before its `@`."""

import json
import re

import sqlalchemy as sa
from alembic import op

from humble_relay.core.hidden_text import HIDDEN, hide

revision = "0005"
down_revision = "0004"

_STREAM_ID = re.compile(r"^((?:undid: |did again: )*)stream id of .* → .*$", re.DOTALL)
_CUT_PASSWORD = re.compile(r"(://[^\s/@:]*:)(?!\d+( →|$))[^\s/@]+(?= →|$)")


def upgrade() -> None:
    connection = op.get_bind()
    for plan, number, text, why in connection.execute(
        sa.text("SELECT plan_id, number, what, why FROM revisions")
    ).all():
        what = json.loads(text)
        clean, plain = [_clean(line) for line in what], _clean(why)
        if (clean, plain) != (what, why):
            connection.execute(
                sa.text(
                    "UPDATE revisions SET what = :what, why = :why WHERE plan_id = :plan AND number = :number"
                ),
                {"what": json.dumps(clean), "why": plain, "plan": plan, "number": number},
            )


def _clean(line: str) -> str:
    line = hide(_STREAM_ID.sub(r"\1stream id set", line), lambda _: HIDDEN)
    return _CUT_PASSWORD.sub(rf"\1{HIDDEN}", line)
