"""Every change to a plan: small typed commands, applied whole or refused whole."""

from collections.abc import Callable, Iterable
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
    TaskId,
    Uplink,
)
from humble_relay.core.video import VideoFormat

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
    value: float | None


class MarkTask(Frozen):
    """Ticks a task of the go-live order off, or on again."""

    kind: Literal["mark-task"] = "mark-task"
    task: TaskId
    done: bool


class StrikeMeasurement(Frozen):
    """Strikes a measurement out, so that nothing is judged by it, or takes that back. It is kept either way."""

    kind: Literal["strike-measurement"] = "strike-measurement"
    measurement: Slug
    struck: bool


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
    | MarkTask
    | StrikeMeasurement,
    Field(discriminator="kind"),
]


class EditRefused(ValueError):
    """An edit would leave the plan malformed; the message says what to change."""


Telling = Callable[[str, JsonValue], JsonValue]
"""What may be told of a value that is set in a field of that name."""


def apply(plan: Plan, edits: Iterable[Edit]) -> Plan:
    """The plan after all the edits. Raises EditRefused, and changes nothing, when one cannot be."""
    return told(plan, edits)[0]


def told(
    plan: Plan, edits: Iterable[Edit], telling: Telling = lambda _, value: value
) -> tuple[Plan, list[str]]:
    """The plan after all the edits, and one readable line an edit, such as `bitrate of Slipway feed 8 → 5.5 Mb/s`, each
    told on the plan as the edits before it leave it. Never shows a key. Raises EditRefused when one cannot be made."""
    draft, lines = _Draft(plan), []
    for edit in edits:
        lines.append(_describe_one(draft, edit, telling))
        draft.make(edit)
    try:
        return Plan.model_validate(draft.document()), lines
    except ValidationError as error:
        raise EditRefused(plain_reason(error)) from None


def plain_reason(error: ValidationError) -> str:
    """The first thing wrong, as a sentence with its place in the document."""
    first = error.errors()[0]
    where = ".".join(str(part) for part in first["loc"] if part not in ("cable", "radio", "stream"))
    text = first["msg"].removeprefix("Value error, ")
    more = f" (and {len(error.errors()) - 1} more)" if len(error.errors()) > 1 else ""
    return f"{where}: {text}{more}" if where else f"{text}{more}"


class _Draft:
    """A plan's document while edits are made on it. Everything is found by its id, so that an edit costs what it
    changes and not the size of the plan."""

    def __init__(self, plan: Plan) -> None:
        self._doc: dict[str, Any] = plan.model_dump(mode="json")
        self._of: dict[str, dict[str, dict[str, Any]]] = {
            noun: {item["id"]: item for item in self._doc[group]} for noun, group in COLLECTIONS.items()
        }
        self._done = dict.fromkeys(self._doc["settings"]["done"])
        self._struck = dict.fromkeys(self._doc["struck"])
        self._links_at: dict[str, set[str]] = {}
        """For each device the links that end at it, and perhaps some that did."""
        for link in self._of["link"].values():
            self._note_ends(link)

    def document(self) -> dict[str, Any]:
        """The whole document as it now stands."""
        settings = {**self._doc["settings"], "done": [*self._done]}
        lists = {group: [*self._of[noun].values()] for noun, group in COLLECTIONS.items()}
        return {**self._doc, **lists, "settings": settings, "struck": [*self._struck]}

    def part(self, name: Literal["show", "settings"]) -> dict[str, Any]:
        """The show, or the settings."""
        found: dict[str, Any] = self._doc[name]
        return found

    def find(self, noun: str, id: str | None) -> dict[str, Any]:
        """The thing of that id. Raises EditRefused."""
        found = self._of[noun].get(id or "")
        if found is None:
            raise EditRefused(f"the plan has no {noun} called {id}")
        return found

    def port(self, ref: str) -> dict[str, Any]:
        """The port. Raises EditRefused."""
        device, _, name = ref.partition("/")
        for port in self.find("device", device)["ports"]:
            if port["id"] == name:
                found: dict[str, Any] = port
                return found
        raise EditRefused(f"{device} has no port called {name}")

    def make(self, edit: Edit) -> None:
        """Makes the edit. Raises EditRefused when there is nothing of that name."""
        match edit:
            case AddPort():
                self.find("device", edit.device)["ports"].append(edit.item.model_dump(mode="json"))
            case SetField(noun="show" | "settings" as part):
                if edit.field.split(".")[0] == "done":
                    raise EditRefused("tasks are ticked off one by one")
                _set(self.part(part), edit.field, edit.value)
            case SetField():
                item = self.find(edit.noun, edit.id)
                if edit.field in ("id", "ports") or (edit.noun == "link" and edit.field == "kind"):
                    raise EditRefused(f"{edit.field} stays as it is: take the thing out and add another")
                _set(item, edit.field, edit.value)
                if edit.field in ("key", "address") and "key_withheld" in item:
                    item["key_withheld"] = False
                if edit.field in ("from_device", "to_device"):
                    item["input"] = None
                if edit.noun == "link":
                    self._note_ends(item)
            case SetPort():
                _set(self.port(edit.port), edit.field, edit.value)
            case Remove():
                self._remove(edit)
            case RemovePort():
                port, device = self.port(edit.port), edit.port.split("/")[0]
                self.find("device", device)["ports"].remove(port)
                for id in self._links_at.get(device, ()):
                    link = self._of["link"].get(id, {})
                    if link.get("to_device") == device and link.get("input") == port["id"]:
                        link["input"] = None
            case SetFigure():
                figures = self._doc["settings"]["figures"]
                figures.pop(edit.figure, None)
                if edit.value is not None:
                    figures[edit.figure] = edit.value
            case MarkTask():
                _mark(self._done, edit.task, edit.done)
            case StrikeMeasurement():
                _mark(self._struck, edit.measurement, edit.struck)
            case _:
                noun, item = edit.kind.removeprefix("add-"), edit.item.model_dump(mode="json")
                if item["id"] in self._of[noun]:
                    raise EditRefused(f"the id {item['id']} is used twice; give one another id")
                self._of[noun][item["id"]] = item
                if noun == "link":
                    self._note_ends(item)

    def _remove(self, edit: Remove) -> None:
        self.find(edit.noun, edit.id)
        del self._of[edit.noun][edit.id]
        if edit.noun == "device":
            for id in self._links_at.pop(edit.id, ()):
                if edit.id in _ends(self._of["link"].get(id, {})):
                    del self._of["link"][id]

    def _note_ends(self, link: dict[str, Any]) -> None:
        for device in _ends(link):
            self._links_at.setdefault(device, set()).add(link["id"])


