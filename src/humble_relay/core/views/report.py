"""The report: every finding of a case, the state of every stage, and what edits would change in them."""

from collections import Counter
from collections.abc import Iterable
from datetime import datetime
from typing import Literal

from humble_relay.core.catalogue.stock import Stock
from humble_relay.core.cures.trial import difference
from humble_relay.core.frozen import Frozen
from humble_relay.core.judgement import BY_NAME, answers, findings
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Finding, Severity
from humble_relay.core.plan import Plan
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.stages import STAGES, Stage
from humble_relay.core.plan.survey import Survey


class StageState(Frozen):
    """One stage of the work: whether anything is in it, and its worst finding."""

    stage: Stage
    state: Literal["empty", "begun"]
    worst: Severity | None
    worst_count: int
    """How many findings are as bad as the worst; of doubts those that nobody accepted."""
    findings: int
    not_known: int
    """How many of its questions want a fact: they are no findings, and not nothing either."""


class Report(Frozen):
    """What is said of a plan whichever stage is open."""

    as_of: datetime
    findings: tuple[Finding, ...]
    stages: tuple[StageState, ...]


class Trial(Frozen):
    """What some edits would change: the findings that go, those that come, and the report after."""

    gone: tuple[Finding, ...]
    come: tuple[Finding, ...]
    report: Report


def report(plan: Plan, survey: Survey, as_of: datetime, stock: Stock | None = None) -> Report:
    """The report on a plan as of a moment. The same four always give the same report."""
    return report_on(Case(plan, survey, as_of, stock))


def report_on(case: Case) -> Report:
    """The report on a case."""
    found = findings(case)
    unknown = Counter(
        BY_NAME[a.check].stage for a in answers(case).every if a.want and a.state == "not known"
    )
    stages = tuple(_stage(case, stage, found, unknown[stage]) for stage in STAGES)
    return Report.model_construct(as_of=case.as_of, findings=tuple(found), stages=stages)


def try_edits(case: Case, edits: Iterable[Edit]) -> Trial:
    """What the edits would change, without keeping them. Raises EditRefused when they cannot be made."""
    return compared(case, case.after(edits))


def compared(before: Case, after: Case) -> Trial:
    """What is different in another plan, and its report."""
    result = report_on(after)
    gone, come = difference(findings(before), result.findings)
    return Trial(gone=gone, come=come, report=result)


def _stage(case: Case, stage: Stage, found: list[Finding], unknown: int) -> StageState:
    plan, here = case.plan, [f for f in found if f.stage == stage]
    begun = {
        "brief": plan.show.starts_at is not None or plan.show.format is not None,
        "survey": bool(case.survey.measurements),
        "gear": bool(plan.devices),
        "signal": bool(plan.links),
        "addresses": bool(plan.networks),
        "bandwidth": bool(case.streams),
        "set-up": bool(plan.links),
        "papers": bool(plan.links),
    }[stage]
    worst = here[0].severity if here else None
    return StageState(
        stage=stage,
        state="begun" if begun else "empty",
        worst=worst,
        worst_count=sum(f.severity == worst and not f.accepted for f in here),
        findings=len(here),
        not_known=unknown,
    )
