"""Keys, passphrases and passwords taken out of every copy of a plan that is shown, and put back into edits of it.

What is judged, shown, printed and logged is a **sealed** plan: each secret in it is a mark such as `•3f9c21ab•`, the same
for the same secret. Edits made on a sealed plan are **opened** again before they are kept, so that moving an address
about never loses its password. What leaves for elsewhere has its secrets **withheld**: `•••`, and nothing to open.
Which field holds a secret is said with the field (`secret_fields.py`); every text about a plan is made from the sealed one.
"""

import re
from collections.abc import Callable, Collection, Iterable, Iterator
from typing import Any, TypeVar

from pydantic import TypeAdapter

from humble_relay.core.frozen import Frozen
from humble_relay.core.hidden_text import HIDDEN, MARK, Put, hide, is_mark
from humble_relay.core.plan import Device, Plan, Stream
from humble_relay.core.plan.edits import Edit, SetField, SetPort, nouns_of
from humble_relay.core.plan.edits.draft import EditRefused
from humble_relay.core.plan.secret_fields import Holds, held_at, held_by, inside

T = TypeVar("T")
_EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)
_TELLING = 6
"""A key of this many characters is also hidden where it strays to; shorter ones are common words."""
_KEYS_STRAY_INTO = ("address", "host", "app", "notes")
_WHERE_KEYS_STRAY = ("links", "devices", "show", "ingest", *_KEYS_STRAY_INTO)
"""The fields a key is pasted into by mistake, and those on the way to them."""


def sealed(thing: T, put: Put) -> T:
    """The plan, device, measurement or edit with a mark in place of each secret."""
    if isinstance(thing, Plan):
        return _lately(thing, put)[1]  # type: ignore[return-value]
    found: T = _sealed(thing, put, ())
    return found


def sealed_text(thing: T, put: Put, known: Collection[str]) -> T:
    """What was written about a plan, with a mark in place of each secret in its texts, and of the plan's own keys wherever they stand."""
    found: T = _sealed(thing, put, ())
    if not known or not isinstance(found, Frozen):
        return found
    text = found.model_dump_json()
    if not any(key in text for key in known):
        return found
    return type(found).model_validate(_hidden_in(found.model_dump(), put, known))


def _hidden_in(value: Any, put: Put, known: Collection[str]) -> Any:
    """A document with the keys hidden in all that it says; what its parts are called by stays."""
    if isinstance(value, str):
        return hide(value, put, known)
    if isinstance(value, dict):
        return {k: v if k in _NAMES_OF_PARTS else _hidden_in(v, put, known) for k, v in value.items()}
    return value


_NAMES_OF_PARTS = (
    "id",
    "kind",
    "noun",
    "thing",
    "part",
    "quantity",
    "uplink",
    "place",
    "of",
    "corrects",
    "task",
    "photo",
    "device",
    "step",
    "stamp",
)


def withheld(plan: Plan) -> Plan:
    """The plan as it may leave: no secret in it, and every stream that had one says so."""
    bare = _sealed_plan(plan, lambda _: HIDDEN, _sealed_thing)
    nothing = {name: Stream.model_fields[name].default for name in _whole_secrets(Stream)}
    links = tuple(
        new.model_copy(update=nothing | {"key_withheld": True})
        if isinstance(new, Stream) and any(getattr(new, n) != getattr(old, n) for n in held_by(Stream))
        else new
        for old, new in zip(plan.links, bare.links, strict=True)
    )
    return bare.model_copy(update={"links": links})


def telling_keys(plan: Plan) -> frozenset[str]:
    """The stream keys and stream ids of a plan that are long enough to be told from common words."""
    lately = _PLANS.get(id(plan))
    if lately and lately[0] is plan:
        return lately[2]
    found = (getattr(s, f) for s in plan.links if isinstance(s, Stream) for f in _whole_secrets(Stream))
    return frozenset(key for key in found if key and len(key) >= _TELLING and not is_mark(key))