def _ends(link: dict[str, Any]) -> set[str]:
    """The devices a link's document names, whether or not they are there."""
    found = (str(link.get(f) or "") for f in ("from_port", "to_port", "from_device", "to_device"))
    return {end.split("/")[0] for end in found}


_FORMAT_TO_START_FROM = {"width": 1920, "height": 1080, "rate": "50", "scan": "p"}
"""What a format is where nothing was chosen yet and one part of it is."""


def _set(item: dict[str, Any], path: str, value: JsonValue) -> None:
    *parents, last = path.split(".")
    for part in parents:
        unset = part in ("format", "produces") and part in item and item[part] is None
        if unset and last in VideoFormat.model_fields:
            item[part] = dict(_FORMAT_TO_START_FROM)
        inner = item.get(part)
        if not isinstance(inner, dict):
            raise EditRefused(f"there is no {path} to set here")
        item = inner
    if last not in item and not parents:
        raise EditRefused(f"there is no field called {last} here")
    item[last] = value


def _mark(marks: dict[str, None], id: str, on: bool) -> None:
    marks.pop(id, None)
    if on:
        marks[id] = None


_UNITS = {"mbps": "Mb/s", "kbps": "kb/s", "gbps": "Gb/s", "ms": "ms", "m": "m", "w": "W"}


def _describe_one(draft: _Draft, edit: Edit, telling: Telling) -> str:
    match edit:
        case SetField(noun="show" | "settings" as noun):
            return _change(noun, draft.part(noun), edit.field, edit.value, telling)
        case SetField():
            name, item = _named(draft, edit.noun, edit.id or "")
            return _change(name, item, edit.field, edit.value, telling)
        case SetPort():
            device, _, port_id = edit.port.partition("/")
            name, found = _named(draft, "device", device)
            port: dict[str, Any] = next((p for p in found.get("ports", ()) if p["id"] == port_id), {})
            return _change(f"{name}, {port.get('name', port_id)}", port, edit.field, edit.value, telling)
        case Remove():
            return f"took out {_named(draft, edit.noun, edit.id)[0]}"
        case RemovePort():
            return f"took out port {edit.port}"
        case AddPort():
            return f"added port {edit.item.name} to {_named(draft, 'device', edit.device)[0]}"
        case SetFigure():
            to = "back to the catalogue's" if edit.value is None else f"set to {edit.value:g}"
            return f"figure {edit.figure.replace('-', ' ')} {to}"
        case MarkTask():
            return f"{'done' if edit.done else 'not done'}: {edit.task.replace(':', ' ').replace('-', ' ')}"
        case StrikeMeasurement():
            return f"measurement {edit.measurement} {'struck out' if edit.struck else 'counts again'}"
        case AddLink():
            link = edit.item
            return (
                f"added stream {link.name}"
                if isinstance(link, Stream)
                else f"added {link.cable if link.kind == 'cable' else 'radio'} link {link.id}"
            )
        case AddSite() | AddPlace() | AddUplink() | AddNetwork() | AddDevice():
            return f"added {edit.kind.removeprefix('add-')} {edit.item.name}"


def _named(draft: _Draft, noun: str, id: str) -> tuple[str, dict[str, Any]]:
    try:
        item = draft.find(noun, id)
    except EditRefused:
        return id, {}
    return item.get("name") or f"{item.get('kind', noun)} {id}", item


def _change(owner: str, item: dict[str, Any], path: str, value: JsonValue, telling: Telling) -> str:
    before: Any = item
    for part in path.split("."):
        before = before.get(part) if isinstance(before, dict) else None
    words = path.split(".")[-1].split("_")
    unit = f" {_UNITS[words[-1]]}" if words[-1] in _UNITS else ""
    label = " ".join(words[:-1] if unit else words)
    label = "bitrate" if label == "video" else label
    if words[-1] == "key":
        return f"key of {owner} {'set' if value else 'taken out'}"
    return (
        f"{label} of {owner} {_shown(telling(words[-1], before))} → {_shown(telling(words[-1], value))}{unit}"
    )


def _shown(value: object) -> str:
    match value:
        case None | "":
            return "none"
        case {"width": _, "height": _, "rate": _}:
            try:
                return VideoFormat.model_validate(value).label
            except ValidationError:
                return "a format"
        case float():
            return f"{value:g}"
        case list():
            return ", ".join(_shown(x) for x in value[:5])[:60] or "none"
        case dict():
            return f"{len(value)} values"
    return str(value)[:60]
