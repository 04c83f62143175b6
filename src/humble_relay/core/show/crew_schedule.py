"""Jobs that wait for one another, at places a walk apart: by when each must begin, and when so many people begin them.

Both are reckoned backwards, from what must be done by a moment: nothing is begun earlier than it has to be.
"""

import random
from collections.abc import Callable, Iterable, Mapping, Sequence
from heapq import heapify, heappop, heappush
from typing import NamedTuple

Walk = Callable[[str, str], float]
"""Minutes from one place to another."""


class Job(NamedTuple):
    """A job: how long it takes (min), where, what comes before it; `by` when it must have begun at the latest (min from the start of the
    show, before it negative), where that is said."""

    id: str
    minutes: float
    place: str
    after: tuple[str, ...] = ()
    by: float | None = None
    crew: str = ""
    """Who does it: empty for those of the show; of another site one who is there."""


class Begun(NamedTuple):
    """When a job is begun (min from the start), and by which of the people."""

    at: float
    person: int


def latest_starts(jobs: Iterable[Job], walk: Walk) -> dict[str, float]:
    """By when each job must begin, in min from the start, with as many people as it takes: the backward pass of the critical path method
    (Kelley and Walker, 1959). Between two jobs at different places lies a walk.

    >>> rig, look = Job("rig", 10, "slipway"), Job("look", 5, "desk", ("rig",), -30)
    >>> latest_starts([rig, look], lambda a, b: 0.0 if a == b else 2.0)
    {'look': -30, 'rig': -42.0}
    """
    known = {job.id: job for job in jobs}
    found: dict[str, float] = {}
    later = _next(known)
    for job in reversed(in_order(known)):
        ends = [found[next.id] - walk(job.place, next.place) for next in later[job.id]]
        start = min(ends, default=0.0) - job.minutes
        found[job.id] = start if job.by is None else min(start, job.by)
    return found


def begun(jobs: Sequence[Job], people: int, walk: Walk) -> dict[str, Begun]:
    """When each job is begun by so many people, as late as it can be: no one is at two jobs at once, and each walks between places.

    The best of a few priority rules, of small sets also of seeded draws; work-bounded, and the same on every machine. Raises ValueError for
    jobs that wait for each other.
    """
    known = {job.id: job for job in jobs}
    order, later = in_order(known), _next(known)
    latest, before = latest_starts(jobs, walk), _chain_before(order, known, walk)
    rules: list[Callable[[Job], float]] = [
        lambda job: latest[job.id],
        lambda job: before[job.id] + job.minutes,
        lambda job: job.minutes,
    ]
    tries = [{job.id: rule(job) for job in jobs} for rule in rules[: 1 if len(jobs) > _MANY else None]]
    draw = random.Random(len(jobs))
    for _ in range(_DRAWS if len(jobs) <= _FEW else 0):
        tries.append({job.id: draw.random() for job in jobs})
    plans = [_backwards(order, later, people, walk, first) for first in tries]
    longest = min(-_earliest(plan) for plan in plans) * _NEAR
    near = [plan for plan in plans if -_earliest(plan) <= longest + 1e-9]
    return min(near, key=lambda plan: (_early(jobs, plan), -_earliest(plan)))


def _earliest(plan: Mapping[str, Begun]) -> float:
    return min((b.at for b in plan.values()), default=0.0)


def _early(jobs: Iterable[Job], plan: Mapping[str, Begun]) -> float:
    """How much too early jobs are begun that have a moment of their own, in min."""
    return sum(job.by - plan[job.id].at for job in jobs if job.by is not None)


_NEAR = 1.03
"""Of plans that are about as short, the one that keeps closest to the moments that were said."""
_FEW = 12
_MANY = 300
"""Of so many jobs the share of each is small, and the first rule is as good as any."""
_DRAWS = 400


def in_order(known: Mapping[str, Job]) -> list[Job]:
    """The jobs, each after those it waits for. Raises ValueError where some wait for each other."""
    waits = {id: sum(b in known for b in set(job.after)) for id, job in known.items()}
    later = _next(known)
    found = [job for id, job in known.items() if not waits[id]]
    for job in found:  # grows as it is walked
        for next in later[job.id]:
            waits[next.id] -= 1
            if not waits[next.id]:
                found.append(next)
    if len(found) < len(known):
        raise ValueError(
            f"these wait for each other: {', '.join(sorted(id for id, n in waits.items() if n))}"
        )
    return found


def without_circles(jobs: Sequence[Job]) -> list[Job]:
    """The jobs, none of them waiting for itself in the end: where a circle closes, the first of its jobs waits for the others no more.

    >>> a, b = Job("a", 1, "desk", ("b",)), Job("b", 1, "desk", ("a",))
    >>> [(job.id, job.after) for job in without_circles([a, b])]
    [('a', ()), ('b', ('a',))]
    """
    known = {job.id: job for job in jobs}
    waits = {id: {b for b in job.after if b in known} for id, job in known.items()}
    later = _next(known)
    free, cut = [id for id, before in waits.items() if not before], set[tuple[str, str]]()
    left = dict.fromkeys(known)
    while left:
        if not free:
            first = next(iter(left))
            cut |= {(first, before) for before in waits[first]}
            waits[first].clear()
            free = [first]
        id = free.pop()
        del left[id]
        for next_job in later[id]:
            if next_job.id in left and id in waits[next_job.id]:
                waits[next_job.id].remove(id)
                if not waits[next_job.id]:
                    free.append(next_job.id)
    return [job._replace(after=tuple(b for b in job.after if (job.id, b) not in cut)) for job in jobs]


def _next(known: Mapping[str, Job]) -> dict[str, list[Job]]:
    found: dict[str, list[Job]] = {id: [] for id in known}
    for job in known.values():
        for before in dict.fromkeys(job.after):
            if before in found:
                found[before].append(job)
    return found


def _chain_before(order: Sequence[Job], known: Mapping[str, Job], walk: Walk) -> dict[str, float]:
    """The longest chain of work that comes before each job, in min."""
    found: dict[str, float] = {}
    for job in order:
        chains = (
            found[b] + known[b].minutes + walk(known[b].place, job.place) for b in job.after if b in known
        )
        found[job.id] = max(chains, default=0.0)
    return found


def _backwards(
    order: Sequence[Job],
    later: Mapping[str, list[Job]],
    people: int,
    walk: Walk,
    first: Mapping[str, float],
) -> dict[str, Begun]:
    """Jobs put before those that wait for them, the highest `first`; each to the one who can begin it latest."""
    waits = {job.id: len(later[job.id]) for job in order}
    known = {job.id: job for job in order}
    ready = [(-first[job.id], job.id) for job in order if not waits[job.id]]
    heapify(ready)
    free: dict[str, list[tuple[float, str]]] = {
        j.crew: [(0.0, "")] * (1 if j.crew else people) for j in order
    }
    found: dict[str, Begun] = {}
    while ready:
        _, id = heappop(ready)
        job = known[id]
        end = min((found[n.id].at - walk(job.place, n.place) for n in later[id]), default=0.0)
        if job.by is not None:
            end = min(end, job.by + job.minutes)
        hands = free[job.crew]
        ends = [min(end, at - (walk(job.place, where) if where else 0.0)) for at, where in hands]
        person = max(range(len(hands)), key=lambda n: (ends[n], hands[n][1] == job.place, -hands[n][0], -n))
        found[id] = Begun(ends[person] - job.minutes, person)
        hands[person] = (found[id].at, job.place)
        for before in dict.fromkeys(job.after):
            if before in waits:
                waits[before] -= 1
                if not waits[before]:
                    heappush(ready, (-first[before], before))
    return found
