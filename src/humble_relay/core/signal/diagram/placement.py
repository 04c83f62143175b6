"""Where everything on the signal map lies, reckoned from the plan alone.

A layered drawing (Sugiyama, Tagawa and Toda, 1981): a device's column is the longest way from a source, its row
the first free one beside what feeds it, in the plan's own order. Nothing is moved to save a crossing: a map that
stays where it was is worth more than a tidy one. Every hop enters its box on a row of its own, so that no two
labels meet; between columns the lines turn in channels, each turn on a track of its own.
"""

from collections import defaultdict
from collections.abc import Iterable, Iterator

from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device
from humble_relay.core.signal.diagram.channels import Turn, overlapped, tracks
from humble_relay.core.signal.diagram.model import Band, Box, Hop, Line, Point, SignalMap

BOX, ROW, PAD, TRACK, SHIFT, LETTER = 132.0, 36.0, 8.0, 9.0, 9.0, 6.6
"""Width of a box, height of a row, space at a band's top and bottom, width of a track,
how much lower a line leaves that would lie on another, and width of a letter, in px."""
_LINE = 19
"""Letters of a name on one line of a box."""


def band_of(device: Device) -> str:
    return "online" if device.kind == "platform" else device.place or "unplaced"


def columns_of(nodes: Iterable[str], edges: Iterable[tuple[str, str]]) -> dict[str, int]:
    """The longest distance of every node from a node that nothing feeds; a loop is cut where it closes."""
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


