"""Measurements read from pasted text."""

from datetime import datetime
from typing import Annotated
from zoneinfo import ZoneInfo

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from humble_relay.core.hidden_text import HIDDEN
from humble_relay.core.plan.secrets import sealed
from humble_relay.core.plan.show import TimeZoneName, zones
from humble_relay.formats.measurements import Reading, read_measurements
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Search

router = APIRouter(prefix="/api", tags=["survey"], route_class=OffLoop)


class Pasted(BaseModel):
    """Text as it was pasted."""

    model_config = ConfigDict(extra="forbid")
    text: Annotated[str, Field(min_length=1, max_length=2_000_000)]
    zone: Annotated[
        TimeZoneName, Field(description="Zone of the times in it, such as Europe/London; empty: UTC.")
    ] = ""


def clock_of(zone: str) -> ZoneInfo:
    """The clock of a zone by its IANA name; UTC where it is empty, or no zone."""
    return ZoneInfo(zone if zone in zones() else "UTC")


@router.post("/measurements/read", responses=documented(422))
def read(pasted: Pasted, pulse: Search) -> Reading:
    """What a pasted text holds: loose lines, ping's text, CSV, iperf3's JSON. Nothing is kept."""
    now = datetime.now(clock_of(pasted.zone))
    pulse.take_turn(large=False)
    size = len(pasted.text) * 4  # it takes longer than a body of that size
    return sealed(pulse.large(size, read_measurements, pasted.text, now), lambda _: HIDDEN)
