"""What was found: measurements of a connection, kept for good once taken."""

from typing import Annotated, Literal

from pydantic import AwareDatetime, Field

from humble_relay.core.frozen import Frozen, Slug, Text

Rate = Annotated[float, Field(ge=0, le=100_000)]


class Measurement(Frozen):
    """One measurement of one uplink. Rates in Mb/s, times in ms, loss in percent; only up is needed."""

    at: AwareDatetime
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

    measurements: tuple[Measurement, ...] = ()

    def of(self, uplink: str) -> list[Measurement]:
        """The measurements of one uplink, in the order of time."""
        return sorted((m for m in self.measurements if m.uplink == uplink), key=lambda m: m.at)
