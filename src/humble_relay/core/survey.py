"""What was found: measurements of a connection, kept for good once taken; a plan may strike some out."""

from collections.abc import Collection
from typing import Annotated, Literal

from pydantic import Field, model_validator

from humble_relay.core.frozen import Frozen, Slug, Text, When

Rate = Annotated[float, Field(ge=0, le=100_000)]


class Measurement(Frozen):
    """One measurement of one uplink. Rates in Mb/s, times in ms, loss in percent; only up is needed."""

    id: Slug | None = None
    """Given when it is kept."""
    at: When
    uplink: Slug
    up_mbps: Rate
    down_mbps: Rate | None = None
    rtt_ms: Annotated[float, Field(ge=0, le=60_000)] | None = None
    jitter_ms: Annotated[float, Field(ge=0, le=60_000)] | None = None
    loss_pct: Annotated[float, Field(ge=0, le=100)] | None = None
    place: Slug | None = None
    method: Text = ""
    conditions: Literal["empty", "busy", "unknown"] = "unknown"
    note: Text = ""


class Survey(Frozen):
    """All measurements, oldest first."""

    measurements: Annotated[tuple[Measurement, ...], Field(max_length=50_000)] = ()

    @model_validator(mode="after")
    def _each_once(self) -> "Survey":
        ids = [m.id for m in self.measurements if m.id]
        if len(set(ids)) < len(ids):
            raise ValueError("two measurements have the same id: give one another, or none")
        return self

    def of(self, uplink: str) -> list[Measurement]:
        """The measurements of one uplink, in the order of time."""
        return sorted((m for m in self.measurements if m.uplink == uplink), key=lambda m: m.at)

    def without(self, struck: Collection[str]) -> "Survey":
        """The survey to judge by: without the measurements that were struck out."""
        if not struck:
            return self
        return Survey.model_construct(measurements=tuple(m for m in self.measurements if m.id not in struck))


def numbered(measurements: Collection[Measurement], first: int = 1) -> tuple[Measurement, ...]:
    """The measurements, those without an id named `m1`, `m2` and so on from `first`, passing over ids in use."""
    taken, found, number = {m.id for m in measurements if m.id}, [], first
    for m in measurements:
        if not m.id:
            while f"m{number}" in taken:
                number += 1
            m = m.model_copy(update={"id": f"m{number}"})
            number += 1
        found.append(m)
    return tuple(found)
