"""What was found, laid over what was planned: one rule for every fact, from desk or phone, and the fact that each field takes."""

from collections import defaultdict
from collections.abc import Iterable
from datetime import datetime
from typing import Any, Literal, NamedTuple, get_args, get_origin

from pydantic import BaseModel, ValidationError

from humble_relay.core.frozen import Frozen, free_id
from humble_relay.core.log.entries import AnyEntry, FactEntry, Withdrawal, WithdrawalEntry
from humble_relay.core.log.fold import folded, log_of
from humble_relay.core.plan import NOUNS, Device, Noun, Plan, Port, Span
from humble_relay.core.plan.edits import Addition, Edit, SetField, SetPort
from humble_relay.core.plan.nouns import RefersTo
from humble_relay.core.plan.secret_fields import Holds, held_at
from humble_relay.core.plan.survey import Fact, Survey

_STAY = ("id", "kind", "name", "model")
"""What a thing is, and is called, is not found out but planned."""
_SCALARS = (bool, int, float, str)


class FoundAs(Frozen):
    """Where a fact is written down: a thing, or a part of it (of a device a port, of a place the other one of a way), and the
    quantity; its unit."""

    noun: Noun
    thing: str
    part: str
    quantity: str
    unit: str = ""


def found_as(edits: Iterable[Edit], unit: str = "") -> tuple[FoundAs, ...]:
    """The facts that say what edits would set; none where one of them sets what no fact can say.

    >>> found_as([SetPort(port="encoder/lan", field="interface.address", value=None)])[0].part
    'lan'
    """
    edits, ways, found = list(edits), dict[str, Span](), list[FoundAs]()
    for edit in edits:
        match edit:
            case Addition() if isinstance(edit.item, Span):
                ways[edit.item.id] = edit.item
            case SetPort():
                device, _, port = edit.port.partition("/")
                found.append(FoundAs(noun="device", thing=device, part=port, quantity=edit.field, unit=unit))
            case SetField(noun="span", id=str(id)) if id in ways:
                way = ways[id]
                found.append(FoundAs(noun="place", thing=way.a, part=way.b, quantity=edit.field, unit=unit))
            case SetField(noun=noun, id=str(id)) if noun not in ("show", "settings"):
                found.append(FoundAs(noun=noun, thing=id, part="", quantity=edit.field, unit=unit))
            case _:
                return ()
    return tuple(f for f in found if _field(f.noun, f.part, f.quantity)) if len(found) else ()


def found_over(plan: Plan, survey: Survey) -> Plan:
    """The plan with what was found in place of what was planned: the newest found counts, of two at one time the later in the log.

    A value that its field does not take is left out: it was noted, and cannot be judged by.
    """
    things: dict[tuple[Noun, str], dict[tuple[str, str], Any]] = defaultdict(dict)
    for fact in sorted(survey.facts, key=lambda f: f.at):
        if path := _field(fact.noun, fact.part, fact.quantity):
            things[fact.noun, fact.thing][fact.part, path] = fact.value
    if not things:
        return plan
    changed: dict[str, Any] = {}
    for noun in {noun for noun, _ in things}:
        collection = NOUNS[noun].collection
        items = [_with(x, things.get((noun, x.id), {})) for x in getattr(plan, collection)]
        changed[collection] = tuple(items)
    ways = [(a, found) for (noun, a), found in things.items() if noun == "place"]
    if ways:
        changed["spans"] = _ways(plan, changed.get("spans", plan.spans), ways)
    return plan.model_copy(update=changed)


def fact_at(survey: Survey, noun: str, thing: str, part: str, path: str) -> Fact | None:
    """The newest fact that is laid over a field; None where it is as planned."""
    found = [
        f
        for f in survey.facts
        if (f.noun, f.thing, f.part) == (noun, thing, part) and _field(f.noun, f.part, f.quantity) == path
    ]
    return max(reversed(found), key=lambda f: f.at, default=None)


def _field(noun: Noun, part: str, quantity: str) -> str:
    """The path of the field that a quantity is laid over; empty where it is over none."""
    if noun == "place" and part:
        return quantity if quantity == "distance_m" else ""
    kinds: tuple[type[Frozen], ...] = (Port,) if noun == "device" and part else NOUNS[noun].kinds
    path = NOUNS[noun].measured.get(quantity, quantity) if not part else quantity
    return path if any(_may_be_found(kind, path) for kind in kinds) else ""


