"""The best choice of a plan with the runner-up, and the price of each constraint: what a little more of it would bring."""

import math
from collections.abc import Iterator

from humble_relay.core.capacity.allocation.as_edits import edits_of
from humble_relay.core.capacity.allocation.of_plan import besides_mbps, format_quality, goings, problem_of
from humble_relay.core.capacity.allocation.problem import Outgoing, Solution, ToAllocate
from humble_relay.core.capacity.allocation.solve import solve
from humble_relay.core.capacity.demand import demands
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import number
from humble_relay.core.plan.edits import Edit

MORE_MBPS = (1, 2, 4, 8, 16, 32)
"""So much more of a line is tried, until a picture gets better."""


class PictureLine(Frozen):
    """What one picture would be sent as, and what it is sent as now."""

    stream: str
    name: str
    now: str
    then: str
    by: str
    """By which relay; empty where it goes straight."""


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
    gap_pct: float = 0.0
    """By how much, in percent of its value, a better choice than the best found may still be better: the time was up."""


def allocation(case: Case) -> Allocation:
    """The allocation of a plan's outgoing pictures to its lines, formats and relays."""
    problem = problem_of(case)
    if not problem.outgoing:
        return Allocation(best=None, runner_up=None, prices=(), nothing="No picture goes out to a service yet: join an encoder to a platform in Signal.")  # fmt: skip
    if not any(mbps > 0 for mbps in problem.lines.values()):
        return Allocation(best=None, runner_up=None, prices=(), nothing="No line was measured that pictures could leave by: measure it in Survey.")  # fmt: skip
    best = solve(problem)
    if best is None:
        return Allocation(best=None, runner_up=None, prices=(), nothing="Nothing was found in time.")
    case.pulse()
    second = solve(problem, [best.shape()])
    case.pulse()
    return Allocation(
        best=_option(case, problem, best),
        runner_up=_option(case, problem, second) if second and second.value > 0 else None,
        prices=tuple(_prices(case, problem, best)),
        nothing="",
        gap_pct=round(100 * best.gap, 4),
    )


def _option(case: Case, problem: ToAllocate, solution: Solution) -> Allotment:
    edits = edits_of(case, solution)
    after = case.after(edits)
    pictures = []
    for g in goings(case):
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
            )
        )  # fmt: skip
    asked = after.once(demands)
    rooms = [
        Room(
            uplink=line,
            name=case.uplinks[line].name,
            asked_mbps=round(asked[line].total.value, 2),
            may_mbps=round(may + besides_mbps(case, line), 2),
        )
        for line, may in problem.lines.items()
        if line in solution.line_of.values()
    ]
    return Allotment(pictures=tuple(pictures), rooms=tuple(rooms), edits=edits)


def _prices(case: Case, problem: ToAllocate, best: Solution) -> Iterator[str]:
    if all(
        s and format_quality(s.choice.format) >= _most(o) for o in problem.outgoing for s in [best.sent[o.id]]
    ):
        yield from _by_relay(case, problem, best)
        return  # nothing could be larger
    for line in dict.fromkeys(best.line_of.values()):
        for more in MORE_MBPS:
            case.pulse()
            then = solve(problem._replace(lines={**problem.lines, line: problem.lines[line] + more}))
            if then and (better := _better(problem, best, then)):
                yield f"With {number(more)} Mb/s more on {case.uplinks[line].name}, {better}."
                break
    for n, sender in enumerate(problem.senders):
        name = case.devices[sender.id].name
        for field, what in (("destinations", "destination"), ("channels", "picture")):
            raised = sender._replace(**{field: getattr(sender, field) + 1})
            then = solve(problem._replace(senders=(*problem.senders[:n], raised, *problem.senders[n + 1 :])))
            if then and (better := _better(problem, best, then)):
                yield f"With one {what} more of {name} at once, {better}."
    yield from _by_relay(case, problem, best)


def _most(out: Outgoing) -> float:
    return max((format_quality(c.format) for c in out.choices), default=-math.inf)


def _by_relay(case: Case, problem: ToAllocate, best: Solution) -> Iterator[str]:
    for relay in problem.relays:
        if any(s and s.relay == relay.id for s in best.sent.values()):
            without = problem._replace(
                relays=tuple(r for r in problem.relays if r.id != relay.id),
                outgoing=tuple(
                    o._replace(relays=tuple(r for r in o.relays if r != relay.id)) for o in problem.outgoing
                ),
            )
            then = solve(without)
            if then and (worse := _better(problem, then, best)):
                yield f"Because of {case.devices[relay.id].name}, {worse.replace('could be', 'is').replace('could be sent', 'is sent')}: straight it would be less."


def _better(problem: ToAllocate, before: Solution, after: Solution) -> str:
    """Which pictures are larger, faster, or sent at all, in words; empty where none is."""
    found = []
    for out in problem.outgoing:
        old, new = before.sent.get(out.id), after.sent.get(out.id)
        if new is None:
            continue
        if old is None:
            found.append(f"{out.name} could be sent, {new.choice.words}")
        elif format_quality(new.choice.format) > format_quality(old.choice.format) + 1e-9:
            found.append(f"{out.name} could be {new.choice.format.label}")
    return " and ".join(found)
