"""A whole show patched at once: every source to the input that suits it, at the least effort together."""

from typing import NamedTuple

import scipy

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.vocabulary import is_source
from humble_relay.core.signal.finder.alternatives import starts_of
from humble_relay.core.signal.finder.route import Route
from humble_relay.core.signal.finder.route_edits import route_of
from humble_relay.core.signal.finder.routing_problem import problem_of
from humble_relay.core.signal.finder.search import cheapest
from humble_relay.core.signal.flow.propagation import feeds

MOST_AT_ONCE = 60
"""Each source is laid on the plan as the one before leaves it: beyond so many the answer takes too long to wait for."""
_NEVER = 1e6
"""Effort that stands for no way at all."""


class PatchLine(Frozen):
    """One source and where it was patched to; no route where none is left."""

    source: str
    input: str | None
    words: str
    route: Route | None


class Patch(Frozen):
    """The whole patch: its lines, its edits in order, and their effort together."""

    lines: tuple[PatchLine, ...]
    edits: tuple[Edit, ...]
    effort: float
    left: str = ""
    """What was left for another time, in words."""


class Efforts(NamedTuple):
    """What each source (row) costs to get to each input (column); `_NEVER` where there is no way."""

    inputs: tuple[str, ...]
    rows: tuple[tuple[float, ...], ...]


def unpatched(case: Case) -> list[str]:
    """The sources that are plugged into nothing."""
    onward = feeds(case)
    return [d.id for d in case.devices.values() if is_source(d) and not onward[d.id]]


def efforts(case: Case, sources: list[str], mixer: str) -> Efforts:
    """The effort of every source to every free input, each reckoned as if it were alone."""
    on = problem_of(case, mixer)
    inputs = tuple(e.port.id for e in on.ends if e.port)
    rows = []
    for source in sources:
        found = cheapest(on, starts_of(case, source), most=len(inputs)) if inputs else []
        cost = {p.hops[-1].entry.port.id: p.cost for p in found if p.hops[-1].entry.port}
        rows.append(tuple(cost.get(i, _NEVER) for i in inputs))
    return Efforts(inputs, tuple(rows))


def patch_all(case: Case, mixer: str, sources: list[str] | None = None) -> Patch:
    """Every source to an input of the mixer: the assignment of least effort, then laid one after the other.

    Each line is laid on the plan as the lines before it leave it, so that no converter or socket is used twice;
    where that takes away the input's way, the source goes to what input is left. Raises KeyError for no such mixer.
    """
    sources = unpatched(case) if sources is None else sources
    left = len(sources) - MOST_AT_ONCE
    sources = sources[:MOST_AT_ONCE]
    words = f"{MOST_AT_ONCE} sources are patched at a time; {left} are left: patch again." if left > 0 else ""
    table = efforts(case, sources, mixer)
    chosen = assignment([list(row) for row in table.rows]) if table.inputs else []
    wants = {
        sources[i]: table.inputs[j]
        for i, j in enumerate(chosen)
        if j is not None and table.rows[i][j] < _NEVER
    }
    lines, edits, total, now = list[PatchLine](), list[Edit](), 0.0, case
    for source in sorted(sources, key=lambda s: (s not in wants, sources.index(s))):
        case.pulse()
        kept = {i for s, i in wants.items() if s != source and s not in {x.source for x in lines}}
        line = _lay(now, source, mixer, wants.get(source), kept)
        lines.append(line)
        if line.route:
            edits += line.route.edits
            total += line.route.effort
            now = now.after(line.route.edits)
    return Patch(lines=tuple(lines), edits=tuple(edits), effort=round(total, 2), left=words)


def _lay(case: Case, source: str, mixer: str, wanted: str | None, kept: set[str]) -> PatchLine:
    name, starts = case.devices[source].name, starts_of(case, source)
    for port in (wanted, None):
        on = problem_of(case, mixer, port)
        on = on._replace(ends=tuple(e for e in on.ends if e.port and (port or e.port.id not in kept)))
        found = cheapest(on, starts) if on.ends else []
        if not found or any(h.entry.box.to_get for h in found[0].hops):
            continue
        route, into = route_of(case, found[0], source), found[0].hops[-1].entry.port
        assert into
        return PatchLine(source=source, input=into.id, words=f"{name} to {into.name}", route=route)
    return PatchLine(
        source=source, input=None, words=f"{name}: no way with what is free and in stock", route=None
    )


def assignment(cost: list[list[float]]) -> list[int | None]:
    """For each row the column it is given, so that the sum is least; None for rows left over.

    >>> assignment([[4, 1, 3], [2, 0, 5], [3, 2, 2]])
    [1, 0, 2]
    """

    given: dict[int, int] = {}
    if cost and cost[0]:
        rows, columns = scipy.optimize.linear_sum_assignment(cost)
        given = dict(zip(rows.tolist(), columns.tolist(), strict=True))
    return [given.get(i) for i in range(len(cost))]
