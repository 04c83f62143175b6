"""The best choice of a plan with the runner-up and the prices of what binds it."""

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from humble_relay.core.allocation.allocation_edits import edits_of
from humble_relay.core.allocation.allocation_problem import Barred, Solution, ToAllocate
from humble_relay.core.allocation.of_plan import (
    AS_IT_IS,
    WhatIf,
    besides_mbps,
    deliveries,
    may_mbps,
    problem_of,
)
from humble_relay.core.allocation.prices import Priced
from humble_relay.core.allocation.solve import Shape, effort, solve
from humble_relay.core.frozen import Frozen
from humble_relay.core.judgement import answers
from humble_relay.core.judging.answer import Answer, Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import listed
from humble_relay.core.judging.working import number
from humble_relay.core.load.uplink_demand import demands
from humble_relay.core.plan import Stream
from humble_relay.core.plan.edits import Edit
from humble_relay.core.reach.stream_uplinks import uplink_crossed

EFFORT = 3.0
"""How much work the whole answer may be (`effort`): the best that fits is always sought, prices while there is some left."""
TRIES = 12
"""How often a choice that breaks something is put aside for the next best."""
HALVINGS = 4
"""How closely the least beyond the low end is sought: to a sixteenth of the way to the school's allowance."""


class PictureLine(Frozen):
    """What one picture would be sent as, and what it is sent as now."""

    stream: str
    name: str
    now: str
    then: str
    by: str
    """By which relay; empty where it goes straight."""
    line: str
    """By which line it leaves; empty where that is as it was."""
    left_out: bool


class Room(Frozen):
    """What would be asked of one line in Mb/s, and what it may be asked for."""

    uplink: str
    name: str
    asked_mbps: float
    may_mbps: float


class Allotment(Frozen):
    """One choice: each picture, each line, and the edits that make it."""

    pictures: tuple[PictureLine, ...]
    rooms: tuple[Room, ...]
    edits: tuple[Edit, ...]


class Allocation(Frozen):
    """The best choice, the runner-up, and what a little more of each thing would bring; `nothing` says why there is none."""

    best: Allotment | None
    runner_up: Allotment | None
    prices: tuple[str, ...]
    nothing: str
    doubt: str = ""
    """What doubt the best leaves about a line, where it cannot but leave one."""
    gap_pct: float = 0.0
    """By how much, in percent of its value, a better choice than the best found may still be better: the work allowed was done."""
    unpriced: bool = False
    """Whether the work allowed was done before every constraint had its price."""


def allocation(case: Case) -> Allocation:
    """The allocation of a plan's outgoing pictures to its lines, formats and relays.

    The best is always sought, the runner-up unless the problem is very large, and the prices, dearest question last, as long as
    there is work left to spend.
    The same plan has the same answer on every machine, whatever else that does; who waits may stop it by the case's pulse.
    """
    problem = problem_of(case)
    if not problem.outgoing:
        return Allocation(best=None, runner_up=None, prices=(), nothing="No picture goes out to a service yet: join an encoder to a platform in Signal.")  # fmt: skip
    if not any(may_mbps(case, line) > 0 for line in problem.lines):
        return Allocation(best=None, runner_up=None, prices=(), nothing="No line was measured that pictures could leave by: measure it in Survey.")  # fmt: skip
    if not any(mbps > 0 for mbps in problem.lines.values()):
        taken = listed(
            f"{case.uplinks[u].name} ({number(besides_mbps(case, u))} of {number(may_mbps(case, u))} Mb/s)"
            for u in problem.lines
        )
        return Allocation(
            best=None,
            runner_up=None,
            prices=(),
            nothing=f"What goes out besides takes all that may be asked of {taken}: take some of that out first.",
        )
    found, but = _sure(case, problem)
    best = found and _kept_by_the_checks(case, but, found)
    if best is None:
        nothing = (
            "What would fit the lines breaks something else in this plan."
            if found
            else "Nothing was found within the work allowed."
        )
        return Allocation(best=None, runner_up=None, prices=(), nothing=nothing)
    case.pulse()
    other = best.problem, [best.solution.shape()]
    second = solve(*other) if effort(problem) < 4 * EFFORT else None
    second_kept = second and _kept_by_the_checks(case, but, second, *other)
    prices: list[str] = []
    priced = Priced(case, but, best.solution, EFFORT)
    tried = priced.prices() if effort(problem) < EFFORT else iter(("",))
    for price in tried:
        prices += [price] if price else []
        case.pulse()
        if priced.left <= 0:
            break
    left_out = best.solution.left_out
    return Allocation(
        best=_option(case, but, best),
        runner_up=_option(case, but, second_kept)
        if second_kept and second_kept.solution.left_out <= left_out
        else None,
        prices=tuple(prices),
        nothing="",
        doubt=_doubt(case, best.solution) if but.past_low_end else _little_measured(best),
        gap_pct=round(100 * best.solution.gap, 4),
        unpriced=next(tried, None) is not None,
    )


class SoundChoice(NamedTuple):
    """A choice that breaks nothing: of which problem, the edits that make it, and the plan after them."""

    problem: ToAllocate
    solution: Solution
    edits: tuple[Edit, ...]
    after: Case


