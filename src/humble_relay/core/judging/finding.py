"""What is wrong, where, how bad: the answers that fail or are doubtful, and the remarks on those that hold."""

from collections.abc import Iterable, Mapping
from typing import Literal

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.accepted_doubts import compared_by, stands
from humble_relay.core.judging.answer import Answer
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import BROKEN, Answers, Check
from humble_relay.core.judging.phrases import not_worked_out
from humble_relay.core.judging.working import Working
from humble_relay.core.plan.acceptance import ComparedValues
from humble_relay.core.plan.stages import STAGES, Stage

Severity = Literal["stops", "risks", "note"]
"""`stops`: the picture will not arrive. `risks`: it may not. `note`: it holds, with a note."""
_NOTHING = ComparedValues()
_WORST_FIRST = {"stops": 0, "risks": 1, "note": 2}


class Finding(Frozen):
    """One answer that says something. `wrong` says what, `means` what follows on the day, `do` what to do."""

    id: str
    rule: str
    stage: Stage
    severity: Severity
    noun: str
    subject: str
    wrong: str
    means: str
    do: str
    working: Working | None = None
    compared: ComparedValues
    """What was compared: kept with a doubt that is accepted, which stands until that changes for the worse."""
    tried: bool = False
    """Whether having seen it work settles it."""
    accepted: str | None = None
    """Why the doubt was accepted; None where it was not, or where what was compared has changed since."""


def findings_of(case: Case, answers: Answers, checks: Mapping[str, Check]) -> list[Finding]:
    """Every finding, worst first, then in the order of the stages.

    An answer that waits for others makes none: they are its root.
    """
    accepted = {a.finding: a for a in case.plan.accepted}
    found = []
    for answer in answers.every:
        if answer.say is None:
            continue
        check = answer.thing.part if answer.check == BROKEN else answer.check
        finding = _finding(case, answer, checks[check])
        known = accepted.get(finding.id)
        if known and finding.severity == "risks" and stands(known.compared, finding.compared):
            finding = finding.model_copy(update={"accepted": known.reason})
        found.append(finding)
    return worst_first(found)


def worst_first(findings: Iterable[Finding]) -> list[Finding]:
    """The findings as they are read: worst first, then in the order of the stages."""
    return sorted(findings, key=lambda f: (_WORST_FIRST[f.severity], STAGES.index(f.stage), f.id))


def _finding(case: Case, answer: Answer, asked: Check) -> Finding:
    assert answer.say
    words, thing = answer.say(), answer.thing
    severity: Severity = (
        "stops" if answer.state == "fails" else "note" if answer.state == "holds" else "risks"
    )
    return Finding.model_construct(
        id=f"{BROKEN}:{thing.part}:{thing.id}" if answer.check == BROKEN else answer.id,
        rule=answer.check,
        stage=asked.stage,
        severity=severity,
        noun=thing.noun,
        subject=thing.id,
        wrong=words.wrong,
        means=words.means,
        do=words.do,
        working=words.working,
        compared=compared_by(case, answer) if severity == "risks" else _NOTHING,
        tried=asked.tried and severity == "risks",
        accepted=None,
    )


def unanswered(name: str, stage: Stage, asked: str, error: Exception) -> Finding:
    """The finding that stands where a view could not be worked out."""
    return Finding(
        id=f"{BROKEN}:{name}",
        rule=BROKEN,
        stage=stage,
        severity="risks",
        noun="show",
        subject="show",
        wrong=not_worked_out(asked),
        means=f"Whether it holds or fails is not known; the other questions are answered ({name}, {type(error).__name__}).",
        do="Look at it by hand. Undo the last change to see whether it comes from there, and report it.",
        compared=_NOTHING,
    )
