"""What is said of a plan: its report, its proofs with the facts wanted, and the cures of a finding."""

from typing import Annotated

from fastapi import APIRouter, Path, Query
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from humble_relay.core.cures.trial import Remedies, remedies
from humble_relay.core.frozen import Slug
from humble_relay.core.judgement import proven
from humble_relay.core.judging.phrases import said_moment
from humble_relay.core.judging.proof import Proof, ProofLine, line_of
from humble_relay.core.judging.wanted import Wanted
from humble_relay.core.plan import Noun
from humble_relay.core.plan.stages import Stage
from humble_relay.core.signal.ports.coverage import unasked_ways
from humble_relay.core.views.gear_view import PortView, device_ports
from humble_relay.core.views.matrix import ArrivalMatrix, arrival_matrix
from humble_relay.core.views.of_stage import Drawn, StageView, view_of
from humble_relay.core.views.report import Report, report_on
from humble_relay.core.views.thing_fields import ThingField, fields_of
from humble_relay.core.views.thing_pane import ThingPane, gone, pane_of
from humble_relay.core.views.thing_table import TableKind, ThingTable, table_of
from humble_relay.core.views.trace_views import StreamReach, reach_of
from humble_relay.store.last_changes import LastChange
from humble_relay.web.cases import case_of
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.plan_routes import AsOf, Attempt, Store, opened, tried
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Pulsed, Search

router = APIRouter(prefix="/api/plans", tags=["verdicts"], route_class=OffLoop)


class Unasked(BaseModel):
    """An end that a picture arrives at, and nobody asked for it."""

    device: str
    name: str


class Proofs(BaseModel):
    """What is proven, what is wanted to prove more, and what is drawn without having been asked for."""

    proofs: list[ProofLine]
    wanted: list[Wanted]
    unasked: list[Unasked]
    matrix: ArrivalMatrix


@router.get("/{id}/report", responses=documented(404, 422))
def get_report(id: Slug, store: Store, pulse: Pulsed, as_of: AsOf = None) -> Report:
    """The report alone."""
    return report_on(case_of(opened(store, id, pulse), pulse, as_of))


@router.get("/{id}/views/{drawn}", responses=documented(404, 422))
def get_view(id: Slug, drawn: Drawn, store: Store, pulse: Pulsed, as_of: AsOf = None) -> StageView:
    """What one stage draws of the plan."""
    return view_of(case_of(opened(store, id, pulse), pulse, as_of), drawn)


@router.post("/{id}/views/{drawn}", responses=documented(404, 422))
def try_view(
    id: Slug, drawn: Drawn, attempt: Attempt, store: Store, pulse: Search, as_of: AsOf = None
) -> StageView:
    """What one stage would draw after some edits; nothing is kept."""
    return view_of(tried(store, opened(store, id, pulse), attempt, pulse, as_of), drawn)


@router.get("/{id}/streams/{stream}/reach", responses=documented(404, 422))
def get_reach(id: Slug, stream: Slug, store: Store, pulse: Pulsed, as_of: AsOf = None) -> StreamReach:
    """How a stream gets through, its calls hop by hop."""
    case = case_of(opened(store, id, pulse), pulse, as_of)
    for found in case.streams:
        if found.id == stream:
            return reach_of(case, found)
    raise HTTPException(404, f"The plan has no stream called {stream}.")


@router.get("/{id}/devices/{device}/ports", responses=documented(404, 422))
def get_ports(id: Slug, device: Slug, store: Store, pulse: Pulsed) -> list[PortView]:
    """Every port of a device: what is in it, and what it can be told."""
    case = case_of(opened(store, id, pulse), pulse)
    if device not in case.devices:
        raise HTTPException(404, f"The plan has no device called {device}.")
    return list(device_ports(case, device))


class PickedThing(ThingPane):
    """A thing that is picked, and what changed it last; None of one that is as the plan began."""

    last: LastChange | None


@router.get("/{id}/things/{noun}/{thing}", responses=documented(404, 422))
def get_thing(
    id: Slug, noun: Noun, thing: Slug, stage: Stage, store: Store, pulse: Pulsed, as_of: AsOf = None
) -> PickedThing:
    """What is said of a thing that is picked on the page of a stage, and what changed it last."""
    case = case_of(opened(store, id, pulse), pulse, as_of)
    last = store.last_change(id, noun, thing)
    try:
        pane = pane_of(case, noun, thing, stage)
    except KeyError:
        since = said_moment(last.at.astimezone(case.plan.show.clock)) if last and last.gone else ""
        raise HTTPException(404, gone(noun, thing, since)) from None
    return PickedThing(**dict(pane), last=last)


@router.get("/{id}/things/{noun}/{thing}/fields", responses=documented(404, 422))
def get_fields(id: Slug, noun: Noun, thing: Slug, store: Store, pulse: Pulsed) -> list[ThingField]:
    """Every field of a thing."""
    try:
        return list(fields_of(case_of(opened(store, id, pulse), pulse), noun, thing))
    except KeyError:
        raise HTTPException(404, gone(noun, thing)) from None


@router.get("/{id}/tables/{noun}", responses=documented(404, 422))
def get_table(
    id: Slug,
    noun: Noun,
    stage: Stage,
    store: Store,
    pulse: Pulsed,
    kind: TableKind = "",
    columns: Annotated[tuple[str, ...], Query(max_length=60)] = (),
) -> ThingTable:
    """All things of a noun, with the columns that are chosen, or those of the stage."""
    return table_of(case_of(opened(store, id, pulse), pulse), noun, stage, kind, columns)


@router.get("/{id}/proofs", responses=documented(404, 422))
def get_proofs(id: Slug, store: Store, pulse: Pulsed, as_of: AsOf = None) -> Proofs:
    """The proof of every aim, the facts wanted, and the pictures that arrive without having been asked for."""
    case = case_of(opened(store, id, pulse), pulse, as_of)
    found = proven(case)
    unasked = [Unasked(device=d.id, name=d.name) for d in unasked_ways(case)]
    return Proofs(
        proofs=[line_of(p) for p in found.proofs],
        wanted=list(found.wanted),
        unasked=unasked,
        matrix=arrival_matrix(case),
    )


@router.get("/{id}/proofs/{aim}", responses=documented(404, 422))
def get_proof(id: Slug, aim: Slug, store: Store, pulse: Pulsed, as_of: AsOf = None) -> Proof:
    """The proof of one aim, hop by hop, with every question and its answer."""
    for found in proven(case_of(opened(store, id, pulse), pulse, as_of)).proofs:
        if found.aim == aim:
            return found
    raise HTTPException(404, f"The plan asks for nothing called {aim}.")


@router.get("/{id}/cures/{finding:path}", responses=documented(404, 422))
def get_cures(
    id: Slug, finding: Annotated[str, Path(max_length=300)], store: Store, pulse: Search, as_of: AsOf = None
) -> Remedies:
    """What may mend a finding: at most six cures, each tried on a copy of the plan; or who decides where none does."""
    try:
        return remedies(case_of(opened(store, id, pulse), pulse, as_of), finding)
    except KeyError:
        raise HTTPException(404, f"The plan has no finding called {finding} any more.") from None
