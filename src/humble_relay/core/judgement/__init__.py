"""A case judged: every check in its order, the answers, and what they come to: findings, proofs, facts wanted."""

from collections import defaultdict
from typing import NamedTuple

from humble_relay.core import (
    addressing,
    brief,
    comms,
    egress,
    endpoints,
    lan,
    load,
    places,
    power,
    radio,
    reach,
    show,
    signal,
    timing,
    transport,
    uplinks,
    upload,
)
from humble_relay.core.judgement.proof_hops import parts_of, title_of
from humble_relay.core.judgement.questions import QUESTIONS
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import Answers, Check, judged
from humble_relay.core.judging.finding import Finding, findings_of
from humble_relay.core.judging.proof import Proof, ProofBasis, proof
from humble_relay.core.judging.wanted import Wanted, wanted

__all__ = ["BY_NAME", "CHECKS", "Proven", "answers", "findings", "proven", "title_of"]

CHECKS: tuple[Check, ...] = (
    *brief.CHECKS, *show.CHECKS, *places.CHECKS, *radio.CHECKS, *signal.CHECKS, *comms.CHECKS, *timing.CHECKS, *power.CHECKS, *lan.CHECKS,
    *egress.CHECKS, *addressing.CHECKS, *endpoints.CHECKS, *reach.CHECKS, *load.CHECKS, *upload.CHECKS, *transport.CHECKS,
    *uplinks.CHECKS,
)  # fmt: skip
BY_NAME = {check.name: check for check in CHECKS}


@analysis
def answers(case: Case) -> Answers:
    """Every answer of the case."""
    return judged(case, CHECKS)


@analysis
def findings(case: Case) -> list[Finding]:
    """Every finding of the case: worst first, then in the order of the stages."""
    return findings_of(case, answers(case), BY_NAME)


class Proven(NamedTuple):
    """The proofs of a case in the order of their aims, and the facts that they wait for."""

    proofs: tuple[Proof, ...]
    wanted: tuple[Wanted, ...]


@analysis
def proven(case: Case) -> Proven:
    """The proof of every aim, the most important first; and the facts wanted, those that most aims wait for first."""
    basis = ProofBasis(BY_NAME, QUESTIONS, {f.id: f.accepted for f in findings(case) if f.accepted}, {})
    proofs: list[Proof] = []
    by_thing = answers(case).by_thing
    waiting: dict[str, list[str]] = defaultdict(list)
    for aim in sorted(case.plan.aims, key=lambda a: (a.need != "needed", a.priority)):
        case.pulse()
        own, parts = by_thing.get(("aim", aim.id), ()), parts_of(case, by_thing, aim)
        proofs.append(proof(aim, title_of(case, aim), own, parts, basis))
        for part in parts:
            for hop in part.hops:
                for answer in hop.answers:
                    waiting[answer.id].append(aim.id)
    return Proven(tuple(proofs), wanted(answers(case).every, waiting))
