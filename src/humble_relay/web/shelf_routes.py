"""The shelf: the gear library with one's own models, and the stock."""

from typing import Annotated

from fastapi import APIRouter, Depends, Request, Response
from pydantic import BaseModel, ConfigDict, Field
from starlette.exceptions import HTTPException

from humble_relay.core.catalogue.building import with_more_ports
from humble_relay.core.catalogue.gear import Model, library, model_of, new_devices
from humble_relay.core.catalogue.stock import Holding
from humble_relay.core.frozen import Slug, Text, free_id, slug
from humble_relay.core.plan import Connector, Device
from humble_relay.core.plan.devices import PortDirection
from humble_relay.core.plan.edits import Edit, added
from humble_relay.core.plan.edits.becoming import edits_to_become
from humble_relay.formats.gear_table import read_gear, write_gear_csv, write_gear_json
from humble_relay.store.shelf import Shelf
from humble_relay.web.off_loop import OffLoop
from humble_relay.web.plan_routes import Store, download, opened
from humble_relay.web.problems import documented
from humble_relay.web.request_patience import Pulsed

router = APIRouter(prefix="/api", tags=["shelf"], route_class=OffLoop)


def shelf_of(request: Request) -> Shelf:
    """The shelf this application serves."""
    found: Shelf = request.app.state.shelf
    return found


OnShelf = Annotated[Shelf, Depends(shelf_of)]


class LibraryModel(BaseModel):
    """One model of the library; `own` where it was added or changed here."""

    model: Model
    own: bool
    found_by: str
    """All the words it is found by, in small letters."""


class WantedGear(BaseModel):
    """So many of some models, to stand in a place."""

    model_config = ConfigDict(extra="forbid")
    counts: Annotated[
        dict[Slug, Annotated[int, Field(ge=1, le=99)]],
        Field(min_length=1, max_length=200, description="How many of each model, by its id."),
    ]
    place: Slug | None = None


class NewModel(BaseModel):
    """A model of one's own as it is built or copied; its id comes from its name."""

    model_config = ConfigDict(extra="forbid")
    device: Device
    about: Text = ""
    words: Text = ""
    origin: Text = ""


class MorePorts(BaseModel):
    """So many more ports of one kind for a box that is being built."""

    model_config = ConfigDict(extra="forbid")
    device: Device
    count: Annotated[int, Field(ge=1, le=64)]
    way: PortDirection
    types: Annotated[tuple[Connector, ...], Field(min_length=1, max_length=5)]


class GearText(BaseModel):
    """A gear file as text: JSON or CSV."""

    model_config = ConfigDict(extra="forbid")
    text: Annotated[str, Field(min_length=1, max_length=2_000_000)]


@router.get("/gear")
def gear(shelf: OnShelf) -> list[LibraryModel]:
    """Every model: those that ship, and one's own."""
    own = {m.id: m for m in shelf.models()}
    return [_listed(m, m.id in own) for m in {**library(), **own}.values()]


@router.post("/gear", responses=documented(422))
def keep_new(new: NewModel, shelf: OnShelf) -> LibraryModel:
    """Keeps a model that was built or copied, under an id that no other has."""
    id = free_id(slug(new.device.name), {m.id for m in _all(shelf, own=False)})
    named = {"id": id, "model": new.device.name, "place": None}
    model = Model(
        id=id,
        about=new.about,
        words=new.words,
        origin=new.origin,
        device=new.device.model_copy(update=named),
    )
    return _listed(shelf.put_models([model])[0], True)


@router.post("/gear/ports", responses=documented(422))
def more_ports(more: MorePorts) -> Device:
    """A box that is being built, with more ports; nothing is kept."""
    return with_more_ports(more.device, more.count, more.way, more.types)


@router.post("/plans/{id}/devices/{device}/become", responses=documented(404, 422))
def become(id: Slug, device: Slug, wanted: Device, store: Store, pulse: Pulsed) -> list[Edit]:
    """The edits that make a device of a plan what it was changed to; none is made."""
    found = next((d for d in opened(store, id, pulse).plan.devices if d.id == device), None)
    if found is None:
        raise HTTPException(404, f"The plan has no device called {device}.")
    return list(edits_to_become(found, wanted))


