"""What is wrong, where, how bad, with its working and its fixes; and the registry of rules."""

from collections.abc import Callable, Iterable, Iterator
from typing import Literal

from humble_relay.core.edits import Edit
from humble_relay.core.frozen import Frozen
from humble_relay.core.index import PlanIndex
from humble_relay.core.working import Working

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


Rule = Callable[[PlanIndex], Iterator[Fault]]
_rules: dict[str, tuple[Stage, Rule]] = {}


def rule(name: str, stage: Stage) -> Callable[[Rule], Rule]:
    """Registers a rule under its name and the stage it belongs to."""

    def register(check: Rule) -> Rule:
        if name in _rules and _rules[name][1].__qualname__ != check.__qualname__:
            raise ValueError(f"two rules are called {name}")
        _rules[name] = (stage, check)
        return check

    return register


def judge(plan: PlanIndex) -> list[Finding]:
    """Every finding of every registered rule: worst first, then in the order of the stages."""
    found = (
        Finding(
            id=":".join(filter(None, (name, fault.subject, fault.part))),
            rule=name,
            stage=stage,
            **fault.model_dump(exclude={"part", "working", "fixes"}),
            working=fault.working,
            fixes=fault.fixes,
        )
        for name, (stage, check) in _rules.items()
        for fault in check(plan)
    )
    return sorted(found, key=lambda f: (_WORST_FIRST[f.severity], STAGES.index(f.stage), f.id))


def rule_names() -> Iterable[str]:
    """The names of all registered rules."""
    return _rules.keys()
