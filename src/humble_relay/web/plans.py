"""Plans: making, reading, changing, trying, undoing; and what they report."""

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter, Depends, Header, Query, Request, Response
from pydantic import BaseModel, ConfigDict, Field
from starlette.exceptions import HTTPException

from humble_relay.core.commands import Alternative, read_command
from humble_relay.core.edits import Edit
from humble_relay.core.frozen import Slug
from humble_relay.core.gear import free_id
from humble_relay.core.index import PlanIndex
from humble_relay.core.plan import Plan, Show, Stream, without_keys
from humble_relay.core.report import Report, Trial, report, try_edits
from humble_relay.core.show.papers import Table, papers
from humble_relay.core.survey import Survey
from humble_relay.formats.csv_table import write_csv
from humble_relay.formats.plan_file import read_plan, write_plan
from humble_relay.store.plans import Entry, Kept, Listed, Plans
from humble_relay.web.problems import documented

router = APIRouter(prefix="/api/plans", tags=["plans"])


def plans_of(request: Request) -> Plans:
    """The plans this application serves."""
    found: Plans = request.app.state.plans
    return found


Store = Annotated[Plans, Depends(plans_of)]
IfMatch = Annotated[
    str | None, Header(description='The version the change is made on, such as "7" (RFC 9110).')
]
AsOf = Annotated[datetime | None, Query(description="Judge as of this moment instead of now.")]


class Standing(BaseModel):
    """A plan as it stands, keys masked, with its report."""

    id: str
    version: int
    plan: Plan
    survey: Survey
    can_undo: bool
    can_redo: bool
    report: Report


class NewPlan(BaseModel):
    """What a new plan needs: the name of the show."""

    model_config = ConfigDict(extra="forbid")
    show: Show


class Change(BaseModel):
    """Edits to make, in order, all or none; with an optional reason for the history."""

    model_config = ConfigDict(extra="forbid")
    edits: Annotated[list[Edit], Field(min_length=1, max_length=2000)]
    why: Annotated[str, Field(max_length=300)] = ""


class Attempt(BaseModel):
    """Edits to try."""

    model_config = ConfigDict(extra="forbid")
    edits: Annotated[list[Edit], Field(max_length=2000)]


class Line(BaseModel):
    """A short line as typed in the command bar."""

    model_config = ConfigDict(extra="forbid")
    line: Annotated[str, Field(max_length=200)]


class Secret(BaseModel):
    """A stream key, asked for."""

    key: str | None


def standing(kept: Kept, response: Response, as_of: datetime | None = None) -> Standing:
    """The answer to every change: the plan as it now stands, and its report, under its ETag."""
    response.headers["ETag"] = f'"{kept.version}"'
    return Standing(
        id=kept.id,
        version=kept.version,
        plan=without_keys(kept.plan),
        survey=kept.survey,
        can_undo=kept.can_undo,
        can_redo=kept.can_redo,
        report=report(kept.plan, kept.survey, moment(as_of), kept.stock),
    )


def moment(as_of: datetime | None) -> datetime:
    """The moment to judge as of: the one asked for, or now."""
    found = as_of or datetime.now(UTC)
    return found.replace(tzinfo=UTC) if found.tzinfo is None else found


def version_of(if_match: str | None) -> int:
    """The version in an If-Match header; 428 when it is missing, 400 when it is no version."""
    if if_match is None:
        raise HTTPException(428, 'Say which version the change is made on: send If-Match: "VERSION".')
    text = if_match.strip().removeprefix("W/").strip('"')
    if not (text.isascii() and text.isdigit() and len(text) < 12):
        raise HTTPException(400, f"If-Match carries {if_match!r}; a version is a number in quotes.")
    return int(text)


@router.get("")
def list_plans(store: Store) -> list[Listed]:
    """All plans, the last changed first."""
    return store.all()


@router.post("", status_code=201, responses=documented(400, 413, 422))
def create_plan(new: NewPlan, store: Store, response: Response) -> Standing:
    """An empty plan for a show."""
    kept = store.create(Plan(show=new.show), Survey(), slug(new.show.name), f"began {new.show.name}")
    return standing(kept, response)


@router.post(
    "/import",
    status_code=201,
    responses=documented(400, 413, 422),
    openapi_extra={"requestBody": {"required": True, "content": {"application/json": {"schema": {}}}}},
)
async def import_plan(request: Request, store: Store, response: Response) -> Standing:
    """A new plan from a plan file; a file that cannot be used changes nothing."""
    found = read_plan(await request.body())
    name = found.plan.show.name
    return standing(store.create(found.plan, found.survey, slug(name), f"imported {name}"), response)


@router.get("/{id}", responses=documented(404, 422))
def get_plan(id: Slug, store: Store, response: Response, as_of: AsOf = None) -> Standing:
    """The plan with its report. Stream keys are masked."""
    return standing(store.get(id), response, as_of)


