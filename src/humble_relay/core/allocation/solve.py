"""The exact optimum by mixed-integer programming (SciPy's HiGHS), and what is nearly as good.

All unknowns are yes or no: whether a picture is encoded so and goes straight by a line, or by a relay; whether a sender pushes such an
encoding to a relay once by a line; by which line what leaves together does; which encodings a sender makes at all.
"""

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence

import numpy as np
import scipy  # its parts load when first used: the optimiser takes half a second that no other question waits for

from humble_relay.core.allocation.allocation_problem import (
    Encoded,
    Outgoing,
    SenderRoom,
    Sent,
    Solution,
    ToAllocate,
)

MATTERS = 6.0
"""How many times as much a picture counts as one of the next rank where ranks are weighed against each other: in large problems, and
where a search begins."""
DROPPED = 60.0
"""What it costs not to send a picture at all, in units of quality."""
EXACT, NODES = 13_000, 200
"""Problems with so many factors in their constraints are solved exactly, within so many nodes of the search. Larger ones are solved
among the encodings near those of the relaxed problem, with a tenth of the nodes. No clock bounds either."""
_RANKS, _NOT_PROVEN = 5, 1
_UNKNOWN_GAP = 1.0
"""How much better it may be, as a part of its value, where nobody can say."""
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


