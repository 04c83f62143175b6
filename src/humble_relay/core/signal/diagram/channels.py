"""Where the lines of a map turn: a track for each in the channel between two columns."""

from collections import defaultdict
from typing import NamedTuple


class Turn(NamedTuple):
    """A line in the channel after a column: the rows it comes in and goes out on."""

    line: str
    left: int
    right: int


def tracks(turns: list[Turn]) -> dict[str, int]:
    """A track for every turn of a channel: no two overlap on one, and a line that leaves on the row another
    comes in on turns before it (left-edge channel routing with vertical constraints; Deutsch, 1976)."""
    bent = [t for t in turns if t.left != t.right]
    leaves = defaultdict(list)
    for t in bent:
        leaves[t.left].append(t)
    waits = {t.line: [p.line for p in leaves[t.right] if p.line != t.line] for t in bent}
    by_line = {t.line: t for t in bent}
    given: dict[str, int] = {}
    opened: set[str] = set()
    used: dict[int, list[tuple[int, int]]] = defaultdict(list)
    for start in sorted(bent, key=lambda t: (min(t.left, t.right), t.line)):
        stack = [(start.line, False)]
        while stack:
            line, ready = stack.pop()
            if line in given:
                continue
            if not ready and line not in opened:
                opened.add(line)
                stack += [(line, True), *((w, False) for w in waits[line] if w not in opened)]
            elif ready:
                t = by_line[line]
                low, high = sorted((t.left, t.right))
                n = max((given[w] + 1 for w in waits[line] if w in given), default=0)
                while any(low <= h and high >= g for g, h in used[n]):
                    n += 1
                given[line] = n
                used[n].append((low, high))
    return given


def overlapped(turns: list[Turn], given: dict[str, int]) -> set[str]:
    """The lines that still leave along a row another comes in on: where lines change places in a ring, no order
    of turns helps, and one of them must leave its box a little lower."""
    comes_in = {t.right: t.line for t in turns if t.left != t.right}
    return {
        t.line
        for t in turns
        if t.left != t.right
        and (other := comes_in.get(t.left)) not in (None, t.line)
        and given[t.line] >= given[other or ""]
    }
