"""Changes that were made, by the id their sender gave them: sent again, none is made again."""

import hashlib
import json
from datetime import timedelta

from pydantic import BaseModel
from sqlalchemy import delete
from sqlalchemy.orm import Session

from humble_relay.store.revisions import now
from humble_relay.store.tables import RequestRow

_REMEMBERED = timedelta(days=60)
"""How long a change's id is remembered."""


class RequestReused(ValueError):
    """The id of a request was given to another one before."""


def digest(*parts: object, kind: str = "") -> str:
    """What tells one change from another."""

    def plain(part: object) -> object:
        if isinstance(part, BaseModel):
            return part.model_dump(mode="json")
        return [plain(x) for x in part] if isinstance(part, list | tuple) else part

    text = json.dumps([kind, plain(parts)], sort_keys=True)
    return hashlib.sha256(text.encode()).hexdigest()


def done_before(session: Session, request: str | None, mark: str, older: bool = False) -> str | None:
    """The plan the request was made on, if it was. Raises RequestReused where it was another change.

    What was made in an older form and is sent again in today's cannot be compared: its id alone tells.
    """
    row = session.get(RequestRow, request) if request else None
    if row is None:
        return None
    if row.digest != mark and not older:
        raise RequestReused(
            "The id of this change was given to another change before: send it with one of its own."
        )
    return row.plan_id


def remember(session: Session, request: str | None, id: str, mark: str) -> None:
    """Keeps the request's id with what it did, in the same transaction."""
    if request:
        session.execute(delete(RequestRow).where(RequestRow.at < now() - _REMEMBERED))
        session.add(RequestRow(id=request, plan_id=id, digest=mark, at=now()))
