"""A plan while edits are made on it: all of them or none, each told in words as it is made."""

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from datetime import date, datetime
from functools import cached_property
from typing import Any, Literal, Protocol, TypeVar

from pydantic import JsonValue, ValidationError

from humble_relay.core.frozen import Frozen, free_id
from humble_relay.core.plan import NOUNS, Noun, Plan, Router, Show
from humble_relay.core.plan.edits import (
    Accept,
    Addition,
    AddPort,
    Edit,
    LeaveBy,
    Remove,
    RemovePort,
    Reopen,
    SetField,
    SetFigure,
    SetPort,
    nouns_of,
)
from humble_relay.core.plan.edits.describe import description
from humble_relay.core.plan.moments import typed_moment
from humble_relay.core.plan.nouns import ids_at, references_of
from humble_relay.core.plan.secret_fields import inside
from humble_relay.core.plan.video import VideoFormat

T = TypeVar("T")


class Seal(Protocol):
    """What takes the secrets out of a thing of the plan, or of an edit."""

    def __call__(self, thing: T, /) -> T:
        """The thing without them."""


class EditRefused(ValueError):
    """An edit would leave the plan malformed; the message says what to change."""


def apply(plan: Plan, edits: Iterable[Edit]) -> Plan:
    """The plan after all the edits. Raises EditRefused, and changes nothing, when one cannot be."""
    draft = Draft(plan)
    for edit in edits:
        draft.make(edit)
    return draft.plan()


def told(plan: Plan, edits: Iterable[Edit], seal: Seal) -> tuple[Plan, list[str]]:
    """The plan after all the edits, and one readable line an edit, such as `bitrate of Slipway feed 8 → 5.5 Mb/s`, each
    told on the plan as the edits before it leave it. The lines are made of what `seal` leaves of things and edits, and
    never see more. Raises EditRefused when one cannot be made."""
    draft, shown, lines = Draft(plan), Draft(plan, seal), []
    for edit in edits:
        draft.make(edit)
        sealed = seal(edit)
        lines.append(description(shown.look, sealed))
        shown.make(sealed)
    return draft.plan(), lines


def plain_reason(error: ValidationError, document: Mapping[str, Any] | None = None) -> str:
    """The first thing wrong, as a sentence with its place in the document: by name, where the document is at hand."""
    found = error.errors(include_url=False, include_context=False, include_input=False)
    first = found[0]
    *before, last = first["loc"] or ("",)
    loc = [part for part in before if part not in ("cable", "radio", "stream")] + [last] * bool(first["loc"])
    match loc:
        case [str(group), int(at), *rest] if document and group in _COLLECTIONS:
            item = document[group][at]
            if isinstance(item, dict):
                loc = [item.get("name") or item.get("id") or f"{group}.{at}", *rest]
    where = ".".join(str(part) for part in loc)
    text = first["msg"].removeprefix("Value error, ")
    text = text if len(text) <= 300 else f"{text[:200]} … {text[-90:]}"
    more = f" (and {len(found) - 1} more)" if len(found) > 1 else ""
    return f"{where}: {text}{more}" if where else f"{text}{more}"