@router.delete("/{id}", status_code=204, responses=documented(400, 404, 409, 422, 428))
def delete_plan(id: Slug, store: Store, if_match: IfMatch = None) -> None:
    """Takes the plan out for good."""
    store.remove(id, version_of(if_match))


@router.post("/{id}/edits", responses=documented(400, 404, 409, 413, 422, 428))
def edit_plan(
    id: Slug, change: Change, store: Store, response: Response, if_match: IfMatch = None
) -> Standing:
    """Makes edits on the version named by If-Match."""
    return standing(store.edit(id, version_of(if_match), change.edits, change.why), response)


@router.post("/{id}/try", responses=documented(400, 404, 413, 422))
def try_plan(id: Slug, attempt: Attempt, store: Store, as_of: AsOf = None) -> Trial:
    """What edits would change; nothing is kept."""
    kept = store.get(id)
    return try_edits(kept.plan, kept.survey, attempt.edits, moment(as_of), kept.stock)


@router.post("/{id}/command", responses=documented(400, 404, 413, 422))
def command(id: Slug, line: Line, store: Store) -> list[Alternative]:
    """What a typed line may mean; nothing is done."""
    return read_command(index_of(store.get(id), None), line.line)


@router.post("/{id}/undo", responses=documented(400, 404, 409, 422, 428))
def undo(id: Slug, store: Store, response: Response, if_match: IfMatch = None) -> Standing:
    """Takes the last change back."""
    return standing(store.undo(id, version_of(if_match)), response)


@router.post("/{id}/redo", responses=documented(400, 404, 409, 422, 428))
def redo(id: Slug, store: Store, response: Response, if_match: IfMatch = None) -> Standing:
    """Makes the last undone change again."""
    return standing(store.redo(id, version_of(if_match)), response)


@router.post("/{id}/restore/{number}", responses=documented(400, 404, 409, 422, 428))
def restore(
    id: Slug,
    number: Annotated[int, Field(ge=1, le=2**40)],
    store: Store,
    response: Response,
    if_match: IfMatch = None,
) -> Standing:
    """Goes back, or forward, to how the plan stood after a revision."""
    return standing(store.restore(id, version_of(if_match), number), response)


@router.get("/{id}/history", responses=documented(404, 422))
def history(id: Slug, store: Store) -> list[Entry]:
    """Every revision, newest first, in words. Keys never appear."""
    return store.history(id)


@router.get("/{id}/report", responses=documented(404, 422))
def get_report(id: Slug, store: Store, as_of: AsOf = None) -> Report:
    """The report alone."""
    kept = store.get(id)
    return report(kept.plan, kept.survey, moment(as_of), kept.stock)


@router.get("/{id}/streams/{stream}/key", responses=documented(404, 422))
def get_key(id: Slug, stream: Slug, store: Store) -> Secret:
    """The stream key, in clear, because it was asked for."""
    for link in store.get(id).plan.links:
        if isinstance(link, Stream) and link.id == stream:
            return Secret(key=link.key)
    raise HTTPException(404, f"The plan has no stream called {stream}.")


@router.get("/{id}/export", responses=documented(404, 422))
def export_plan(id: Slug, store: Store, keys: bool = False) -> Response:
    """The plan and its survey as a plan file; keys only when asked for."""
    kept = store.get(id)
    return download(write_plan(kept.plan, kept.survey, keys), "application/json", f"{id}.json")


@router.get("/{id}/papers", responses=documented(404, 422))
def get_papers(id: Slug, store: Store, keys: bool = False, as_of: AsOf = None) -> list[Table]:
    """The papers as tables; keys only when asked for."""
    kept = store.get(id)
    return list(papers(index_of(kept, as_of), keys))


@router.get("/{id}/papers/{paper}.csv", responses=documented(404, 422))
def get_paper_csv(id: Slug, paper: Slug, store: Store, keys: bool = False, as_of: AsOf = None) -> Response:
    """One paper as CSV."""
    kept = store.get(id)
    for table in papers(index_of(kept, as_of), keys):
        if table.id == paper:
            return download(write_csv(table), "text/csv; charset=utf-8", f"{id}-{paper}.csv")
    raise HTTPException(404, f"There is no paper called {paper}.")


def index_of(kept: Kept, as_of: datetime | None = None) -> PlanIndex:
    """The look-ups over a plan as it stands."""
    return PlanIndex(kept.plan, kept.survey, moment(as_of), kept.stock)


def slug(name: str) -> str:
    """A short readable id from a name."""
    words = "".join(c if c.isascii() and c.isalnum() else " " for c in name.lower()).split()
    return free_id("-".join(words)[:50].strip("-") or "plan", ["import"])


def download(text: str, media_type: str, name: str) -> Response:
    """A response that the browser saves under a name."""
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(text, media_type=media_type, headers=headers)
