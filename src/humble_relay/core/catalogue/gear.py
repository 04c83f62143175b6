"""The gear library: generic models as data, copied into a plan as devices."""

import json
from collections.abc import Iterable
from functools import cache
from importlib.resources import files

from humble_relay.core.frozen import Frozen, Slug, Text, free_id, free_name, slug
from humble_relay.core.plan import Device


class Model(Frozen):
    """One entry: the device it becomes, and a line on what it is for."""

    id: Slug
    about: Text
    words: Text = ""
    """What else the trade calls it, to find it by."""
    origin: Text = ""
    """Where its data come from, such as `measured by us, June`; empty for what ships, and where nobody said."""
    device: Device

    @property
    def found_by(self) -> str:
        """All the words it is found by, in small letters."""
        device = self.device
        does = [
            *(device.encoding.protocols if device.encoding else ()),
            *(device.decoding.protocols if device.decoding else ()),
            *(t for port in device.ports for t in port.types),
        ]
        said = (
            device.name,
            device.kind.replace("-", " "),
            self.about,
            self.words,
            self.origin,
            *dict.fromkeys(does),
        )
        return " ".join(said).lower()


@cache
def library() -> dict[str, Model]:
    """Every model that ships, by id."""
    entries = json.loads(
        files("humble_relay.core.catalogue").joinpath("gear.json").read_text(encoding="utf-8")
    )
    models = (
        Model.model_validate(
            {"id": e["id"], "about": e.pop("about"), "words": e.pop("words", ""), "device": e}
        )
        for e in entries
    )
    return {m.id: m for m in models}


def from_library(model: str, id: str, place: str | None, name: str | None = None) -> Device:
    """A device of that model, with its own id and place. Raises KeyError for an unknown model."""
    return made_from(library()[model], id, place, name)


def made_from(model: Model, id: str, place: str | None, name: str | None = None) -> Device:
    """A device of the model, with its own id and place. What its set-up has of its own is read by the model's name."""
    made = model.device
    return made.model_copy(update={"id": id, "place": place, "name": name or made.name, "setup": ()})


def stands_nowhere(device: Device) -> bool:
    """Whether a device is on the internet wherever it is added: a platform, or what takes streams and has no socket, as a relay."""
    return device.kind == "platform" or (device.ingest is not None and not device.ports)


def new_devices(
    devices: Iterable[Device], wanted: Iterable[tuple[Model, int]], place: str | None
) -> list[Device]:
    """So many devices of each model, named and numbered beside those that there are; what is on the internet stands in no place."""
    every = list(devices)
    made = []
    for model, count in wanted:
        for _ in range(count):
            plain = model.device.name.removeprefix(f"{model.device.maker} ").strip() or model.device.name
            name = free_name(plain, {d.name for d in every})
            id = free_id(slug(name), {d.id for d in every})
            made.append(made_from(model, id, None if stands_nowhere(model.device) else place, name))
            every.append(made[-1])
    return made


def model_of(device: Device) -> Model:
    """The device, as it now is, as a model: without its place and its addresses."""
    name = device.model or device.name
    ports = tuple(p.model_copy(update={"interface": None}) for p in device.ports)
    bare = device.model_copy(
        update={"id": slug(name), "name": name, "model": name, "place": None, "ports": ports}
    )
    return Model(id=bare.id, about=f"Kept from {device.name}.", device=bare)
