"""The search behind the route finder: the cheapest way over (box, port, format) that uses nothing twice.

Cost is effort: 1 is laying one metre of cable. A label carries the boxes it has used, and one label
replaces another at the same spot only when it is no dearer and uses no box the other does not: a label-setting
search for the shortest path under resource constraints (Desrochers and Soumis, 1988).
"""

import heapq
from itertools import count

from humble_relay.core.signal.ground import MOST_BOXES, Exit, Ground, Hop, Path, Start
from humble_relay.core.signal.hops import leaving, onward
from humble_relay.core.signal.reach import CABLE_WORDS

_WAYS, _SEARCHES = 4, 12
LONG_M = 5.0
"""A run longer than a lead in the rack: what it goes by is what a technician calls the way."""


def cheapest(on: Ground, starts: list[Start], most: int = 1) -> list[Path]:
    """The cheapest ways, at most one to each entry of the end, cheapest first. The same ground gives the same ways."""
    order = count()
    heap: list[tuple[float, int, Start, tuple[Hop, ...], frozenset[str], Exit | None]] = []
    for start in starts:
        heapq.heappush(heap, (start.cost, next(order), start, (), start.used, start.exit))
    settled: dict[tuple[object, ...], list[frozenset[str]]] = {}
    found: list[Path] = []
    reached: set[str] = set()
    while heap and len(found) < most:
        cost, _, start, hops, used, exit = heapq.heappop(heap)
        if exit is None:
            port = hops[-1].entry.port
            if (port.id if port else "") not in reached:
                reached.add(port.id if port else "")
                found.append(Path(start, hops, cost))
            continue
        if any(before <= used for before in settled.get(exit.spot, ())):
            continue
        settled.setdefault(exit.spot, []).append(used)
        for hop in onward(on, exit, used):
            box = hop.entry.box
            if box.key == on.ends[0].box.key:
                heapq.heappush(heap, (cost + hop.cost, next(order), start, (*hops, hop), used, None))
            elif len(hops) < MOST_BOXES:
                more = used | {box.key}
                for after in leaving(on, hop):
                    item = (cost + hop.cost, next(order), start, (*hops, after[0]), more, after[1])
                    heapq.heappush(heap, item)
    return found


def varied(on: Ground, starts: list[Start]) -> list[Path]:
    """The cheapest way, then the cheapest that does without something the ones before it use, and so on."""
    order = count()
    found: list[Path] = []
    seen: set[tuple[str, ...]] = set()
    best = cheapest(on, starts)
    heap = [(p.cost, next(order), p, on.avoid) for p in best]
    tried = {on.avoid}
    searches = 1
    while heap and len(found) < _WAYS:
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
    return sorted(found, key=lambda p: p.cost)


def _may_start(start: Start, avoid: frozenset[tuple[str, str]]) -> bool:
    return ("model", start.exit.box.device.model) not in avoid or not start.exit.box.new


def _signature(path: Path) -> tuple[str, ...]:
    """What makes two ways the same to a technician: the boxes, and what the long runs go by."""
    long = [h.medium for h in path.hops if h.length_m > LONG_M or h.medium not in CABLE_WORDS]
    boxes = [h.entry.box.device.model for h in path.hops[:-1]]
    return (path.start.tapped or "", *boxes, *(long or [path.hops[-1].medium]))


def _features(path: Path) -> list[tuple[str, str]]:
    long = [h.medium for h in path.hops if h.length_m > LONG_M or h.medium not in CABLE_WORDS]
    models = [h.entry.box.device.model for h in path.hops[:-1]]
    return list(
        dict.fromkeys(
            [("medium", m) for m in long or [path.hops[-1].medium]] + [("model", m) for m in models if m]
        )
    )
