"""A list of devices out of a spreadsheet: names, models or kinds, places and addresses, in whichever columns they stand."""

import csv
import re
from collections.abc import Sequence

from humble_relay.core.addressing.hosts import address_in
from humble_relay.core.catalogue.gear import Model, new_devices
from humble_relay.core.frozen import free_name
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device
from humble_relay.core.plan.edits import Edit, SetPort, added
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.commands.naming import fits, is_address

_COLUMNS = {
    "name": ("name", "device", "label", "unit"), "model": ("model", "type", "kind", "what", "product"),
    "place": ("place", "location", "room", "where", "position"), "address": ("ip", "address", "ip address", "ipv4"),
}  # fmt: skip
_MOST = 200


def devices_in(case: Case, text: str) -> tuple[list[Alternative], list[str]]:
    """All devices of the list in one change; the lines whose device is of no known model or kind are left. Nothing where the text is no
    table of devices."""
    rows = [
        row
        for row in csv.reader(text.splitlines()[:_MOST], delimiter=_delimiter(text))
        if any(cell.strip() for cell in row)
    ]
    if not rows or max(map(len, rows)) < 2:
        return [], []
    columns = _headed(rows[0])
    body = rows[1:] if columns else rows
    columns = columns or _guessed(case, rows)
    made: list[Device] = []
    edits: list[Edit] = []
    left = []
    for row in body:
        cells = {what: row[n].strip() for what, n in columns.items() if n < len(row)}
        model = _model(case, cells)
        if model is None:
            left.append(", ".join(row))
            continue
        device = _device(case, model, cells, made)
        made.append(device)
        edits.append(added(device))
        edits += _addressed(device, cells.get("address", ""))
    if not made:
        return [], []
    names = ", ".join(d.name for d in made[:6]) + (f" and {len(made) - 6} more" if len(made) > 6 else "")
    return [
        Alternative(
            title=f"Add {len(made)} device{'s' * (len(made) > 1)}: {names}",
            edits=tuple(edits),
            go="gear",
            page="plan",
        )
    ], left


def _delimiter(text: str) -> str:
    first = text.strip().splitlines()[0] if text.strip() else ""
    return max("\t;,", key=first.count)


def _headed(row: Sequence[str]) -> dict[str, int]:
    """The columns by their headings; empty where the row is none of headings."""
    found = {}
    for n, cell in enumerate(row):
        for what, words in _COLUMNS.items():
            if cell.strip().lower() in words and what not in found:
                found[what] = n
    return found if len(found) > 1 else {}


def _guessed(case: Case, rows: Sequence[Sequence[str]]) -> dict[str, int]:
    """Which column holds what, by what stands in most of its cells; the first other one has the names."""
    cells = {
        n: [row[n].strip() for row in rows if n < len(row) and row[n].strip()]
        for n in range(max(map(len, rows)))
    }

    def mostly(true: Sequence[bool]) -> bool:
        return bool(true) and sum(true) > len(true) / 2

    found: dict[str, int] = {}
    for n, column in cells.items():
        what = (
            "address" if mostly([is_address(c) for c in column])
            else "place" if mostly([any(p.name.lower() == c.lower() for p in case.places.values()) for c in column])
            else "model" if "model" not in found and mostly([_named(case, c) is not None for c in column])
            else "name"
        )  # fmt: skip
        found.setdefault(what, n)
    if "model" not in found and "name" in found:
        found["model"] = found["name"]
    return found


def _named(case: Case, text: str) -> Model | None:
    """The model of that name; else the first that all the words are said of."""
    plain = text.lower()
    every = list(case.models.values())
    whole = next((m for m in every if plain in (m.device.name.lower(), (m.device.model or "").lower())), None)
    words = re.sub(r"\s+\d+$", "", plain)
    return whole or (next((m for m in every if fits(words, m.found_by)), None) if words else None)


def _model(case: Case, cells: dict[str, str]) -> Model | None:
    return _named(case, cells["model"]) if cells.get("model") else _named(case, cells.get("name", ""))


def _device(case: Case, model: Model, cells: dict[str, str], made: Sequence[Device]) -> Device:
    place = next(
        (p.id for p in case.places.values() if cells.get("place") and fits(cells["place"].lower(), p.name)),
        None,
    )
    every = [*case.devices.values(), *made]
    (device,) = new_devices(every, [(model, 1)], place)
    name = cells.get("name") or device.name
    return device.model_copy(update={"name": free_name(name[:80], {d.name for d in every})})


def _addressed(device: Device, address: str) -> list[Edit]:
    """Its address, at its first network socket."""
    socket = next((p for p in device.ports if {"ethernet", "wifi"} & set(p.types)), None)
    if socket is None or not is_address(address) or address_in(address) is None:
        return []
    return [SetPort(port=f"{device.id}/{socket.id}", field="interface.address", value=address)]
