"""The exact optimum by mixed-integer programming (SciPy's HiGHS), and what is nearly as good.

All unknowns are yes or no: whether a picture is encoded so and goes straight by a line, or by a relay; whether a sender pushes such an
encoding to a relay once by a line; by which line what leaves together does; which encodings a sender makes at all.
"""

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence

import numpy as np
import scipy  # its parts load when first used: the optimiser takes half a second that no other question waits for

from humble_relay.core.allocation.allocation_problem import Encoded, Outgoing, Sent, Solution, ToAllocate

MATTERS = 6.0
"""How many times as much a picture counts as one of the next priority: so much that none is traded for it."""
DROPPED = 60.0
"""What it costs not to send a picture at all, in units of quality."""
EXACT, NODES = 13_000, 200
"""Problems with so many factors in their constraints are solved exactly, within so many nodes of the search. Larger ones are solved
among the encodings near those of the relaxed problem, with a tenth of the nodes. No clock bounds either."""
_RANKS, _NOT_PROVEN = 5, 1
_INFEASIBLE = 2

Shape = frozenset[tuple[str, str, str]]


class _Limits:
    """Constraints, each a sum of unknowns that is at most a number."""

    def __init__(self) -> None:
        self.at: list[tuple[int, int, float]] = []
        self.most: list[float] = []

    def at_most(self, terms: Iterable[tuple[int, float]], most: float) -> None:
        """Adds one."""
        self.at += [(len(self.most), unknown, factor) for unknown, factor in terms]
        self.most.append(most)

    def just(self, terms: list[tuple[int, float]], number: float) -> None:
        """Adds one that is just the number."""
        self.at_most(terms, number)
        self.at_most([(unknown, -factor) for unknown, factor in terms], -number)

    def constraint(self, unknowns: int) -> "scipy.optimize.LinearConstraint":
        """All of them."""
        rows, columns, factors = zip(*self.at, strict=True)
        return scipy.optimize.LinearConstraint(
            scipy.sparse.coo_matrix((factors, (rows, columns)), shape=(len(self.most), unknowns)).tocsr(),
            -np.inf,
            self.most,
        )


