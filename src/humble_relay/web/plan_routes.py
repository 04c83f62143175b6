"""Plans: making, reading, changing, trying, undoing; and what they report."""

import secrets
from collections.abc import Sequence
from datetime import datetime
from typing import Annotated, Any, TypeVar

from fastapi import APIRouter, Depends, Header, Path, Query, Request, Response
from pydantic import (
    BaseModel,
    ConfigDict,
    Field,
    TypeAdapter,
    model_validator,
)
from pydantic.json_schema import SkipJsonSchema
from starlette.exceptions import HTTPException

from humble_relay.core.frozen import Name, Slug, When, free_id, free_name, slug
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.found import typed_over, with_entries
from humble_relay.core.log.entries import AnyEntry, Entry
from humble_relay.core.log.fold import carried_log
from humble_relay.core.patience import Pulse
from humble_relay.core.plan import Plan, Show, Stream
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.secrets import sealed
from humble_relay.core.plan.upgrades import FORM, form_13, upgraded
from humble_relay.core.show.next_show import CarriedOver, carried_over, for_next_show
from humble_relay.core.views.command_bar import command_examples, read_command
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.report import Trial, compared
from humble_relay.core.views.survey_view import fact_in_words, fact_subject
from humble_relay.formats.plan_file import read_plan, write_plan
from humble_relay.store.changes import Edited, Redone, Restored, Undone
from humble_relay.store.changes import PlanChange as StoredChange
from humble_relay.store.kept import Kept
from humble_relay.store.plans import LARGE_BYTES, Listed, Plans
from humble_relay.store.revisions import HistoryEntry
from humble_relay.web.cases import RECENT, case_of, moment
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Patience, Pulsed, Search
from humble_relay.web.standings import Standing, StandingChanges, Told, since, standing, standing_after

S = TypeVar("S", Standing, StandingChanges, Standing | StandingChanges)
router = APIRouter(prefix="/api/plans", tags=["plans"], route_class=OffLoop)


def plans_of(request: Request) -> Plans:
    """The plans this application serves."""
    found: Plans = request.app.state.plans
    return found


async def _whole_body(request: Request) -> bytes:
    return await request.body()


Store = Annotated[Plans, Depends(plans_of)]
Whole = Annotated[bytes, Depends(_whole_body)]
"""The body as it came."""
IfMatch = Annotated[
    str | None, Header(description='The version the change is made on, such as "7" (RFC 9110).')
]
RequestId = Annotated[
    str | None,
    Header(
        alias="Idempotency-Key",
        pattern=r"^[A-Za-z0-9-]{8,64}$",
        description="An id of this change's own: sent again under it, the change is made once.",
    ),
]
AsOf = Annotated[When | None, Query(description="Judge as of this moment instead of now.")]


class NewPlan(BaseModel):
    """What a new plan needs: the name of the show."""

    model_config = ConfigDict(extra="forbid")
    show: Show


class Change(BaseModel):
    """Edits to make, in order, all or none; with an optional reason for the history.

    `form` is that in which they were typed, where a page kept them over an update: they are made in today's.
    """

    model_config = ConfigDict(extra="forbid")
    form: Annotated[int, Field(ge=1, le=FORM)] = FORM
    edits: Annotated[list[Edit], Field(max_length=2000, fail_fast=True)]
    why: Annotated[str, Field(max_length=300)] = ""
    entries: SkipJsonSchema[Annotated[list[dict[str, Any]], Field(max_length=2000)]] = []
    """What edits of an older form said that entries of the log say now."""

    @model_validator(mode="before")
    @classmethod
    def _in_todays_form(cls, data: Any) -> Any:
        match data:
            case {"form": int(form), "edits": list(edits)} if 1 <= form < FORM:
                older = [upgraded("edit", e, form) if isinstance(e, dict) else e for e in edits]
                entries = [form_13.as_entry(e) if isinstance(e, dict) else None for e in older]
                return data | {
                    "edits": [e for e, entry in zip(older, entries, strict=True) if entry is None],
                    "entries": [entry for entry in entries if entry],
                }
            case {"entries": _}:
                raise ValueError("entries: are written to the plan's log")
        return data

    @model_validator(mode="after")
    def _changes_something(self) -> "Change":
        if not self.edits and not self.entries:
            raise ValueError("edits: there is none")
        return self


class Attempt(BaseModel):
    """Edits to try."""

    model_config = ConfigDict(extra="forbid")
    edits: Annotated[list[Edit], Field(max_length=2000, fail_fast=True)]


class TypedLine(BaseModel):
    """A short line as typed in the command bar."""

    model_config = ConfigDict(extra="forbid")
    line: Annotated[str, Field(max_length=200)]


class Secret(BaseModel):
    """A stream's key and the address typed for it, in clear, because they were asked for."""

    key: str | None
    address: str
    stream_id: str = ""


class Hidden(BaseModel):
    """A hidden part of a text, asked for."""

    text: str


def answered(found: S, response: Response) -> S:
    """The answer to every change: the plan as it now stands, or what is different in it, under its ETag."""
    response.headers["ETag"] = f'"{found.version}"'
    return found


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


