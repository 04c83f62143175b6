"""Facts wanted: what is not known and somebody can find out, each once, at the widest thing it is true of."""

from collections.abc import Iterable, Mapping

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.answer import Answer, Noun, Thing
from humble_relay.core.judging.stages import Stage

_TYPED_AT: dict[Noun, Stage] = {
    "show": "brief", "aim": "brief", "site": "brief", "place": "brief", "span": "brief", "device": "gear",
    "link": "signal", "network": "addresses", "router": "addresses", "uplink": "survey",
}  # fmt: skip
"""The stage where a fact of each noun is typed in."""


class WantedThing(Frozen):
    """One thing that the fact is wanted of."""

    noun: str
    id: str
    part: str


class Wanted(Frozen):
    """One fact: the question to a person, the field it goes into, of which things, and which aims wait for it."""

    id: str
    question: str
    field: str
    unit: str
    model: str
    stage: Stage
    things: tuple[WantedThing, ...]
    aims: tuple[str, ...]
    answers: int
    """How many answers it would give."""


def wanted(answers: Iterable[Answer], waiting: Mapping[str, Iterable[str]]) -> tuple[Wanted, ...]:
    """Every fact that is wanted, those that most aims wait for first. `waiting` names the aims by answer."""
    asked: dict[tuple[str, ...], list[Answer]] = {}
    for answer in answers:
        if answer.want:
            thing = answer.want.thing
            whose = ("model", answer.want.model, thing.part) if answer.want.model else tuple(thing)
            asked.setdefault((*whose, answer.want.field), []).append(answer)
    found = [_wanted(key, of, waiting) for key, of in asked.items()]
    return tuple(sorted(found, key=lambda w: (-len(w.aims), -w.answers, w.id)))


def _wanted(key: tuple[str, ...], of: list[Answer], waiting: Mapping[str, Iterable[str]]) -> Wanted:
    want = of[0].want
    assert want
    things: dict[Thing, None] = dict.fromkeys(a.want.thing for a in of if a.want)
    return Wanted(
        id=":".join(filter(None, key)),
        question=want.question,
        field=want.field,
        unit=want.unit,
        model=want.model,
        stage=_TYPED_AT[want.thing.noun],
        things=tuple(WantedThing(noun=t.noun, id=t.id, part=t.part) for t in things),
        aims=tuple(dict.fromkeys(aim for a in of for aim in waiting.get(a.id, ()))),
        answers=len(of),
    )
