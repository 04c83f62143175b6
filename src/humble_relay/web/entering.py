"""Entering by code, where the application listens beyond the machine it runs on."""

import asyncio
from typing import Annotated

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, ConfigDict, Field
from starlette.exceptions import HTTPException

from humble_relay.web.code import Code
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.problems import documented

router = APIRouter(prefix="/api", tags=["entering"], route_class=OffLoop)


class Entering(BaseModel):
    """The code as it was typed."""

    model_config = ConfigDict(extra="forbid")
    code: Annotated[str, Field(max_length=100)]


@router.post("/enter", status_code=204, responses=documented(401, 422, 429))
async def enter(entering: Entering, request: Request, response: Response) -> None:
    """Lets the browser in that knows the code shown where Humble Relay was started."""
    code: Code | None = request.app.state.code
    if code is None:
        return
    fits, after_s = code.tried(entering.code, request.client.host if request.client else "")
    await asyncio.sleep(after_s)
    if fits is None:
        raise HTTPException(429, "That was wrong too often. Wait a minute, then read the code again.")
    if not fits:
        raise HTTPException(401, "That is not the code. It is shown where Humble Relay was started.")
    response.headers["Set-Cookie"] = code.cookie(request.url.scheme == "https")
