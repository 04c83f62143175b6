"""Every change to a plan: small typed commands, applied whole or refused whole (see `draft.py`)."""

from typing import TYPE_CHECKING, Annotated, Any, Literal, Union, get_args

from pydantic import Field, JsonValue, create_model

from humble_relay.core.frozen import Frozen, PortRef, Slug
from humble_relay.core.plan import NOUNS, Noun, Plan, Port
from humble_relay.core.plan.acceptance import Accepted
from humble_relay.core.plan.secret_fields import inside

FieldPath = Annotated[str, Field(pattern=r"^[a-z_][a-z0-9_]*(\.[a-z_][a-z0-9_]*)*$", max_length=80)]


class Addition(Frozen):
    """Adds a thing to its collection; `kind` is `add-` and its noun. `added` makes one."""

    kind: str = ""
    item: Any

    @property
    def noun(self) -> Noun:
        """Which noun it adds."""
        return next(noun for noun in NOUNS if self.kind == f"add-{noun}")


def _addition(noun: Noun) -> type[Addition]:
    name = f"add-{noun}"
    kind: Any = Literal[name]
    collection = Plan.model_fields[NOUNS[noun].collection].annotation
    item = get_args(collection)[0]
    return create_model(
        f"Add{noun.capitalize()}", __base__=Addition, __module__=__name__, kind=(kind, name), item=(item, ...)
    )


ADDITIONS: dict[Noun, type[Addition]] = {noun: _addition(noun) for noun in NOUNS}
"""The edit that adds each noun."""
globals().update(
    {edit.__name__: edit for edit in ADDITIONS.values()}
)  # where a helper process looks for them


def added(item: Frozen) -> Addition:
    """The edit that adds a thing of the plan.

    >>> from humble_relay.core.plan import Site
    >>> added(Site(id="creek", name="Creek")).kind
    'add-site'
    """
    noun = next(noun for noun, row in NOUNS.items() if isinstance(item, row.kinds))
    return ADDITIONS[noun](item=item)


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
    """Takes a thing out, and what goes with it: a device takes its own cables, streams and aims, a place its spans."""

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


OtherEdit = AddPort | SetField | SetPort | LeaveBy | Accept | Reopen | Remove | RemovePort | SetFigure
if TYPE_CHECKING:
    Edit = Addition | OtherEdit
else:
    Edit = Annotated[Union[*ADDITIONS.values(), OtherEdit], Field(discriminator="kind")]


def nouns_of(edit: SetField | SetPort) -> list[type[Frozen]]:
    """The nouns that the field which an edit sets may be one of: a link's may be a cable's, a radio link's or a stream's."""
    if isinstance(edit, SetPort):
        return [Port]
    return inside(
        [Plan], edit.noun if edit.noun == "show" or edit.noun == "settings" else NOUNS[edit.noun].collection
    )
