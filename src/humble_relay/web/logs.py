"""The log of a plan over HTTP: entries added, each once however often it is sent, and read."""

from datetime import UTC, datetime, timedelta
from typing import Annotated, Any

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, ConfigDict, Field, model_validator

from humble_relay.core.frozen import Label, Slug, When
from humble_relay.core.log.entries import AnyEntry, Entry
from humble_relay.core.papers.paper_tables import Table
from humble_relay.core.plan.moments import typed_moment
from humble_relay.core.plan.show import TimeZoneName
from humble_relay.core.views.log_view import LoggedLine, logged_lines
from humble_relay.formats.csv_table import write_csv
from humble_relay.store.log import Acknowledged
from humble_relay.store.plans import Plans
from humble_relay.web.cases import case_of
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.plan_routes import Store, download, opened
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Patience, Pulsed
from humble_relay.web.surveys import clock_of

router = APIRouter(prefix="/api/plans", tags=["log"], route_class=OffLoop)
_CLOCK_OFF = timedelta(seconds=2)
"""A device's clock that is off by less is left alone: the way to the server takes about as long."""


class NewEntries(BaseModel):
    """Entries to add. A time without an offset is of `zone`, an IANA zone. `clock` is what the clock of the device they were written
    on says as it sends them: by how far it is off, the times they were written at are corrected."""

    model_config = ConfigDict(extra="forbid")
    zone: TimeZoneName = ""
    clock: When | None = None
    role: Label = ""
    """Who writes, by role, where an entry does not say it."""
    entries: Annotated[list[Entry], Field(min_length=1, max_length=5000, fail_fast=True)]

    @model_validator(mode="before")
    @classmethod
    def _on_the_clock(cls, data: Any) -> Any:
        if not isinstance(data, dict) or not isinstance(entries := data.get("entries"), list):
            return data
        zone = clock_of(str(data.get("zone") or ""))
        return data | {"entries": [_with_offset(entry, zone) for entry in entries]}

    def corrected(self, now: datetime) -> list[AnyEntry]:
        """The entries as they are kept: their times by the server's clock, their role said."""
        off = self.clock - now if self.clock else timedelta()
        return [_corrected(e, off if abs(off) > _CLOCK_OFF else timedelta(), self.role) for e in self.entries]


class Acknowledgement(BaseModel):
    """What became of each entry, in the order they were sent; the others are kept where one is not taken."""

    entries: list[Acknowledged]


@router.post("/{id}/entries", status_code=201, responses=documented(404, 422))
def write_entries(id: Slug, new: NewEntries, store: Store) -> Acknowledgement:
    """Adds entries to the plan's log. What is answered is kept; nothing is judged."""
    return Acknowledgement(entries=store.write(id, new.corrected(datetime.now(UTC))))


@router.get("/{id}/entries", responses=documented(404, 422))
def read_entries(id: Slug, store: Store, after: Annotated[int, Query(ge=0, le=2**60)] = 0) -> list[Entry]:
    """The entries behind a place in the log, oldest first. Secrets are masked."""
    return list(store.log(id, after, clear=False))


@router.get("/{id}/log", responses=documented(404, 422))
def read_log(id: Slug, store: Store, pulse: Pulsed) -> list[LoggedLine]:
    """The log in words, the last entry first."""
    return list(_lines(id, store, pulse))


@router.get("/{id}/log.csv", responses=documented(404, 422))
def read_log_csv(id: Slug, store: Store, pulse: Pulsed) -> Response:
    """The log as CSV, the last entry first."""
    rows = (
        (x.at.isoformat() if x.at else "", x.role, x.kind, x.of, x.says, x.state)
        for x in _lines(id, store, pulse)
    )
    table = Table(
        id="log",
        title="Log",
        columns=("Written", "By", "Kind", "Of", "Says", "State"),
        rows=tuple(rows),
        empty="",
    )
    return download(write_csv(table), "text/csv; charset=utf-8", f"{id}-log.csv")


def _lines(id: str, store: Plans, pulse: Patience) -> tuple[LoggedLine, ...]:
    case = case_of(opened(store, id, pulse), pulse)
    return logged_lines(case, store.log(id, clear=False))


def _with_offset(entry: Any, zone: Any) -> Any:
    if not isinstance(entry, dict):
        return entry
    found = dict(entry)
    if isinstance(at := entry.get("at"), str):
        found["at"] = typed_moment(at, zone).isoformat()
    if isinstance(body := entry.get("body"), dict) and isinstance(at := body.get("at"), str):
        found["body"] = {**body, "at": typed_moment(at, zone).isoformat()}
    return found


def _corrected(entry: AnyEntry, off: timedelta, role: str) -> AnyEntry:
    """The entry with its time corrected; that of its body too where it was found as it was written."""
    update: dict[str, Any] = {"received_at": None, "sequence": None, "role": entry.role or role}
    if entry.at:
        update["at"] = entry.at - off
        if getattr(entry.body, "at", None) == entry.at:
            update["body"] = entry.body.model_copy(update={"at": update["at"]})
    return entry.model_copy(update=update)
