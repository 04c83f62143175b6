"""Every change to a plan: small typed commands, applied whole or refused whole (see `draft.py`)."""

from typing import Annotated, Literal

from pydantic import Field, JsonValue

from humble_relay.core.frozen import Frozen, PortRef, Slug
from humble_relay.core.plan import (
    COLLECTIONS,
    Aim,
    Device,
    Link,
    Network,
    Place,
    Plan,
    Port,
    Router,
    Site,
    Span,
    TaskId,
    Uplink,
)
from humble_relay.core.plan.aims import Accepted
from humble_relay.core.plan.secret_fields import inside

Noun = Literal["site", "place", "uplink", "network", "device", "link", "span", "router", "aim"]
FieldPath = Annotated[str, Field(pattern=r"^[a-z_][a-z0-9_]*(\.[a-z_][a-z0-9_]*)*$", max_length=80)]


class AddSite(Frozen):
    kind: Literal["add-site"] = "add-site"
    item: Site


class AddPlace(Frozen):
    kind: Literal["add-place"] = "add-place"
    item: Place


class AddUplink(Frozen):
    kind: Literal["add-uplink"] = "add-uplink"
    item: Uplink


class AddNetwork(Frozen):
    kind: Literal["add-network"] = "add-network"
    item: Network


class AddDevice(Frozen):
    kind: Literal["add-device"] = "add-device"
    item: Device


class AddLink(Frozen):
    kind: Literal["add-link"] = "add-link"
    item: Link


class AddSpan(Frozen):
    kind: Literal["add-span"] = "add-span"
    item: Span


class AddRouter(Frozen):
    kind: Literal["add-router"] = "add-router"
    item: Router


class AddAim(Frozen):
    kind: Literal["add-aim"] = "add-aim"
    item: Aim


class AddPort(Frozen):
    kind: Literal["add-port"] = "add-port"
    device: Slug
    item: Port


class SetField(Frozen):
    """Sets one field of one thing; `show` and `settings` need no id. A dot reaches inside a field."""

    kind: Literal["set"] = "set"
    noun: Noun | Literal["show", "settings"]
    id: Slug | None = None
    field: FieldPath
    value: JsonValue


class SetPort(Frozen):
    """Sets one field of one port."""

    kind: Literal["set-port"] = "set-port"
    port: PortRef
    field: FieldPath
    value: JsonValue


class LeaveBy(Frozen):
    """Says by which uplink a network's traffic leaves first: its router is told, or made where it has none."""

    kind: Literal["leave-by"] = "leave-by"
    network: Slug
    uplink: Slug | None


class Accept(Frozen):
    """Takes a doubt on, with the reason why."""

    kind: Literal["accept"] = "accept"
    item: Accepted


class Reopen(Frozen):
    """Takes a doubt up again that was accepted."""

    kind: Literal["reopen"] = "reopen"
    finding: Annotated[str, Field(pattern=r"^[a-z0-9:/-]+$", max_length=300)]


class Remove(Frozen):
    """Takes a thing out. A device takes its own cables, streams and aims with it, a place its spans."""

    kind: Literal["remove"] = "remove"
    noun: Noun
    id: Slug


class RemovePort(Frozen):
    kind: Literal["remove-port"] = "remove-port"
    port: PortRef


class SetFigure(Frozen):
    """Uses another value for a catalogue figure in this plan; None goes back to the catalogue's."""

    kind: Literal["set-figure"] = "set-figure"
    figure: Slug
    value: float | None


class MarkTask(Frozen):
    """Ticks a task of the go-live order off, or on again."""

    kind: Literal["mark-task"] = "mark-task"
    task: TaskId
    done: bool


class StrikeMeasurement(Frozen):
    """Strikes a measurement out, so that nothing is judged by it, or takes that back. It is kept either way."""

    kind: Literal["strike-measurement"] = "strike-measurement"
    measurement: Slug
    struck: bool


Edit = Annotated[
    AddSite
    | AddPlace
    | AddUplink
    | AddNetwork
    | AddDevice
    | AddLink
    | AddSpan
    | AddRouter
    | AddAim
    | AddPort
    | SetField
    | SetPort
    | LeaveBy
    | Accept
    | Reopen
    | Remove
    | RemovePort
    | SetFigure
    | MarkTask
    | StrikeMeasurement,
    Field(discriminator="kind"),
]


def nouns_of(edit: SetField | SetPort) -> list[type[Frozen]]:
    """The nouns that the field which an edit sets may be one of: a link's may be a cable's, a radio link's or a stream's."""
    if isinstance(edit, SetPort):
        return [Port]
    return inside([Plan], COLLECTIONS.get(edit.noun, edit.noun))
