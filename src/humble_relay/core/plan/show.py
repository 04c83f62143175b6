"""The brief: what the show is, when and where in time, in what picture."""

from datetime import datetime, tzinfo
from functools import cache
from typing import Annotated, Literal
from zoneinfo import ZoneInfo, available_timezones

from pydantic import AfterValidator, Field, model_validator

from humble_relay.core.frozen import Frozen, Name, Notes, Text, When
from humble_relay.core.plan.video import Content, VideoFormat


@cache
def zones() -> frozenset[str]:
    """The names of the time zones there are (IANA tz database)."""
    return frozenset(available_timezones())


def _zone(name: str) -> str:
    if name and name not in zones():
        raise ValueError(f"there is no time zone called {name[:60]}: write one such as Europe/London")
    return name


TimeZoneName = Annotated[str, Field(max_length=60), AfterValidator(_zone)]


class Session(Frozen):
    """A rehearsal, or a further day of the show."""

    kind: Literal["rehearsal", "show"] = "rehearsal"
    starts_at: When
    ends_at: When

    @model_validator(mode="after")
    def _in_order(self) -> "Session":
        if self.ends_at <= self.starts_at:
            raise ValueError(
                "a rehearsal, or a day of the show, ends after it starts: correct one of the two"
            )
        return self


class Show(Frozen):
    """The brief: what, when, in what picture format, and how lively the picture is."""

    name: Name
    starts_at: When | None = None
    ends_at: When | None = None
    sessions: Annotated[tuple[Session, ...], Field(max_length=100, fail_fast=True)] = ()
    """Rehearsals, and days of the show after the first."""
    zone: TimeZoneName = ""
    """The time zone the show is in, by its IANA name; empty where only the offset of its start is known."""
    format: VideoFormat | None = None
    content: Content = "mixed"
    record: bool = False
    judge_at: When | None = None
    """Judge the plan as of this moment instead of now: for looking back, and for rehearsing."""
    call: Text = ""
    """Whom to call on the day, and how: it stands on what is handed to others."""
    notes: Notes = ""

    @property
    def days(self) -> "tuple[tuple[datetime, datetime | None], ...]":
        """From when until when it goes on air: the show, and each further day of it; the end None where nobody knows it."""
        first = ((self.starts_at, self.ends_at),) if self.starts_at else ()
        return (*first, *((s.starts_at, s.ends_at) for s in self.sessions if s.kind == "show"))

    @property
    def last_day(self) -> "datetime | None":
        """When all of it is over: the end of the show, or of its last session."""
        return max(
            (t for t in (self.ends_at or self.starts_at, *(s.ends_at for s in self.sessions)) if t),
            default=None,
        )

    @property
    def clock(self) -> tzinfo | None:
        """The clock on the wall at the show: of its zone, or of its start's offset where no zone was said."""
        return ZoneInfo(self.zone) if self.zone else self.starts_at.tzinfo if self.starts_at else None