class _Model:
    """A problem as unknowns, what each is worth to its rank, and the limits on them."""

    def __init__(self, problem: ToAllocate) -> None:
        self.problem, self.rows = problem, _Limits()
        self.ranks = {rank: n for n, rank in enumerate(problem.ranks)}
        self.names: list[tuple[object, ...]] = []
        self.number: dict[tuple[object, ...], int] = {}
        self.gain: dict[int, float] = defaultdict(float)
        self.rank_of: dict[int, int] = {}
        """Of which rank an unknown's worth is."""
        self.choice_at: dict[int, Encoded] = {}
        self.ways: dict[str, list[int]] = {}
        self.dropped: dict[str, int] = {}
        self.shapes: dict[tuple[str, str, str], list[int]] = defaultdict(list)
        self._asked = defaultdict[str, list[tuple[int, float]]](list)
        self._pushes = defaultdict[str, list[tuple[int, float]]](list)
        self._made = defaultdict[tuple[object, ...], list[list[int]]](list)
        self._by_relay = defaultdict[str, list[tuple[int, float]]](list)
        self._takers = defaultdict[tuple[int, ...], list[tuple[int, bool]]](list)
        self._leaving = defaultdict[tuple[tuple[str, ...], str], list[list[int]]](list)
        self._bars: dict[tuple[str, str, str], float] = {}
        for bar in problem.barred:
            known = self._bars.get(bar[:3], bar.from_mbps)
            self._bars[bar[:3]] = min(known, bar.from_mbps)
        for out in problem.outgoing:
            self._picture(out)
        self._encoders_and_relays()
        self._lines()

    def unknown(self, *name: object, rank: int | None = None) -> int:
        """The number of an unknown, a new one where it has none yet."""
        if name not in self.number:
            self.number[name] = len(self.names)
            self.names.append(name)
        n = self.number[name]
        if rank is not None:
            self.rank_of[n] = min(rank, self.rank_of.get(n, rank))
        return n

    def worth(self, rank: int, chosen: set[int] | None = None) -> list[tuple[int, float]]:
        """What the unknowns are worth to a rank; of the chosen ones alone, where they are named."""
        return [
            (n, self.gain[n])
            for n, of in self.rank_of.items()
            if of == rank and (chosen is None or n in chosen)
        ]

    def _barred(self, out: Outgoing, relay: str, line: str, choice: Encoded) -> bool:
        least = self._bars.get((out.id, relay, line))
        return least is not None and choice.video_mbps >= least - 1e-9

    def _picture(self, out: Outgoing) -> None:
        problem, rank = self.problem, self.ranks[out.rank]
        sender = next(s for s in problem.senders if s.id == out.sender)
        lines = problem.groups[sender.group]
        relay_max = {r.id: r.max_mbps for r in problem.relays}
        twice, mine = 2.0 if out.backup else 1.0, list[int]()
        for n, choice in enumerate(out.choices):
            here: list[int] = []
            for line in lines if out.direct else ():
                if self._barred(out, "", line, choice):
                    continue
                x = self.unknown("way", out.id, n, "", line, rank=rank)
                here.append(x)
                self.gain[x] = choice.quality - (_BY_ANOTHER if line != lines[0] else 0)
                self._asked[line].append((x, choice.load_mbps))
                self._pushes[out.sender].append((x, twice))
                self.shapes[out.id, choice.format.label, ""].append(x)
            for relay in out.relays:
                mbps = out.pushed_mbps(choice, relay)
                if mbps is None or choice.video_mbps > relay_max[relay]:
                    continue
                x = self.unknown("way", out.id, n, relay, "", rank=rank)
                here.append(x)
                self.gain[x] = choice.quality - _BY_RELAY
                self.shapes[out.id, choice.format.label, relay].append(x)
                self._by_relay[relay].append((x, twice))
                self._push(out, sender, choice, relay, x, mbps)
            self.choice_at |= dict.fromkeys(here, choice)
            self._made[out.encoding(choice)].append(here)
            mine += here
        for line in lines:
            straight = [x for x in mine if self.names[x][4] == line]
            self._leaving[problem.bundle(sender, out.end or out.id), line].append(straight)
        none = self.dropped[out.id] = self.unknown("dropped", out.id, rank=rank)
        self.gain[none] = -DROPPED
        self.shapes[out.id, "", "-"].append(none)
        self.rows.just([*((x, 1.0) for x in mine), (none, 1.0)], 1)
        self.ways[out.id] = mine

    def _push(self, out: Outgoing, sender: SenderRoom, choice: Encoded, relay: str, x: int, mbps: float) -> None:  # fmt: skip
        """What a way by a relay rests on: one push of the encoding, by one line, shared with all that are alike."""
        lines, key, rank = self.problem.groups[sender.group], out.push(choice, relay), self.ranks[out.rank]
        fresh = ("push", key, lines[0]) not in self.number
        once = [self.unknown("push", key, line, rank=rank) for line in lines]
        for z, line in zip(once, lines, strict=True):
            if line != lines[0]:
                self.gain[z] = -_BY_ANOTHER
            if self._barred(out, relay, line, choice):
                self.rows.at_most([(x, 1.0), (z, 1.0)], 1)
            if fresh:
                self._asked[line].append((z, mbps))
                self._pushes[out.sender].append((z, 2.0 if relay in out.pushed_twice else 1.0))
                self._leaving[self.problem.bundle(sender, relay), line].append([z])
        self._takers[tuple(once)].append((x, out.direct))
        self.rows.at_most([(x, 1.0), *((z, -1.0) for z in once)], 0)

    def _encoders_and_relays(self) -> None:
        rows = self.rows
        for once_by, taken in self._takers.items():
            rows.at_most([(z, 1.0) for z in once_by], 1)
            if all(direct for _, direct in taken):  # for one alone a relay is only one more thing that fails
                rows.at_most([*((z, 2.0) for z in once_by), *((x, -1.0) for x, _ in taken)], 0)
        encoded = defaultdict[object, list[tuple[int, float]]](list)
        for key, of in self._made.items():
            y = self.unknown("made", key)
            encoded[key[0]].append((y, 1.0))
            for xs in of:
                rows.at_most([*((x, 1.0) for x in xs), (y, -1.0)], 0)
        for sender in self.problem.senders:
            if encoded[sender.id]:
                rows.at_most(self._pushes[sender.id], sender.destinations)
                rows.at_most(encoded[sender.id], sender.channels)
        for service in self.problem.relays:
            if self._by_relay[service.id]:
                rows.at_most(self._by_relay[service.id], service.destinations)

    def _lines(self) -> None:
        """What leaves together leaves by one line, and no line is asked for more than it may be."""
        problem, leaving = self.problem, self._leaving
        sharing = Counter(line for lines in problem.groups.values() for line in lines)
        for bundle in dict.fromkeys((*(b for b, _ in leaving), *((group,) for group in problem.besides))):
            lines = problem.groups[bundle[0]]
            besides = problem.besides.get(bundle[0], 0.0) if len(bundle) == 1 else 0.0
            if len(leaving[bundle, lines[0]]) <= 1 and not besides:
                continue  # one alone leaves by one line anyway
            for line in lines:
                w = self.unknown("line", *bundle, line)
                # What is there already may be more than the line may be asked for: then nothing else goes by it.
                self._asked[line].append((w, min(besides, problem.lines[line] / sharing[line])))
                for xs in leaving[bundle, line]:
                    self.rows.at_most([*((x, 1.0) for x in xs), (w, -1.0)], 0)
            self.rows.just([(self.unknown("line", *bundle, line), 1.0) for line in lines], 1)
        for line, loads in self._asked.items():
            self.rows.at_most(loads, problem.lines[line])

    @property
    def small(self) -> bool:
        """Whether it is solved exactly."""
        return len(self.rows.at) <= EXACT

    def best(self, worth: Iterable[tuple[int, float]]) -> "scipy.optimize.OptimizeResult":
        """The unknowns that are worth most together, within the limits."""
        costs, every = np.zeros(len(self.names)), np.ones(len(self.names))
        for n, gain in worth:
            costs[n] -= gain
        limits = self.rows.constraint(len(self.names))
        if self.small:
            return scipy.optimize.milp(costs, constraints=limits, integrality=every, bounds=scipy.optimize.Bounds(0, 1), options={"node_limit": NODES, "mip_rel_gap": 1e-7})  # fmt: skip
        relaxed = scipy.optimize.milp(
            costs, constraints=limits, integrality=0 * every, bounds=scipy.optimize.Bounds(0, 1)
        )
        if relaxed.x is None:
            return relaxed
        free, reach = every.copy(), int(len(self.rows.at) <= 3 * EXACT)
        for out in self.problem.outgoing:
            mine = self.ways[out.id]
            for x in set(mine) - _near(out, {x: self.choice_at[x] for x in mine}, relaxed.x, reach):
                free[x] = 0
        nodes = NODES // 10
        found = scipy.optimize.milp(costs, constraints=limits, integrality=every, bounds=scipy.optimize.Bounds(0, free), options={"node_limit": nodes, "mip_rel_gap": 1e-4})  # fmt: skip
        if (
            found.x is not None
        ):  # how much better it may be is told by the relaxed problem, which is at least as good
            found.mip_gap, found.status = (found.fun - relaxed.fun) / max(abs(found.fun), 1e-9), _NOT_PROVEN
        return found

    def solution(self, chosen: set[int], left_out: tuple[int, ...], gap: float) -> Solution:
        """What the chosen unknowns say."""
        pushed = {self.names[n][1]: self.names[n][2] for n in chosen if self.names[n][0] == "push"}
        sent: dict[str, Sent | None] = {}
        for out in self.problem.outgoing:
            way = next((x for x in self.ways[out.id] if x in chosen), None)
            if way is None:
                sent[out.id] = None
                continue
            choice, (_, _, _, relay, line) = self.choice_at[way], self.names[way]
            by = pushed[out.push(choice, str(relay))] if relay else line
            sent[out.id] = Sent(choice, str(relay) or None, str(by))
        value = tuple(sum(gain for _, gain in self.worth(rank, chosen)) for rank in self.ranks.values())
        return Solution(sent, value, left_out, gap)


