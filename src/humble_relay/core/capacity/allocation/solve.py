"""The exact optimum by mixed-integer programming (SciPy's HiGHS), and what is nearly as good.

Binary unknowns: whether a picture is encoded so and goes straight, or by a relay; whether a sender pushes such an encoding to a relay
once; which line a group leaves by; which encodings a sender makes at all. What a group asks of a line is an unknown in Mb/s: nothing
of the lines that it does not leave by.
"""

from collections import defaultdict
from collections.abc import Iterable

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import coo_matrix

from humble_relay.core.capacity.allocation.problem import Encoded, Sent, Solution, ToAllocate

MATTERS = 6.0
"""How many times as much a picture counts as one of the next priority: so much that none is traded for it."""
DROPPED = 60.0
"""What it costs not to send a picture at all, in units of quality."""
_RANKS = 5

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

    def constraint(self, unknowns: int) -> LinearConstraint:
        """All of them."""
        rows, columns, factors = zip(*self.at, strict=True)
        return LinearConstraint(
            coo_matrix((factors, (rows, columns)), shape=(len(self.most), unknowns)).tocsr(),
            -np.inf,
            self.most,
        )


def solve(problem: ToAllocate, but_not: Iterable[Shape] = (), seconds: float = 4.0) -> Solution | None:
    """The best choice; of another shape than those named. None where there is none within the time.

    The more important picture first: each priority counts six times as much as the next. A picture that does not fit at its
    least is left out, and that is said, rather than nothing being found.
    """
    names: list[tuple[str, ...]] = []
    number: dict[tuple[str, ...], int] = {}

    def unknown(*name: str) -> int:
        if name not in number:
            number[name] = len(names)
            names.append(name)
        return number[name]

    rows, gain = _Limits(), defaultdict[int, float](float)
    group_of = {s.id: s.group for s in problem.senders}
    asked = defaultdict[str, list[tuple[int, float]]](list)
    pushes = defaultdict[str, list[tuple[int, float]]](list)
    made = defaultdict[tuple[str, Encoded], list[int]](list)
    by_relay = defaultdict[str, list[tuple[int, float]]](list)
    by_push = defaultdict[int, list[tuple[int, bool]]](list)
    ranks = {p: n for n, p in enumerate(sorted({o.priority for o in problem.outgoing}))}
    choice_at: dict[int, Encoded] = {}
    ways: dict[str, list[int]] = {}
    shapes: dict[tuple[str, str, str], list[int]] = defaultdict(list)
    relay_max = {r.id: r.max_mbps for r in problem.relays}
    for out in problem.outgoing:
        weight = MATTERS ** (_RANKS - min(ranks[out.priority], _RANKS))
        mine: list[int] = []
        for n, choice in enumerate(out.choices):
            for relay in ("", *out.relays):
                if (not relay and not out.direct) or (relay and choice.video_mbps > relay_max[relay]):
                    continue
                x = unknown("way", out.id, str(n), relay)
                choice_at[x] = choice
                mine.append(x)
                gain[x] = weight * (choice.quality - (_BY_RELAY if relay else 0))
                made[out.sender, choice].append(x)
                shapes[out.id, choice.format.label, relay].append(x)
                if not relay:
                    asked[group_of[out.sender]].append((x, choice.load_mbps))
                    pushes[out.sender].append((x, 1.0))
                    continue
                by_relay[relay].append((x, 1.0))
                fresh = ("push", out.sender, relay, _key(choice)) not in number
                z = unknown("push", out.sender, relay, _key(choice))
                if fresh:
                    asked[group_of[out.sender]].append((z, choice.load_mbps))
                    pushes[out.sender].append((z, 1.0))
                by_push[z].append((x, out.direct))
                rows.at_most([(x, 1.0), (z, -1.0)], 0)
        none = unknown("dropped", out.id)
        gain[none] = -weight * DROPPED
        shapes[out.id, "", "-"].append(none)
        rows.just([*((x, 1.0) for x in mine), (none, 1.0)], 1)
        ways[out.id] = mine
    for z, takers in by_push.items():
        if all(direct for _, direct in takers):  # for one alone a relay is only one more thing that fails
            rows.at_most([(z, 2.0), *((x, -1.0) for x, _ in takers)], 0)
    for sender in problem.senders:
        pictures = [(c, xs) for (s, c), xs in made.items() if s == sender.id]
        for choice, xs in pictures:
            y = unknown("made", sender.id, _key(choice))
            for x in xs:
                rows.at_most([(x, 1.0), (y, -1.0)], 0)
        if pictures:
            rows.at_most(pushes[sender.id], sender.destinations)
            rows.at_most([(unknown("made", sender.id, _key(c)), 1.0) for c, _ in pictures], sender.channels)
    for service in problem.relays:
        if by_relay[service.id]:
            rows.at_most(by_relay[service.id], service.destinations)
    for shape in but_not:
        same = [(x, 1.0) for part in shape for x in shapes.get(part, ())]
        rows.at_most(same, len(shape) - 1)
    binaries = len(names)
    for group, lines in problem.groups.items():
        rows.just([(unknown("line", group, line), 1.0) for line in lines], 1)
    binaries = len(names)
    flows = defaultdict[str, list[tuple[int, float]]](list)
    for group, lines in problem.groups.items():
        parts = [(unknown("mbps", group, line), -1.0) for line in lines]
        rows.just([*asked[group], *parts], 0)
        for line, (part, _) in zip(lines, parts, strict=True):
            flows[line].append((part, 1.0))
            rows.at_most([(part, 1.0), (unknown("line", group, line), -problem.lines[line])], 0)
    for line, parts in flows.items():
        rows.at_most(parts, problem.lines[line])
    if not problem.outgoing:
        return Solution({}, {g: lines[0] for g, lines in problem.groups.items() if lines}, 0.0)
    cost = np.array([-gain[n] for n in range(len(names))])
    whole = np.arange(len(names)) < binaries
    found = milp(
        cost, constraints=rows.constraint(len(names)), integrality=whole.astype(int), bounds=Bounds(0, np.where(whole, 1.0, np.inf)),
        options={"time_limit": seconds, "mip_rel_gap": 1e-7},
    )  # fmt: skip
    if found.x is None:
        return None
    chosen = {n for n in np.flatnonzero(found.x > 0.5) if whole[n]}
    sent: dict[str, Sent | None] = {}
    for out in problem.outgoing:
        way = next((x for x in ways[out.id] if x in chosen), None)
        sent[out.id] = None if way is None else Sent(choice_at[way], names[way][3] or None)
    line_of = {names[n][1]: names[n][2] for n in chosen if names[n][0] == "line"}
    return Solution(sent, line_of, float(-found.fun), 0.0 if found.status == 0 else float(found.mip_gap))


_BY_RELAY = 0.02
"""What a relay costs in quality: one more thing that can fail. It is taken where it brings more than that."""


def _key(choice: Encoded) -> str:
    return f"{choice.format.label} {choice.format.width}x{choice.format.height} {choice.codec} {choice.video_mbps:g}"
