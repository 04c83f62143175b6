"""Every field of a thing, as it is typed: what it is called, its unit, its value, and what it may be.

They are read off the nouns themselves, so that a field that a noun gets is on its sheet, and is called what the history calls it.
"""

from collections.abc import Iterable, Iterator
from datetime import datetime
from functools import lru_cache
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, NamedTuple, Union, get_args, get_origin

from pydantic import AwareDatetime, JsonValue, ValidationError

from humble_relay.core.catalogue.words import FILTERING_WORDS, VOCABULARY
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.found import fact_at
from humble_relay.core.judging.phrases import said_moment
from humble_relay.core.places.distances import length_words
from humble_relay.core.plan import NOUNS, Cable, Device, Interface, Noun, Port, Radio
from humble_relay.core.plan.edits.field_words import EMPTY_WORDS, field_words
from humble_relay.core.plan.nouns import RefersTo
from humble_relay.core.plan.secret_fields import Holds
from humble_relay.core.plan.survey import Survey
from humble_relay.core.plan.video import VideoFormat

FieldKind = Literal["text", "number", "whole", "choice", "yes or no", "several", "format", "list"]
"""How a field is typed; a `list` is of items that have fields of their own."""
_YES_NO = {True: "yes", False: "no"}
_NOT_TYPED = {"id", "kind", "ports", "interface", "model", "from_port", "to_port"}
"""Fields that are no field of a sheet: what a thing is, and what is a group of its own."""

_AT_FIRST = {"forwards.transport": "udp"}
"""What a needed field of a new item is at first: SRT is what most ports are forwarded for."""


class FieldChoice(Frozen):
    """One value that a field may have, and what it is called."""

    key: str
    value: JsonValue
    """As an edit writes it."""
    words: str


class ThingField(Frozen):
    """A field of a thing. `value` is as it would be typed, a choice by its key; empty where nobody said."""

    path: str
    """As edits name it."""
    port: str = ""
    """`device/port`, of a field of a port; empty of a field of the thing itself."""
    group: str = ""
    """The part or port that it is of, in words; empty for the thing itself."""
    label: str
    unit: str = ""
    kind: FieldKind
    value: str
    choices: tuple[FieldChoice, ...] = ()
    may_be_empty: bool = False
    empty: str = "not known"
    """What it means that it is empty."""
    first: str = ""
    """What has to be there before something can be chosen, where there is nothing to choose from."""
    secret: bool = False
    parts: VideoFormat | None = None
    """Of a picture format: what it is."""
    found: str = ""
    """What was found of it, by whom and when, and what was planned; empty where it is as planned."""
    there: bool = True
    """False of a field of a part that the thing does not have yet."""
    items: JsonValue = None
    """Of a list: its items as an edit writes them; None where nobody said, or where the gear's own page writes them."""
    rows: tuple[tuple["ThingField", ...], ...] = ()
    """Of a list: the fields of each item, by their names in it."""
    another: tuple["ThingField", ...] = ()
    """Of a list: the fields of an item to be added; none where it is not written here."""


class _Typed(NamedTuple):
    """A field by its declared type."""

    kind: FieldKind
    of: Any
    """The type of its values, or of each of several."""
    may_be_empty: bool
    refers: RefersTo | None
    secret: bool


def fields_of(case: Case, noun: Noun, id: str) -> tuple[ThingField, ...]:
    """Every field of a thing, its own first, then those of its parts, then port by port. Raises KeyError for none of that name."""
    thing = thing_of(case, noun, id)
    found = list(own_fields(case, thing))
    if isinstance(thing, Device):
        for port in thing.ports:
            found += port_fields(case, thing, port)
    return tuple(found)


def port_fields(case: Case, device: Device, port: Port) -> Iterator[ThingField]:
    """Every field of a port, and of how it is addressed where it is a network's."""
    yield from _with_found(case, "device", device.id, port.id, _port_fields(case, device, port))


