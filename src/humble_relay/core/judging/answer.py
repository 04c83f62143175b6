"""What a check answers about one thing: it holds, fails, is doubtful, or is not known; and what was compared.

Answers are light: a plan of 300 devices has about 20 000. What is said of one is made when it is opened.
"""

from collections.abc import Callable, Iterable
from typing import Literal, NamedTuple, Protocol

from pydantic import JsonValue

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.working import Working, number
from humble_relay.core.plan import Noun
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.video import VideoFormat

State = Literal["holds", "doubtful", "not known", "fails"]
WEAKEST: tuple[State, ...] = ("fails", "not known", "doubtful", "holds")
"""The states, the weakest first."""


def weakest(states: Iterable[State | None]) -> State | None:
    """The weakest of them; None where all hold or nothing is said.

    >>> weakest(["holds", "doubtful", None])
    'doubtful'
    """
    found: State = min((s for s in states if s), key=WEAKEST.index, default="holds")
    return None if found == "holds" else found


Evidence = Literal["tested", "measured", "plan", "standard", "gear", "practice", "memory"]
EVIDENCE: tuple[Evidence, ...] = (
    "tested",
    "measured",
    "standard",
    "plan",
    "gear",
    "practice",
    "memory",
)
"""What an answer can rest on, the strongest first."""
Subject = Literal["show"] | Noun
"""What a question may be asked of: the show, or a noun of the plan."""


class Thing(NamedTuple):
    """What a question is about: a noun of the plan, and the part of it that is meant (a port, a feature)."""

    noun: Subject
    id: str
    part: str = ""


class Numbers(NamedTuple):
    """What was compared: the value, what is relied on, and what is hopeless (beyond it, it fails), in one unit."""

    value: float
    relied: float
    hopeless: float
    unit: str
    at_least: bool = False
    """Whether the value must be at least the limit; otherwise at most."""

    @property
    def words(self) -> str:
        """Such as `44 m, relied on up to 91 m`.

        >>> Numbers(44, 91, 136.5, "m").words
        '44 m, relied on up to 91 m'
        """
        side = "from" if self.at_least else "up to"
        return f"{number(self.value)} {self.unit}, relied on {side} {number(self.relied)} {self.unit}"


class Words(NamedTuple):
    """What is said of an answer: what is wrong or to be known, what it means on the day, what to do, and the sum."""

    wrong: str
    means: str
    do: str
    working: Working | None = None


Say = Callable[[], Words]


class Choice(Frozen):
    """One value a fact may have, and what it is called."""

    value: JsonValue
    words: str


YES_NO: tuple[Choice, ...] = (Choice(value=True, words="yes"), Choice(value=False, words="no"))
USUAL: tuple[Choice, ...] = tuple(
    Choice(value=fmt.model_dump(mode="json"), words=f"{fmt.label}, {fmt.width} × {fmt.height}")
    for height, rate, scan in (
        (1080, "50", "p"), (1080, "59.94", "p"), (1080, "60", "p"), (1080, "25", "p"), (1080, "29.97", "p"), (1080, "30", "p"),
        (1080, "25", "i"), (1080, "29.97", "i"), (720, "50", "p"), (720, "59.94", "p"), (720, "60", "p"), (720, "30", "p"),
        (2160, "25", "p"), (2160, "30", "p"), (2160, "50", "p"), (2160, "60", "p"),
    )
    for fmt in (VideoFormat.model_validate({"width": height * 16 // 9, "height": height, "rate": rate, "scan": scan}),)
)  # fmt: skip
"""The pictures that are usual, to choose from where one is asked for."""


class Want(NamedTuple):
    """A fact that would settle an answer: whose, which field, the question to a person, and the field's unit."""

    thing: Thing
    field: str
    question: str
    unit: str = ""
    model: str = ""
    """The model it is true of, where every box of that model is alike in it."""
    first: tuple[Edit, ...] = ()
    """What must be made before the field is there."""
    choices: tuple[Choice, ...] = ()
    """The values to choose from, each in words, where the field takes only so many."""


class Question(Protocol):
    """A check, as answers refer to it."""

    @property
    def name(self) -> str:
        """Its name."""

    @property
    def question(self) -> str:
        """What it asks, in plain words."""


class NamedQuestion(NamedTuple):
    """A question declared below the room that answers it, for those that wait for its answer."""

    name: str
    question: str


class DependsOn(NamedTuple):
    """An answer that another one waits for: which check, of which thing."""

    check: Question
    thing: Thing


class Verdict(NamedTuple):
    """An answer before it is put to its question and thing."""

    state: State
    numbers: Numbers | None = None
    say: Say | None = None
    want: Want | None = None
    waits: tuple[DependsOn, ...] = ()
    evidence: Evidence | None = None
    compared: tuple[str, ...] = ()
    """What was compared besides the numbers, such as formats, addresses and ids: an accepted doubt goes by it."""


class Answer(NamedTuple):
    """One check's answer about one thing."""

    check: str
    thing: Thing
    state: State
    numbers: Numbers | None
    say: Say | None
    want: Want | None
    waits: tuple[DependsOn, ...]
    evidence: Evidence
    compared: tuple[str, ...] = ()

    @property
    def id(self) -> str:
        """Its name, the same as long as the question and the thing are."""
        thing = self.thing
        return f"{self.check}:{thing.id}:{thing.part}" if thing.part else f"{self.check}:{thing.id}"


HOLDS = Verdict("holds")


def holds(
    numbers: Numbers | None = None, remark: Say | None = None, evidence: Evidence | None = None
) -> Verdict:
    """It holds; with a remark where there is something to be known all the same."""
    return Verdict("holds", numbers, remark, evidence=evidence)


def fails(say: Say, numbers: Numbers | None = None, evidence: Evidence | None = None) -> Verdict:
    """It cannot hold, by the plan's own data or beyond what physics or protocol can give."""
    return Verdict("fails", numbers, say, evidence=evidence)


def doubtful(
    say: Say,
    numbers: Numbers | None = None,
    evidence: Evidence | None = None,
    compared: Iterable[object] = (),
) -> Verdict:
    """It may not hold; `compared` is what decided that besides the numbers."""
    return Verdict("doubtful", numbers, say, evidence=evidence, compared=tuple(map(str, compared)))


def wants(want: Want) -> Verdict:
    """Not known, for want of a fact that can be found out."""
    return Verdict("not known", want=want)


def waits(*on: DependsOn) -> Verdict:
    """Not known until other answers are: they say what is missing."""
    return Verdict("not known", waits=on)


def within(numbers: Numbers, say: Say, evidence: Evidence | None = None) -> Verdict:
    """Holds within what is relied on, fails beyond what is hopeless, and is doubtful between them.

    >>> [within(Numbers(m, 91, 136.5, "m"), lambda: Words("", "", "")).state for m in (91, 100, 137)]
    ['holds', 'doubtful', 'fails']
    """
    value, relied, hopeless = numbers.value, numbers.relied, numbers.hopeless
    if numbers.at_least:
        value, relied, hopeless = -value, -relied, -hopeless
    if value <= relied:
        return Verdict("holds", numbers, evidence=evidence)
    return Verdict("fails" if value > hopeless else "doubtful", numbers, say, evidence=evidence)
