"""What is declared of every noun, once: where the plan keeps it, where it is typed in, and what it refers to.

The row of a noun is its collection in `Plan` (`document.py`), marked `Collection`; a field that names another thing is
marked `RefersTo`, with what happens to it when that thing goes. The edits that add and remove a noun, the well-formedness
of a plan, the look-ups of a case and the stage where a fact is typed are read from there.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any, Literal, NamedTuple

from humble_relay.core.frozen import Frozen
from humble_relay.core.plan.secret_fields import nouns_in
from humble_relay.core.plan.stages import Stage

Noun = Literal["site", "place", "uplink", "network", "device", "link", "span", "router", "aim", "comms"]
"""The nouns that a plan keeps a collection of; `document.py` fails to load when one of them has none."""
WhenGone = Literal["refused", "goes too", "cleared"]
"""What becomes of a reference whose thing is removed: the removal is `refused`; the thing that refers (or the part of it in a
list, such as a rule) `goes too`; or the field is `cleared`."""


@dataclass(frozen=True)
class Collection:
    """The row of a noun: its name, the stage where facts of it are typed, and its measurable quantities, each with the
    field of the plan that a measured value stands over."""

    noun: Noun
    typed_at: Stage
    measured: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class RefersTo:
    """Marks a field that holds the id of another thing (or a list of ids, or the `device/port` of one of its ports)."""

    noun: Noun
    when_gone: WhenGone = "refused"


class Reference(NamedTuple):
    """A field of a noun that refers to another one: the way to it, through parts and lists of the noun."""

    path: tuple[str, ...]
    noun: Noun
    when_gone: WhenGone


@lru_cache(maxsize=200)
def references_of(kind: type[Frozen]) -> tuple[Reference, ...]:
    """Every reference in a noun, its parts included.

    >>> from humble_relay.core.plan import Place, Router
    >>> references_of(Place)
    (Reference(path=('site',), noun='site', when_gone='refused'),)
    >>> [r.when_gone for r in references_of(Router) if r.path[-1] == "from_network"]
    ['goes too']
    """
    found: list[Reference] = []
    for name, about in kind.model_fields.items():
        marks = [m for m in about.metadata if isinstance(m, RefersTo)]
        found += [Reference((name,), m.noun, m.when_gone) for m in marks]
        for part in nouns_in(about.annotation):
            found += [r._replace(path=(name, *r.path)) for r in references_of(part)]
    return tuple(dict.fromkeys(found))


@lru_cache(maxsize=1000)
def ids_at(path: tuple[str, ...]) -> Callable[[Any], Sequence[str]]:
    """What reads the ids at a path of a thing, or of its document: none where nothing is referred to.

    >>> from humble_relay.core.plan import Place
    >>> ids_at(("site",))(Place(id="slipway", name="Slipway", site="creek"))
    ('creek',)
    """
    name, *rest = path
    if not rest:

        def here(thing: Any) -> Sequence[str]:
            value = thing.get(name) if thing.__class__ is dict else getattr(thing, name)
            return (value,) if value.__class__ is str else value or ()

        return here
    inner = ids_at(tuple(rest))

    def inside(thing: Any) -> Sequence[str]:
        value = thing.get(name) if thing.__class__ is dict else getattr(thing, name)
        if value.__class__ is tuple or value.__class__ is list:
            return [id for part in value for id in inner(part)]
        return inner(value) if value is not None else ()

    return inside