def _port_fields(case: Case, device: Device, port: Port) -> Iterator[ThingField]:
    ref = f"{device.id}/{port.id}"
    yield from _fields(case, port, "", port.name, ref)
    if port.interface:
        yield from _fields(case, port.interface, "interface.", port.name, ref)
    elif {"ethernet", "wifi"} & set(port.types):
        yield from _fields_of_none(case, Interface, "interface.", port.name, ref)


def thing_of(case: Case, noun: Noun, id: str) -> Any:
    """A thing of the plan as it was typed. Raises KeyError."""
    found = next((x for x in things_of(case, noun) if x.id == id), None)
    if found is None:
        raise KeyError(id)
    return found


def own_fields(case: Case, thing: Any) -> Iterator[ThingField]:
    """Every field of a thing but those of its ports. What no length is said of is as long as the way between its places; the host of a
    service is one of its zones', or typed."""
    noun = next(noun for noun, row in NOUNS.items() if isinstance(thing, row.kinds))
    for field in _with_found(case, noun, thing.id, "", _fields(case, thing, "", "")):
        if isinstance(thing, Cable | Radio) and field.path in ("length_m", "distance_m"):
            field = field.model_copy(update={"empty": length_words(case, thing)})
        elif isinstance(thing, Device) and thing.ingest and field.path == "ingest.host":
            hosts = [
                FieldChoice(key=z.host, value=z.host, words=z.name) for z in thing.ingest.zones if z.host
            ]
            field = field.model_copy(update={"choices": tuple(hosts)})
        elif isinstance(thing, Device) and field.path == "item":
            labels = [i.label for h in case.stock.holdings if h.model == thing.model for i in h.items]
            known = tuple(FieldChoice(key=label, value=label, words=label) for label in labels)
            field = field.model_copy(update={"choices": known})
        yield field


def _with_found(
    case: Case, noun: Noun, id: str, part: str, fields: Iterable[ThingField]
) -> Iterator[ThingField]:
    """The fields, each with what was found of it."""
    about = [f for f in case.survey.facts if (f.noun, f.thing, f.part) == (noun, id, part)]
    for field in fields:
        fact = (
            fact_at(Survey.model_construct(facts=tuple(about)), noun, id, part, field.path) if about else None
        )
        if fact:
            whose = f" by {fact.by}" if fact.by else ""
            planned = _planned(case, noun, id, part, field.path)
            said = f"found{whose}, {said_moment(fact.at.astimezone(case.plan.show.clock))}"
            field = field.model_copy(
                update={
                    "found": f"{said}; planned: {f'{planned} {field.unit}'.strip() if planned else 'nothing'}"
                }
            )
        yield field


def _planned(case: Case, noun: Noun, id: str, part: str, path: str) -> str:
    """What the plan itself says in a field, as it is typed; empty where it says nothing."""
    at: Any = next((x for x in getattr(case.intended, NOUNS[noun].collection) if x.id == id), None)
    if part and isinstance(at, Device):
        at = next((p for p in at.ports if p.id == part), None)
    for name in path.split("."):
        at = getattr(at, name, None)
    return "" if at is None else _as_typed(case, at)


def things_of(case: Case, noun: Noun) -> tuple[Any, ...]:
    """The things of a noun as they were typed, or found since, in the plan's order."""
    return tuple(getattr(case.found, NOUNS[noun].collection))


def _fields(case: Case, part: Frozen, before: str, group: str, port: str = "") -> Iterator[ThingField]:
    for name in type(part).model_fields:
        value = getattr(part, name)
        if name in _NOT_TYPED:
            continue
        if isinstance(value, Frozen) and not isinstance(value, VideoFormat):
            yield from _fields(case, value, f"{before}{name}.", group or field_words(name)[0], port)
            continue
        if value is None and (absent := _part_of(type(part), name)):
            yield from _fields_of_none(case, absent, f"{before}{name}.", group or field_words(name)[0], port)
            continue
        typed = _typed(type(part), name)
        if typed is None:
            continue
        yield _field(
            case,
            typed,
            before + name,
            group,
            port,
            value=_as_typed(case, value),
            may_be_empty=typed.may_be_empty or typed.kind == "text",
            parts=value if isinstance(value, VideoFormat) else None,
            **(_list(case, name, typed.of, value) if typed.kind == "list" else {}),
        )


