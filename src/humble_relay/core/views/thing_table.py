"""All things of one noun in a table: the columns to choose from, and of each thing what stands in the chosen ones.

A cell is a field of `thing_fields`, told once for its column; so that what is typed, pasted or filled down is what the pane would take.
"""

from collections.abc import Iterator
from typing import Literal

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device, Kind, Noun, Port
from humble_relay.core.plan.stages import Stage
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.plan.vocabulary import is_public
from humble_relay.core.views.thing_fields import ThingField, own_fields, port_fields, things_of
from humble_relay.core.views.thing_pane import fields_of_the_show, name_of, says_something


class TableColumn(ThingField):
    """A field that some of the things have; `value` is empty."""

    things: int
    """How many of them have it."""


TableKind = Literal["", "cable", "radio", "stream", "socket", "destination"]
"""Of which kind the links of a table are; or that it is of the devices' network sockets, each named `device/port`, or of the platforms."""
_PUBLISHED = ("event", "links_out", "privacy", "starts", "stops_on_drop", "approval", "watched_by", "chat_by")
"""The columns of a platform that stand open, of how it publishes the show."""
_SOCKET_COLUMNS = ("interface.network", "interface.addressing", "interface.address", "interface.mask_bits", "interface.default_route", "interface.admitted")  # fmt: skip
_PASSES_PACKETS: tuple[Kind, ...] = ("router", "network-switch", "injector")


class TableCell(Frozen):
    """What stands in a field of a thing, as it would be typed."""

    value: str
    empty: str
    """What it means that it is empty."""
    parts: VideoFormat | None = None
    """Of a picture format: what it is."""


class TableRow(Frozen):
    """A thing, with a cell for each chosen column; None where it has no such field."""

    id: str
    name: str
    cells: tuple[TableCell | None, ...]


class ThingTable(Frozen):
    """Things of one noun, in the plan's order."""

    columns: tuple[TableColumn, ...]
    """All there are to choose from."""
    chosen: tuple[str, ...]
    """The paths of those that are told."""
    rows: tuple[TableRow, ...]


def table_of(
    case: Case, noun: Noun, stage: Stage, kind: TableKind = "", columns: tuple[str, ...] = ()
) -> ThingTable:
    """The things of a noun and kind, with the columns of these paths; without any, those that are of the show on this stage but the
    name, as far as some thing has them."""
    if kind == "socket":
        named = {ref: f"{d.name}, {p.name}" for ref, d, p in own_sockets(case)}
        fields = {
            ref: {f.path: _of_no_port(f) for f in port_fields(case, d, p)} for ref, d, p in own_sockets(case)
        }
        usual: tuple[str, ...] = _SOCKET_COLUMNS
    elif kind == "destination":
        platforms = [d for d in case.intended.devices if is_public(d)]
        named = {d.id: d.name for d in platforms}
        fields = {
            d.id: {f.path: _of_no_port(f) for f in own_fields(case, d) if f.path.startswith("ingest.")}
            for d in platforms
        }
        usual = tuple(f"ingest.publication.{name}" for name in _PUBLISHED)
    else:
        things = [x for x in things_of(case, noun) if not kind or getattr(x, "kind", "") == kind]
        named = {x.id: name_of(case, noun, x) for x in things}
        fields = {x.id: {f.path: f for f in own_fields(case, x) if says_something(x, f.path)} for x in things}
        usual = tuple(path for path in fields_of_the_show(kind or noun, stage) if path != "name")
    every: dict[str, ThingField] = {}
    for of in fields.values():
        every.update({path: field for path, field in of.items() if path not in every})
    chosen = tuple(path for path in columns or usual if path in every)
    return ThingTable(
        columns=tuple(
            TableColumn(
                **{**dict(field), "value": "", "parts": None},
                things=sum(path in of for of in fields.values()),
            )
            for path, field in every.items()
        ),
        chosen=chosen,
        rows=tuple(
            TableRow(id=id, name=name, cells=tuple(_cell(fields[id].get(path)) for path in chosen))
            for id, name in named.items()
        ),
    )


def _cell(field: ThingField | None) -> TableCell | None:
    return None if field is None else TableCell(value=field.value, empty=field.empty, parts=field.parts)


def _of_no_port(field: ThingField) -> ThingField:
    """A field of a port as that of a column: the row says of which."""
    return field.model_copy(update={"port": "", "group": ""})


def own_sockets(case: Case) -> Iterator[tuple[str, Device, Port]]:
    """Every network socket that has an address of its own, or should: `device/port`, and both. Devices that only pass packets on have
    none, but where they are on a network or a cable is in it."""
    for device in case.intended.devices:
        for port in device.ports:
            ref = f"{device.id}/{port.id}"
            if {"ethernet", "wifi"} & set(port.types) and (
                port.network
                or device.kind not in _PASSES_PACKETS
                or (device.kind == "network-switch" and ref in case.join_at)
            ):
                yield ref, device, port
