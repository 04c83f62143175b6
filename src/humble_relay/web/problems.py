"""Errors as problem details (RFC 9457): what is wrong, and what to do about it."""

from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from humble_relay.core.edits import EditRefused
from humble_relay.formats.gear_table import UnreadableGear
from humble_relay.formats.measurements import UnreadableMeasurement
from humble_relay.formats.plan_file import LARGEST_BYTES, UnreadableFile
from humble_relay.store.plans import Entry, NoSuchPlan, NothingToDo, StalePlan
from humble_relay.store.shelf import NotOnTheShelf


class Problem(BaseModel):
    """A problem detail. `version` and `changed` come with a conflict."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    version: int | None = None
    changed: list[Entry] | None = None


_TITLES = {
    400: "The request cannot be read",
    403: "This request is not allowed",
    404: "Not found",
    405: "Not possible here",
    409: "The plan has changed in the meantime",
    413: "Too large",
    422: "This cannot be done as it stands",
    428: "The version is missing",
}

_CONTENT = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}


def documented(*statuses: int) -> dict[int | str, dict[str, Any]]:
    """The responses entry of a route that answers with these problems."""
    return {s: {"description": _TITLES[s], "content": _CONTENT} for s in statuses}


def problem(status: int, detail: str, **more: Any) -> JSONResponse:
    """A response that carries a problem detail."""
    body = Problem(title=_TITLES.get(status, "Error"), status=status, detail=detail, **more)
    return JSONResponse(
        body.model_dump(mode="json", exclude_none=True), status, media_type="application/problem+json"
    )


def install(app: FastAPI) -> None:
    """Every known error of the core, formats and store becomes a problem detail."""

    @app.exception_handler(StalePlan)
    async def _stale(_: Request, error: StalePlan) -> JSONResponse:
        lines = "; ".join(line for entry in error.changed for line in entry.what)
        detail = f"Somebody changed the plan since: {lines or 'it is at another version'}. Nothing of yours was lost: look, then send it again on version {error.version}."
        return problem(409, detail, version=error.version, changed=list(error.changed))

    @app.exception_handler(NotOnTheShelf)
    @app.exception_handler(NoSuchPlan)
    async def _missing(_: Request, error: LookupError) -> JSONResponse:
        return problem(404, str(error))

    async def _refused(_: Request, error: Exception) -> JSONResponse:
        return problem(422, str(error))

    for kind in (EditRefused, NothingToDo, UnreadableFile, UnreadableGear, UnreadableMeasurement):
        app.add_exception_handler(kind, _refused)

    @app.exception_handler(RequestValidationError)
    async def _invalid(_: Request, error: RequestValidationError) -> JSONResponse:
        errors = error.errors()
        unreadable = any(e["type"] == "json_invalid" for e in errors)
        said = [f"{'.'.join(str(p) for p in e['loc'][1:]) or 'body'}: {e['msg']}" for e in errors[:3]]
        return problem(400 if unreadable else 422, "; ".join(said))

    @app.exception_handler(HTTPException)
    async def _http(_: Request, error: HTTPException) -> JSONResponse:
        return problem(error.status_code, str(error.detail))


class BodyLimit:
    """Middleware: refuses bodies over the limit as they arrive, whether or not they announce their length."""

    def __init__(self, app: Any, largest: int = LARGEST_BYTES + 100_000) -> None:
        self._app, self._largest = app, largest

    async def __call__(self, scope: Any, receive: Any, send: Any) -> None:
        """Reads the whole body first, so that nothing is begun that has to be stopped halfway."""
        if scope["type"] != "http" or scope["method"] in ("GET", "HEAD", "OPTIONS"):
            await self._app(scope, receive, send)
            return
        body, more = bytearray(), True
        while more:
            message = await receive()
            body += message.get("body", b"")
            more = message.get("more_body", False)
            if len(body) > self._largest:
                detail = f"That is more than {self._largest / 1e6:.0f} MB. A plan file is far smaller: is it the right file?"
                await problem(413, detail)(scope, receive, send)
                return
        parts = iter([{"type": "http.request", "body": bytes(body), "more_body": False}])

        async def replay() -> Any:
            return next(parts, None) or await receive()

        await self._app(scope, replay, send)