def fields_of_secrets(whole: bool = False) -> list[str]:
    """The names of all fields that may hold a secret: those that are declared to, and those that keys are pasted into; or only
    of those that hold nothing else.

    >>> fields_of_secrets(whole=True)
    ['key', 'stream_id']
    """
    todo, seen = list[type[Frozen]]([Plan]), set[type[Frozen]]()
    while todo:
        noun = todo.pop()
        if noun not in seen:
            seen.add(noun)
            todo += [part for field in noun.model_fields for part in inside([noun], field)]
    if whole:
        return sorted({name for noun in seen for name in _whole_secrets(noun)})
    return sorted({*(name for noun in seen for name in held_by(noun)), *_KEYS_STRAY_INTO})


def secrets_of(thing: object, put: Put) -> dict[str, str]:
    """Every secret of a plan or device, by its mark."""
    found: dict[str, str] = {}

    def note(secret: str) -> str:
        mark = put(secret)
        found[mark] = found[re.sub("[sl]•$", "•", mark)] = (
            secret  # a page may hold a mark from before marks told a length
        )
        return mark

    if isinstance(thing, Plan):
        _sealed_plan(thing, note, _sealed_thing)
    else:
        sealed(thing, note)
    return found


def marked(edits: Iterable[Edit]) -> bool:
    """Whether a mark stands in any of the edits."""
    return any("•" in edit.model_dump_json() for edit in edits)


def opened(edits: Iterable[Edit], secrets: dict[str, str]) -> list[Edit]:
    """The edits with the secrets back in place of their marks. Raises EditRefused for a mark of no secret."""
    found = []
    for edit in edits:
        doc = edit.model_dump(mode="json")
        plain = opened_document(doc, secrets)
        found.append(edit if plain == doc else _EDIT.validate_python(plain))
    return found


def opened_document(value: Any, secrets: dict[str, str], otherwise: str | None = None) -> Any:
    """A JSON document with the secrets back in place of their marks, and `otherwise` in place of a mark of no secret.
    Raises EditRefused for one where nothing stands otherwise."""

    def behind(mark: re.Match[str]) -> str:
        found = secrets.get(mark[0], otherwise)
        if found is None:
            raise EditRefused(f"the hidden part {mark[0]} is not in the plan any more: type it again")
        return found

    if isinstance(value, str):
        return MARK.sub(behind, value) if "•" in value else value
    if isinstance(value, dict):
        return {k: opened_document(v, secrets, otherwise) for k, v in value.items()}
    if isinstance(value, list):
        return [opened_document(v, secrets, otherwise) for v in value]
    return value


def _sealed_plan(
    plan: Plan, put: Put, sealing: Callable[[Any, Put, frozenset[str], Collection[str]], Any]
) -> Plan:
    """The plan thing by thing: only those are walked in which some text looks like an address, or holds a key."""
    known = telling_keys(plan)
    changed = {}
    for name in Plan.model_fields:
        value, strays = getattr(plan, name), known if name in _WHERE_KEYS_STRAY else ()
        if isinstance(value, tuple):
            new: Any = tuple(sealing(x, put, known, strays) for x in value)
        else:
            new = _sealed(value, put, strays)
        if new != value:
            changed[name] = new
    return plan.model_copy(update=changed)


def _lately(plan: Plan, put: Put) -> tuple[Plan, Plan, frozenset[str], Put]:
    """A plan, itself sealed, and its keys: as before for the very same plan, which is asked for many times a second."""
    found = _PLANS.get(id(plan))
    if found and found[0] is plan and found[3] is put:
        return found
    made = (plan, _sealed_plan(plan, put, _sealed_once), telling_keys(plan), put)
    if len(_PLANS) >= _MOST_PLANS:
        _PLANS.clear()
    _PLANS[id(plan)] = made
    return made


_PLANS: dict[int, tuple[Plan, Plan, frozenset[str], Put]] = {}
"""Plans that were sealed lately, by identity, as with their things."""
_MOST_PLANS = 16


def _sealed_once(thing: Any, put: Put, known: frozenset[str], strays: Collection[str]) -> Any:
    """The thing sealed, as it was sealed before: after an edit most things of a plan are the very same."""
    found = _SEALED.get(id(thing))
    if found and found[0] is thing and found[1] is put and found[2:4] == (known, bool(strays)):
        return found[4]
    new = _sealed_thing(thing, put, known, strays)
    if len(_SEALED) >= _MOST_SEALED:
        _SEALED.clear()
    _SEALED[id(thing)] = (thing, put, known, bool(strays), new)
    return new


