"""The finder, the assignment and the layout beside plain networkx and SciPy, on the same plan in the same run."""

import random
import statistics
import time
from collections.abc import Callable

import networkx as nx
from core import NOW
from scipy.optimize import linear_sum_assignment
from shows import busy

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judging.case import Case
from humble_relay.core.plan.edits import added
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.survey import Survey
from humble_relay.core.plan.vocabulary import ends_of
from humble_relay.core.signal.diagram.placement import columns_of
from humble_relay.core.signal.finder.alternatives import starts_of
from humble_relay.core.signal.finder.routing_problem import problem_of
from humble_relay.core.signal.finder.search import cheapest
from humble_relay.core.signal.finder.steps import leaving, onward
from humble_relay.core.signal.finder.whole_show import assignment
from humble_relay.core.signal.flow.propagation import flow


def beside(name: str, ours: Callable[[], object], theirs: Callable[[], object], rounds: int = 7) -> None:
    """Prints both medians, taken in turn, and how many times as long ours takes."""
    took: tuple[list[float], list[float]] = ([], [])
    for _ in range(rounds):
        for run, found in ((ours, took[0]), (theirs, took[1])):
            start = time.perf_counter()
            run()
            found.append((time.perf_counter() - start) * 1000)
    a, b = (statistics.median(found) for found in took)
    print(f"{name:<58} ours {a:8.2f} ms, theirs {b:8.2f} ms: {a / b:5.2f} times")


def finder() -> None:
    """The cheapest way, against the graph of the same states made explicit for networkx, and its Dijkstra."""
    plan = apply(busy(25), [added(from_library("camera-compact", "loose", "place-4", "Loose"))])
    case = Case(plan, Survey(), NOW)
    flow(case)
    on = problem_of(case, "sw-3")
    starts = starts_of(case, "loose")

    def explicit() -> nx.DiGraph:
        graph, todo = nx.DiGraph(), [s.exit for s in starts]
        graph.add_weighted_edges_from(("source", s.exit.spot, s.cost) for s in starts)
        seen = {s.exit.spot for s in starts}
        while todo:
            exit = todo.pop()
            for hop in onward(on, exit):
                if hop.entry.box.key == on.ends[0].box.key:
                    graph.add_edge(exit.spot, "end", weight=hop.cost)
                    continue
                for _, after in leaving(on, hop):
                    graph.add_edge(exit.spot, after.spot, weight=hop.cost)
                    if after.spot not in seen:
                        seen.add(after.spot)
                        todo.append(after)
        return graph

    graph = explicit()
    size = f"{len(plan.devices)} devices"
    beside(f"cheapest way on {size}, networkx with its graph", lambda: cheapest(on, starts), lambda: nx.dijkstra_path_length(explicit(), "source", "end"))  # fmt: skip
    beside(f"the same, its graph of {len(graph)} states given", lambda: cheapest(on, starts), lambda: nx.dijkstra_path_length(graph, "source", "end"))  # fmt: skip


def assigning() -> None:
    """Sources to inputs. Ours is SciPy's, with what it is wrapped in."""
    rng = random.Random(7)
    for size in (20, 60):
        cost = [[rng.random() * 60 for _ in range(size)] for _ in range(size)]
        beside(f"assignment of {size} to {size}", lambda c=cost: assignment(c), lambda c=cost: linear_sum_assignment(c))  # type: ignore[misc]  # fmt: skip


def columns() -> None:
    """The columns of the map, against networkx's layers of the same graph."""
    for groups in (8, 25, 83):
        plan = busy(groups)
        names = [d.id for d in plan.devices]
        edges = [ends_of(link) for link in plan.links]

        def layers(names: list[str] = names, edges: list[tuple[str, str]] = edges) -> list[list[str]]:
            graph = nx.DiGraph(edges)
            graph.add_nodes_from(names)
            return list(nx.topological_generations(nx.condensation(graph)))

        beside(f"columns of {len(names)} devices", lambda n=names, e=edges: columns_of(n, e), layers)  # type: ignore[misc]