class Draft:
    """A plan's document while edits are made on it. Everything is found by its id, and is a document only once it is
    looked at: an edit costs what it changes and not the size of the plan."""

    def __init__(self, plan: Plan, seal: Seal = lambda thing: thing) -> None:
        self._seal = seal
        rest = seal(plan.model_copy(update=dict.fromkeys(_COLLECTIONS, ())))
        self._doc: dict[str, Any] = rest.model_dump(mode="json", exclude={*_COLLECTIONS})
        self._of: dict[Noun, dict[str, dict[str, Any] | Frozen]] = {
            noun: {item.id: item for item in getattr(plan, row.collection)} for noun, row in NOUNS.items()
        }
        self._accepted = {a["finding"]: a for a in self._doc["accepted"]}

    @cached_property
    def _referring(self) -> dict[tuple[Noun, str], set[tuple[Noun, str]]]:
        """For each thing those that change or go when it goes, and perhaps some that no longer refer to it."""
        found: dict[tuple[Noun, str], set[tuple[Noun, str]]] = defaultdict(set)
        for noun in NOUNS:
            for id, item in self._of[noun].items():
                for named in _named_by(noun, item):
                    found[named].add((noun, id))
        return found

    def _get(self, noun: Noun, id: str) -> dict[str, Any] | None:
        """The document of that thing; None where there is none."""
        found = self._of[noun].get(id)
        if isinstance(found, Frozen):
            found = self._of[noun][id] = self._seal(found).model_dump(mode="json")
        return found

    def _all(self, noun: Noun) -> dict[str, dict[str, Any]]:
        """The documents of all things of that kind."""
        return {id: self._get(noun, id) or {} for id in self._of[noun]}

    def plan(self) -> Plan:
        """The plan as it now stands. Raises EditRefused where it is none."""
        try:
            return Plan.model_validate(self.document())
        except ValidationError as error:
            raise EditRefused(plain_reason(error, self.document())) from None

    def document(self) -> dict[str, Any]:
        """The whole document as it now stands; what no edit looked at is in it as it was."""
        lists = {row.collection: [*self._of[noun].values()] for noun, row in NOUNS.items()}
        return {**self._doc, **lists, "accepted": [*self._accepted.values()]}

    def look(self, noun: Noun | Literal["show", "settings"], id: str | None) -> dict[str, Any]:
        """The thing of that id, or the show or settings; empty where there is none."""
        if noun == "show" or noun == "settings":
            return self.part(noun)
        return self._get(noun, id or "") or {}

    def part(self, name: Literal["show", "settings"]) -> dict[str, Any]:
        """The show, or the settings."""
        found: dict[str, Any] = self._doc[name]
        return found

    def find(self, noun: Noun, id: str | None) -> dict[str, Any]:
        """The thing of that id. Raises EditRefused."""
        found = self._get(noun, id or "")
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
            case SetField():
                if edit.noun == "show" or edit.noun == "settings":
                    if edit.field.split(".")[0] == "done":
                        raise EditRefused("tasks are ticked off one by one")
                    _set(self.part(edit.noun), edit, self._moment(edit))
                    return
                item = self.find(edit.noun, edit.id)
                if edit.field in ("id", "ports") or (edit.noun == "link" and edit.field == "kind"):
                    raise EditRefused(f"{edit.field} stays as it is: take the thing out and add another")
                _set(item, edit, edit.value)
                if edit.field in ("key", "address") and "key_withheld" in item:
                    item["key_withheld"] = False
                if edit.field == "key" and "key_carried" in item:
                    item["key_carried"] = False
                if edit.noun == "link" and edit.field in ("from_device", "to_device"):
                    item["input"] = None
                self._note(edit.noun, item)
            case SetPort():
                _set(self.port(edit.port), edit, edit.value)
            case Remove():
                self.find(edit.noun, edit.id)
                self._remove(edit.noun, edit.id)
            case RemovePort():
                port, device = self.port(edit.port), edit.port.split("/")[0]
                self.find("device", device)["ports"].remove(port)
                for noun, id in self._referring["device", device]:
                    link = (self._get(noun, id) if noun == "link" else None) or {}
                    if link.get("to_device") == device and link.get("input") == port["id"]:
                        link["input"] = None
            case LeaveBy():
                self._leave_by(edit)
            case Accept():
                self._accepted[edit.item.finding] = edit.item.model_dump(mode="json")
            case Reopen():
                self._accepted.pop(edit.finding, None)
            case SetFigure():
                figures = self._doc["settings"]["figures"]
                figures.pop(edit.figure, None)
                if edit.value is not None:
                    figures[edit.figure] = edit.value
            case Addition():
                noun = edit.noun
                item = edit.item.model_dump(mode="json")
                if item["id"] in self._of[noun]:
                    raise EditRefused(f"the id {item['id']} is used twice; give one another id")
                self._of[noun][item["id"]] = item
                self._note(noun, item)

    def _moment(self, edit: SetField) -> JsonValue:
        """The value, of a moment that was typed as it is read the moment it stands for on the show's clock; of sessions likewise."""
        if edit.noun in ("show", "aim") and edit.field.endswith("_at") and isinstance(edit.value, str):
            return self._typed(edit.value)
        if (edit.noun, edit.field) == ("show", "sessions") and isinstance(edit.value, list):
            return [self._session(each) if isinstance(each, dict) else each for each in edit.value]
        return edit.value

    def _session(self, session: dict[str, JsonValue]) -> JsonValue:
        """A session with its moments read; a time alone at its end is of the day that it starts on."""
        found, beside = dict(session), None
        for field in ("starts_at", "ends_at"):
            if isinstance(typed := found.get(field), str):
                read = self._typed(typed, beside)
                found[field], beside = read, datetime.fromisoformat(read).date()
        return found

    def _typed(self, text: str, beside: date | None = None) -> str:
        show = Show.model_validate(self.part("show"))
        near = show.starts_at or show.ends_at
        try:
            return typed_moment(text, show.clock, beside or (near.date() if near else None)).isoformat()
        except ValueError as error:
            raise EditRefused(str(error)) from None

    def _leave_by(self, edit: LeaveBy) -> None:
        """The uplink first among those of the network's router; None: it leaves by none, on a router of its own."""
        network = self.find("network", edit.network)
        if edit.uplink is not None:
            self.find("uplink", edit.uplink)
        routers = self._all("router")
        router = next((r for r in routers.values() if edit.network in r["networks"]), None)
        if router and len(router["networks"]) > 1 and [edit.uplink] != router["uplinks"][:1]:
            router["networks"].remove(edit.network)  # the other networks leave as they did
            router = None
        if router is None:
            if edit.uplink is None:
                return
            shared = (r for r in routers.values() if r["uplinks"][:1] == [edit.uplink])
            router = next(shared, None) or self._new_router(network)
            router["networks"].append(edit.network)
        kept = [u for u in router["uplinks"] if u != edit.uplink] if edit.uplink else []
        router["uplinks"] = [edit.uplink, *kept] if edit.uplink else []

    def _new_router(self, network: dict[str, Any]) -> dict[str, Any]:
        """A router at the network's site: the box that stands there where there is one and it is no other's."""
        routers = self._all("router")
        places = {p["id"] for p in self._all("place").values() if p["site"] == network["site"]}
        taken = {r["device"] for r in routers.values()}
        boxes = [
            d["id"]
            for d in self._all("device").values()
            if d["kind"] == "router" and d["place"] in places and d["id"] not in taken
        ]
        site = self.find("site", network["site"])["name"]
        id = free_id(f"{network['site'][:50].strip('-')}-router", routers)
        name = f"Router, {site}"[:80] if not routers else f"Router {len(routers) + 1}, {site}"[:80]
        box = boxes[0] if len(boxes) == 1 else None
        router = Router(id=id, name=name, site=network["site"], device=box).model_dump(mode="json")
        self._of["router"][id] = router
        return router

    def _remove(self, noun: Noun, id: str) -> None:
        """Takes a thing out, with all that goes with it, and clears what else refers to it (`RefersTo`)."""
        self._of[noun].pop(id, None)
        for other, owner in self._referring.pop((noun, id), ()):
            item = self._get(other, owner)
            if item is not None and not _without(item, other, noun, id):
                self._remove(other, owner)

    def _note(self, noun: Noun, item: dict[str, Any]) -> None:
        if "_referring" in self.__dict__:  # where nobody has asked yet, all are counted once it is asked
            for named in _named_by(noun, item):
                self._referring[named].add((noun, item["id"]))


