"""The proof of an aim: what holds, what does not and what is not known, from its sources to its end, hop by hop."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Literal, NamedTuple

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.answer import WEAKEST, Answer, Evidence, State
from humble_relay.core.judging.check import Check, weakest_evidence
from humble_relay.core.judging.concerns import HopKind, Row, not_asked
from humble_relay.core.plan import Aim

ProofState = Literal["fails", "not known", "doubtful", "not asked yet", "proven"]


class HopAsked(NamedTuple):
    """One hop of a way, with the answers about it: a link, or the box it leads to."""

    id: str
    kind: HopKind
    what: str
    answers: tuple[Answer, ...]


class ProofBasis(NamedTuple):
    """What all proofs of a case are made with: the checks by name, what must be asked of each kind of hop, the reasons of accepted
    doubts, and the questions that were put in words already, by their ids."""

    checks: Mapping[str, Check]
    questions: Mapping[HopKind, Row]
    accepted: Mapping[str, str]
    said: "dict[str, QuestionAsked]"


class PartAsked(NamedTuple):
    """A stretch of the way: the trunk, or the branch of one source."""

    title: str
    hops: tuple[HopAsked, ...]


class QuestionAsked(Frozen):
    """One question of a hop, and its answer in words."""

    id: str
    question: str
    state: State
    words: str
    evidence: Evidence
    accepted: str | None


class HopProof(Frozen):
    """One hop: in words, how many of its questions hold, the questions, and what is not asked yet."""

    id: str
    what: str
    state: State
    holds: int
    asked: int
    questions: tuple[QuestionAsked, ...]
    not_asked: tuple[str, ...]


class PartProof(Frozen):
    """The trunk or a branch; its hops the weakest first."""

    title: str
    state: State
    hops: tuple[HopProof, ...]


class ProofLine(Frozen):
    """How far one aim is proven, in a line."""

    aim: str
    title: str
    state: ProofState
    summary: str


class Proof(ProofLine):
    """What is proven of one aim. `opens_at` is the first weakest hop; `evidence` the weakest it rests on."""

    parts: tuple[PartProof, ...]
    opens_at: str
    evidence: Evidence | None
    not_asked: tuple[str, ...]


def proof(
    aim: Aim,
    title: str,
    own: Sequence[Answer],
    parts: Sequence[PartAsked],
    basis: ProofBasis,
) -> Proof:
    """The proof of an aim from its own answers, and those of every hop."""
    first = PartAsked(
        "What was asked for", (HopAsked(f"aim:{aim.id}", HopKind("box", ""), title, tuple(own)),)
    )
    made = [_part(part, basis) for part in (first, *parts)]
    hops: list[HopProof] = [hop for part in made for hop in part.hops]
    weakest: State = min((hop.state for hop in hops), key=WEAKEST.index, default="not known")
    lacking = tuple(dict.fromkeys(text for hop in hops for text in hop.not_asked))
    state: ProofState = "not asked yet" if lacking or not parts else "proven"
    if weakest != "holds":
        state = weakest
    return Proof.model_construct(
        aim=aim.id,
        title=title,
        state=state,
        summary=_summary(hops, lacking),
        parts=tuple(sorted(made, key=lambda part: WEAKEST.index(part.state))),
        opens_at=next((hop.id for hop in hops if hop.state == weakest), ""),
        evidence=weakest_evidence(a for part in parts for hop in part.hops for a in hop.answers),
        not_asked=lacking,
    )


def line_of(proof: Proof) -> ProofLine:
    """The proof in a line."""
    return ProofLine.model_construct(
        aim=proof.aim, title=proof.title, state=proof.state, summary=proof.summary
    )


def _part(part: PartAsked, basis: ProofBasis) -> PartProof:
    hops = [_hop(hop, basis) for hop in part.hops]
    hops.sort(key=lambda hop: WEAKEST.index(hop.state))
    state = hops[0].state if hops else "holds"
    return PartProof.model_construct(title=part.title, state=state, hops=tuple(hops))


def _hop(hop: HopAsked, basis: ProofBasis) -> HopProof:
    states = [_counted(a, basis.accepted) for a in hop.answers]
    lacking = not_asked(basis.questions[hop.kind], {a.check for a in hop.answers}) if hop.kind.kind else []
    asked = [_question(a, basis) for a in hop.answers]
    asked.sort(key=lambda q: WEAKEST.index(q.state))
    return HopProof.model_construct(
        id=hop.id,
        what=hop.what,
        state=min(states, key=WEAKEST.index, default="holds"),
        holds=states.count("holds"),
        asked=len(states),
        questions=tuple(asked),
        not_asked=tuple(f"{hop.kind.kind.replace('-', ' ')}, {concern}: {what}" for concern, what in lacking),
    )


def _counted(answer: Answer, accepted: Mapping[str, str]) -> State:
    """The state that counts: a doubt that was accepted holds no proof up."""
    return "holds" if answer.state == "doubtful" and answer.id in accepted else answer.state


def _question(answer: Answer, basis: ProofBasis) -> QuestionAsked:
    if found := basis.said.get(answer.id):
        return found
    asked = basis.checks.get(answer.check) or basis.checks[answer.thing.part]
    found = basis.said[answer.id] = QuestionAsked.model_construct(
        id=answer.id,
        question=asked.question,
        state=answer.state,
        words=in_words(answer),
        evidence=answer.evidence,
        accepted=basis.accepted.get(answer.id),
    )
    return found


def in_words(answer: Answer) -> str:
    """Why the answer is what it is, in one line."""
    if answer.say:
        return answer.say().wrong
    if answer.want and answer.state == "not known":
        return answer.want.question
    if answer.waits:
        roots = "; ".join(dict.fromkeys(on.check.question for on in answer.waits))
        return f"Waits for the answer to: {roots}"
    return answer.numbers.words if answer.numbers else "Yes."


def _summary(hops: Iterable[HopProof], lacking: Sequence[str]) -> str:
    count = dict.fromkeys(WEAKEST, 0)
    for hop in hops:
        for question in hop.questions:
            count["holds" if question.accepted and question.state == "doubtful" else question.state] += 1
    said = [f"{n} {state}" for state, n in count.items() if n and state != "holds"]
    words = ", ".join([f"{count['holds']} of {sum(count.values())} hold", *said])
    return f"{words}; {len(lacking)} not asked yet" if lacking else words
