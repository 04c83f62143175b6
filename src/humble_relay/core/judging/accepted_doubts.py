"""Whether an accepted doubt still stands: by what was compared, never by the words that say so."""

import re
from collections.abc import Iterator
from typing import Any

from humble_relay.core.judging.answer import Answer
from humble_relay.core.judging.case import Case, analysis_of_each
from humble_relay.core.plan import NOUNS, Noun
from humble_relay.core.plan.acceptance import LARGEST, ComparedValues
from humble_relay.core.plan.secret_fields import held_by

MUCH_WORSE = 1.1
"""A figure that is worse by more than a tenth opens the doubt again, whatever made it so."""


def compared_by(case: Case, answer: Answer) -> ComparedValues:
    """What an answer compared, as it is kept with an acceptance."""
    numbers = answer.numbers
    return ComparedValues.model_construct(
        value=_finite(numbers.value) if numbers else None,
        relied=_finite(numbers.relied) if numbers else None,
        hopeless=_finite(numbers.hopeless) if numbers else None,
        unit=numbers.unit if numbers else "",
        at_least=bool(numbers and numbers.at_least),
        things=tuple(each[:500] for each in answer.compared[:20]),
        fields=tuple(_fields(case, answer))[:100],
    )


def stands(then: ComparedValues | None, now: ComparedValues) -> bool:
    """Whether a doubt that was accepted when `then` was compared is still accepted.

    It opens again when a thing that was compared is another one; when its figure is worse by more than a tenth; and when it
    is worse at all, and a field of the thing or a figure of the plan was changed. A better figure, other words, and a figure
    that a new version works out a little differently open nothing. What nobody noted (None) stands.

    >>> at = lambda m, **more: ComparedValues(value=m, relied=91, unit="m", fields=(f"length_m={m}",))
    >>> [stands(at(100), at(m)) for m in (100, 95, 101)]
    [True, True, False]
    >>> drifted = ComparedValues(value=104, relied=91, unit="m", fields=("length_m=100",))
    >>> stands(at(100), drifted)
    True
    """
    if then is None:
        return True
    if then.things != now.things:
        return False
    if then.value is None or now.value is None or (then.unit, then.at_least) != (now.unit, now.at_least):
        return True
    worse = _strain(now) / max(_strain(then), 1e-12)
    if worse <= 1 + 1e-9:
        return True
    return worse <= MUCH_WORSE and not _changed(then.fields, now.fields)


def _finite(number: float) -> float | None:
    return float(number) if abs(number) <= LARGEST else None


def _strain(compared: ComparedValues) -> float:
    """How far the value goes in what is relied on: 1 is all of it."""
    value, relied = compared.value or 0.0, compared.relied or 0.0
    if compared.at_least:
        value, relied = relied, value
    return value / relied if relied > 0 else 1e12 * (value > 0)


def _changed(then: tuple[str, ...], now: tuple[str, ...]) -> bool:
    """Whether a field that both know has another value (one that only one of them knows came with another version), or the plan
    sets itself another figure."""
    before, after = (dict(each.partition("=")[::2] for each in fields) for fields in (then, now))
    figures = {name for name in before.keys() | after.keys() if name.startswith("figure.")}
    return any(before.get(name) != after.get(name) for name in figures | (before.keys() & after.keys()))


def _fields(case: Case, answer: Answer) -> Iterator[str]:
    """The plain values of the thing that was asked about, of its port where it is one, and the figures the plan sets itself."""
    noun, id, part = answer.thing
    if noun != "show":
        thing = _things(case, noun).get(id)
        yield from _plain(thing, "") if thing else ()
        if noun == "device" and (port := case.ports.get(f"{id}/{part}")):
            yield from _plain(port, "port.")
    for figure, value in sorted(case.plan.settings.figures.items()):
        yield f"figure.{figure}={value:g}"
    yield f"headroom={case.plan.settings.headroom}"


@analysis_of_each
def _things(case: Case, noun: Noun) -> dict[str, Any]:
    return {x.id: x for x in getattr(case.plan, NOUNS[noun].collection)}


_WORD = re.compile(r"^[a-z0-9-]{1,60}$")


def _plain(thing: Any, before: str) -> Iterator[str]:
    """Numbers, choices and references; no name, note or address, and nothing that may be a secret."""
    held = held_by(thing.__class__)
    for name in type(thing).model_fields:
        value = getattr(thing, name)
        if name in ("id", "name") or name in held or value is None:
            continue
        if isinstance(value, bool | int | float) or (isinstance(value, str) and _WORD.match(value)):
            yield f"{before}{name}={value}"
