"""The gear library: generic models as data, copied into a plan as devices."""

import json
from functools import cache
from importlib.resources import files

from humble_relay.core.frozen import Frozen, Slug, Text
from humble_relay.core.plan import Device


class Model(Frozen):
    """One entry: the device it becomes, and a line on what it is for."""

    id: Slug
    about: Text
    device: Device


@cache
def library() -> dict[str, Model]:
    """Every model that ships, by id."""
    entries = json.loads(
        files("humble_relay.core.catalogue").joinpath("gear.json").read_text(encoding="utf-8")
    )
    models = (Model.model_validate({"id": e["id"], "about": e.pop("about"), "device": e}) for e in entries)
    return {m.id: m for m in models}


def from_library(model: str, id: str, place: str | None, name: str | None = None) -> Device:
    """A device of that model, with its own id and place. Raises KeyError for an unknown model."""
    return made_from(library()[model], id, place, name)


def made_from(model: Model, id: str, place: str | None, name: str | None = None) -> Device:
    """A device of the model, with its own id and place."""
    made = model.device
    return made.model_copy(update={"id": id, "place": place, "name": name or made.name})
