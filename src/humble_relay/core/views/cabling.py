"""What the list of links draws beside each cable: what is on it, and how far it would go."""

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import Working
from humble_relay.core.signal.cabling.runs import runs


class CableReport(Frozen):
    """One cable: what it carries and how far it would."""

    cable: str
    name: str
    format: str | None
    rate: Working | None
    reach: Working


def cable_reports(case: Case) -> tuple[CableReport, ...]:
    """Every cable of the plan."""
    return tuple(
        CableReport(
            cable=r.cable.id,
            name=case.link_name(r.cable.id),
            format=r.format.label if r.format else None,
            rate=r.rate,
            reach=r.reach,
        )
        for r in case.once(runs)
    )