def solve(problem: ToAllocate, but_not: Iterable[Shape] = ()) -> Solution | None:
    """The best choice; of another shape than those named. None where there is none.

    The more important picture first: each priority counts six times as much as the next. What must arrive is sent before
    anything is made better; where not all of it fits at its least, the least important is left out.
    """
    names: list[tuple[str, ...]] = []
    number: dict[tuple[str, ...], int] = {}

    def unknown(*name: str) -> int:
        if name not in number:
            number[name] = len(names)
            names.append(name)
        return number[name]

    rows, gain = _Limits(), defaultdict[int, float](float)
    senders = {s.id: s for s in problem.senders}
    asked = defaultdict[str, list[tuple[int, float]]](list)
    pushes = defaultdict[str, list[tuple[int, float]]](list)
    made = defaultdict[tuple[str, Encoded], list[list[int]]](list)
    by_relay = defaultdict[str, list[tuple[int, float]]](list)
    takers = defaultdict[tuple[int, ...], list[tuple[int, bool]]](list)
    leaving = defaultdict[tuple[tuple[str, ...], str], list[list[int]]](list)
    ranks = {p: n for n, p in enumerate(sorted({o.priority for o in problem.outgoing}))}
    choice_at: dict[int, Encoded] = {}
    ways: dict[str, list[int]] = {}
    shapes: dict[tuple[str, str, str], list[int]] = defaultdict(list)
    left_out: list[tuple[int, float]] = []
    top: dict[str, float] = {}
    relay_max = {r.id: r.max_mbps for r in problem.relays}
    for out in problem.outgoing:
        sender = senders[out.sender]
        lines = problem.groups[sender.group]
        weight = MATTERS ** (_RANKS - min(ranks[out.priority], _RANKS))
        mine: list[int] = []
        top[out.id] = weight * max((choice.quality for choice in out.choices), default=0.0)
        for n, choice in enumerate(out.choices):
            here: list[int] = []
            for line in lines if out.direct else ():
                x = unknown("way", out.id, str(n), "", line)
                here.append(x)
                gain[x] = weight * (choice.quality - (_BY_ANOTHER if line != lines[0] else 0))
                asked[line].append((x, choice.load_mbps))
                pushes[out.sender].append((x, 1.0))
                shapes[out.id, choice.format.label, ""].append(x)
            for relay in out.relays:
                if choice.video_mbps > relay_max[relay]:
                    continue
                x = unknown("way", out.id, str(n), relay, "")
                here.append(x)
                gain[x] = weight * (choice.quality - _BY_RELAY)
                shapes[out.id, choice.format.label, relay].append(x)
                by_relay[relay].append((x, 1.0))
                fresh = ("push", out.sender, relay, _key(choice), lines[0]) not in number
                once = [unknown("push", out.sender, relay, _key(choice), line) for line in lines]
                for z, line in zip(once, lines, strict=True):
                    if line != lines[0]:
                        gain[z] = min(gain[z], -weight * _BY_ANOTHER)
                    if not fresh:
                        continue
                    asked[line].append((z, choice.load_mbps))
                    pushes[out.sender].append((z, 1.0))
                    leaving[problem.bundle(sender, relay), line].append([z])
                takers[tuple(once)].append((x, out.direct))
                rows.at_most([(x, 1.0), *((z, -1.0) for z in once)], 0)
            choice_at |= dict.fromkeys(here, choice)
            made[out.sender, choice].append(here)
            mine += here
        for line in lines:
            straight = [x for x in mine if names[x][4] == line]
            leaving[problem.bundle(sender, out.end or out.id), line].append(straight)
        none = unknown("dropped", out.id)
        gain[none] = -weight * DROPPED
        shapes[out.id, "", "-"].append(none)
        if out.must:
            left_out.append((none, weight))
        rows.just([*((x, 1.0) for x in mine), (none, 1.0)], 1)
        ways[out.id] = mine
    for once_by, taken in takers.items():
        rows.at_most([(z, 1.0) for z in once_by], 1)
        if all(direct for _, direct in taken):  # for one alone a relay is only one more thing that fails
            rows.at_most([*((z, 2.0) for z in once_by), *((x, -1.0) for x, _ in taken)], 0)
    for sender in problem.senders:
        pictures = [(c, of) for (s, c), of in made.items() if s == sender.id]
        for choice, of in pictures:
            y = unknown("made", sender.id, _key(choice))
            for xs in of:
                rows.at_most([*((x, 1.0) for x in xs), (y, -1.0)], 0)
        if pictures:
            rows.at_most(pushes[sender.id], sender.destinations)
            rows.at_most([(unknown("made", sender.id, _key(c)), 1.0) for c, _ in pictures], sender.channels)
    for service in problem.relays:
        if by_relay[service.id]:
            rows.at_most(by_relay[service.id], service.destinations)
    for shape in but_not:
        same = [(x, 1.0) for part in shape for x in shapes.get(part, ())]
        rows.at_most(same, len(shape) - 1)
    sharing = Counter(line for lines in problem.groups.values() for line in lines)
    for bundle in dict.fromkeys((*(b for b, _ in leaving), *((group,) for group in problem.besides))):
        lines = problem.groups[bundle[0]]
        besides = problem.besides.get(bundle[0], 0.0) if len(bundle) == 1 else 0.0
        if len(leaving[bundle, lines[0]]) <= 1 and not besides:
            continue  # one alone leaves by one line anyway
        for line in lines:
            w = unknown("line", *bundle, line)
            # What is there already may be more than the line may be asked for: then nothing else goes by it.
            asked[line].append((w, min(besides, problem.lines[line] / sharing[line])))
            for xs in leaving[bundle, line]:
                rows.at_most([*((x, 1.0) for x in xs), (w, -1.0)], 0)
        rows.just([(unknown("line", *bundle, line), 1.0) for line in lines], 1)
    for line, loads in asked.items():
        rows.at_most(loads, problem.lines[line])
    if not problem.outgoing:
        return Solution({}, 0.0)
    every = np.ones(len(names))

    def best(cost: Sequence[float]) -> "scipy.optimize.OptimizeResult":
        limits, costs = rows.constraint(len(names)), np.array(cost)
        if len(rows.at) <= EXACT:
            return scipy.optimize.milp(costs, constraints=limits, integrality=every, bounds=scipy.optimize.Bounds(0, 1), options={"node_limit": NODES, "mip_rel_gap": 1e-7})  # fmt: skip
        relaxed = scipy.optimize.milp(
            costs, constraints=limits, integrality=0 * every, bounds=scipy.optimize.Bounds(0, 1)
        )
        if relaxed.x is None:
            return relaxed
        free, reach = every.copy(), int(len(rows.at) <= 3 * EXACT)
        for out in problem.outgoing:
            for x in set(ways[out.id]) - _near(
                out, {x: choice_at[x] for x in ways[out.id]}, relaxed.x, reach
            ):
                free[x] = 0
        nodes = NODES // 10
        found = scipy.optimize.milp(costs, constraints=limits, integrality=every, bounds=scipy.optimize.Bounds(0, free), options={"node_limit": nodes, "mip_rel_gap": 1e-4})  # fmt: skip
        if (
            found.x is not None
        ):  # how much better it may be is told by the relaxed problem, which is at least as good
            found.mip_gap, found.status = (found.fun - relaxed.fun) / max(abs(found.fun), 1e-9), _NOT_PROVEN
        return found

    worth = [-gain[n] for n in range(len(names))]
    least = 0.0
    rows.at_most(left_out, least)
    found = best(worth)
    if found.status == _INFEASIBLE:  # something must be left out: as little as can be, by what matters
        rows.most[-1] = np.inf
        matters = dict(left_out)
        least = round(best([matters.get(n, 0.0) for n in range(len(names))]).fun or 0.0)
        rows.most[-1] = least
        found = best(worth)
    if found.x is None:
        return (
            None if found.status == _INFEASIBLE else _each_at_its_least(problem, but_not, sum(top.values()))
        )
    chosen = set(np.flatnonzero(found.x > 0.5).tolist())
    pushed = {names[n][1:4]: names[n][4] for n in chosen if names[n][0] == "push"}
    sent: dict[str, Sent | None] = {}
    for out in problem.outgoing:
        way = next((x for x in ways[out.id] if x in chosen), None)
        if way is None:
            sent[out.id] = None
            continue
        choice, (_, _, _, relay, line) = choice_at[way], names[way]
        by = pushed[out.sender, relay, _key(choice)] if relay else line
        sent[out.id] = Sent(choice, relay or None, by)
    return Solution(sent, float(-found.fun), least, 0.0 if found.status == 0 else float(found.mip_gap))


