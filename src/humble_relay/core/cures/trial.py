"""The cures of a finding, each tried before it is offered."""

from collections.abc import Iterable
from typing import get_args

from humble_relay.core.cures import (
    address_cures,
    bitrate_cures,
    delivery_cures,
    encoder_cures,
    publication_cures,
    reach_cures,
    signal_cures,
    wiring_cures,
)
from humble_relay.core.cures.cure import Cure, Cures
from humble_relay.core.cures.deciders import who_decides
from humble_relay.core.frozen import Frozen
from humble_relay.core.judgement import BY_NAME, answers, findings
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Finding, Severity
from humble_relay.core.plan.edits.draft import EditRefused

MOST = 6
_SEVERITIES = get_args(Severity)
CURES: Cures = {
    **signal_cures.CURES, **address_cures.CURES, **reach_cures.CURES, **bitrate_cures.CURES,
    **delivery_cures.CURES, **encoder_cures.CURES, **wiring_cures.CURES, **publication_cures.CURES,
}  # fmt: skip


class Tried(Frozen):
    """A cure, with the findings that go when it is made, and those that come."""

    cure: Cure
    gone: tuple[Finding, ...]
    come: tuple[Finding, ...]


class Remedies(Frozen):
    """The cures of a finding; where there is none, who decides, in words."""

    cures: tuple[Tried, ...]
    decides: str = ""


def remedies(case: Case, finding: str) -> Remedies:
    """What may mend the finding of that id, or who can. Raises KeyError for no such finding."""
    found = cures_of(case, finding)
    check = finding.partition(":")[0]
    return Remedies(cures=found, decides="" if found or check not in BY_NAME else who_decides(BY_NAME[check]))


def cures_of(case: Case, finding: str) -> tuple[Tried, ...]:
    """At most six cures that end the finding of that id, and bring nothing that stops nor the same elsewhere; empty where none is known.

    Each is tried on a copy of the case, which may be stopped by the case's pulse. Raises KeyError for no such finding.
    """
    answer = next((a for a in answers(case).every if a.id == finding and a.say), None)
    if answer is None:
        raise KeyError(finding)
    make = CURES.get(BY_NAME[answer.check]) if answer.check in BY_NAME else None
    found: list[Tried] = []
    for cure in make(case, answer.thing) if make else ():
        case.pulse()
        try:
            gone, come = difference(findings(case), findings(case.after(cure.edits)))
        except EditRefused:
            continue
        moved = any(f.severity == "stops" or f.rule == answer.check for f in come)  # elsewhere, it is no cure
        if finding in {f.id for f in gone} and not moved:
            found.append(Tried(cure=cure, gone=gone, come=come))
        if len(found) == MOST:
            break
    return tuple(found)


def difference(
    before: Iterable[Finding], after: Iterable[Finding]
) -> tuple[tuple[Finding, ...], tuple[Finding, ...]]:
    """The findings that go, and those that come: what was at risk and now stops comes too, and a doubt that was accepted and is
    open again."""
    old, new = {f.id: f for f in before}, {f.id: f for f in after}
    worse = {id for id, f in old.items() if id in new and _SEVERITIES.index(f.severity) > _SEVERITIES.index(new[id].severity)}  # fmt: skip
    reopened = {id for id, f in old.items() if f.accepted and id in new and not new[id].accepted}
    return tuple(f for id, f in old.items() if id not in new), tuple(
        f for id, f in new.items() if id not in old or id in worse | reopened
    )
