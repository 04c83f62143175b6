"""What can be said of a plan without a screen: findings with their cures, proofs, and facts wanted."""

import math
from collections.abc import Iterator
from datetime import datetime
from typing import Any, Literal

from humble_relay.core.cures.trial import cures_of
from humble_relay.core.frozen import Frozen
from humble_relay.core.judgement import answers, findings, proven
from humble_relay.core.judging.answer import State
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Finding
from humble_relay.core.judging.proof import HopProof, Proof
from humble_relay.core.judging.wanted import Wanted
from humble_relay.core.show.go_live_order import Task, order

_MARKS = {"stops": "STOPS", "risks": "RISK ", "note": "note "}
_CURED = 20
"""Of how many findings cures are looked for: each is tried on the whole plan."""


class AnswerLine(Frozen):
    """One answer, to be compared with another version's: which check, of which thing (`noun:id` or `noun:id:part`), its state,
    what was compared (value, relied on, hopeless, in a unit; None: nothing is hopeless), and which fact would settle it."""

    check: str
    thing: str
    state: State
    numbers: dict[str, float | str | bool | None] | None
    wants: str | None


class PlanVerdict(Frozen):
    """All that is said of a plan. `status` is the exit status: 0 nothing fails and all is known, 1 something fails,
    3 nothing fails and something is not known or not asked yet, or there is no aim."""

    as_of: datetime
    status: Literal[0, 1, 3]
    findings: tuple[Finding, ...]
    remarks: tuple[Finding, ...]
    wanted: tuple[Wanted, ...]
    proofs: tuple[Proof, ...]
    order: tuple[Task, ...] = ()
    """What is to be done, and when, up to going live and after."""
    answers: tuple[AnswerLine, ...] | None = None
    """Every answer, where they were asked for."""


def verdict_on(case: Case) -> PlanVerdict:
    """The verdict on a case."""
    found, proofs = findings(case), proven(case)
    status: Literal[0, 1, 3] = 0
    if any(a.state == "fails" for a in answers(case).every):
        status = 1
    elif (
        not proofs.proofs
        or any(p.not_asked or p.state == "not asked yet" for p in proofs.proofs)
        or any(a.state == "not known" for a in answers(case).every)
    ):
        status = 3
    return PlanVerdict(
        as_of=case.as_of,
        status=status,
        findings=tuple(f for f in found if f.severity != "note"),
        remarks=tuple(f for f in found if f.severity == "note"),
        wanted=proofs.wanted,
        proofs=proofs.proofs,
        order=order(case),
    )


def answer_lines(case: Case) -> tuple[AnswerLine, ...]:
    """Every answer about a case, sorted by check and thing."""
    lines = (
        AnswerLine(
            check=a.check,
            thing=":".join(filter(None, a.thing)),
            state=a.state,
            numbers=_finite(a.numbers._asdict()) if a.numbers else None,
            wants=a.want.field if a.want else None,
        )
        for a in answers(case).every
    )
    return tuple(sorted(lines, key=lambda line: (line.check, line.thing)))


def _finite(numbers: dict[str, Any]) -> dict[str, float | str | bool | None]:
    """The numbers without the infinite ones, which JSON has no word for."""
    return {k: None if isinstance(v, float) and not math.isfinite(v) else v for k, v in numbers.items()}


def in_words(case: Case, verdict: PlanVerdict) -> Iterator[str]:
    """The verdict as lines of text: what is wrong with what may mend it, what is proven, what is wanted."""
    for n, finding in enumerate((*verdict.findings, *verdict.remarks)):
        yield f"{_MARKS[finding.severity]} {finding.wrong}"
        yield from (f"      {line}" for line in (finding.means, finding.do))
        if finding.accepted:
            yield f"      Accepted: {finding.accepted}"
        for tried in cures_of(case, finding.id) if n < _CURED else ():
            needs = f" (needs {tried.cure.needs})" if tried.cure.needs else ""
            how = f": {tried.cure.how}" if tried.cure.how else ""
            yield f"      - {tried.cure.title}{how}{needs}"
    if not verdict.proofs:
        yield "No picture is required of this plan yet: say which picture must arrive where."
    for proof in verdict.proofs:
        yield f"{proof.state.upper()}: {proof.title}. {proof.summary}."
        for part in proof.parts:
            for hop in part.hops:
                if hop.state != "holds":
                    yield from _weak(part.title, hop)
    for want in verdict.wanted:
        aims = f"{len(want.aims)} aim{'s' if len(want.aims) != 1 else ''}"
        yield f"WANTED {want.question} ({want.stage.capitalize()}; {aims} wait for it)"


def _weak(part: str, hop: HopProof) -> Iterator[str]:
    yield f"      {part}, {hop.what}: {hop.holds} of {hop.asked}"
    for question in hop.questions:
        if question.state != "holds":
            yield f"        {question.state}: {question.question} {question.words}"
