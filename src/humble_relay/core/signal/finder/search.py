"""The search behind the route finder: the cheapest way over (box, port, format) that uses nothing twice.

Cost is effort: 1 is laying one metre of cable. The search first forgets what a way has used, which makes it a plain
shortest path (Dijkstra, 1959). Only where the answer uses a box twice, or more of a model than there are, does it
remember the use of those, and search again: decremental state space relaxation (Righini and Salani, 2008) of the
shortest path with resource constraints. What it finds is the optimum of the whole problem.
"""

import heapq
from collections import Counter
from itertools import count

from humble_relay.core.catalogue.cables import CABLE_WORDS, PROTOCOL_WORDS
from humble_relay.core.signal.finder.routing_problem import Leg, Outlet, Path, RoutingProblem, Start, limits
from humble_relay.core.signal.finder.steps import leaving, onward
from humble_relay.core.signal.flow.delays import repeats

MOST_WAYS, _SEARCHES = 5, 10
_WAYS_BY_COST = 3
"""How many of the ways are the cheapest there are; the rest are of another kind where there is one."""


def cheapest(on: RoutingProblem, starts: list[Start], most: int = 1) -> list[Path]:
    """The cheapest ways, at most one to each entry of the end, cheapest first. The same ground gives the same ways."""
    scarce: set[str] = set()
    while True:
        found = _search(on, starts, most, scarce)
        over = {key for path in found for key in overused(on, path)}
        if over <= scarce:  # nothing, or what counting cannot mend: a way that begins in the box it ends in
            return [path for path in found if not overused(on, path)]
        scarce |= over


def overused(on: RoutingProblem, path: Path) -> set[str]:
    """What a way uses more of than there is: a box twice, or more of a model than are spare."""
    uses: Counter[str] = Counter()
    for box in [path.start.exit.box, *(hop.entry.box for hop in path.hops)]:
        uses.update(limits(on, box))
    return {key for key, n in uses.items() if n > on.spare.get(key, 1)}


def _search(on: RoutingProblem, starts: list[Start], most: int, scarce: set[str]) -> list[Path]:
    """The cheapest ways when only what is `scarce` is counted."""
    order, end = count(), on.ends[0].box.key
    heap: list[tuple[float, int, Start, tuple[Leg, ...], tuple[str, ...], Outlet | None]] = []
    for start in starts:
        used = tuple(sorted(k for k in limits(on, start.exit.box) if k in scarce))
        heapq.heappush(heap, (start.cost, next(order), start, (), used, start.exit))
    settled: dict[tuple[object, ...], list[tuple[str, ...]]] = {}
    found: list[Path] = []
    reached: set[str] = set()
    while heap and len(found) < most:
        on.case.pulse()
        cost, _, start, hops, used, exit = heapq.heappop(heap)
        if exit is None:
            port = hops[-1].entry.port
            if (port.id if port else "") not in reached:
                reached.add(port.id if port else "")
                found.append(Path(start, hops, cost))
            continue
        if any(_no_more(before, used) for before in settled.get(exit.spot, ())):
            continue
        settled.setdefault(exit.spot, []).append(used)
        for hop in onward(on, exit):
            box = hop.entry.box
            if box.key == end:
                heapq.heappush(heap, (cost + hop.cost, next(order), start, (*hops, hop), used, None))
                continue
            more = tuple(sorted((*used, *(k for k in limits(on, box) if k in scarce)))) if scarce else used
            if any(n > on.spare.get(key, 1) for key, n in Counter(more).items()):
                continue
            for set_hop, after in leaving(on, hop):
                heapq.heappush(heap, (cost + hop.cost, next(order), start, (*hops, set_hop), more, after))
    return found


def _no_more(a: tuple[str, ...], b: tuple[str, ...]) -> bool:
    """Whether `a` uses nothing that `b` does not use as often."""
    return not a or not Counter(a) - Counter(b)


def varied(on: RoutingProblem, starts: list[Start], most: int = MOST_WAYS) -> list[Path]:
    """The cheapest way, then the cheapest that does without something the ones before it use, and so on; at most five, or one.

    What is there is tried first; only where that makes no way is what would have to be got.
    """
    there = [s for s in starts if not s.exit.box.to_get]
    among = cheapest if most == 1 else _varied
    return among(on._replace(to_get=False), there) or among(on, starts)


