"""A plan as it stands, as a page is told of it: whole, or only what is different from what it was told last.

A show of 300 devices is a megabyte; an edit of it changes a row and a finding or two.
"""

import secrets
from collections.abc import Sequence
from datetime import datetime
from threading import Lock
from typing import Annotated, Any

from cachetools import LRUCache
from fastapi import Header
from pydantic import BaseModel, SerializerFunctionWrapHandler, field_serializer

from humble_relay.core.frozen import Frozen
from humble_relay.core.patience import Pulse
from humble_relay.core.plan import Device, Plan, Port
from humble_relay.core.plan.survey import Survey
from humble_relay.core.views.report import Report, report_on
from humble_relay.store.kept import Kept
from humble_relay.web.cases import case_of

_USUAL = {name: field.default for name, field in Port.model_fields.items() if not field.is_required()} | {
    "may_carry": []
}
"""What a port is unless it says otherwise."""
Told = Annotated[
    str | None,
    Header(
        alias="Changes-Since",
        max_length=40,
        description="The `told` of the last answer: only what is different since is sent, where the server still knows it.",
    ),
]


class Standing(BaseModel):
    """A plan as it stands, keys masked, with its report."""

    id: str
    version: int
    told: str
    """What names this answer in the header `Changes-Since` of the next change."""
    plan: Plan
    survey: Survey
    undoes: tuple[str, ...] | None
    """What undo takes back, line by line; None where there is nothing to undo."""
    redoes: tuple[str, ...] | None
    report: Report
    free_name: str | None = None
    """Of a plan that was added under a name that another one has: one that is free, to offer."""

    # Without a return type the document still says that it is a plan.
    @field_serializer("plan", mode="wrap")
    def _ports_in_short(self, plan: Plan, whole: SerializerFunctionWrapHandler):  # type: ignore[no-untyped-def]
        """Most of a plan are its ports, and most of a port is at its default: that is left out."""
        found = whole(plan.model_copy(update={"devices": ()}))
        found["devices"] = [_row(device) for device in plan.devices]  # one by one: others are served between
        return found


class FieldChanges(BaseModel):
    """What is different in a document: the fields that are others, the rows of its lists that are new or others, and the order
    of the rows where one came, went or moved."""

    fields: dict[str, Any]
    rows: dict[str, list[Any]]
    order: dict[str, list[str]]


class StandingChanges(BaseModel):
    """What is different in a plan since the answer that was `since`. Without a report where the plan is so large that its judgement
    is asked for once the change is on the screen."""

    id: str
    version: int
    told: str
    since: str
    plan: FieldChanges
    survey: FieldChanges
    report: FieldChanges | None
    undoes: tuple[str, ...] | None
    redoes: tuple[str, ...] | None


class _LastTold:
    """The last few answers by their names, to tell only what is different from them."""

    def __init__(self) -> None:
        self._known: LRUCache[str, Standing] = LRUCache(64)
        self._lock = Lock()

    def get(self, told: str) -> Standing | None:
        with self._lock:
            return self._known.get(told)

    def keep(self, standing: Standing) -> None:
        with self._lock:
            self._known[standing.told] = standing


_LAST = _LastTold()
KEPT_FIRST = 500
"""Devices and links of a plan from which a change is told as soon as it is kept, and judged afterwards."""


def standing(kept: Kept, pulse: Pulse, as_of: datetime | None = None) -> Standing:
    """The plan as it stands, sealed, and its report."""
    return _standing(kept, report_on(case_of(kept, pulse, as_of)))


def standing_after(kept: Kept, told: str | None, pulse: Pulse) -> Standing:
    """The plan as it stands after a change, with its report; with the one that its page has already, where it is large."""
    before = _LAST.get(told) if told else None
    if before and before.id == kept.id and len(kept.plan.devices) + len(kept.plan.links) > KEPT_FIRST:
        return _standing(kept, before.report)
    return standing(kept, pulse)


def _standing(kept: Kept, report: Report) -> Standing:
    found = Standing.model_construct(
        id=kept.id,
        version=kept.version,
        told=secrets.token_urlsafe(12),
        plan=kept.plan,
        survey=kept.survey,
        undoes=kept.undoes,
        redoes=kept.redoes,
        report=report,
    )
    _LAST.keep(found)
    return found


def since(told: str | None, now: Standing) -> Standing | StandingChanges:
    """What is told of a plan to who was `told` something of it before: all of it where nobody knows any more what that was."""
    before = _LAST.get(told) if told else None
    if before is None or before.id != now.id:
        return now
    return StandingChanges.model_construct(
        id=now.id,
        version=now.version,
        told=now.told,
        since=before.told,
        plan=changes_between(before.plan, now.plan),
        survey=changes_between(before.survey, now.survey),
        report=None if now.report is before.report else changes_between(before.report, now.report),
        undoes=now.undoes,
        redoes=now.redoes,
    )


def changes_between(before: Frozen, after: Frozen) -> FieldChanges:
    """What is different in the second: its lists of things with an id row by row, all else as a whole.

    >>> from humble_relay.core.plan import Place, Plan, Show, Site
    >>> quay, loft = Place(id="quay", name="Quay", site="s"), Place(id="loft", name="Loft", site="s")
    >>> a, b = (Plan(show=Show(name="Boats"), sites=(Site(id="s", name="S"),), places=p) for p in ((quay, loft), (loft,)))
    >>> found = changes_between(a, b)
    >>> found.fields, found.rows, found.order
    ({}, {'places': []}, {'places': ['loft']})
    """
    fields: set[str] = set()
    rows: dict[str, list[Any]] = {}
    order: dict[str, list[str]] = {}
    for name in type(after).model_fields:
        old, new = getattr(before, name), getattr(after, name)
        if old is new or old == new:
            continue
        was, ids = _ids(old), _ids(new)
        if was is None or ids is None:
            fields.add(name)
            continue
        there = dict(zip(was, old, strict=True))
        rows[name] = [_row(x) for i, x in zip(ids, new, strict=True) if there.get(i) is not x and there.get(i) != x]  # fmt: skip
        if was != ids:
            order[name] = ids
    return FieldChanges.model_construct(
        fields=after.model_dump(mode="json", include=fields) if fields else {}, rows=rows, order=order
    )


def _ids(value: object) -> list[str] | None:
    """The ids of a list of things, no two alike; None of anything else."""
    if not isinstance(value, Sequence) or isinstance(value, str):
        return None
    ids = [getattr(x, "id", None) for x in value]
    return ids if all(ids) and len(set(ids)) == len(ids) else None  # type: ignore[return-value]


def _row(thing: Any) -> dict[str, Any]:
    found: dict[str, Any] = thing.model_dump(mode="json")
    if isinstance(thing, Device):
        found["ports"] = [
            {k: v for k, v in port.items() if k not in _USUAL or v != _USUAL[k]} for port in found["ports"]
        ]
    return found
