"""Every change to a plan: small typed commands, applied whole or refused whole."""

from collections.abc import Iterable
from typing import Annotated, Any, Literal

from pydantic import Field, JsonValue, ValidationError

from humble_relay.core.frozen import Frozen, PortRef, Slug
from humble_relay.core.plan import (
    COLLECTIONS,
    Device,
    Link,
    Network,
    Place,
    Plan,
    Port,
    Site,
    Stream,
    Uplink,
)

Noun = Literal["site", "place", "uplink", "network", "device", "link"]
FieldPath = Annotated[str, Field(pattern=r"^[a-z_]+(\.[a-z_]+)*$", max_length=80)]


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


class Remove(Frozen):
    """Takes a thing out. A device takes its own cables and streams with it."""

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
    value: Annotated[float, Field(ge=0, le=1e9)] | None


class MarkTask(Frozen):
    """Ticks a task of the go-live order off, or on again."""

    kind: Literal["mark-task"] = "mark-task"
    task: Annotated[str, Field(max_length=200)]
    done: bool


Edit = Annotated[
    AddSite
    | AddPlace
    | AddUplink
    | AddNetwork
    | AddDevice
    | AddLink
    | AddPort
    | SetField
    | SetPort
    | Remove
    | RemovePort
    | SetFigure
    | MarkTask,
    Field(discriminator="kind"),
]


class EditRefused(ValueError):
    """An edit would leave the plan malformed; the message says what to change."""


def apply(plan: Plan, edits: Iterable[Edit]) -> Plan:
    """The plan after all the edits. Raises EditRefused, and changes nothing, when one cannot be."""
    doc = plan.model_dump(mode="json")
    try:
        for edit in edits:
            _apply_one(doc, edit)
        return Plan.model_validate(doc)
    except ValidationError as error:
        raise EditRefused(plain_reason(error)) from None


def plain_reason(error: ValidationError) -> str:
    """The first thing wrong, as a sentence with its place in the document."""
    first = error.errors()[0]
    where = ".".join(str(part) for part in first["loc"] if part not in ("cable", "radio", "stream"))
    text = first["msg"].removeprefix("Value error, ")
    more = f" (and {len(error.errors()) - 1} more)" if len(error.errors()) > 1 else ""
    return f"{where}: {text}{more}" if where else f"{text}{more}"


def _apply_one(doc: dict[str, Any], edit: Edit) -> None:
    match edit:
        case AddPort():
            _find(doc, "device", edit.device)["ports"].append(edit.item.model_dump(mode="json"))
        case SetField(noun="show" | "settings"):
            _set(doc[edit.noun], edit.field, edit.value)
        case SetField():
            item = _find(doc, edit.noun, edit.id)
            if edit.field in ("id", "ports") or (edit.noun == "link" and edit.field == "kind"):
                raise EditRefused(f"{edit.field} stays as it is: take the thing out and add another")
            _set(item, edit.field, edit.value)
            if edit.field == "key":
                item["key_withheld"] = False
            if edit.field in ("from_device", "to_device"):
                item["input"] = None
        case SetPort():
            _set(_port(doc, edit.port), edit.field, edit.value)
        case Remove():
            _remove(doc, edit)
        case RemovePort():
            port, device = _port(doc, edit.port), edit.port.split("/")[0]
            _find(doc, "device", device)["ports"].remove(port)
            for link in doc["links"]:
                if link.get("to_device") == device and link.get("input") == port["id"]:
                    link["input"] = None
        case SetFigure():
            doc["settings"]["figures"].pop(edit.figure, None)
            if edit.value is not None:
                doc["settings"]["figures"][edit.figure] = edit.value
        case MarkTask():
            rest = [t for t in doc["settings"]["done"] if t != edit.task]
            doc["settings"]["done"] = [*rest, edit.task] if edit.done else rest
        case _:
            group = COLLECTIONS[edit.kind.removeprefix("add-")]
            doc[group].append(edit.item.model_dump(mode="json"))


def _find(doc: dict[str, Any], noun: str, id: str | None) -> dict[str, Any]:
    for item in doc[COLLECTIONS[noun]]:
        if item["id"] == id:
            found: dict[str, Any] = item
            return found
    raise EditRefused(f"the plan has no {noun} called {id}")


def _port(doc: dict[str, Any], ref: str) -> dict[str, Any]:
    device, _, name = ref.partition("/")
    for port in _find(doc, "device", device)["ports"]:
        if port["id"] == name:
            found: dict[str, Any] = port
            return found
    raise EditRefused(f"{device} has no port called {name}")


