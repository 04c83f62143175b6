"""What the finder's ways draw side by side: each with what it would change among the findings."""

from collections.abc import Iterable

from humble_relay.core.cures.trial import difference
from humble_relay.core.frozen import Frozen
from humble_relay.core.judgement import answers, findings
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Finding
from humble_relay.core.signal.finder.route import Route


class JudgedRoute(Frozen):
    """A route of the finder, and what it would change among the findings."""

    route: Route
    from_stock: tuple[str, ...]
    to_get: tuple[str, ...]
    """The boxes that must be got first: all of them, where nobody counts what there is."""
    gone: tuple[Finding, ...]
    come: tuple[Finding, ...]
    unknown: tuple[str, ...]
    """What would have to be found out before it is known to work."""


def tried_routes(case: Case, routes: Iterable[Route]) -> tuple[JudgedRoute, ...]:
    """The routes, each tried on a copy of the plan; those that stop nothing come first."""
    found = []
    for route in routes:
        after = case.after(route.edits)
        gone, come = difference(findings(case), findings(after))
        unknown = tuple(w for w in wanted_in(after) if w not in wanted_in(case))
        from_stock, to_get = boxes_of(case, route)
        found.append(
            JudgedRoute(
                route=route, from_stock=from_stock, to_get=to_get, gone=gone, come=come, unknown=unknown
            )
        )
    return tuple(sorted(found, key=lambda r: sum(f.severity == "stops" for f in r.come)))


def boxes_of(case: Case, route: Route) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The boxes of a way that are in stock, and those that must be got."""
    if case.stock.holdings:
        return route.boxes, route.to_get
    return (), (*route.boxes, *route.to_get)


def wanted_in(case: Case) -> tuple[str, ...]:
    """Every question to a person that a case has, once."""
    return tuple(dict.fromkeys(a.want.question for a in answers(case).every if a.want))
