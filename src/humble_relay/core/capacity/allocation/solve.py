"""The exact optimum by mixed-integer programming (SciPy's HiGHS), and what is nearly as good.

Binary unknowns: whether a picture is encoded so and goes straight by a line of its group, or by a relay; whether a sender pushes
such an encoding to a relay once; which line a group leaves by; which encodings a sender makes at all.
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
    sender_of = {s.id: s for s in problem.senders}
    lines_of = {s.id: problem.groups[s.group] for s in problem.senders}
    load = defaultdict[str, list[tuple[int, float]]](list)
    pushes = defaultdict[str, list[tuple[int, float]]](list)
    made = defaultdict[tuple[str, Encoded], list[int]](list)
    by_relay = defaultdict[str, list[tuple[int, float]]](list)
    ranks = {p: n for n, p in enumerate(sorted({o.priority for o in problem.outgoing}))}
    by_push = defaultdict[tuple[str, ...], list[tuple[int, bool]]](list)
    choice_at: dict[tuple[str, ...], Encoded] = {}
    ways: dict[str, list[int]] = {}
    shapes: dict[tuple[str, str, str], list[int]] = defaultdict(list)

    for group, lines in problem.groups.items():
        picks = [(unknown("line", group, line), 1.0) for line in lines]
        rows.at_most(picks, 1)
        rows.at_most([(n, -1.0) for n, _ in picks], -1)
    relay_max = {r.id: r.max_mbps for r in problem.relays}
    for out in problem.outgoing:
        weight = MATTERS ** (_RANKS - min(ranks[out.priority], _RANKS))
        mine: list[int] = []
        for n, choice in enumerate(out.choices):
            if out.direct:
                for line in lines_of[out.sender]:
                    x = unknown("straight", out.id, str(n), line)
                    choice_at[names[x]] = choice
                    mine.append(x)
                    gain[x] = weight * choice.quality
                    rows.at_most([(x, 1.0), (unknown("line", sender_of[out.sender].group, line), -1.0)], 0)
                    load[line].append((x, choice.load_mbps))
                    pushes[out.sender].append((x, 1.0))
                    made[out.sender, choice].append(x)
                    shapes[out.id, choice.format.label, ""].append(x)
            for relay in out.relays:
                if choice.video_mbps > relay_max[relay]:
                    continue
                x = unknown("relayed", out.id, str(n), relay)
                choice_at[names[x]] = choice
                mine.append(x)
                gain[x] = weight * (choice.quality - _BY_RELAY)
                by_relay[relay].append((x, 1.0))
                made[out.sender, choice].append(x)
                shapes[out.id, choice.format.label, relay].append(x)
                pushed = []
                for line in lines_of[out.sender]:
                    key = ("push", out.sender, relay, line, _key(choice))
                    fresh = key not in number
                    z = unknown(*key)
                    pushed.append((z, -1.0))
                    by_push[key].append((x, out.direct))
                    if fresh:
                        rows.at_most(
                            [(z, 1.0), (unknown("line", sender_of[out.sender].group, line), -1.0)], 0
                        )
                        load[line].append((z, choice.load_mbps))
                        pushes[out.sender].append((z, 1.0))
                rows.at_most([(x, 1.0), *pushed], 0)
        none = unknown("dropped", out.id)
        gain[none] = -weight * DROPPED
        shapes[out.id, "", "-"].append(none)
        rows.at_most([*((x, 1.0) for x in mine), (none, 1.0)], 1)
        rows.at_most([*((x, -1.0) for x in mine), (none, -1.0)], -1)
        ways[out.id] = mine
    for push, takers in by_push.items():
        if all(direct for _, direct in takers):  # for one alone a relay is only one more thing that fails
            rows.at_most([(number[push], 2.0), *((x, -1.0) for x, _ in takers)], 0)
    for line, room in problem.lines.items():
        if load[line]:
            rows.at_most(load[line], room)
    for sender in problem.senders:
        if pushes[sender.id]:
            rows.at_most(pushes[sender.id], sender.destinations)
        pictures = [(c, xs) for (s, c), xs in made.items() if s == sender.id]
        for choice, xs in pictures:
            y = unknown("made", sender.id, _key(choice))
            for x in xs:
                rows.at_most([(x, 1.0), (y, -1.0)], 0)
        if pictures:
            rows.at_most([(unknown("made", sender.id, _key(c)), 1.0) for c, _ in pictures], sender.channels)
    for service in problem.relays:
        if by_relay[service.id]:
            rows.at_most(by_relay[service.id], service.destinations)
    for shape in but_not:
        same = [(x, 1.0) for part in shape for x in shapes.get(part, ())]
        rows.at_most(same, len(shape) - 1)
    if not problem.outgoing:
        return Solution({}, {g: lines[0] for g, lines in problem.groups.items() if lines}, 0.0)
    cost = np.array([-gain[n] for n in range(len(names))])
    found = milp(
        cost, constraints=rows.constraint(len(names)), integrality=np.ones(len(names)), bounds=Bounds(0, 1),
        options={"time_limit": seconds, "mip_rel_gap": 1e-7},
    )  # fmt: skip
    if found.x is None:
        return None
    chosen = {names[n] for n in np.flatnonzero(found.x > 0.5)}
    sent: dict[str, Sent | None] = {}
    for out in problem.outgoing:
        name = next((names[x] for x in ways[out.id] if names[x] in chosen), None)
        sent[out.id] = Sent(choice_at[name], name[3] if name[0] == "relayed" else None) if name else None
    line_of = {name[1]: name[2] for name in chosen if name[0] == "line"}
    return Solution(sent, line_of, float(-found.fun))


_BY_RELAY = 0.02
"""What a relay costs in quality: one more thing that can fail. It is taken where it brings more than that."""


def _key(choice: Encoded) -> str:
    return f"{choice.format.label} {choice.format.width}x{choice.format.height} {choice.codec} {choice.video_mbps:g}"
