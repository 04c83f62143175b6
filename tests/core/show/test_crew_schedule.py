"""By when jobs must begin: held against networkx, and against every order there is."""

import random
from itertools import pairwise, permutations, product

import networkx as nx
import pytest

from humble_relay.core.show.crew_schedule import Job, begun, latest_starts
from tests.soak import of_many

PLACES = ("desk", "slipway", "tower")


def walk(a: str, b: str) -> float:
    return abs(PLACES.index(a) - PLACES.index(b)) * 2.0


def drawn(seed: int, most: int) -> list[Job]:
    rng = random.Random(seed)
    names = [f"j{n}" for n in range(rng.randint(2, most))]
    jobs = []
    for n, name in enumerate(names):
        after = tuple(b for b in names[:n] if rng.random() < 0.35)
        by = -float(rng.randint(1, 40)) if rng.random() < 0.3 else None
        jobs.append(Job(name, float(rng.randint(1, 15)), rng.choice(PLACES), after, by))
    return jobs


def test_latest_starts_are_the_longest_way_to_the_end_as_networkx_finds_it() -> None:
    # Critical path method: Kelley and Walker, 1959. The longest weighted path of a graph without circles, by networkx.
    for seed in range(of_many(100, 2000)):
        jobs = drawn(seed, 12)
        graph = nx.DiGraph()
        for job in jobs:
            graph.add_edge(job.id, "end", weight=job.minutes if job.by is None else max(job.minutes, -job.by))
            for before in job.after:
                earlier = next(j for j in jobs if j.id == before)
                graph.add_edge(before, job.id, weight=earlier.minutes + walk(earlier.place, job.place))
        found = latest_starts(jobs, walk)
        for job in jobs:
            ways = nx.all_simple_paths(graph, job.id, "end")
            longest = max(sum(graph[a][b]["weight"] for a, b in pairwise(way)) for way in ways)  # fmt: skip
            assert found[job.id] == pytest.approx(-longest)


def spans(jobs: list[Job], people: int) -> float:
    """The shortest time before the start in which so many people get it done: every order of the jobs, every share among the people."""
    best = float("inf")
    later = {j.id: [k for k in jobs if j.id in k.after] for j in jobs}
    for order in permutations(jobs):
        at_all = {job.id: n for n, job in enumerate(order)}
        if any(at_all[n.id] > at_all[j.id] for j in jobs for n in later[j.id]):
            continue  # what waits for it is put first
        for who in product(range(people), repeat=len(jobs)):
            free: list[tuple[float, str] | None] = [None] * people
            at: dict[str, float] = {}
            for job, person in zip(order, who, strict=True):
                end = min((at[n.id] - walk(job.place, n.place) for n in later[job.id]), default=0.0)
                end = end if job.by is None else min(end, job.by + job.minutes)
                if held := free[person]:
                    end = min(end, held[0] - walk(job.place, held[1]))
                at[job.id] = end - job.minutes
                free[person] = (at[job.id], job.place)
            best = min(best, -min(at.values()))
    return best


def test_no_one_is_at_two_jobs_at_once_and_it_is_near_the_best_there_is() -> None:
    for seed in range(of_many(25, 200)):
        jobs = drawn(seed, of_many(5, 7))
        for people in (1, 2):
            found = begun(jobs, people, walk)
            known = {j.id: j for j in jobs}
            for job in jobs:
                start = found[job.id].at
                assert job.by is None or start <= job.by + 1e-9
                for before in job.after:
                    ended = found[before].at + known[before].minutes
                    assert ended + walk(known[before].place, job.place) <= start + 1e-9
            for person in range(people):
                mine = sorted((b.at, id) for id, b in found.items() if b.person == person)
                for (a, one), (b, other) in pairwise(mine):
                    assert a + known[one].minutes + walk(known[one].place, known[other].place) <= b + 1e-9
            span = -min(b.at for b in found.values())
            assert span <= 1.1 * spans(jobs, people) + 1e-9, (seed, people)


def test_jobs_that_wait_for_each_other_are_refused() -> None:
    with pytest.raises(ValueError, match="wait for each other: a, b"):
        begun([Job("a", 1, "desk", ("b",)), Job("b", 1, "desk", ("a",))], 2, walk)
