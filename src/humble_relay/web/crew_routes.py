"""The crew's phones: joined by a code, named, sent away; and the plan as they read it."""

import asyncio
from typing import Annotated

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, ConfigDict, Field
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException

from humble_relay.core.frozen import Name, Slug
from humble_relay.core.papers.paper_tables import Table, papers
from humble_relay.core.views.walk_view import WalkView, walk_view
from humble_relay.formats.qr_code import qr_rows
from humble_relay.store.crew import Crew, CrewFull, CrewMember
from humble_relay.web.access import Access, crew_cookie
from humble_relay.web.cases import case_of
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.plan_routes import Store, opened
from humble_relay.web.problems import documented
from humble_relay.web.reached import Reached, reached_at
from humble_relay.web.request_patience import Pulsed
from humble_relay.web.serving import new_code

router = APIRouter(prefix="/api", tags=["crew"], route_class=OffLoop)


class Joining(BaseModel):
    """The crew's code as it was typed, and who this is, by role."""

    model_config = ConfigDict(extra="forbid")
    code: Annotated[str, Field(max_length=100)]
    name: Name


class JoinAt(BaseModel):
    """An address that the crew may call, and its code for a camera: rows of dark (`1`) and light modules."""

    url: str
    says: str
    code: tuple[str, ...]


class CrewOfPlan(BaseModel):
    """The crew of a plan: its code, where to call with it, what to do where that is not possible, and who has joined."""

    code: str
    at: list[JoinAt]
    how: str
    members: list[CrewMember]


@router.get("/me", responses=documented(401))
def get_me(request: Request) -> Access:
    """Who asks: an engineer, or a phone of the crew of a plan."""
    found: Access = request.state.access
    return found


@router.post("/join", responses=documented(401, 422, 429))
async def join(joining: Joining, request: Request, response: Response) -> Access:
    """Lets a phone into the crew of the plan that the code is of."""
    crew, tries = _crew(request), request.app.state.crew_tries
    found = await run_in_threadpool(crew.plan_of, joining.code)
    fits, after_s = tries.tried(request.client.host if request.client else "", lambda: found is not None)
    await asyncio.sleep(after_s)
    if fits is None:
        raise HTTPException(429, "That was wrong too often. Wait a minute, then read the code again.")
    if not fits or found is None:
        raise HTTPException(401, "That is not the code of a crew. It is shown at the desk, under Crew.")
    try:
        token = await run_in_threadpool(crew.join, found, joining.name)
    except CrewFull as full:
        raise HTTPException(422, str(full)) from None
    response.headers["Set-Cookie"] = crew_cookie(token, request.url.scheme == "https")
    return Access(kind="crew", plan=found, name=joining.name)


@router.get("/plans/{id}/crew", responses=documented(404, 422))
def get_crew(id: Slug, request: Request) -> CrewOfPlan:
    """The crew of the plan, and how it gets in."""
    crew = _crew(request)
    return _told(request, id, crew.code(id, new_code))


@router.post("/plans/{id}/crew/code", responses=documented(404, 422))
def renew_code(id: Slug, request: Request) -> CrewOfPlan:
    """Another code; who has joined stays in."""
    crew = _crew(request)
    return _told(request, id, crew.code(id, new_code, anew=True))


@router.delete("/plans/{id}/crew/{member}", responses=documented(404, 422))
def send_away(id: Slug, member: Slug, request: Request) -> CrewOfPlan:
    """Sends a phone away."""
    crew = _crew(request)
    crew.revoke(id, member)
    return _told(request, id, crew.code(id, new_code))


@router.get("/plans/{id}/walk", responses=documented(404, 422))
def get_walk(id: Slug, store: Store, pulse: Pulsed) -> WalkView:
    """The plan as the crew reads it: no key is in it."""
    kept = opened(store, id, pulse)
    return walk_view(case_of(kept, pulse), id, kept.version)


@router.get("/plans/{id}/walk/papers", responses=documented(404, 422))
def get_walk_papers(id: Slug, store: Store, pulse: Pulsed) -> list[Table]:
    """The papers to take along, as the crew reads them: no key is in them, and nothing is judged for them."""
    return list(papers(case_of(opened(store, id, pulse), pulse)))


def _crew(request: Request) -> Crew:
    found: Crew = request.app.state.crew
    return found


def _told(request: Request, id: str, code: str) -> CrewOfPlan:
    reached: Reached = reached_at(request)
    at = [
        JoinAt(url=(url := f"{base}/crew#{code}"), says=says, code=qr_rows(url)) for base, says in reached.at
    ]
    return CrewOfPlan(code=code, at=at, how=reached.how, members=_crew(request).members(id))
