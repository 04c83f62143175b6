"""What the finder's ways draw side by side: each with what it would change among the findings."""

from collections.abc import Iterable

from humble_relay.core.cures.trial import difference
from humble_relay.core.frozen import Frozen
from humble_relay.core.judgement import findings
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Finding
from humble_relay.core.signal.finder.route import Route


class JudgedRoute(Frozen):
    """A route of the finder, and what it would change among the findings."""

    route: Route
    gone: tuple[Finding, ...]
    come: tuple[Finding, ...]


def tried_routes(case: Case, routes: Iterable[Route]) -> tuple[JudgedRoute, ...]:
    """The routes, each tried on a copy of the plan; those that stop nothing come first."""
    found = []
    for route in routes:
        gone, come = difference(findings(case), findings(case.after(route.edits)))
        found.append(JudgedRoute(route=route, gone=gone, come=come))
    return tuple(sorted(found, key=lambda r: sum(f.severity == "stops" for f in r.come)))
