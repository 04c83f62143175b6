"""Errors as problem details (RFC 9457): what is wrong, and what to do about it."""

from collections.abc import Mapping, Sequence
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel, ValidationError
from starlette.exceptions import HTTPException

from humble_relay.core.hidden_text import HIDDEN, hide
from humble_relay.core.patience import Stopped
from humble_relay.core.plan.edits.draft import EditRefused, plain_reason
from humble_relay.core.plan.upgrades import NewerForm
from humble_relay.formats.gear_table import UnreadableGear
from humble_relay.formats.measurements import UnreadableMeasurement
from humble_relay.formats.plan_file import UnreadableFile
from humble_relay.store.changes import NoSuchPlan, NothingToDo, TooMuch
from humble_relay.store.plans import StalePlan
from humble_relay.store.requests import RequestReused
from humble_relay.store.revisions import HistoryEntry, Unreadable
from humble_relay.store.shelf import NotOnTheShelf
from humble_relay.store.trouble import StoreTrouble


class Problem(BaseModel):
    """A problem detail. `version` and `changed` come with a conflict."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    version: int | None = None
    changed: list[HistoryEntry] | None = None


_TITLES = {
    400: "The request cannot be read",
    401: "Code needed",
    403: "This request is not allowed",
    404: "Not found",
    405: "Not possible here",
    408: "Not all of it arrived",
    409: "The plan has changed in the meantime",
    413: "Too large",
    415: "Not JSON",
    422: "This cannot be done as it stands",
    428: "The version is missing",
    429: "Too often",
    500: "A fault of the program or of its data",
    503: "Not just now",
    507: "No room",
}

_CONTENT = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}


def documented(*statuses: int) -> dict[int | str, dict[str, Any]]:
    """The responses entry of a route that answers with these problems."""
    return {s: {"description": _TITLES[s], "content": _CONTENT} for s in statuses}


def problem(status: int, detail: str, **more: Any) -> JSONResponse:
    """A response that carries a problem detail. Whatever was typed into an address is masked."""
    detail = hide(detail[:3000], lambda _: HIDDEN).encode("utf-8", "replace").decode()
    body = Problem(title=_TITLES.get(status, "Error"), status=status, detail=detail, **more)
    return JSONResponse(
        body.model_dump(mode="json", exclude_none=True), status, media_type="application/problem+json"
    )


def _wrong(error: Mapping[str, Any]) -> str:
    """What is wrong with one of the things sent."""
    return "is missing" if error["type"] == "missing" else error["msg"].removeprefix("Value error, ")


def _said_of(where: Sequence[object], wrong: str) -> str:
    """What is wrong, and where in what was sent; the items of a list are counted from 1."""
    parts = (f"{part + 1}" if isinstance(part, int) else str(part) for part in where)
    return f"{' '.join(parts) or 'body'}: {wrong}"


def install(app: FastAPI) -> None:
    """Every known error of the core, formats and store becomes a problem detail."""

    @app.exception_handler(StalePlan)
    async def _stale(_: Request, error: StalePlan) -> JSONResponse:
        lines = "; ".join(line for entry in error.changed for line in entry.what)
        detail = f"The plan was changed since: {lines or 'it is at another version'}. Nothing of yours was lost: look, then send it again on version {error.version}."
        return problem(409, detail, version=error.version, changed=list(error.changed))

    @app.exception_handler(NotOnTheShelf)
    @app.exception_handler(NoSuchPlan)
    async def _missing(_: Request, error: LookupError) -> JSONResponse:
        return problem(404, str(error))

    async def _refused(_: Request, error: Exception) -> JSONResponse:
        return problem(422, str(error))

    for kind in (
        EditRefused, NothingToDo, UnreadableFile, UnreadableGear, UnreadableMeasurement, NewerForm, TooMuch,
        RequestReused,
    ):  # fmt: skip
        app.add_exception_handler(kind, _refused)

    @app.exception_handler(ValidationError)
    async def _misshapen(_: Request, error: ValidationError) -> JSONResponse:
        return problem(422, plain_reason(error))

    @app.exception_handler(StoreTrouble)
    async def _trouble(_: Request, error: StoreTrouble) -> JSONResponse:
        return problem(507 if error.kind == "full" else 503, str(error))

    @app.exception_handler(Stopped)
    async def _stopped(_: Request, error: Stopped) -> JSONResponse:
        return problem(503, str(error))

    @app.exception_handler(Unreadable)
    async def _unreadable(_: Request, error: Unreadable) -> JSONResponse:
        return problem(500, str(error))

    @app.exception_handler(RequestValidationError)
    async def _invalid(_: Request, error: RequestValidationError) -> JSONResponse:
        errors = error.errors()
        unreadable = any(e["type"] == "json_invalid" for e in errors)
        said = [_said_of(e["loc"][1:], _wrong(e)) for e in errors[:3]]
        return problem(400 if unreadable else 422, "; ".join(said))

    @app.exception_handler(HTTPException)
    async def _http(_: Request, error: HTTPException) -> JSONResponse:
        answer = problem(error.status_code, str(error.detail))
        answer.headers.update(error.headers or {})
        return answer