def _kinds(noun: Noun, item: dict[str, Any] | Frozen) -> tuple[type[Frozen], ...]:
    return NOUNS[noun].kinds if isinstance(item, dict) else (type(item),)


def _named_by(noun: Noun, item: dict[str, Any] | Frozen) -> Iterator[tuple[Noun, str]]:
    """The things whose removal a thing does not outlast unchanged."""
    for kind in _kinds(noun, item):
        for reference in references_of(kind):
            if reference.when_gone != "refused":
                yield from ((reference.noun, str(id).split("/")[0]) for id in ids_at(reference.path)(item))


def _without(item: dict[str, Any], noun: Noun, gone: Noun, id: str) -> bool:
    """Whether a document outlasts the removal of a thing that it refers to; its references are cleared, and parts of its
    lists that cannot do without it are taken out."""
    for kind in NOUNS[noun].kinds:
        for path, to, when_gone in references_of(kind):
            if to == gone and when_gone != "refused" and not _cleared(item, path, id, when_gone == "cleared"):
                return False
    return True


def _cleared(item: dict[str, Any], path: tuple[str, ...], id: str, clear: bool) -> bool:
    """Whether what holds the reference at a path stays when the thing of that id goes."""
    name, *rest = path
    value = item.get(name)
    if isinstance(value, list):
        if rest:
            item[name] = [part for part in value if _cleared(part, tuple(rest), id, clear)]
        elif id in value and not clear:
            return False
        else:
            item[name] = [each for each in value if each != id]
    elif isinstance(value, dict):
        return _cleared(value, tuple(rest), id, clear)
    elif isinstance(value, str) and value.split("/")[0] == id:
        item[name] = None if clear else value
        return clear
    return True


_COLLECTIONS = tuple(row.collection for row in NOUNS.values())
_FORMAT_TO_START_FROM = {"width": 1920, "height": 1080, "rate": "50", "scan": "p"}
"""What a format is where nothing was chosen yet and one part of it is."""


def _set(item: dict[str, Any], edit: SetField | SetPort, value: JsonValue) -> None:
    """Sets a field; an optional part of a thing (`power` of a device) is there, empty, as soon as one field of it is set."""
    *parents, last = edit.field.split(".")
    kinds = nouns_of(edit)
    for part in parents:
        kinds = inside(kinds, part)
        if part in item and item[part] is None:
            item[part] = _to_start_from(kinds, last)
        inner = item.get(part)
        if not isinstance(inner, dict):
            raise EditRefused(f"there is no {edit.field} to set here")
        item = inner
    if last not in item and not parents:
        raise EditRefused(f"there is no field called {last} here")
    item[last] = value


def _to_start_from(kinds: list[type[Frozen]], field: str) -> dict[str, Any] | None:
    """The document of a part in which nothing but that field is chosen yet; None where it has no such field, or needs others."""
    for kind in kinds:
        if kind is VideoFormat and field in VideoFormat.model_fields:
            return dict(_FORMAT_TO_START_FROM)
        needed = {name for name, about in kind.model_fields.items() if about.is_required()}
        if not needed:
            return kind().model_dump(mode="json")
        if needed == {field}:
            return {}
    return None