def _set(item: dict[str, Any], path: str, value: JsonValue) -> None:
    *parents, last = path.split(".")
    for part in parents:
        inner = item.get(part)
        if not isinstance(inner, dict):
            raise EditRefused(f"there is no {path} to set here")
        item = inner
    if last not in item and not parents:
        raise EditRefused(f"there is no field called {last} here")
    item[last] = value


def _remove(doc: dict[str, Any], edit: Remove) -> None:
    item = _find(doc, edit.noun, edit.id)
    doc[COLLECTIONS[edit.noun]].remove(item)
    if edit.noun == "device":
        own = f"{edit.id}/"
        doc["links"] = [
            link
            for link in doc["links"]
            if not any(str(link.get(f, "")).startswith(own) for f in ("from_port", "to_port"))
            and edit.id not in (link.get("from_device"), link.get("to_device"))
        ]


_UNITS = {"mbps": "Mb/s", "kbps": "kb/s", "gbps": "Gb/s", "ms": "ms", "m": "m", "w": "W"}


def describe(plan: Plan, edits: Iterable[Edit]) -> list[str]:
    """One readable line an edit, such as `bitrate of Slipway feed 8 → 5.5 Mb/s`. Never shows a key."""
    lines, left = [], list(edits)
    for n, edit in enumerate(left, 1):
        lines.append(_describe_one(plan, edit))
        if n < len(left):  # the next line is told on the plan as this edit leaves it
            try:
                plan = apply(plan, [edit])
            except EditRefused:
                continue
    return lines


def _describe_one(plan: Plan, edit: Edit) -> str:
    match edit:
        case SetField(noun="show" | "settings" as noun):
            return _change(noun, getattr(plan, noun), edit.field, edit.value)
        case SetField():
            return _change(*_named(plan, edit.noun, edit.id or ""), edit.field, edit.value)
        case SetPort():
            device, _, port_id = edit.port.partition("/")
            name, found = _named(plan, "device", device)
            port = next((p for p in getattr(found, "ports", ()) if p.id == port_id), None)
            return _change(f"{name}, {port.name if port else port_id}", port, edit.field, edit.value)
        case Remove():
            return f"took out {_named(plan, edit.noun, edit.id)[0]}"
        case RemovePort():
            return f"took out port {edit.port}"
        case AddPort():
            return f"added port {edit.item.name} to {_named(plan, 'device', edit.device)[0]}"
        case SetFigure():
            to = "back to the catalogue's" if edit.value is None else f"set to {edit.value:g}"
            return f"figure {edit.figure.replace('-', ' ')} {to}"
        case MarkTask():
            return f"{'done' if edit.done else 'not done'}: {edit.task.replace(':', ' ').replace('-', ' ')}"
        case AddLink():
            link = edit.item
            return (
                f"added stream {link.name}"
                if isinstance(link, Stream)
                else f"added {link.cable if link.kind == 'cable' else 'radio'} link {link.id}"
            )
        case AddSite() | AddPlace() | AddUplink() | AddNetwork() | AddDevice():
            return f"added {edit.kind.removeprefix('add-')} {edit.item.name}"


def _named(plan: Plan, noun: str, id: str) -> tuple[str, object]:
    for item in getattr(plan, COLLECTIONS[noun]):
        if item.id == id:
            return getattr(item, "name", None) or f"{getattr(item, 'kind', noun)} {id}", item
    return id, None


def _change(owner: str, item: object, path: str, value: JsonValue) -> str:
    before = item
    for part in path.split("."):
        before = getattr(before, part, None)
    words = path.split(".")[-1].split("_")
    unit = f" {_UNITS[words[-1]]}" if words[-1] in _UNITS else ""
    label = " ".join(words[:-1] if unit else words)
    label = "bitrate" if label == "video" else label
    if words[-1] == "key":
        return f"key of {owner} {'set' if value else 'taken out'}"
    return f"{label} of {owner} {_shown(before)} → {_shown(value)}{unit}"


def _shown(value: object) -> str:
    if value is None or value == "":
        return "none"
    if isinstance(value, dict) and {"width", "height", "rate"} <= value.keys():
        return f"{value['height']}{value.get('scan', 'p')}{value['rate']}"
    label = getattr(value, "label", None)
    if isinstance(label, str):
        return label
    if isinstance(value, float):
        return f"{value:g}"
    return str(value)[:60]