@router.post("", status_code=201, responses=documented(422))
def create_plan(
    new: NewPlan, store: Store, response: Response, pulse: Pulsed, request_id: RequestId = None
) -> Standing:
    """An empty plan for a show."""
    return added(store, Plan(show=new.show), (), "began", request_id, response, pulse)


@router.post(
    "/import",
    status_code=201,
    responses=documented(422),
    openapi_extra={"requestBody": {"required": True, "content": {"application/json": {"schema": {}}}}},
)
def import_plan(
    data: Whole, store: Store, response: Response, pulse: Pulsed, request_id: RequestId = None
) -> Standing:
    """A new plan from a plan file; a file that cannot be used changes nothing."""
    found = pulse.large(len(data), read_plan, data)
    pulse.take_turn(len(data) > LARGE_BYTES)
    return added(store, found.plan, found.log, "imported", request_id, response, pulse)


@router.get("/{id}", responses=documented(404, 422))
def get_plan(
    id: Slug, store: Store, response: Response, pulse: Pulsed, as_of: AsOf = None, told: Told = None
) -> Standing | StandingChanges:
    """The plan with its report, or what is different in them. Keys and passwords are masked."""
    return answered(since(told, standing(opened(store, id, pulse), pulse, as_of)), response)


@router.delete("/{id}", status_code=204, responses=documented(404, 409, 422, 428))
def delete_plan(id: Slug, store: Store, if_match: IfMatch = None) -> None:
    """Takes the plan out for good, its keys too."""
    store.remove(id, version_of(if_match))


@router.post("/{id}/copy", status_code=201, responses=documented(404, 422))
def copy_plan(
    id: Slug,
    store: Store,
    response: Response,
    pulse: Pulsed,
    request_id: RequestId = None,
    name: Name | None = None,
    next_show: bool = False,
) -> Standing:
    """A new plan like this one, keys and measurements too, under the name given; its history begins anew. Where it is for the
    `next_show`, it has no date, and its keys, ticks and trials are to be checked again."""
    kept = opened(store, id, pulse)
    name = name or free_name(f"{kept.clear.show.name[:70]}, copy", {listed.name for listed in store.all()})
    log = store.log(id)
    plan = kept.clear
    if next_show:
        case = case_of(kept, pulse)
        plan = for_next_show(kept.clear)
        log = carried_log(log, lambda fact: f"In the show before: {fact_subject(case, fact)} {fact_in_words(fact)}, {fact.conditions}".strip(" ,"))  # fmt: skip
    plan = plan.model_copy(update={"show": plan.show.model_copy(update={"name": name})})
    return added(store, plan, log, "copied as", request_id, response, pulse)


@router.get("/{id}/next-show", responses=documented(404, 422))
def next_show(id: Slug, store: Store, pulse: Pulsed) -> CarriedOver:
    """What a show that begins from this plan takes over, and what is to be checked again."""
    kept = opened(store, id, pulse)
    return carried_over(kept.plan, kept.survey)


@router.post("/{id}/edits", responses=documented(404, 409, 422, 428))
def edit_plan(
    id: Slug, change: Change, store: Store, response: Response, pulse: Pulsed,
    if_match: IfMatch = None, request_id: RequestId = None, told: Told = None,
) -> Standing | StandingChanges:  # fmt: skip
    """Makes edits on the version named by If-Match."""
    if change.entries:
        store.write(id, _entries_of(change.entries, request_id or secrets.token_hex(8)))
    if not change.edits:
        return answered(since(told, standing(opened(store, id, pulse), pulse)), response)
    edited = Edited(change.edits, change.why, older=change.form < FORM)
    return changed(store, id, version_of(if_match), edited, request_id, told, response, pulse)


_ENTRIES: TypeAdapter[list[AnyEntry]] = TypeAdapter(list[Entry])


def _entries_of(entries: list[dict[str, Any]], request: str) -> list[AnyEntry]:
    """The entries, each under an id of the request's that brought them: sent again, they are there once."""
    named = [{**e, "id": f"{slug(request)[:50]}-{n}"} for n, e in enumerate(entries)]
    return _ENTRIES.validate_python(named)


@router.post("/{id}/try", responses=documented(404, 422))
def try_plan(id: Slug, attempt: Attempt, store: Store, pulse: Search, as_of: AsOf = None) -> Trial:
    """What edits would change; nothing is kept."""
    kept = opened(store, id, pulse)
    return compared(case_of(kept, pulse, as_of), tried(store, kept, attempt, pulse, as_of))


@router.post("/{id}/command", responses=documented(404, 422))
def command(id: Slug, line: TypedLine, store: Store, pulse: Search) -> list[Alternative]:
    """What a typed line may mean; nothing is done."""
    return read_command(case_of(opened(store, id, pulse), pulse), line.line)


@router.get("/{id}/command/examples", responses=documented(404, 422))
def examples_of_commands(id: Slug, store: Store, pulse: Search) -> list[str]:
    """Lines that mean something for this plan as it stands."""
    return command_examples(case_of(opened(store, id, pulse), pulse))


