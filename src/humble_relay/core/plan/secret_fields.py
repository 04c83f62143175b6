"""Which fields hold a secret: said once, where the field is declared, and read from there by what seals or tells one."""

from collections.abc import Iterable, Iterator
from enum import Enum
from functools import lru_cache
from typing import Any, get_args

from humble_relay.core.frozen import Frozen


class Holds(Enum):
    """What a text field holds, where that is more than text: `key: Annotated[Text, Holds.SECRET]`."""

    SECRET = "a secret, all of it"
    ADDRESS = "an address, with or without its scheme"
    APPLICATION = "the application of an RTMP address: what is behind its first part may be a key"
    PATH = "the path of an RTSP address: its settings may be a password"


@lru_cache(maxsize=500)
def held_by(cls: type[Frozen]) -> dict[str, Holds]:
    """The fields of a noun that hold more than text, by name."""
    return {
        name: holds
        for name, field in cls.model_fields.items()
        for holds in field.metadata
        if isinstance(holds, Holds)
    }


def held_at(classes: Iterable[type[Frozen]], path: str) -> Holds | None:
    """What the field at a path such as `ingest.app` holds, in whichever of the nouns has it.

    >>> from humble_relay.core.plan import Device
    >>> held_at([Device], "ingest.app").name
    'APPLICATION'
    """
    *before, last = path.split(".")
    for part in before:
        classes = inside(classes, part)
    return next((held_by(cls)[last] for cls in classes if last in held_by(cls)), None)


def inside(classes: Iterable[type[Frozen]], field: str) -> list[type[Frozen]]:
    """The nouns that a field of these may be, or be a list of."""
    return [
        noun
        for cls in classes
        if field in cls.model_fields
        for noun in nouns_in(cls.model_fields[field].annotation)
    ]


def nouns_in(annotation: Any) -> Iterator[type[Frozen]]:
    """The nouns that stand in a type, however it wraps them."""
    if isinstance(annotation, type) and issubclass(annotation, Frozen):
        yield annotation
    for part in get_args(annotation):
        yield from nouns_in(part)