def solve(problem: ToAllocate, but_not: Iterable[Shape] = ()) -> Solution | None:
    """The best choice; of another shape than those named. None where there is none.

    Rank by rank (lexicographic order): first as few as can be of what must arrive are left out, the most important last; then those of
    the first rank are made as good as they can be, and no later one takes anything from them.
    Larger problems weigh the ranks against each other, what is wished after all that must arrive.
    """
    if not problem.outgoing:
        return Solution({}, ())
    model = _Model(problem)
    rows, ranks = model.rows, list(model.ranks.values())
    for shape in but_not:
        same = [(x, 1.0) for part in shape for x in model.shapes.get(part, ())]
        rows.at_most(same, len(shape) - 1)
    must = defaultdict[int, list[tuple[int, float]]](list)
    for out in problem.outgoing:
        if out.must:
            must[model.ranks[out.rank]].append((model.dropped[out.id], 1.0))
    parts = [ranks] if model.small else [[r for r in ranks if r in must], [r for r in ranks if r not in must]]
    first, *later = ([each for rank in part for each in _weighed(model, rank)] for part in parts if part)
    rows.at_most([each for of in must.values() for each in of], 0)
    found = model.best(first)
    left_out: tuple[int, ...] = ()
    if found.status == _INFEASIBLE:
        rows.most[-1] = np.inf
        left_out = _left_out(model, must)
        found = model.best(first)
    if found.x is None:
        return None if found.status == _INFEASIBLE else _each_at_its_least(problem, but_not)
    gap = 0.0 if found.status == 0 else float(found.mip_gap)
    if model.small:
        found, gap = _by_ranks(model, first, found, gap)
    for worth in later:  # what is wished, beside what must arrive as it was found
        chosen = _chosen(found)
        rows.at_most([(n, -gain) for n, gain in first], 1e-6 - sum(g for n, g in first if n in chosen))
        beside = model.best(worth)
        found = found if beside.x is None else beside
    return model.solution(_chosen(found), left_out, gap)