def _kept_by_the_checks(
    case: Case, but: WhatIf, found: Solution, problem: ToAllocate | None = None, but_not: Iterable[Shape] = ()
) -> SoundChoice | None:
    """The best choice after which no check fails that did not before: what a choice breaks is barred, and the next best is sought. None
    where that does not end, or nothing is left."""
    problem, shapes = problem or problem_of(case, but), list(but_not)
    failed = _failing(case)
    for _ in range(TRIES if effort(problem) < EFFORT else 2):
        case.pulse()
        edits = edits_of(case, problem, found)
        after = case.after(edits)
        fails, told = _failing(after), _left_out(case, problem, found)
        new = (name for name in fails.keys() - failed.keys() if name[1].id not in told)
        broken = [fails[name] for name in new if not _still_to_be_typed(case, name)]
        if not broken:
            return SoundChoice(problem, found, edits, after)
        bars = frozenset(bar for answer in broken for bar in _bars(after, problem, found, answer))
        if bars <= problem.barred:
            shapes.append(found.shape())
        problem = problem._replace(barred=problem.barred | bars)
        next_best = solve(problem, shapes)
        if next_best is None:
            return None
        found = next_best
    return None


def _failing(case: Case) -> dict[tuple[str, Thing], Answer]:
    return {(a.check, a.thing): a for a in answers(case).every if a.state == "fails"}


def _left_out(case: Case, problem: ToAllocate, found: Solution) -> set[str]:
    """The services that a choice leaves without their picture, and what was asked for there: that it says."""
    ends = {o.end for o in problem.outgoing if found.sent[o.id] is None}
    return ends | {a.id for a in case.plan.aims if a.end in ends}


def _still_to_be_typed(case: Case, name: tuple[str, Thing]) -> bool:
    """Whether it is the key of a push that is new: nobody can know it yet, and it is asked for."""
    check, thing = name
    return check == "key-missing" and thing.id not in case.links


def _bars(after: Case, problem: ToAllocate, found: Solution, answer: Answer) -> Iterator[Barred]:
    """The ways of pictures that something which fails has to do with: those of a stream, by a line, or of a device."""
    thing = answer.thing
    link = after.links.get(thing.id) if thing.noun == "link" else None
    for out in problem.outgoing:
        sent = found.sent[out.id]
        if sent is None:
            continue
        concerned = {out.id, out.sender, out.end, sent.relay, sent.line}
        pushed = isinstance(link, Stream) and (link.from_device, link.to_device) == (out.sender, sent.relay)
        if thing.id in concerned or pushed:
            yield Barred(out.id, sent.relay or "", sent.line, sent.choice.video_mbps)


def _sure(case: Case, problem: ToAllocate) -> tuple[Solution | None, WhatIf]:
    """The best that leaves no doubt about a line; where what must arrive does not all fit that, and does by the school, the one that
    goes least beyond the low end of the worst hour."""
    best = solve(problem)
    if best is None or not best.left_out:
        return best, AS_IT_IS
    whole = WhatIf(past_low_end=1.0)
    by_school = solve(problem_of(case, whole))
    if by_school is None or by_school.left_out >= best.left_out:
        return best, AS_IT_IS
    least, low, high = by_school, 0.0, 1.0
    for _ in range(HALVINGS if effort(problem) < EFFORT else 0):
        case.pulse()
        middle = (low + high) / 2
        found = solve(problem_of(case, WhatIf(past_low_end=middle)))
        if found and found.left_out <= by_school.left_out:
            least, high = found, middle
        else:
            low = middle
    return least, WhatIf(past_low_end=high)


def _doubt(case: Case, best: Solution) -> str:
    used = dict.fromkeys(sent.line for sent in best.sent.values() if sent)
    lines = listed(f"{case.uplinks[u].name} ({number(may_mbps(case, u))} Mb/s)" for u in used)
    return f"Not all that must arrive fits the low end of the worst hour of {lines}. This keeps to the school, goes as little beyond that as it can, and leaves that hour in doubt."


def _little_measured(best: SoundChoice) -> str:
    """That a line is asked for what it was measured to carry, where that was on too few evenings to rely on; else empty."""
    used = {sent.line for sent in best.solution.sent.values() if sent}
    doubted = [
        a.thing.id for a in answers(best.after).every if a.check == "thin-evidence" and a.state == "doubtful"
    ]
    names = [best.after.uplinks[id].name for id in doubted if id in used]
    return (
        f"It fits what {listed(names)} was measured at; that is too little to rely on: measure on more evenings like the show's."
        if names
        else ""
    )


def _option(case: Case, but: WhatIf, kept: SoundChoice) -> Allotment:
    solution, pictures = kept.solution, []
    for g in deliveries(case):
        if g.last.id not in solution.sent:
            continue
        sent, now = solution.sent[g.last.id], g.from_us
        pictures.append(
            PictureLine(
                stream=g.last.id,
                name=case.devices[g.last.to_device].name,
                now=f"{now.format.label} {now.video_mbps:g} Mb/s" + (f" by {case.devices[g.push.to_device].name}" if g.push else ""),
                then=sent.choice.words if sent else "left out",
                by=case.devices[sent.relay].name if sent and sent.relay else "",
                left_out=sent is None,
                line=case.uplinks[sent.line].name if sent and sent.line != uplink_crossed(case, now) else "",
            )
        )  # fmt: skip
    asked, used = demands(kept.after), {sent.line for sent in solution.sent.values() if sent}
    rooms = [
        Room(
            uplink=line,
            name=case.uplinks[line].name,
            asked_mbps=round(asked[line].total.value, 2),
            may_mbps=round(may_mbps(case, line, but), 2),
        )
        for line in case.uplinks
        if line in used
    ]
    return Allotment(pictures=tuple(pictures), rooms=tuple(rooms), edits=kept.edits)