@router.put("/gear/{model}", responses=documented(422))
def put_gear(model: Slug, entry: Model, shelf: OnShelf) -> LibraryModel:
    """Keeps a model of one's own; under the id of a shipped one it stands in its place."""
    if entry.id != model:
        raise HTTPException(
            422, f"The model says it is {entry.id} and the address says {model}: make them the same."
        )
    return _listed(shelf.put_models([entry])[0], True)


@router.delete("/gear/{model}", status_code=204, responses=documented(404, 422))
def delete_gear(model: Slug, shelf: OnShelf) -> None:
    """Takes a model of one's own out; plans that use it keep their copy."""
    shelf.remove_model(model)


@router.post("/gear/import", responses=documented(422))
def import_gear(gear: GearText, shelf: OnShelf, pulse: Pulsed) -> list[LibraryModel]:
    """Takes models in from JSON or CSV: all, or none with the reason."""
    return [_listed(m, True) for m in shelf.put_models(pulse.large(len(gear.text), read_gear, gear.text))]


@router.post("/plans/{id}/gear", responses=documented(404, 422))
def wanted_gear(id: Slug, wanted: WantedGear, shelf: OnShelf, store: Store, pulse: Pulsed) -> list[Edit]:
    """The edits that add so many of these models to a plan, each with a name and an id of its own; none is made."""
    known = {m.id: m for m in _all(shelf, own=False)}
    for model in wanted.counts:
        if model not in known:
            raise HTTPException(404, f"The library has no model called {model}.")
    pairs = ((known[model], count) for model, count in wanted.counts.items())
    return [added(d) for d in new_devices(opened(store, id, pulse).plan.devices, pairs, wanted.place)]


@router.post("/plans/{id}/devices/{device}/model", responses=documented(404, 422))
def keep_as_model(id: Slug, device: Slug, shelf: OnShelf, store: Store, pulse: Pulsed) -> LibraryModel:
    """Keeps a device of a plan, as it now is, as a model of one's own."""
    found = next((d for d in opened(store, id, pulse).plan.devices if d.id == device), None)
    if found is None:
        raise HTTPException(404, f"The plan has no device called {device}.")
    return _listed(shelf.put_models([model_of(found)])[0], True)


@router.get("/gear.json", responses=documented(422))
def gear_json(shelf: OnShelf, own: bool = False) -> Response:
    """The library as JSON; one's own models only where asked."""
    return download(write_gear_json(_all(shelf, own)), "application/json", "gear.json")


@router.get("/gear.csv", responses=documented(422))
def gear_csv(shelf: OnShelf, own: bool = False) -> Response:
    """The library as CSV; one's own models only where asked."""
    return download(write_gear_csv(_all(shelf, own)), "text/csv; charset=utf-8", "gear.csv")


@router.get("/stock")
def stock(shelf: OnShelf) -> list[Holding]:
    """What is owned and borrowed."""
    return list(shelf.holdings())


@router.put("/stock/{holding}", responses=documented(422))
def put_stock(holding: Slug, entry: Holding, shelf: OnShelf) -> Holding:
    """Keeps a holding."""
    if entry.id != holding:
        raise HTTPException(422, f"The holding says it is {entry.id} and the address says {holding}.")
    return shelf.put_holdings([entry])[0]


@router.delete("/stock/{holding}", status_code=204, responses=documented(404, 422))
def delete_stock(holding: Slug, shelf: OnShelf) -> None:
    """Takes a holding out."""
    shelf.remove_holding(holding)


def _listed(model: Model, own: bool) -> LibraryModel:
    return LibraryModel(model=model, own=own, found_by=model.found_by)


def _all(shelf: Shelf, own: bool) -> list[Model]:
    kept = {m.id: m for m in shelf.models()}
    return list((kept if own else {**library(), **kept}).values())
