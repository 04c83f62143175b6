"""Gear models in and out: JSON, and CSV for a spreadsheet (RFC 4180)."""

import csv
import io
import json
from collections.abc import Iterable
from typing import Any

from pydantic import ValidationError

from humble_relay.core.catalogue.gear import Model
from humble_relay.core.hidden_text import HIDDEN
from humble_relay.core.plan import Device
from humble_relay.core.plan.edits.draft import plain_reason
from humble_relay.core.plan.secrets import sealed
from humble_relay.core.plan.upgrades import FORM, upgraded
from humble_relay.formats.csv_table import guarded, unguarded
from humble_relay.formats.json_text import read_json
from humble_relay.formats.plan_file import read_document

_FORMAT = "humble-relay-gear"
MOST_MODELS = 2000
_LATER = ("id", "place", "name", "kind")
_COLUMNS = (
    "id",
    "name",
    "kind",
    "about",
    "words",
    "origin",
    *(f for f in Device.model_fields if f not in _LATER),
)


class UnreadableGear(ValueError):
    """Gear that cannot be read; the message says where and what to change."""


def write_gear_json(models: Iterable[Model]) -> str:
    """The models as one JSON document; what is at its default is left out, and so is what may be a secret."""
    kept = [_bare(m).model_dump(mode="json", exclude_defaults=True) for m in models]
    return (
        json.dumps({"format": _FORMAT, "version": FORM, "models": kept}, ensure_ascii=False, indent=1) + "\n"
    )


def write_gear_csv(models: Iterable[Model]) -> str:
    """The models as CSV: a line each. Cells that hold a list or a record (ports, encoding) hold it as JSON."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(_COLUMNS)
    for model in models:
        doc = _bare(model).device.model_dump(mode="json", exclude_defaults=True) | {
            "id": model.id,
            "about": model.about,
            "words": model.words,
            "origin": model.origin,
        }
        writer.writerow([guarded(_cell(doc.get(c))) for c in _COLUMNS])
    return out.getvalue()


def read_gear(text: str) -> list[Model]:
    """The models of a JSON or CSV text. Raises UnreadableGear with the line and what to change."""
    text = text.lstrip("\ufeff")
    if not text.strip():
        raise UnreadableGear("The file is empty. Export the library to see what a gear file looks like.")
    entries = _from_json(text) if text.lstrip().startswith(("{", "[")) else _from_csv(text)
    if len(entries) > MOST_MODELS:
        raise UnreadableGear(f"That is {len(entries)} models; at most {MOST_MODELS} are taken in at a time.")
    models = []
    for where, entry in entries:
        try:
            models.append(Model.model_validate(entry))
        except ValidationError as error:
            raise UnreadableGear(f"{where}: {plain_reason(error)}. Nothing was taken in.") from None
    return models


def _from_json(text: str) -> list[tuple[str, dict[str, Any]]]:
    doc = read_document(text, _FORMAT, "gear", UnreadableGear)
    if not isinstance(doc.get("models"), list):
        raise UnreadableGear('This is a gear file without its list of "models".')
    return [(f"Model {i}", upgraded("model", m, doc["version"])) for i, m in enumerate(doc["models"], 1)]


def _from_csv(text: str) -> list[tuple[str, dict[str, Any]]]:
    rows = csv.DictReader(io.StringIO(text))
    try:
        return _from_rows(rows)
    except csv.Error as error:
        raise UnreadableGear(f"Line {rows.line_num}: the CSV cannot be read: {error}.") from None


def _from_rows(rows: "csv.DictReader[str]") -> list[tuple[str, dict[str, Any]]]:
    missing = [c for c in ("id", "name", "kind") if c not in (rows.fieldnames or ())]
    if missing:
        raise UnreadableGear(f"The first line must name the columns; {', '.join(missing)} is not among them.")
    found = []
    for row in rows:
        where = f"Line {rows.line_num}"
        doc: dict[str, Any] = {}
        for column, cell in row.items():
            if column is None:
                raise UnreadableGear(f"{where} has more cells than the first line names.")
            if column not in _COLUMNS:
                raise UnreadableGear(
                    f"{where}: there is no column called {column}. Known: {', '.join(_COLUMNS)}."
                )
            if cell:
                doc[column] = _value(where, column, unguarded(cell))
        said = {f: doc.pop(f, "") for f in ("about", "words", "origin")}
        found.append((where, {"id": doc.get("id"), **said, "device": doc}))
    return found


def _bare(model: Model) -> Model:
    return sealed(model, lambda _: HIDDEN)


def _cell(value: Any) -> str:
    if value is None:
        return ""
    return json.dumps(value, ensure_ascii=False) if isinstance(value, dict | list) else str(value)


def _value(where: str, column: str, cell: str) -> Any:
    if not cell.startswith(("{", "[")):
        return cell
    try:
        return read_json(cell)
    except ValueError as error:
        raise UnreadableGear(f"{where}: {column} is not JSON: {error}.") from None