def _list(case: Case, name: str, of: type[Frozen], items: tuple[Frozen, ...] | None) -> dict[str, Any]:
    """What a field of kind `list` tells more; nothing where its items have ids, which others refer to."""
    if "id" in of.model_fields:
        return {}
    return {
        "items": None if items is None else [item.model_dump(mode="json") for item in items],
        "rows": tuple(_item_fields(case, name, of, item) for item in items or ()),
        "another": _item_fields(case, name, of, None),
    }


def _item_fields(case: Case, among: str, of: type[Frozen], item: Frozen | None) -> tuple[ThingField, ...]:
    """The fields of an item of a list; of one to be added, with what they are at first."""
    found = []
    for name, about in of.model_fields.items():
        if typed := _typed(of, name):
            at_first = _AT_FIRST.get(f"{among}.{name}") if about.is_required() else about.default
            value = getattr(item, name) if item else at_first
            needed = about.is_required() or not typed.may_be_empty
            label = field_words(f"{among}.{name}")[0]
            what = {"value": _as_typed(case, value), "may_be_empty": not needed}
            found.append(_field(case, typed, name, "", "", label=label, **what))
    return tuple(found)


def _field(
    case: Case, typed: _Typed, path: str, group: str, port: str, *, label: str = "", **what: Any
) -> ThingField:
    """A field by how it is typed, and what stands in it."""
    called, unit = field_words(path.rpartition(".")[2])
    label = label or called
    choices = _choices(case, typed, path) or _suggested(case, path)
    return ThingField(
        path=path,
        port=port,
        group=group,
        label=label[:1].upper() + label[1:],
        unit=unit,
        kind=typed.kind,
        choices=choices,
        first="" if choices else _comes_first(typed, path),
        secret=typed.secret,
        empty=EMPTY_WORDS.get(path.rpartition(".")[2], "not known"),
        **what,
    )


def _fields_of_none(
    case: Case, part: type[Frozen], before: str, group: str, port: str
) -> Iterator[ThingField]:
    """The fields of a part that a thing does not have yet: it is there as soon as one of them is typed. Where it needs one of them,
    that one alone; where it needs several, none."""
    needed = _needed(part)
    for name in needed if len(needed) == 1 else () if needed else part.model_fields:
        if (typed := _typed(part, name)) is None or typed.kind == "list":
            continue
        yield _field(case, typed, before + name, group, port, value="", may_be_empty=True, there=False)


@lru_cache(maxsize=500)
def _needed(part: type[Frozen]) -> tuple[str, ...]:
    """The fields without which there is no such part."""
    try:
        part.model_validate(part.model_construct().model_dump(mode="json", warnings=False))
    except ValidationError as error:
        return tuple(dict.fromkeys(str(wrong["loc"][0]) for wrong in error.errors()))
    return ()


@lru_cache(maxsize=500)
def _part_of(thing: type[Frozen], name: str) -> type[Frozen] | None:
    """The type of an optional part of a thing; None of a field that is none."""
    bare = _bare(thing.model_fields[name].annotation)
    part = isinstance(bare, type) and issubclass(bare, Frozen) and bare is not VideoFormat
    return bare if part else None


def _as_typed(case: Case, value: Any) -> str:
    match value:
        case None:
            return ""
        case bool():
            return str(value)
        case int() | float():
            return f"{value:.10g}"
        case datetime():
            return value.astimezone(case.plan.show.clock).strftime("%-d %b %Y, %H:%M")
        case VideoFormat():
            return value.label
        case tuple() if value and isinstance(value[0], Frozen):
            return str(len(value))
        case tuple():
            return ", ".join(map(str, value))
    return str(value)