def effort(problem: ToAllocate) -> float:
    """How much work the problem is, about: 1 for twenty pictures over six uplinks."""
    lines = {s.id: len(problem.groups[s.group]) for s in problem.senders}
    size = sum(len(o.choices) * (lines[o.sender] * o.direct + len(o.relays) * (1 + lines[o.sender])) for o in problem.outgoing)  # fmt: skip
    return (size / 3000) ** 2


def _near(out: Outgoing, choices: Mapping[int, Encoded], relaxed: Sequence[float], reach: int) -> set[int]:
    """The unknowns of a picture whose encoding is used in the relaxed problem, within `reach` of one that is, or the lightest."""
    order = {choice: n for n, choice in enumerate(out.choices)}
    used = {order[choice] for x, choice in choices.items() if relaxed[x] > 1e-7}
    light = min(order.values(), key=lambda n: out.choices[n].load_mbps)
    near = {n + by for n in used for by in range(-reach, reach + 1)} | {light}
    return {x for x, choice in choices.items() if order[choice] in near}


def _each_at_its_least(problem: ToAllocate, but_not: Iterable[Shape], most: float) -> Solution | None:
    """The best way to send each picture as light as it may be, which is found at once: where the work allowed was done
    before any other choice was found. Nothing is worth more than `most`."""
    if all(len(out.choices) < 2 for out in problem.outgoing):
        return None
    light = (
        out._replace(choices=(min(out.choices, key=lambda c: c.load_mbps),)) if out.choices else out
        for out in problem.outgoing
    )
    found = solve(problem._replace(outgoing=tuple(light)), but_not)
    return found and found._replace(gap=max(0.0, most - found.value) / max(abs(found.value), 1e-9))


_BY_ANOTHER = 0.01
"""What a line that is not the router's first costs in quality: one more thing to set. Less than a relay."""
_BY_RELAY = 0.02
"""What a relay costs in quality: one more thing that can fail. It is taken where it brings more than that."""


def _key(choice: Encoded) -> str:
    return f"{choice.format.label} {choice.format.width}x{choice.format.height} {choice.codec} {choice.video_mbps:g}"
