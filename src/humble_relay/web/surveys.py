"""Measurements and facts: read from pasted text, and added to a plan."""

from datetime import datetime
from typing import Annotated, Any
from zoneinfo import ZoneInfo

from fastapi import APIRouter, Response
from pydantic import BaseModel, ConfigDict, Field, model_validator

from humble_relay.core.frozen import Slug
from humble_relay.core.hidden_text import HIDDEN
from humble_relay.core.plan.moments import typed_moment
from humble_relay.core.plan.secrets import sealed
from humble_relay.core.plan.show import TimeZoneName, zones
from humble_relay.core.plan.survey import Fact, Measurement
from humble_relay.formats.measurements import Reading, read_measurements
from humble_relay.store.changes import Measured as Added
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.plan_routes import RequestId, Store, changed
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Pulsed, Search
from humble_relay.web.standings import Standing, StandingChanges, Told

router = APIRouter(prefix="/api", tags=["survey"], route_class=OffLoop)


class Pasted(BaseModel):
    """Text as it was pasted."""

    model_config = ConfigDict(extra="forbid")
    text: Annotated[str, Field(min_length=1, max_length=2_000_000)]
    zone: Annotated[
        TimeZoneName, Field(description="Zone of the times in it, such as Europe/London; empty: UTC.")
    ] = ""


class NewMeasurements(BaseModel):
    """Measurements to add. A time without an offset is of `zone`, an IANA zone."""

    model_config = ConfigDict(extra="forbid")
    zone: TimeZoneName = ""
    measurements: Annotated[list[Measurement], Field(min_length=1, max_length=5000, fail_fast=True)]

    @model_validator(mode="before")
    @classmethod
    def _on_the_clock(cls, data: Any) -> Any:
        if not isinstance(data, dict) or not isinstance(rows := data.get("measurements"), list):
            return data
        zone = clock_of(str(data.get("zone") or ""))
        return data | {"measurements": [_with_offset(row, zone) for row in rows]}


class NewFacts(BaseModel):
    """Facts to add."""

    model_config = ConfigDict(extra="forbid")
    facts: Annotated[list[Fact], Field(min_length=1, max_length=500, fail_fast=True)]


def clock_of(zone: str) -> ZoneInfo:
    """The clock of a zone by its IANA name; UTC where it is empty, or no zone."""
    return ZoneInfo(zone if zone in zones() else "UTC")


def _with_offset(row: Any, zone: ZoneInfo) -> Any:
    if not isinstance(row, dict) or not isinstance(at := row.get("at"), str):
        return row
    return row | {"at": typed_moment(at, zone).isoformat()}


@router.post("/measurements/read", responses=documented(422))
def read(pasted: Pasted, pulse: Search) -> Reading:
    """What a pasted text holds: loose lines, ping's text, CSV, iperf3's JSON. Nothing is kept."""
    now = datetime.now(clock_of(pasted.zone))
    pulse.take_turn(large=False)
    size = len(pasted.text) * 4  # it takes longer than a body of that size
    return sealed(pulse.large(size, read_measurements, pasted.text, now), lambda _: HIDDEN)


@router.post("/plans/{id}/measurements", status_code=201, responses=documented(404, 422))
def measure(
    id: Slug,
    measured: NewMeasurements,
    store: Store,
    response: Response,
    pulse: Pulsed,
    request_id: RequestId = None,
    told: Told = None,
) -> Standing | StandingChanges:
    """Adds measurements to the plan's survey; those already there stay as they are."""
    return changed(store, id, None, Added(measured.measurements), request_id, told, response, pulse)


@router.post("/plans/{id}/facts", status_code=201, responses=documented(404, 422))
def find_out(
    id: Slug,
    found: NewFacts,
    store: Store,
    response: Response,
    pulse: Pulsed,
    request_id: RequestId = None,
    told: Told = None,
) -> Standing | StandingChanges:
    """Adds facts to the plan's survey: what is measured stands over what was planned."""
    return changed(store, id, None, Added((), found.facts), request_id, told, response, pulse)
