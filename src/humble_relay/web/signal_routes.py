"""The signal path: routes, re-routes, a whole patch, traces, and the map."""

from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from humble_relay.core.frozen import Slug
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Finding
from humble_relay.core.plan import Carries
from humble_relay.core.signal.diagram.model import Detail
from humble_relay.core.signal.finder.alternatives import Routes, find_routes, reroute
from humble_relay.core.signal.finder.plain_cables import Joint, plain_cables
from humble_relay.core.signal.finder.whole_show import Patch, patch_all
from humble_relay.core.signal.flow.tracing import Trace, trace
from humble_relay.core.views.report import try_edits
from humble_relay.core.views.signal_map import MapAsked, map_view
from humble_relay.core.views.ways import JudgedRoute, tried_routes
from humble_relay.formats.graphml import write_graphml
from humble_relay.formats.map_svg import NAMES, write_map_svg
from humble_relay.web.cases import case_of
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.plan_routes import Attempt, Store, download, opened, tried
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Pulsed, Search

router = APIRouter(prefix="/api/plans/{id}", tags=["signal"], route_class=OffLoop)

RunMetres = Annotated[
    float | None, Query(gt=0, le=100_000, description="The run where it was measured, in m.")
]


class FoundRoutes(BaseModel):
    """The ways from a source to an end, each tried; plain cables for sound and network; or why there is none."""

    source: str
    end: str
    routes: list[JudgedRoute]
    cables: list[Joint]
    why_not: str | None


class DrawnMap(BaseModel):
    """The signal map at one detail, as an SVG document so wide in px."""

    detail: Detail
    width: float
    svg: str


class FoundPatch(BaseModel):
    """A whole patch, and what it would change among the findings."""

    patch: Patch
    gone: list[Finding]
    come: list[Finding]


@router.get("/routes", responses=documented(404, 422))
def get_routes(
    id: Slug, source: Slug, end: Slug, store: Store, pulse: Search,
    into: Slug | None = None, carries: Carries | None = None, length_m: RunMetres = None,
) -> FoundRoutes:  # fmt: skip
    """Ways to get the picture of a device to another, to one input of it where `into` names it."""
    case = case_of(opened(store, id, pulse), pulse)
    for device in (source, end):
        _known(case.devices, device, "device")
    if into and f"{end}/{into}" not in case.ports:
        raise HTTPException(404, f"{case.devices[end].name} has no input called {into}.")
    found = find_routes(case, source, f"{end}/{into}" if into else end, carries, length_m)
    cables = plain_cables(case, source, end, length_m) if source != end else []
    return _found(case, found, cables)


@router.get("/reroute/{link}", responses=documented(404, 422))
def get_reroute(id: Slug, link: Slug, store: Store, pulse: Search) -> FoundRoutes:
    """Other ways to do what one link does."""
    case = case_of(opened(store, id, pulse), pulse)
    _known(case.links, link, "link")
    return _found(case, reroute(case, link), [])


@router.get("/patch/{mixer}", responses=documented(404, 422))
def get_patch(id: Slug, mixer: Slug, store: Store, pulse: Search) -> FoundPatch:
    """Every source that is plugged into nothing, to the input that suits it."""
    case = case_of(opened(store, id, pulse), pulse)
    _known(case.devices, mixer, "device")
    patch = patch_all(case, mixer)
    trial = try_edits(case, patch.edits)
    return FoundPatch(patch=patch, gone=list(trial.gone), come=list(trial.come))


@router.get("/trace/{device}", responses=documented(404, 422))
def get_trace(id: Slug, device: Slug, store: Store, pulse: Search) -> Trace:
    """Every way that begins, ends or passes at a device."""
    case = case_of(opened(store, id, pulse), pulse)
    _known(case.devices, device, "device")
    return trace(case, device)


@router.get("/map", responses=documented(404, 422))
def get_map(id: Slug, asked: Annotated[MapAsked, Query()], store: Store, pulse: Pulsed) -> DrawnMap:
    """The signal map, drawn as it is looked at."""
    kept = opened(store, id, pulse)
    return _drawn(case_of(kept, pulse), asked, kept.plan.show.name)


@router.post("/map", responses=documented(404, 422))
def try_map(
    id: Slug, asked: Annotated[MapAsked, Query()], attempt: Attempt, store: Store, pulse: Search
) -> DrawnMap:
    """The signal map as it would be after some edits; nothing is kept."""
    kept = opened(store, id, pulse)
    return _drawn(tried(store, kept, attempt, pulse), asked, kept.plan.show.name)


@router.get("/map.svg", responses=documented(404, 422))
def get_map_svg(id: Slug, asked: Annotated[MapAsked, Query()], store: Store, pulse: Pulsed) -> Response:
    """The signal map as an SVG file."""
    kept = opened(store, id, pulse)
    found = _drawn(case_of(kept, pulse), asked, kept.plan.show.name)
    return download(found.svg, "image/svg+xml", f"{id}-signal.svg")


@router.get("/signal.graphml", responses=documented(404, 422))
def get_graphml(id: Slug, store: Store, pulse: Pulsed) -> Response:
    """The signal graph as GraphML."""
    return download(
        write_graphml(case_of(opened(store, id, pulse), pulse)),
        "application/graphml+xml",
        f"{id}-signal.graphml",
    )


def _drawn(case: Case, asked: MapAsked, title: str) -> DrawnMap:
    found = map_view(case, asked)
    return DrawnMap(detail=found.detail, width=found.width + NAMES, svg=write_map_svg(found, title))


def _known(things: dict[str, object] | dict, id: str, noun: str) -> None:  # type: ignore[type-arg]
    if id not in things:
        raise HTTPException(404, f"The plan has no {noun} called {id}.")


def _found(case: Case, found: Routes, cables: list[Joint]) -> FoundRoutes:
    routes = list(tried_routes(case, found.routes))
    return FoundRoutes(
        source=found.source, end=found.end, routes=routes, cables=cables, why_not=found.why_not
    )
