"""The papers that need the whole judgement: what is proven, and what is still to be found out; and all papers together."""

from humble_relay.core.judgement import proven
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.proof import Proof
from humble_relay.core.papers.paper_tables import Table, papers


def all_papers(case: Case, show_keys: bool = False) -> tuple[Table, ...]:
    """Every paper of the plan, in the order they are printed. Keys are masked unless `show_keys`."""
    return (*papers(case, show_keys), *judged_papers(case))


def judged_papers(case: Case) -> tuple[Table, ...]:
    """The papers that rest on the whole judgement: they come last, and take longest."""
    return proof_sheet(case), facts_sheet(case)


def proof_sheet(case: Case) -> Table:
    """What must arrive, one line each: how far it is proven, and the first hop that is not."""
    rows = tuple((p.title, p.state, p.summary, _opens_at(p)) for p in proven(case).proofs)
    columns = ("Picture", "State", "Questions", "First to look at")
    return Table(
        id="proofs",
        title="What must arrive",
        columns=columns,
        rows=rows,
        empty="No picture is required of this plan yet.",
    )


def _opens_at(proof: Proof) -> str:
    """The weakest hop in words, with what is wrong or unknown there; empty where all holds."""
    hops = (hop for part in proof.parts for hop in part.hops)
    weakest = next((hop for hop in hops if hop.id == proof.opens_at and hop.state != "holds"), None)
    if weakest is None:
        return ""
    asked = next(q for q in weakest.questions if q.state == weakest.state)
    return f"{weakest.what}: {asked.words or asked.question}"


def facts_sheet(case: Case) -> Table:
    """What has to be found out, those that most pictures wait for first, with room to write it down."""
    rows = tuple((w.question, f"{len(w.aims)}", w.unit, "") for w in proven(case).wanted)
    columns = ("To find out", "Pictures that wait", "In", "Found, by whom and when")
    return Table(
        id="facts",
        title="Facts to find out",
        columns=columns,
        rows=rows,
        empty="Nothing that anybody has to find out.",
    )
