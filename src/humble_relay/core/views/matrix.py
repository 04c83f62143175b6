"""Which source arrives at which end that was asked for, and how far its way there is proven."""

from humble_relay.core.frozen import Frozen, Slug
from humble_relay.core.judgement import proven
from humble_relay.core.judging.answer import WEAKEST, State
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.proof import HopProof, ProofState
from humble_relay.core.plan.vocabulary import ends_of, is_source
from humble_relay.core.signal.flow.tracing import paths_to
from humble_relay.core.signal.ports.coverage import meets


class Arrival(Frozen):
    """One source at one end: the state of the weakest hop on its way there."""

    source: Slug
    aim: Slug
    state: ProofState


class ArrivalMatrix(Frozen):
    """The sources and the aims in the plan's order, and where which arrives. A pair that is not there does not."""

    sources: tuple[Slug, ...]
    aims: tuple[Slug, ...]
    arrivals: tuple[Arrival, ...]


def arrival_matrix(case: Case) -> ArrivalMatrix:
    """Every source against every aim."""
    proofs = {p.aim: p for p in proven(case).proofs}
    found: list[Arrival] = []
    for aim in case.plan.aims:
        hops = {hop.id: hop for part in proofs[aim.id].parts for hop in part.hops}
        for source, links in paths_to(case, aim.end, lambda signal, aim=aim: meets(aim, signal)):  # type: ignore[misc]
            boxes = [source, *(ends_of(case.links[id])[1] for id in links)]
            way = [hops.get(id) for id in (*(f"link:{x}" for x in links), *(f"device:{x}" for x in boxes))]
            found.append(Arrival(source=source, aim=aim.id, state=_weakest([h for h in way if h])))
    return ArrivalMatrix(
        sources=tuple(d.id for d in case.devices.values() if is_source(d)),
        aims=tuple(aim.id for aim in case.plan.aims),
        arrivals=tuple(found),
    )


def _weakest(hops: list[HopProof]) -> ProofState:
    state: State = min((hop.state for hop in hops), key=WEAKEST.index, default="holds")
    if state == "holds":
        return "not asked yet" if any(hop.not_asked for hop in hops) else "proven"
    return state
