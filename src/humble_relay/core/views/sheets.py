"""The papers that need the whole judgement: what is proven, and what is still to be found out; and all papers together."""

from humble_relay.core.faults.fault_finding import find_out
from humble_relay.core.judgement import proven
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import listed
from humble_relay.core.judging.proof import Proof
from humble_relay.core.log.entries import FaultBegun
from humble_relay.core.papers.paper_tables import Table, papers
from humble_relay.core.setup.day import day_of
from humble_relay.core.setup.seen_pictures import seen_pictures


def all_papers(case: Case, show_keys: bool = False) -> tuple[Table, ...]:
    """Every paper of the plan, in the order they are printed. Keys are masked unless `show_keys`."""
    return (*papers(case, show_keys), *judged_papers(case), fault_cards(case))


def judged_papers(case: Case) -> tuple[Table, ...]:
    """The papers that rest on the whole judgement: they come last, and take longest."""
    return proof_sheet(case), facts_sheet(case)


def fault_cards(case: Case) -> Table:
    """A card for each device where a picture is seen: what to look at and try, in this order, when it does not appear."""
    day = day_of(case, (), case.as_of)
    rows = []
    for picture in seen_pictures(case):
        begun = FaultBegun(picture=picture.id, symptom="black", came="never")
        for n, next_ in enumerate(find_out(case, picture, begun, day).tests[:_ON_A_CARD], 1):
            test = next_.test
            where = case.places[test.place].name if test.place in case.places else ""
            down = f" Takes down {listed(test.interrupts[:3])}." if test.interrupts else ""
            good, bad = test.answers
            rows.append(
                (
                    picture.at if n == 1 else "",
                    f"{n}",
                    f"{test.says}{down}",
                    where,
                    f"{max(1, round(next_.minutes))}",
                    f"{good} / {bad}",
                )
            )
    columns = ("Not appearing at", "No.", "Look at, or try", "At", "Min", "Seen")
    empty = "No picture can be looked at yet."
    return Table(id="faults", title="Fault-finding cards", columns=columns, rows=tuple(rows), empty=empty)


_ON_A_CARD = 6


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
