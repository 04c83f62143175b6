"""Photographs sent and seen: each is made small and plain by a helper before it is kept."""

import base64
from typing import Annotated

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, ConfigDict, Field
from starlette.exceptions import HTTPException

from humble_relay.core.frozen import Slug
from humble_relay.formats.photograph import UnreadablePhotograph, plain_jpeg
from humble_relay.store.photographs import Photographs
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Pulsed

router = APIRouter(prefix="/api/plans", tags=["log"], route_class=OffLoop)


class NewPhotograph(BaseModel):
    """A photograph as a file in base64 (RFC 4648 §4), under an id of its phone's: sent again, it is there once."""

    model_config = ConfigDict(extra="forbid")
    id: Slug
    data: Annotated[str, Field(min_length=1, max_length=4_900_000)]


@router.post("/{id}/photographs", status_code=204, responses=documented(404, 422))
def keep_photograph(id: Slug, new: NewPhotograph, request: Request, pulse: Pulsed) -> None:
    """Keeps a photograph: as JPEG of at most 2 MB, without what its camera wrote into it."""
    photographs: Photographs = request.app.state.photographs
    try:
        data = base64.b64decode(new.data, validate=True)
    except ValueError:
        raise HTTPException(422, "This is no file in base64: send it again.") from None
    try:
        photographs.keep(id, new.id, pulse.helped(plain_jpeg, data))
    except UnreadablePhotograph as wrong:
        raise HTTPException(422, str(wrong)) from None


@router.get(
    "/{id}/photographs/{photo}",
    responses={**documented(404, 422), 200: {"content": {"image/jpeg": {}}}},
    response_class=Response,
)
def get_photograph(id: Slug, photo: Slug, request: Request) -> Response:
    """A photograph, as JPEG."""
    photographs: Photographs = request.app.state.photographs
    found = photographs.get(id, photo)
    if found is None:
        raise HTTPException(
            404, "This photograph is not in this folder: photographs are in backups, and in no export."
        )
    return Response(found, media_type="image/jpeg")
