"""Measurements and facts: read from pasted text, and added to a plan."""

from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import BaseModel, ConfigDict, Field

from humble_relay.core.frozen import Slug
from humble_relay.core.plan.survey import Fact, Measurement
from humble_relay.formats.measurements import Reading, read_measurements
from humble_relay.store.changes import Measured as Added
from humble_relay.web.patience import Pulsed
from humble_relay.web.plans import RequestId, Standing, Store, changed
from humble_relay.web.problems import documented

router = APIRouter(prefix="/api", tags=["survey"])


class Pasted(BaseModel):
    """Text as it was pasted."""

    model_config = ConfigDict(extra="forbid")
    text: Annotated[str, Field(min_length=1, max_length=2_000_000)]


class NewMeasurements(BaseModel):
    """Measurements to add."""

    model_config = ConfigDict(extra="forbid")
    measurements: Annotated[list[Measurement], Field(min_length=1, max_length=5000)]


class NewFacts(BaseModel):
    """Facts to add."""

    model_config = ConfigDict(extra="forbid")
    facts: Annotated[list[Fact], Field(min_length=1, max_length=500)]


@router.post("/measurements/read", responses=documented(422))
def read(pasted: Pasted) -> Reading:
    """What a pasted text holds: loose lines, ping's text, CSV, iperf3's JSON. Nothing is kept."""
    return read_measurements(pasted.text)


@router.post("/plans/{id}/measurements", status_code=201, responses=documented(404, 422))
def measure(
    id: Slug,
    measured: NewMeasurements,
    store: Store,
    response: Response,
    pulse: Pulsed,
    request_id: RequestId = None,
) -> Standing:
    """Adds measurements to the plan's survey; those already there stay as they are."""
    return changed(store, id, None, Added(measured.measurements), request_id, response, pulse)


@router.post("/plans/{id}/facts", status_code=201, responses=documented(404, 422))
def find_out(
    id: Slug, found: NewFacts, store: Store, response: Response, pulse: Pulsed, request_id: RequestId = None
) -> Standing:
    """Adds facts to the plan's survey: what is measured stands over what was planned."""
    return changed(store, id, None, Added((), found.facts), request_id, response, pulse)