def _choices(case: Case, typed: _Typed, path: str) -> tuple[FieldChoice, ...]:
    if typed.refers:
        things = things_of(case, typed.refers.noun)
        return tuple(FieldChoice(key=x.id, value=x.id, words=getattr(x, "name", x.id)) for x in things)
    words = _YES_NO if typed.of is bool else FILTERING_WORDS if path == "filtering" else _words_of(typed.of)
    return tuple(FieldChoice(key=str(key), value=key, words=name) for key, name in words.items())


def _comes_first(typed: _Typed, path: str) -> str:
    """What to do before there is something to choose."""
    if typed.refers:
        noun = typed.refers.noun
        return f"No {noun} yet: add one in {NOUNS[noun].typed_at.capitalize()}."
    if path in ("to_address", "via"):
        return "No device has an address that stays yet: give it one in Addresses."
    return ""


def _suggested(case: Case, path: str) -> tuple[FieldChoice, ...]:
    """The addresses that stay, for a field that holds one of another device; it may be typed all the same."""
    if path not in ("to_address", "via"):
        return ()
    held = [
        (address, device.name)
        for device in case.intended.devices
        for port in device.ports
        if port.interface and port.interface.addressing != "dhcp"
        for address in (port.interface.address, port.interface.address_v6)
        if address
    ]
    return tuple(FieldChoice(key=at, value=at, words=f"{name}, {at}") for at, name in held)


@lru_cache(maxsize=500)
def _words_of(of: Any) -> dict[Any, str]:
    """The values of a type in words; none of a type that is no list of values."""
    values = get_args(of) if get_origin(of) is Literal else ()
    for type_, words in VOCABULARY.values():
        if values and type_ is not None and get_args(_bare(type_)) == values:
            return words
    return {v: str(v).replace("-", " ") for v in values}


@lru_cache(maxsize=2000)
def _typed(part: type[Frozen], name: str) -> _Typed | None:
    """How a field is typed, by its declared type; None of a type that no field is made for, such as a part that is not there."""
    annotation, metadata = part.model_fields[name].annotation, part.model_fields[name].metadata
    marks = [*metadata, *_marks(annotation)]
    refers = next((m for m in marks if isinstance(m, RefersTo)), None)
    secret = any(m is Holds.SECRET for m in marks)
    bare, optional = _bare(annotation), _optional(annotation)
    if bare is VideoFormat:
        return _Typed("format", bare, optional, None, False)
    if get_origin(bare) is tuple:
        inner = _bare(get_args(bare)[0])
        inner_refers = next(
            (m for m in (*marks, *_marks(get_args(bare)[0])) if isinstance(m, RefersTo)), None
        )
        plain = inner is str or get_origin(inner) is Literal
        return _Typed("several" if plain else "list", inner, optional, inner_refers, secret)
    if bare is bool:
        return _Typed("yes or no", bool, optional, None, False)
    if refers or get_origin(bare) is Literal:
        return _Typed("choice", bare, optional, refers, False)
    kinds: dict[Any, FieldKind] = {int: "whole", float: "number", str: "text", AwareDatetime: "text"}
    if bare in kinds:
        return _Typed(kinds[bare], bare, optional, None, secret)
    return None


def _marks(annotation: Any) -> Iterator[Any]:
    if get_origin(annotation) is Annotated:
        yield from annotation.__metadata__
        yield from _marks(get_args(annotation)[0])
    elif get_origin(annotation) in (Union, UnionType):
        for each in get_args(annotation):
            yield from _marks(each)


def _optional(annotation: Any) -> bool:
    if get_origin(annotation) is Annotated:
        return _optional(get_args(annotation)[0])
    return get_origin(annotation) in (Union, UnionType) and NoneType in get_args(annotation)


def _bare(annotation: Any) -> Any:
    """A type without its marks, and without None."""
    if get_origin(annotation) is Annotated:
        return _bare(get_args(annotation)[0])
    if get_origin(annotation) in (Union, UnionType):
        rest = [a for a in get_args(annotation) if a is not NoneType]
        return _bare(rest[0]) if len(rest) == 1 else str if str in map(_bare, rest) else annotation
    return annotation
