"""What was found and done, as the log comes to it: measurements, facts, and the tasks that are seen to."""

from collections.abc import Collection
from typing import Annotated, Literal, TypeVar

from pydantic import Field, StringConstraints, model_validator

from humble_relay.core.frozen import Frozen, Slug, Text, When
from humble_relay.core.plan.nouns import Noun

TaskId = Annotated[str, StringConstraints(pattern=r"^[a-z0-9:-]+$", max_length=200)]
MeasuredMbps = Annotated[float, Field(ge=0, le=100_000)]


class Measurement(Frozen):
    """One measurement of one uplink. Rates in Mb/s, times in ms, loss in percent; only up is needed."""

    id: Slug | None = None
    """Given when it is kept."""
    at: When
    uplink: Slug
    up_mbps: MeasuredMbps
    down_mbps: MeasuredMbps | None = None
    rtt_ms: Annotated[float, Field(ge=0, le=60_000)] | None = None
    jitter_ms: Annotated[float, Field(ge=0, le=60_000)] | None = None
    loss_pct: Annotated[float, Field(ge=0, le=100)] | None = None
    burst: Annotated[float, Field(ge=1, le=100_000)] | None = None
    """How many packets are lost in a row, on average; None where nobody said."""
    probes: Annotated[int, Field(ge=1, le=10**9)] | None = None
    """How many packets the loss was counted over; None where nobody said."""
    connections: Annotated[int, Field(ge=1, le=1000)] | None = None
    """How many TCP connections measured the upload at once; None where nobody said."""
    place: Slug | None = None
    method: Text = ""
    conditions: Literal["empty", "busy", "unknown"] = "unknown"
    note: Text = ""


class Fact(Frozen):
    """One thing found out: a quantity of a thing, with its value and unit, when, how and under what conditions.

    `works` is a quantity too: that the thing was tested and worked. Found beats planned.
    """

    id: Slug | None = None
    """Given when it is kept."""
    at: When
    noun: Noun
    thing: Slug
    part: Annotated[str, Field(pattern=r"^([a-z0-9]+(-[a-z0-9]+)*)?$", max_length=60)] = ""
    """Of a device the port that it is of; of a place the other one, where it is of the way between the two."""
    quantity: Annotated[str, Field(pattern=r"^[a-z][a-z0-9]*([._][a-z0-9]+)*$", max_length=80)]
    """A quantity such as `works`, or the path of the field that it is laid over."""
    value: Annotated[float, Field(ge=-1e12, le=1e12)] | bool | Text
    unit: Annotated[Text, Field(max_length=20)] = ""
    method: Text = ""
    by: Text = ""
    """Who found it, by role."""
    conditions: Text = ""
    note: Text = ""


Found = TypeVar("Found", Measurement, Fact)


class Survey(Frozen):
    """All measurements and facts, in the order of the log; those that were withdrawn are kept, and counted by nobody."""

    measurements: Annotated[tuple[Measurement, ...], Field(max_length=50_000, fail_fast=True)] = ()
    facts: Annotated[tuple[Fact, ...], Field(max_length=20_000, fail_fast=True)] = ()
    withdrawn: Annotated[tuple[Slug, ...], Field(max_length=70_000, fail_fast=True)] = ()
    """The measurements and facts that are not to be judged by."""
    done: Annotated[tuple[TaskId, ...], Field(max_length=2000, fail_fast=True)] = ()
    """Tasks of the go-live order already seen to."""

    @model_validator(mode="after")
    def _each_once(self) -> "Survey":
        for what, items in (("measurements", self.measurements), ("facts", self.facts)):
            ids = [m.id for m in items if m.id]
            if len(set(ids)) < len(ids):
                raise ValueError(f"two {what} have the same id: give one another, or none")
        return self

    def of(self, uplink: str) -> list[Measurement]:
        """The measurements of one uplink, in the order of time."""
        return sorted((m for m in self.measurements if m.uplink == uplink), key=lambda m: m.at)

    def standing(self) -> "Survey":
        """The survey to judge by: without what was withdrawn."""
        if not self.withdrawn:
            return self
        out = set(self.withdrawn)
        return Survey.model_construct(
            measurements=tuple(m for m in self.measurements if m.id not in out),
            facts=tuple(f for f in self.facts if f.id not in out),
            withdrawn=(),
            done=self.done,
        )


def numbered(items: Collection[Found], first: int = 1, letter: str = "m") -> tuple[Found, ...]:
    """The measurements or facts, those without an id named `m1`, `m2` and so on from `first`, passing over ids in use."""
    taken, found, number = {m.id for m in items if m.id}, [], first
    for m in items:
        if not m.id:
            while f"{letter}{number}" in taken:
                number += 1
            m = m.model_copy(update={"id": f"{letter}{number}"})
            number += 1
        found.append(m)
    return tuple(found)