class Drawing:
    """One map being laid out: rows, then lanes, then tracks, then px."""

    def __init__(
        self,
        case: Case,
        lines: list[Line],
        bands: dict[str, list[str]],
        aside: dict[str, list[str]],
        closed: frozenset[str],
    ) -> None:
        self.case, self.lines, self.aside, self.closed = case, lines, aside, closed
        order = ["unplaced", *case.places, "online"]
        self.bands = [b for b in order if b in bands]
        self.members = bands
        self.band_of = {n: b for b, nodes in bands.items() for n in nodes}
        self.column = columns_of(self.band_of, ((x.a, x.b) for x in lines))
        last = max(self.column.values(), default=0)
        for n in bands.get("online", []):
            self.column[n] = last
        self.into: dict[str, list[Line]] = defaultdict(list)
        self.out: dict[str, list[Line]] = defaultdict(list)
        for line in sorted(lines, key=lambda x: x.order):
            self.into[line.b].append(line)
            self.out[line.a].append(line)
        self.height = {n: max(1, len(self.into[n]), len(self.out[n])) for n in self.band_of}
        self.row: dict[str, int] = {}
        self.rows: dict[str, int] = {}
        self.full: dict[str, set[tuple[int, int]]] = defaultdict(set)
        """Taken cells (column, row) of each band."""

    def draw(self) -> SignalMap:
        """The finished map."""
        self._place()
        lanes = {x.id: spot for x in self.lines if (spot := self._lane(x))}
        first, total = {}, 0
        for band in self.bands:
            first[band] = total
            total += self.rows[band]
        exits, entries = self._pins(first)
        turns: dict[int, list[Turn]] = defaultdict(list)
        for x in self.lines:
            a, b = self.column[x.a], self.column[x.b]
            if x.id in lanes:
                lane = first[lanes[x.id][0]] + lanes[x.id][1]
                turns[a].append(Turn(x.id, exits[x.id], lane))
                turns[b - 1].append(Turn(x.id, lane, entries[x.id]))
            else:
                turns[a].append(Turn(x.id, exits[x.id], entries[x.id]))
        return self._in_px(first, exits, entries, lanes, turns)

    def _place(self) -> None:
        """A band and rows for every box: beside what feeds it where that is free, else the first free rows below."""
        for band in self.bands:
            self.rows[band] = 1
            for n in sorted(self.members[band], key=lambda n: self.column[n]):
                fed = [self.row[x.a] for x in self.into[n] if self.band_of[x.a] == band and x.a in self.row]
                row, col, tall = min(fed, default=0), self.column[n], self.height[n]
                while any((col, r) in self.full[band] for r in range(row, row + tall)):
                    row += 1
                self.row[n] = row
                self.full[band] |= {(col, r) for r in range(row, row + tall)}
                self.rows[band] = max(self.rows[band], row + tall)

    def _lane(self, x: Line) -> tuple[str, int] | None:
        """The free row on which a line passes the columns between its ends; None for neighbours."""
        a, b = self.column[x.a], self.column[x.b]
        if b == a + 1:
            return None
        exit = self.row[x.a] + self.out[x.a].index(x)
        entry = self.row[x.b] + self.into[x.b].index(x)
        here, there = self.band_of[x.a], self.band_of[x.b]
        span = range(a + 1, b) if a < b else range(b, a + 1)
        own = {(here, a, exit), (there, b, entry)}
        near = sorted(range(self.rows[here] + len(self.lines) + 1), key=lambda r: (abs(r - exit), r))
        for band, row in [(here, exit), (there, entry), *((here, r) for r in near)]:
            if all((c, row) not in self.full[band] or (band, c, row) in own for c in span):
                self.full[band] |= {(c, row) for c in span}
                self.rows[band] = max(self.rows[band], row + 1)
                return band, row
        raise AssertionError("a band has more rows than lines")

    def _pins(self, first: dict[str, int]) -> tuple[dict[str, int], dict[str, int]]:
        """The row of the whole map that each line leaves and enters on."""
        exits: dict[str, int] = {}
        entries: dict[str, int] = {}
        for n, band in self.band_of.items():
            for pins, found in ((self.out[n], exits), (self.into[n], entries)):
                for i, x in enumerate(pins):
                    found[x.id] = first[band] + self.row[n] + i
        return exits, entries

    def _in_px(
        self,
        first: dict[str, int],
        exits: dict[str, int],
        entries: dict[str, int],
        lanes: dict[str, tuple[str, int]],
        turns: dict[int, list[Turn]],
    ) -> SignalMap:
        y_of, tops, y = {}, {}, 0.0
        for band in self.bands:
            tops[band] = y
            for r in range(self.rows[band]):
                y_of[first[band] + r] = y + PAD + ROW * (r + 0.5)
            y += ROW * self.rows[band] + 2 * PAD + (16 if self.aside.get(band) else 0)
        columns = range(max(self.column.values(), default=0) + 1)
        texts = {
            c: max((_wide(x) for x in self.lines if self.column[x.b] == c), default=0.0) for c in columns
        }
        track = {c: tracks(turns.get(c, [])) for c in (-1, *columns)}
        left, channel, x = {}, {}, PAD
        for c in (-1, *columns):
            if c >= 0:
                left[c] = x
                x += BOX
            channel[c] = x + TRACK
            used = max(track[c].values(), default=-1) + 1
            text = texts.get(c + 1, 0.0)
            if used or text or c + 1 in columns:
                x += TRACK * (used + 1) + (text + 10 if text else 0) if c >= 0 or used or text else 0.0
        shifted = {
            n for c, found in turns.items() for n in overlapped(found, track[c]) if self._leaves(n) == c
        }
        hops = []
        for line in self.lines:
            a, b = self.column[line.a], self.column[line.b]
            aside = SHIFT if line.id in shifted else 0.0
            start, stop = (left[a] + BOX, y_of[exits[line.id]] + aside), (left[b], y_of[entries[line.id]])
            corners = [start]
            if line.id in lanes:
                lane = y_of[first[lanes[line.id][0]] + lanes[line.id][1]]
                go, back = (
                    channel[a] + TRACK * track[a].get(line.id, 0),
                    channel[b - 1] + TRACK * track[b - 1].get(line.id, 0),
                )
                corners += [(go, start[1]), (go, lane), (back, lane), (back, stop[1])]
            else:
                go = channel[a] + TRACK * track[a].get(line.id, 0)
                corners += [(go, start[1]), (go, stop[1])]
            hops.append(
                Hop(
                    link=line.id, from_device=line.a, to_device=line.b, pattern=line.pattern, state=line.state,
                    label=line.label, detail=line.detail, points=_straightened([*corners, stop]),
                    label_x=round(left[b] - texts[b] - 9, 1), label_y=stop[1],
                )
            )  # fmt: skip
        boxes = []
        for n, band in self.band_of.items():
            tall = self.height[n]
            boxes.append(
                Box(
                    device=n, name=self._name(n),
                    lines=wrapped(self._name(n), _LINE, 2), notes=self._notes(n), band=band, column=self.column[n],
                    row=self.row[n], x=left[self.column[n]], y=y_of[first[band] + self.row[n]] - ROW / 2 + 3,
                    width=BOX, height=ROW * tall - 6,
                )
            )  # fmt: skip
        return SignalMap(
            width=round(x + PAD, 1), height=y, bands=tuple(self._bands(tops, y)), boxes=tuple(boxes), hops=tuple(hops)
        )  # fmt: skip

    def _leaves(self, id: str) -> int:
        """The column a line leaves from."""
        return self.column[next(x.a for x in self.lines if x.id == id)]

    def _bands(self, tops: dict[str, float], end: float) -> Iterator[Band]:
        names = {"unplaced": "No place yet", "online": "Online"}
        bottoms = [*list(tops.values())[1:], end]
        for band, bottom in zip(self.bands, bottoms, strict=False):
            place = self.case.places.get(band)
            yield Band(
                place=band, name=place.name if place else names[band], y=tops[band], height=bottom - tops[band],
                aside=tuple(self.aside.get(band, ())), collapsed=band in self.closed,
                devices=sum(band_of(d) == band for d in self.case.devices.values()),
            )  # fmt: skip

    def _name(self, n: str) -> str:
        if n in self.case.devices:
            return self.case.devices[n].name
        count = sum(f"place:{band_of(d)}" == n for d in self.case.devices.values())
        return f"{count} device{'s' if count != 1 else ''}"

    def _notes(self, n: str) -> tuple[str, ...]:
        """What the box is and what it adds: one under the other where it is tall, nothing beside a name of two lines."""
        if self.height[n] == 1 and len(self._name(n)) > _LINE:
            return ()
        device = self.case.devices.get(n)
        if device is None:
            return ("drawn as one",)
        made = device.produces.label if device.produces and device.kind == "switcher" else ""
        ms = f"{device.delay_ms:g} ms" if device.delay_ms else ""
        kind = ", ".join(filter(None, (device.kind.replace("-", " "), ms)))
        return (kind, f"system format {made}") if made and self.height[n] > 1 else (kind,)


def wrapped(text: str, width: int, most: int) -> tuple[str, ...]:
    """The text in at most so many lines, the last one cut with an ellipsis."""
    lines = [""]
    for word in text.split():
        if lines[-1] and len(lines[-1]) + 1 + len(word) > width and len(lines) < most:
            lines.append(word)
        else:
            lines[-1] = f"{lines[-1]} {word}".strip()
    return tuple(line if len(line) <= width else f"{line[: width - 1]}…" for line in lines)


def _straightened(corners: list[tuple[float, float]]) -> tuple[Point, ...]:
    found: list[tuple[float, float]] = []
    for x, y in corners:
        point = (round(x, 1), round(y, 1))
        if len(found) > 1 and any(found[-2][i] == found[-1][i] == point[i] for i in (0, 1)):
            found[-1] = point
        elif not found or found[-1] != point:
            found.append(point)
    return tuple(Point(x=x, y=y) for x, y in found)


def _wide(line: Line) -> float:
    return max(len(line.label), len(line.detail)) * LETTER