def _may_be_found(kind: type[BaseModel], path: str) -> bool:
    """Whether a field is a plain value that can be found out: no reference, no secret, nothing that says what the thing is."""
    if path in _STAY or held_at([kind], path) is Holds.SECRET:  # type: ignore[list-item]
        return False
    first, _, rest = path.partition(".")
    about = kind.model_fields.get(first)
    if about is None or any(isinstance(m, RefersTo) for m in about.metadata):
        return False
    inner = [t for t in _types(about.annotation) if isinstance(t, type)]
    if rest:
        return any(issubclass(t, BaseModel) and _may_be_found(t, rest) for t in inner)
    return any(issubclass(t, _SCALARS) for t in inner)


def _types(annotation: Any) -> Iterable[Any]:
    """The types that a value may be of; a choice of words is text."""
    if get_origin(annotation) is Literal:
        return (str,)
    parts = get_args(annotation)
    if get_origin(annotation) in (tuple, list, dict, frozenset):
        return ()
    return [t for p in parts for t in _types(p)] if parts else (annotation,)


def _with(item: Any, fields: dict[tuple[str, str], Any]) -> Any:
    """The thing with the fields that it takes; those whose value it refuses left alone."""
    for (part, path), value in fields.items():
        if part and isinstance(item, Device):
            ports = tuple(_set(p, path, value) if p.id == part else p for p in item.ports)
            item = item.model_copy(update={"ports": ports})
        elif not part:
            item = _set(item, path, value)
    return item


def _set(item: Any, path: str, value: Any) -> Any:
    document = item.model_dump()
    *before, last = path.split(".")
    at = document
    for name in before:
        if name not in at:
            return item
        at[name] = dict(at[name] or {})
        at = at[name]
    at[last] = value
    try:
        return type(item).model_validate(document)
    except ValidationError:
        return item


def _ways(
    plan: Plan, spans: tuple[Span, ...], found: list[tuple[str, dict[tuple[str, str], Any]]]
) -> tuple[Span, ...]:
    """The ways between places with the distances that were found; one that nobody spoke of is made."""
    known = {frozenset((s.a, s.b)): s for s in spans}
    places = {p.id for p in plan.places}
    for a, of in found:
        for (b, _), metres in of.items():
            if not b or a == b or not {a, b} <= places:
                continue
            pair = frozenset((a, b))
            way = known.get(pair) or Span(
                id=free_id("-".join(sorted(pair))[:50].strip("-"), {s.id for s in known.values()}), a=a, b=b
            )
            known[pair] = _set(way, "distance_m", metres)
    return tuple(known.values())


class TypedOver(NamedTuple):
    """Edits parted: the entries that correct what was found, and the edits that are of the plan."""

    entries: tuple[AnyEntry, ...]
    edits: tuple[Edit, ...]


def typed_over(survey: Survey, edits: Iterable[Edit], at: datetime, name: str = "typed") -> TypedOver:
    """Edits that set fields which found values are laid over, as entries that correct those; and all others as they are.

    What was planned stays as it was planned. A field that is emptied is as planned again. The entries' ids begin with `name`.
    """
    if not survey.facts:
        return TypedOver((), tuple(edits))
    standing, made, rest = survey.standing(), list[AnyEntry](), list[Edit]()
    for edit in edits:
        fact = _fact_under(standing, edit)
        value = getattr(edit, "value", None)
        id = f"{name}-{len(made) + 1}"
        if fact is None or not fact.id or not isinstance(value, str | int | float | bool | None):
            rest.append(edit)
        elif value in (None, ""):
            made.append(WithdrawalEntry(id=id, at=at, body=Withdrawal(of=fact.id)))
        else:
            said = {"id": None, "value": value, "at": at, "by": "", "method": "typed over what was found"}
            body = Fact.model_validate({**fact.model_dump(), **said})
            made.append(FactEntry(id=id, at=at, corrects=fact.id, body=body))
    return TypedOver(tuple(made), tuple(rest))


def with_entries(survey: Survey, entries: Iterable[AnyEntry]) -> Survey:
    """The survey once these entries are in the log too."""
    entries = tuple(entries)
    return folded((*log_of(survey), *entries)) if entries else survey


def _fact_under(survey: Survey, edit: Edit) -> Fact | None:
    match edit:
        case SetPort():
            device, _, port = edit.port.partition("/")
            return fact_at(survey, "device", device, port, edit.field)
        case SetField(noun=noun, id=str(id)):
            return fact_at(survey, noun, id, "", edit.field)
    return None
