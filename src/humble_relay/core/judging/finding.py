"""What is wrong, where, how bad, with its working and its fixes; and the registry of rules."""

from collections.abc import Callable, Iterable, Iterator
from typing import Literal

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import Working
from humble_relay.core.patience import Stopped
from humble_relay.core.plan.edits import Edit

Severity = Literal["stops", "risks", "note"]
"""`stops`: the picture will not arrive. `risks`: it may not. `note`: worth knowing."""

Stage = Literal["brief", "survey", "gear", "signal", "addresses", "bandwidth", "papers"]
STAGES: tuple[Stage, ...] = ("brief", "survey", "gear", "signal", "addresses", "bandwidth", "papers")
_WORST_FIRST = {"stops": 0, "risks": 1, "note": 2}


class Fix(Frozen):
    """A way out: what it does, what it needs or costs, and the edits that do it."""

    title: str
    needs: str = ""
    edits: tuple[Edit, ...]


class Finding(Frozen):
    """One thing wrong. `wrong` says what, `means` what follows on the day, `do` what to do."""

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
    fixes: tuple[Fix, ...] = ()


class Fault(Frozen):
    """What a rule yields: a finding before the rule's own name and stage are put on it."""

    severity: Severity
    noun: str
    subject: str
    wrong: str
    means: str
    do: str
    part: str = ""
    working: Working | None = None
    fixes: tuple[Fix, ...] = ()


Rule = Callable[[Case], Iterator[Fault]]
_rules: dict[str, tuple[Stage, Rule]] = {}


def rule(name: str, stage: Stage) -> Callable[[Rule], Rule]:
    """Registers a rule under its name and the stage it belongs to."""

    def register(check: Rule) -> Rule:
        if name in _rules and _rules[name][1].__qualname__ != check.__qualname__:
            raise ValueError(f"two rules are called {name}")
        _rules[name] = (stage, check)
        return check

    return register


def judge(case: Case) -> list[Finding]:
    """Every finding of every registered rule: worst first, then in the order of the stages.

    A rule that breaks gives a finding of its own, and takes no other with it.
    """
    found: list[Finding] = []
    for name, (stage, check) in _rules.items():
        case.pulse()
        try:
            found += [_finding(name, stage, fault) for fault in check(case)]
        except Stopped:
            raise
        except Exception as error:
            asked = (check.__doc__ or name).strip().splitlines()[0]
            found.append(unanswered(name, stage, asked, error))
    return worst_first(found)


def worst_first(findings: Iterable[Finding]) -> list[Finding]:
    """The findings as they are read: worst first, then in the order of the stages."""
    return sorted(findings, key=lambda f: (_WORST_FIRST[f.severity], STAGES.index(f.stage), f.id))


def unanswered(name: str, stage: Stage, asked: str, error: Exception) -> Finding:
    """The finding that stands where a question could not be answered."""
    return Finding(
        id=f"unanswered:{name}",
        rule="unanswered",
        stage=stage,
        severity="risks",
        noun="show",
        subject="show",
        wrong=f"The program could not work this out: {asked[:1].lower()}{asked[1:]}",
        means=f"Whether it holds or fails is not known; the other questions are answered ({name}, {type(error).__name__}).",
        do="Look at it by hand. Undo the last change to see whether it comes from there, and report it.",
    )


def _finding(name: str, stage: Stage, fault: Fault) -> Finding:
    return Finding(
        id=":".join(filter(None, (name, fault.subject, fault.part))),
        rule=name,
        stage=stage,
        **fault.model_dump(exclude={"part", "working", "fixes"}),
        working=fault.working,
        fixes=fault.fixes,
    )


def rule_names() -> Iterable[str]:
    """The names of all registered rules."""
    return _rules.keys()
