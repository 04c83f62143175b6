"""What accepted doubts of an older form compare, noted once: from then on they stand or open again by that."""

from collections.abc import Mapping

from humble_relay.core.judgement import findings
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Plan
from humble_relay.core.plan.acceptance import ComparedValues


def lacks_notes(plan: Plan) -> bool:
    """Whether a doubt was accepted of which nobody noted what it compared."""
    return any(a.compared is None for a in plan.accepted)


def notes(case: Case) -> dict[str, ComparedValues]:
    """What each accepted doubt that stands compares now, by its finding."""
    return {f.id: f.compared for f in findings(case) if f.accepted}


def with_notes(plan: Plan, noted: Mapping[str, ComparedValues]) -> Plan:
    """The plan with what its accepted doubts compare, where nobody had noted it."""
    accepted = tuple(
        a if a.compared else a.model_copy(update={"compared": noted.get(a.finding)}) for a in plan.accepted
    )
    return plan.model_copy(update={"accepted": accepted})