@router.post("/{id}/undo", responses=documented(404, 409, 422, 428))
def undo(
    id: Slug, store: Store, response: Response, pulse: Pulsed,
    if_match: IfMatch = None, request_id: RequestId = None, told: Told = None,
) -> Standing | StandingChanges:  # fmt: skip
    """Takes the last change back."""
    return changed(store, id, version_of(if_match), Undone(), request_id, told, response, pulse)


@router.post("/{id}/redo", responses=documented(404, 409, 422, 428))
def redo(
    id: Slug, store: Store, response: Response, pulse: Pulsed,
    if_match: IfMatch = None, request_id: RequestId = None, told: Told = None,
) -> Standing | StandingChanges:  # fmt: skip
    """Makes the last undone change again."""
    return changed(store, id, version_of(if_match), Redone(), request_id, told, response, pulse)


@router.post("/{id}/restore/{number}", responses=documented(404, 409, 422, 428))
def restore(
    id: Slug, number: Annotated[int, Field(ge=1, le=2**40)], store: Store, response: Response, pulse: Pulsed,
    if_match: IfMatch = None, request_id: RequestId = None, told: Told = None,
) -> Standing | StandingChanges:  # fmt: skip
    """Goes back, or forward, to how the plan stood after a revision."""
    return changed(store, id, version_of(if_match), Restored(number), request_id, told, response, pulse)


@router.get("/{id}/history", responses=documented(404, 422))
def history(id: Slug, store: Store) -> list[HistoryEntry]:
    """Every revision, newest first, in words. Keys never appear."""
    return store.history(id)


@router.get("/{id}/streams/{stream}/key", responses=documented(404, 422))
def get_key(id: Slug, stream: Slug, store: Store, pulse: Pulsed) -> Secret:
    """The stream key and address, in clear, because they were asked for."""
    for link in opened(store, id, pulse).clear.links:
        if isinstance(link, Stream) and link.id == stream:
            return Secret(key=link.key, address=link.address, stream_id=link.stream_id)
    raise HTTPException(404, f"The plan has no stream called {stream}.")


@router.get("/{id}/hidden/{mark}", responses=documented(404, 422))
def get_hidden(id: Slug, mark: Annotated[str, Path(pattern=r"^[0-9a-f]{8}$")], store: Store) -> Hidden:
    """What one hidden part of a text stands for, in clear, because it was asked for."""
    found = store.behind(id, f"•{mark}•")
    if found is None:
        raise HTTPException(404, "The plan has no such hidden part any more.")
    return Hidden(text=found)


@router.get("/{id}/export", responses=documented(404, 422))
def export_plan(id: Slug, store: Store, pulse: Pulsed, keys: bool = False) -> Response:
    """The plan and its survey as a plan file; keys only when asked for."""
    kept = opened(store, id, pulse)
    return download(write_plan(kept.clear, store.log(id), keys), "application/json", f"{id}.json")


def opened(store: Plans, id: str, patience: Patience) -> Kept:
    """The plan as it stands, once it is this request's turn to ask about one of its size."""
    patience.take_turn(store.is_large(id))
    return store.get(id)


def tried(store: Plans, kept: Kept, attempt: Attempt, pulse: Pulse, as_of: datetime | None = None) -> Case:
    """The case after some edits that are not kept; sealed."""
    at = moment(as_of)
    over, of_plan = typed_over(kept.survey, store.opened(kept, attempt.edits), at)
    after = sealed(apply(kept.clear, of_plan), store.put)
    return RECENT.of(after, with_entries(kept.survey, over), kept.stock, at, pulse)


def changed(
    store: Plans, id: str, version: int | None, change: StoredChange, request_id: str | None, told: str | None,
    response: Response, pulse: Patience,
) -> Standing | StandingChanges:  # fmt: skip
    """The plan after a change; what is different in it, where the page was told of it before."""
    pulse.take_turn(store.is_large(id))
    made = store.make(id, version, change, request_id, lambda kept: standing_after(kept, told, pulse))
    return answered(since(told, made), response)


def added(
    store: Plans,
    plan: Plan,
    log: Sequence[AnyEntry],
    verb: str,
    request_id: str | None,
    response: Response,
    pulse: Pulse,
) -> Standing:
    """A new plan, judged before it was kept."""
    name = plan.show.name
    made = store.create(
        plan, log, plan_id(name), f"{verb} {name}", request_id, lambda kept: standing(kept, pulse)
    )
    names = {listed.name for listed in store.all() if listed.id != made.id}
    if made.plan.show.name in names:
        made = made.model_copy(update={"free_name": free_name(made.plan.show.name[:76], names)})
    return answered(made, response)


def plan_id(name: str) -> str:
    """The id of a plan by its name; `import` is an address of its own."""
    return free_id(slug(name, "plan"), ["import"])


def download(text: str | bytes, media_type: str, name: str) -> Response:
    """A response that the browser saves under a name."""
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(text, media_type=media_type, headers=headers)
