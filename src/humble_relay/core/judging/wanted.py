"""Facts wanted: what is not known and can be found out, each once, at the widest thing it is true of."""

from collections.abc import Iterable, Mapping
from typing import Literal

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.answer import Answer, Choice, Thing, Want
from humble_relay.core.judging.found import FoundAs, found_as
from humble_relay.core.plan import NOUNS
from humble_relay.core.plan.edits import Edit, SetField, SetPort
from humble_relay.core.plan.stages import Stage

_PLAIN_NUMBERS = {"ingest.port"}
"""Fields that take a number of no unit."""
_PLAIN_TEXT = (
    "software.firmware", "pairing.family", "ingest.host", "address", "view_address", "interface.address",
    "pool_first", "pool_last", "range", "carrier", "encoding.main_path", "encoding.sub_path",
)  # fmt: skip


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
    typed: Literal["number", "text", "choice", "elsewhere"]
    """How it is typed where it is asked for; `elsewhere`: on its stage, where there is more to it than one value."""
    kept_in: Literal["plan", "survey"]
    """Whether it is written down on the plan, or in the survey as something that was seen."""
    choices: tuple[Choice, ...]
    """The values to choose from, each in words, where there are only so many."""
    edits: tuple[Edit, ...]
    """What writes it down: the value goes into each edit that sets one and has none yet. None where it is typed elsewhere."""
    facts: tuple[FoundAs, ...]
    """Where the answer is written down in the log; none where it is typed elsewhere."""
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
    edits: tuple[Edit, ...] = (
        ()
        if (typed := _typed(want)) == "elsewhere"
        else (*want.first, *(_setting(t, want.field) for t in things))
    )
    seen = want.field == "works"
    return Wanted(
        id=":".join(filter(None, key)),
        question=want.question,
        field=want.field,
        unit=want.unit,
        model=want.model,
        stage="brief" if want.thing.noun == "show" else NOUNS[want.thing.noun].typed_at,
        typed=typed,
        kept_in="survey" if seen else "plan",
        choices=want.choices,
        edits=() if seen else edits,
        facts=() if seen else found_as(edits, want.unit),
        things=tuple(WantedThing(noun=t.noun, id=t.id, part=t.part) for t in things),
        aims=tuple(dict.fromkeys(aim for a in of for aim in waiting.get(a.id, ()))),
        answers=len(of),
    )


def _typed(want: Want) -> Literal["number", "text", "choice", "elsewhere"]:
    if want.choices:
        return "choice"
    return (
        "number"
        if want.unit or want.field in _PLAIN_NUMBERS
        else "text"
        if want.field in _PLAIN_TEXT
        else "elsewhere"
    )


def _setting(thing: Thing, field: str) -> Edit:
    """The edit that sets the field of a thing, its value still open; the part of a device is a port of it."""
    if thing.noun == "device" and thing.part:
        return SetPort(port=f"{thing.id}/{thing.part}", field=field, value=None)
    return SetField.model_validate(
        {"noun": thing.noun, "id": None if thing.noun == "show" else thing.id, "field": field, "value": None}
    )
