"""All things of one noun in a table: the columns to choose from, and of each thing what stands in the chosen ones.

A cell is a field of `thing_fields`, told once for its column; so that what is typed, pasted or filled down is what the pane would take.
"""

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Noun
from humble_relay.core.plan.stages import Stage
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.views.thing_fields import ThingField, own_fields, things_of
from humble_relay.core.views.thing_pane import fields_of_the_show, name_of


class TableColumn(ThingField):
    """A field that some of the things have; `value` is empty."""

    things: int
    """How many of them have it."""


class TableCell(Frozen):
    """What stands in a field of a thing, as it would be typed."""

    value: str
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
    case: Case, noun: Noun, stage: Stage, kind: str = "", columns: tuple[str, ...] = ()
) -> ThingTable:
    """The things of a noun (of links one kind: cable, radio, stream), with the columns of these paths; without any, those that are of
    the show on this stage, as far as some thing has them."""
    things = [x for x in things_of(case, noun) if not kind or getattr(x, "kind", "") == kind]
    fields = {x.id: {f.path: f for f in own_fields(case, x)} for x in things}
    every: dict[str, ThingField] = {}
    for of in fields.values():
        every.update({path: field for path, field in of.items() if path not in every})
    asked = columns or fields_of_the_show(kind or noun, stage)
    chosen = tuple(path for path in asked if path in every)
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
            TableRow(
                id=x.id,
                name=name_of(case, noun, x),
                cells=tuple(_cell(fields[x.id].get(path)) for path in chosen),
            )
            for x in things
        ),
    )


def _cell(field: ThingField | None) -> TableCell | None:
    return None if field is None else TableCell(value=field.value, parts=field.parts)