_SEALED: dict[int, tuple[Any, Put, frozenset[str], bool, Any]] = {}
"""Things that were sealed lately, by identity: each is held here, so that no other takes its number."""
_MOST_SEALED = 20_000


def _sealed_thing(thing: Any, put: Put, known: Collection[str], strays: Collection[str]) -> Any:
    return _sealed(thing, put, strays) if _suspect(thing, known) else thing


def _suspect(thing: object, known: Collection[str]) -> bool:
    """Whether a secret may stand in a thing of the plan: looked for in its text, which is quicker than to walk through it."""
    if not isinstance(thing, Frozen) or isinstance(thing, Stream):
        return True
    if isinstance(thing, Device) and thing.ingest and "/" in thing.ingest.app:
        return True
    text = thing.model_dump_json()
    return any(mark in text for mark in _MARKS_OF_ADDRESSES) or any(key in text for key in known)


_MARKS_OF_ADDRESSES = ("://", "@", "?", "#")


def _sealed(value: Any, put: Put, known: Collection[str]) -> Any:
    if isinstance(value, str):
        return hide(value, put, known)
    if isinstance(value, tuple):
        items = tuple(_sealed(x, put, known) for x in value)
        return items if any(a is not b for a, b in zip(items, value, strict=True)) else value
    if isinstance(value, dict):
        return {k: _sealed(v, put, known) for k, v in value.items()}
    if isinstance(value, list):
        return [_sealed(v, put, known) for v in value]
    if not isinstance(value, Frozen):
        return value
    if isinstance(value, SetField | SetPort):
        said = _sealed_value(value.value, nouns_of(value), value.field, put)
        return value if said == value.value else value.model_copy(update={"value": said})
    held, scheme = held_by(type(value)), getattr(value, "protocol", "")
    changed = {}
    for name in type(value).model_fields:
        old = getattr(value, name)
        new = _sealed_field(old, held.get(name), put, known if name in _WHERE_KEYS_STRAY else (), scheme)
        if new is not old and new != old:
            changed[name] = new
    return value.model_copy(update=changed) if changed else value


def _sealed_field(value: Any, holds: Holds | None, put: Put, known: Collection[str], scheme: str) -> Any:
    """What stands in a field, by what that is declared to hold."""
    if not isinstance(value, str) or holds is None:
        return _sealed(value, put, known)
    match holds:
        case Holds.SECRET:  # its blanks are told: they are a fault
            return value if is_mark(value) else _WORD.sub(lambda word: put(word[0]), value)
        case Holds.APPLICATION if {"/", "?"} & set(value):
            return _hidden_behind("rtmp://h/", value, put, known)
        case Holds.PATH if "?" in value or "#" in value:
            return _hidden_behind("rtsp://h" if value.startswith("/") else "rtsp://h/", value, put, known)
        case Holds.ADDRESS if "://" not in value and {"/", "?", "#"} & set(value):
            return _hidden_behind(f"{scheme or 'http'}://", value, put, known)
    return hide(value, put, known)


def _hidden_behind(before: str, text: str, put: Put, known: Collection[str]) -> str:
    """A part of an address, hidden as it would be behind what stands before it."""
    return hide(before + text, put, known).removeprefix(before)


def _sealed_value(value: Any, nouns: list[type[Frozen]], path: str, put: Put) -> Any:
    """What an edit sets a field to, sealed as the field is: a text, or the document of what stands in it."""
    if isinstance(value, str):
        return _sealed_field(value, held_at(nouns, path), put, (), "")
    for part in path.split("."):
        nouns = inside(nouns, part)
    return _sealed_document(value, nouns, put)


def _sealed_document(value: Any, nouns: list[type[Frozen]], put: Put) -> Any:
    if isinstance(value, list):
        return [_sealed_document(v, nouns, put) for v in value]
    if isinstance(value, dict):
        return {k: _sealed_value(v, nouns, k, put) for k, v in value.items()}
    return _sealed(value, put, ())


def _whole_secrets(noun: type[Frozen]) -> Iterator[str]:
    return (name for name, holds in held_by(noun).items() if holds is Holds.SECRET)


_WORD = re.compile(r"\S+")
