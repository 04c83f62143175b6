"""A check: one question of the trade, asked of every thing of one kind where it is a question."""

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any, Generic, NamedTuple, TypeVar

from humble_relay.core.judging.answer import (
    EVIDENCE,
    HOLDS,
    Answer,
    Evidence,
    Subject,
    Thing,
    Verdict,
    Words,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import not_worked_out
from humble_relay.core.patience import Stopped
from humble_relay.core.plan.stages import Stage

T = TypeVar("T")
Each = Callable[[Case], Iterable[tuple[Thing, T]]]


class SubjectKind(NamedTuple, Generic[T]):
    """A kind of thing that questions are about: its name in words, and each of them in a case."""

    word: str
    each: Each[T]


class Check(NamedTuple):
    """One question: its name, stage and kind of thing, the question in plain words, its source, and who answers."""

    name: str
    stage: Stage
    asks_of: SubjectKind[Any]
    question: str
    source: str
    evidence: Evidence
    tried: bool
    """Whether seeing it work settles a doubt about it: not where arithmetic or a protocol decides."""
    answer: Callable[[Case, Any], Verdict]


def check(
    name: str,
    asks_of: SubjectKind[T],
    stage: Stage,
    question: str,
    source: str,
    evidence: Evidence = "plan",
    tried: bool = False,
) -> Callable[[Callable[[Case, T], Verdict]], Check]:
    """Makes a check of the function that answers it. Nothing is registered: a subject lists its checks in `CHECKS`."""

    def made(answer: Callable[[Case, T], Verdict]) -> Check:
        return Check(name, stage, asks_of, question, source, evidence, tried, answer)

    return made


class Answers(NamedTuple):
    """Every answer of a case, in the order of the checks, and by the noun and id of what was asked."""

    every: tuple[Answer, ...]
    by_thing: Mapping[tuple[Subject, str], Sequence[Answer]]


def judged(case: Case, checks: Iterable[Check]) -> Answers:
    """The answer of each check about each thing it applies to: exactly one, never none.

    A check that breaks is not known where it broke, and takes no other with it.
    """
    every: list[Answer] = []
    by_thing: defaultdict[tuple[Subject, str], list[Answer]] = defaultdict(list)
    new = tuple.__new__  # an answer as its constructor makes it, some 10 000 times
    seen = _seen_working(case)
    listed: dict[Each[Any], list[tuple[Thing, Any, list[Answer]]]] = {}
    for each in checks:
        case.pulse()
        try:
            kind = each.asks_of.each
            if kind not in listed:
                listed[kind] = [(thing, what, by_thing[thing[:2]]) for thing, what in kind(case)]
        except Stopped:
            raise
        except Exception as error:
            unlisted = Thing("show", each.name)
            every.append(_broken(each, unlisted, error))
            by_thing[unlisted[:2]].append(every[-1])
            continue
        ask, own, tried, name = each.answer, each.evidence, each.tried, each.name
        for thing, what, of_thing in listed[kind]:
            try:
                verdict = ask(case, what)
            except Stopped:
                raise
            except Exception as error:
                answer = _broken(each, thing, error)
            else:
                if verdict is HOLDS:  # most are, and nothing more is to be told of them
                    answer = new(Answer, (name, thing, "holds", None, None, None, (), own, ()))
                else:
                    state, numbers, say, want, waits, evidence, compared = verdict
                    row = name, thing, state, numbers, say, want, waits, evidence or own, compared
                    if tried and state in ("doubtful", "not known") and thing[:2] in seen:
                        row = name, thing, "holds", numbers, None, None, (), "tested", ()
                    answer = new(Answer, row)
            every.append(answer)
            of_thing.append(answer)
    by_thing.default_factory = None
    return Answers(tuple(every), by_thing)


def weakest_evidence(answers: Iterable[Answer]) -> Evidence | None:
    """The weakest evidence that the answers rest on; None for no answers."""
    return max((a.evidence for a in answers), key=EVIDENCE.index, default=None)


def trial_stands(case: Case, at: datetime) -> bool:
    """Whether a test made at that moment still says something of the show: after some weeks the place, the people in the air and the
    devices are others, and it is made again."""
    show = case.plan.show.starts_at or case.as_of
    return (show - at).total_seconds() <= case.figures["trial-stands"] * 86_400


def _seen_working(case: Case) -> set[tuple[str, str]]:
    """The things that were tested and worked, by noun and id: the newest test of each counts, while it is not too old."""
    newest = {
        (f.noun, f.thing): f.value
        for f in sorted(case.survey.facts, key=lambda f: f.at)
        if f.quantity == "works" and trial_stands(case, f.at)
    }
    return {thing for thing, value in newest.items() if value is True}


BROKEN = "unanswered"
"""The name that an answer goes by where its check broke."""


def _broken(asked: Check, thing: Thing, error: Exception) -> Answer:
    def say() -> Words:
        return Words(
            not_worked_out(asked.question),
            f"Whether it holds or fails is not known; the other questions are answered ({asked.name}, {type(error).__name__}).",
            "Look at it by hand. Undo the last change to see whether it comes from there, and report it.",
        )

    return Answer(BROKEN, thing._replace(part=asked.name), "not known", None, say, None, (), "memory")
