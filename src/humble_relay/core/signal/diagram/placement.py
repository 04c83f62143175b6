"""Which row, column and lane everything on the signal map has, reckoned from the plan alone.

A layered drawing (Sugiyama, Tagawa and Toda, 1981): a device's column is the longest way from a source, its row
the first free one beside what feeds it, in the plan's own order. Nothing is moved to save a crossing: a map that
stays where it was is worth more than a tidy one. Every hop enters its box on a row of its own, so that no two
labels meet; a line that passes columns between its ends has a lane there, a row of its own.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping
from typing import NamedTuple

from humble_relay.core.plan import Device
from humble_relay.core.signal.diagram.channels import Turn
from humble_relay.core.signal.diagram.model import Wire

Lane = tuple[str, int]
"""A band and a row in it."""


class Wires(NamedTuple):
    """The lines that enter and leave each box, in the order of its inputs."""

    into: Mapping[str, list[Wire]]
    out: Mapping[str, list[Wire]]


class Placement(NamedTuple):
    """Where everything is, in columns and rows: rows of a box and of a lane count within their band."""

    bands: tuple[str, ...]
    band_of: Mapping[str, str]
    column: Mapping[str, int]
    row: Mapping[str, int]
    height: Mapping[str, int]
    """How many rows a box takes: one for each line on its busier side."""
    rows: Mapping[str, int]
    """How many rows a band has."""
    first: Mapping[str, int]
    """The row of the whole map that each band begins on."""
    lanes: Mapping[str, Lane]
    wires: Wires

    def pins(self) -> tuple[dict[str, int], dict[str, int]]:
        """The row of the whole map that each line leaves and enters on."""
        exits: dict[str, int] = {}
        entries: dict[str, int] = {}
        for n, band in self.band_of.items():
            for pins, found in ((self.wires.out.get(n, ()), exits), (self.wires.into.get(n, ()), entries)):
                for i, x in enumerate(pins):
                    found[x.id] = self.first[band] + self.row[n] + i
        return exits, entries

    def turns(self, wires: Iterable[Wire]) -> dict[int, list[Turn]]:
        """The turns of the lines in the channel after each column."""
        exits, entries = self.pins()
        first, found = self.first, defaultdict[int, list[Turn]](list)
        for x in wires:
            a, b = self.column[x.a], self.column[x.b]
            if x.id in self.lanes:
                band, row = self.lanes[x.id]
                found[a].append(Turn(x.id, exits[x.id], first[band] + row))
                found[b - 1].append(Turn(x.id, first[band] + row, entries[x.id]))
            else:
                found[a].append(Turn(x.id, exits[x.id], entries[x.id]))
        return found


def band_of(device: Device) -> str:
    """The band a device is drawn in: its place, or where platforms and unplaced boxes go."""
    return "online" if device.kind == "platform" else device.place or "unplaced"


def placed(
    wires: list[Wire], members: Mapping[str, list[str]], places: Iterable[str], abreast: bool = False
) -> Placement:
    """The boxes of each band, and the lines between them, in rows and columns.

    `abreast` puts what only sends in a first column, what only takes in a last one, and all the rest between: places
    feed each other in rings, and a row of columns as long as the ring would say nothing.
    """
    bands = tuple(b for b in ("unplaced", *places, "online") if b in members)
    home = {n: b for b, nodes in members.items() for n in nodes}
    column = (_abreast if abreast else columns_of)(home, [(x.a, x.b) for x in wires])
    last = max(column.values(), default=0)
    column.update(dict.fromkeys(members.get("online", []), last))
    into, out = defaultdict[str, list[Wire]](list), defaultdict[str, list[Wire]](list)
    for wire in sorted(wires, key=lambda x: x.order):
        into[wire.b].append(wire)
        out[wire.a].append(wire)
    height = {n: max(1, len(into[n]), len(out[n])) for n in home}
    full = defaultdict[str, set[tuple[int, int]]](set)
    """Taken cells (column, row) of each band."""
    row, rows = _in_rows(bands, members, home, column, height, into, full)
    lanes = _in_lanes(wires, home, column, row, rows, Wires(into, out), full)
    first, total = {}, 0
    for band in bands:
        first[band] = total
        total += rows[band]
    return Placement(bands, home, column, row, height, rows, first, lanes, Wires(into, out))


def _in_rows(
    bands: Iterable[str],
    members: Mapping[str, list[str]],
    home: Mapping[str, str],
    column: Mapping[str, int],
    height: Mapping[str, int],
    into: Mapping[str, list[Wire]],
    full: dict[str, set[tuple[int, int]]],
) -> tuple[dict[str, int], dict[str, int]]:
    """A row for every box, and how many a band has: beside what feeds it where that is free, else the first free rows
    below."""
    row: dict[str, int] = {}
    rows: dict[str, int] = {}
    for band in bands:
        rows[band] = 1
        for n in sorted(members[band], key=lambda n: column[n]):
            fed = [row[x.a] for x in into.get(n, ()) if home[x.a] == band and x.a in row]
            at, col, tall = min(fed, default=0), column[n], height[n]
            while any((col, r) in full[band] for r in range(at, at + tall)):
                at += 1
            row[n] = at
            full[band] |= {(col, r) for r in range(at, at + tall)}
            rows[band] = max(rows[band], at + tall)
    return row, rows


def _in_lanes(
    wires: list[Wire],
    home: Mapping[str, str],
    column: Mapping[str, int],
    row: Mapping[str, int],
    rows: dict[str, int],
    at_boxes: Wires,
    full: dict[str, set[tuple[int, int]]],
) -> dict[str, Lane]:
    """The free row on which each line passes the columns between its ends; none for neighbours."""
    lanes: dict[str, Lane] = {}
    for x in wires:
        a, b = column[x.a], column[x.b]
        if b == a + 1:
            continue
        exit = row[x.a] + at_boxes.out[x.a].index(x)
        entry = row[x.b] + at_boxes.into[x.b].index(x)
        here, there = home[x.a], home[x.b]
        span = range(a + 1, b) if a < b else range(b, a + 1)
        near = sorted(range(rows[here] + len(wires) + 1), key=lambda r: (abs(r - exit), r))
        for band, r in [(here, exit), (there, entry), *((here, r) for r in near)]:
            if all((c, r) not in full[band] for c in span):
                full[band] |= {(c, r) for c in span}
                rows[band] = max(rows[band], r + 1)
                lanes[x.id] = (band, r)
                break
    return lanes


def _abreast(nodes: Iterable[str], edges: list[tuple[str, str]]) -> dict[str, int]:
    """The column of every node by whether it sends, passes on or only takes."""
    sends, takes = {a for a, _ in edges}, {b for _, b in edges}
    found = {n: 0 if n not in takes else 1 if n in sends else 2 for n in nodes}
    used = sorted(set(found.values()))
    return {n: used.index(column) for n, column in found.items()}


def columns_of(nodes: Iterable[str], edges: Iterable[tuple[str, str]]) -> dict[str, int]:
    """The longest distance of every node from a node that nothing feeds; a loop is cut where it closes.

    >>> columns_of("abc", [("a", "b"), ("b", "c"), ("a", "c")])
    {'a': 0, 'b': 1, 'c': 2}
    """
    before: dict[str, list[str]] = {n: [] for n in nodes}
    for a, b in edges:
        before[b].append(a)
    column: dict[str, int] = {}
    opened: set[str] = set()
    for start in before:
        stack = [(start, False)]
        while stack:
            id, finished = stack.pop()
            if id in column:
                continue
            if finished:
                column[id] = max((column[b] + 1 for b in before[id] if b in column and b != id), default=0)
            elif id not in opened:
                opened.add(id)
                stack.append((id, True))
                stack.extend((b, False) for b in sorted(before[id]) if b not in opened)
    return column