def _weighed(model: _Model, rank: int) -> list[tuple[int, float]]:
    """What the unknowns are worth to a rank, against the others: each counts six times as much as the next."""
    return [(n, gain * MATTERS ** -min(rank, _RANKS)) for n, gain in model.worth(rank)]


def _chosen(found: "scipy.optimize.OptimizeResult") -> set[int]:
    return set(np.flatnonzero(found.x > 0.5).tolist())


def _left_out(model: _Model, must: Mapping[int, list[tuple[int, float]]]) -> tuple[int, ...]:
    """How many of each rank must be left out at least, the most important rank first; limits the model to that."""
    counts = []
    for rank in sorted(must):
        least = model.best([(n, -one) for n, one in must[rank]])
        counts.append(round(least.fun) if least.x is not None else len(must[rank]))
        model.rows.at_most(must[rank], counts[-1])
    return tuple(counts)


def _by_ranks(
    model: _Model, weighted: list[tuple[int, float]], found: "scipy.optimize.OptimizeResult", gap: float
) -> tuple["scipy.optimize.OptimizeResult", float]:
    """The best found by weights made the best rank by rank: where a rank could be better for itself, it is, at the cost of those after."""
    tops = defaultdict[int, float](float)
    for out in model.problem.outgoing:
        tops[model.ranks[out.rank]] += max((c.quality for c in out.choices), default=-DROPPED)
    for rank in model.ranks.values():
        worth = model.worth(rank)
        reached = sum(gain for _, gain in model.worth(rank, _chosen(found)))
        if reached < tops[rank] - 1e-9:
            alone = model.best(worth)
            if alone.x is None:
                return found, max(gap, _UNKNOWN_GAP)
            best = -float(alone.fun)
            gap = max(gap, 0.0 if alone.status == 0 else float(alone.mip_gap))
            if best > reached + 1e-6:
                model.rows.at_most([(n, -gain) for n, gain in worth], 1e-7 - best)
                better = model.best(weighted)
                found, reached = (better if better.x is not None else alone), best
                continue
        model.rows.at_most([(n, -gain) for n, gain in worth], 1e-7 - reached)
    return found, gap


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


def _each_at_its_least(problem: ToAllocate, but_not: Iterable[Shape]) -> Solution | None:
    """The best way to send each picture as light as it may be, which is found at once: where the work allowed was done
    before any other choice was found."""
    if all(len(out.choices) < 2 for out in problem.outgoing):
        return None
    light = (
        out._replace(choices=(min(out.choices, key=lambda c: c.load_mbps),)) if out.choices else out
        for out in problem.outgoing
    )
    found = solve(problem._replace(outgoing=tuple(light)), but_not)
    return found and found._replace(gap=_UNKNOWN_GAP)


_BY_ANOTHER = 0.01
"""What a line that is not the router's first costs in quality: one more thing to set. Less than a relay."""
_BY_RELAY = 0.02
"""What a relay costs in quality: one more thing that can fail. It is taken where it brings more than that."""
