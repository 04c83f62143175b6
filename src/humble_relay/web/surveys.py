"""Measurements: read from pasted text, and added to a plan."""

from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import BaseModel, ConfigDict, Field
from starlette.exceptions import HTTPException

from humble_relay.core.frozen import Slug
from humble_relay.core.survey import Measurement
from humble_relay.formats.measurements import Reading, read_measurements
from humble_relay.web.plans import Standing, Store, standing
from humble_relay.web.problems import documented

router = APIRouter(prefix="/api", tags=["survey"])


class Pasted(BaseModel):
    """Text as it was pasted."""

    model_config = ConfigDict(extra="forbid")
    text: Annotated[str, Field(min_length=1, max_length=2_000_000)]


class Measured(BaseModel):
    """Measurements to add."""

    model_config = ConfigDict(extra="forbid")
    measurements: Annotated[list[Measurement], Field(min_length=1, max_length=5000)]


@router.post("/measurements/read", responses=documented(400, 413, 422))
def read(pasted: Pasted) -> Reading:
    """What a pasted text holds: loose lines, ping's text, CSV, iperf3's JSON. Nothing is kept."""
    return read_measurements(pasted.text)


@router.post("/plans/{id}/measurements", status_code=201, responses=documented(400, 404, 413, 422))
def measure(id: Slug, measured: Measured, store: Store, response: Response) -> Standing:
    """Adds measurements to the plan's survey; those already there stay as they are."""
    try:
        return standing(store.measure(id, measured.measurements), response)
    except ValueError as error:
        raise HTTPException(422, str(error)) from None
