"""The shelf: the gear library with one's own models, and the stock."""

from typing import Annotated

from fastapi import APIRouter, Depends, Request, Response
from pydantic import BaseModel, ConfigDict, Field
from starlette.exceptions import HTTPException

from humble_relay.core.catalogue.gear import Model, library
from humble_relay.core.catalogue.stock import Holding
from humble_relay.core.frozen import Slug
from humble_relay.formats.gear_table import read_gear, write_gear_csv, write_gear_json
from humble_relay.store.shelf import Shelf
from humble_relay.web.plans import download
from humble_relay.web.problems import documented

router = APIRouter(prefix="/api", tags=["shelf"])


def shelf_of(request: Request) -> Shelf:
    """The shelf this application serves."""
    found: Shelf = request.app.state.shelf
    return found


OnShelf = Annotated[Shelf, Depends(shelf_of)]


class LibraryModel(BaseModel):
    """One model of the library; `own` where it was added or changed here."""

    model: Model
    own: bool


class GearText(BaseModel):
    """A gear file as text: JSON or CSV."""

    model_config = ConfigDict(extra="forbid")
    text: Annotated[str, Field(min_length=1, max_length=2_000_000)]


@router.get("/gear")
def gear(shelf: OnShelf) -> list[LibraryModel]:
    """Every model: those that ship, and one's own."""
    own = {m.id: m for m in shelf.models()}
    return [LibraryModel(model=m, own=m.id in own) for m in {**library(), **own}.values()]


@router.put("/gear/{model}", responses=documented(422))
def put_gear(model: Slug, entry: Model, shelf: OnShelf) -> LibraryModel:
    """Keeps a model of one's own; under the id of a shipped one it stands in its place."""
    if entry.id != model:
        raise HTTPException(
            422, f"The model says it is {entry.id} and the address says {model}: make them the same."
        )
    return LibraryModel(model=shelf.put_models([entry])[0], own=True)


@router.delete("/gear/{model}", status_code=204, responses=documented(404, 422))
def delete_gear(model: Slug, shelf: OnShelf) -> None:
    """Takes a model of one's own out; plans that use it keep their copy."""
    shelf.remove_model(model)


@router.post("/gear/import", responses=documented(422))
def import_gear(gear: GearText, shelf: OnShelf) -> list[LibraryModel]:
    """Takes models in from JSON or CSV: all, or none with the reason."""
    return [LibraryModel(model=m, own=True) for m in shelf.put_models(read_gear(gear.text))]


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


def _all(shelf: Shelf, own: bool) -> list[Model]:
    kept = {m.id: m for m in shelf.models()}
    return list((kept if own else {**library(), **kept}).values())