def _varied(on: RoutingProblem, starts: list[Start]) -> list[Path]:
    order = count()
    found: list[Path] = []
    seen: set[tuple[str, ...]] = set()
    best = cheapest(on, starts)
    heap = [(p.cost, next(order), p, on.avoid) for p in best]
    tried = {on.avoid}
    searches = 1
    while heap and len(found) < MOST_WAYS:
        _, _, path, avoid = heapq.heappop(heap)
        mark = _signature(path)
        if mark not in seen:
            seen.add(mark)
            found.append(path)
        for feature in _features(path):
            without = avoid | {feature}
            if without in tried or searches >= _SEARCHES:
                continue
            tried.add(without)
            searches += 1
            for other in cheapest(on._replace(avoid=without), [s for s in starts if _may_start(s, without)]):
                heapq.heappush(heap, (other.cost, next(order), other, without))
    first = found[:_WAYS_BY_COST]
    shown = {_signature(p) for p in first}
    kinds = [p for p in (*_plain_streams(on, starts), *_by_air(on, starts)) if _signature(p) not in shown]
    shown |= {_signature(p) for p in kinds}
    rest = [*kinds, *(p for p in found[_WAYS_BY_COST:] if _signature(p) not in shown)]
    return sorted([*first, *rest[: MOST_WAYS - len(first)]], key=lambda p: p.cost)


def _plain_streams(on: RoutingProblem, starts: list[Start]) -> list[Path]:
    """The cheapest stream straight to the end, the cheapest of a relay that has the picture already, and the cheapest
    through each relay or server: ways of their own, however many others are cheaper."""
    end = on.ends[0].box.key
    kinds: dict[str, list[Path]] = {"straight": [], "repeated": []}
    for start in (s for s in starts if s.exit.port is None):
        relayed = repeats(start.exit.box.device)
        for hop in onward(on, start.exit):
            if hop.entry.box.key == end:
                kinds["repeated" if relayed else "straight"].append(
                    Path(start, (hop,), start.cost + hop.cost)
                )
            elif repeats(hop.entry.box.device) and not relayed:
                for set_hop, after in leaving(on, hop):
                    more = onward(on, after) if after.port is None else ()
                    for last in (m for m in more if m.entry.box.key == end):
                        whole = Path(start, (set_hop, last), start.cost + hop.cost + last.cost)
                        kinds.setdefault(hop.entry.box.device.model, []).append(whole)
    return sorted(
        (min(paths, key=lambda p: p.cost) for paths in kinds.values() if paths), key=lambda p: p.cost
    )


def _by_air(on: RoutingProblem, starts: list[Start]) -> list[Path]:
    """The cheapest way whose long runs all go by radio, where there is one."""
    wired = frozenset(("run", medium) for medium in (*CABLE_WORDS, *PROTOCOL_WORDS))
    found = cheapest(on._replace(avoid=on.avoid | wired), [s for s in starts if _may_start(s, on.avoid)])
    return [p for p in found if any(h.medium == "radio" for h in p.hops)]


def _may_start(start: Start, avoid: frozenset[tuple[str, str]]) -> bool:
    if ("from", _from(start) or "-") in avoid:
        return False
    return ("model", start.exit.box.device.model) not in avoid or not start.exit.box.new


def _signature(path: Path) -> tuple[str, ...]:
    """What makes two ways the same to a technician: the boxes, and what the long runs go by; RTMP and RTMPS are one."""
    long = [f"{'rtmps' if h.medium == 'rtmp' else h.medium} {h.by}" for h in path.hops if h.is_long]
    boxes = [h.entry.box.device.model for h in path.hops[:-1]]
    return (path.start.tapped or "", _from(path.start), *boxes, *(long or [path.hops[-1].medium]))


def _from(start: Start) -> str:
    """The box that sends, where the way begins with a stream."""
    return "" if start.exit.port else start.exit.box.key


def _features(path: Path) -> list[tuple[str, str]]:
    long = [h.medium for h in path.hops if h.is_long]
    models = [h.entry.box.device.model for h in path.hops[:-1]]
    media = [("run", m) for m in long] or [("medium", path.hops[-1].medium)]
    found = media + [("model", m) for m in models if m]
    found += [("by", path.hops[0].by)] if path.hops[0].medium in PROTOCOL_WORDS else []
    found += [("from", _from(path.start))] if not path.start.exit.port else []
    return list(dict.fromkeys(found))
