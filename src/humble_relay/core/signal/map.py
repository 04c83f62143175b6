"""The signal map: places as bands, signal running left to right, laid out from the plan alone.

A layered drawing (Sugiyama, Tagawa and Toda, 1981): a device's column is the longest way from a source, its row
the first free one beside what feeds it, in the plan's own order. Nothing is moved to save a crossing: a map that
stays where it was is worth more than a tidy one. Every hop enters its box on a row of its own, so that no two
labels meet; between columns the lines turn in channels, each turn on a track of its own.
"""

from collections import defaultdict
from collections.abc import Iterable, Iterator
from typing import Literal, NamedTuple

from humble_relay.core.capacity.load import loads
from humble_relay.core.frozen import Frozen
from humble_relay.core.index import PlanIndex
from humble_relay.core.plan import Cable, Device, Link, Radio, Stream
from humble_relay.core.signal.delays import link_delay_ms
from humble_relay.core.signal.follow import VIDEO, ends_of, flow, is_dark
from humble_relay.core.signal.reach import CABLE_WORDS, PROTOCOL_WORDS

BOX, ROW, PAD, TRACK, SHIFT, LETTER = 132.0, 36.0, 8.0, 9.0, 9.0, 6.6
"""Width of a box, height of a row, space at a band's top and bottom, width of a track,
how much lower a line leaves that would lie on another, and width of a letter, in px."""
_NETWORK_GEAR = ("router", "network-switch", "injector")
_LINE = 19

Pattern = Literal["cable", "radio", "stream", "sound", "network"]


class Point(Frozen):
    """A corner of a line, in px."""

    x: float
    y: float


class Box(Frozen):
    """A device on the map, or a whole place drawn as one; px from the map's top left."""

    device: str
    name: str
    lines: tuple[str, ...]
    """The name as it fits the box."""
    notes: tuple[str, ...]
    band: str
    column: int
    row: int
    x: float
    y: float
    width: float
    height: float


class Band(Frozen):
    """A place, drawn as a horizontal band. `aside` are the boxes there that no picture goes through."""

    place: str
    name: str
    y: float
    height: float
    aside: tuple[str, ...]
    devices: int
    collapsed: bool


class Hop(Frozen):
    """A link on the map: its corners in px, and what matters on it in words."""

    link: str
    from_device: str
    to_device: str
    pattern: Pattern
    state: Literal["live", "dark", "broken"]
    label: str
    detail: str
    points: tuple[Point, ...]
    label_x: float
    label_y: float


class SignalMap(Frozen):
    """Bands from the top, boxes in them, hops between boxes; px."""

    width: float
    height: float
    bands: tuple[Band, ...]
    boxes: tuple[Box, ...]
    hops: tuple[Hop, ...]


class _Line(NamedTuple):
    """A hop before it is laid out: one link, or all links between two boxes."""

    id: str
    a: str
    b: str
    order: int
    pattern: Pattern
    state: Literal["live", "dark", "broken"]
    label: str
    detail: str


class _Turn(NamedTuple):
    """A line in the channel after a column: the rows it comes in and goes out on."""

    line: str
    left: int
    right: int


def signal_map(plan: PlanIndex, network: bool = False, collapsed: Iterable[str] = ()) -> SignalMap:
    """The map of the whole plan; with network cables where asked, and some places drawn as one box."""
    closed = frozenset(collapsed)
    node = {d.id: _node(d, closed) for d in plan.devices.values()}
    lines = _bundled(plan, _lines(plan, network), node)
    drawn = {end for line in lines for end in (line.a, line.b)}
    aside: dict[str, list[str]] = defaultdict(list)
    names: dict[str, str] = {}
    bands: dict[str, list[str]] = defaultdict(list)
    for device in plan.devices.values():
        band, id = _band(device), node[device.id]
        if id not in drawn and device.kind in _NETWORK_GEAR and id == device.id:
            aside[band].append(device.name)
            bands.setdefault(band, [])
        elif id not in names:
            names[id] = device.name
            bands[band].append(id)
    return _Drawing(plan, lines, bands, aside, closed).draw()


def _node(device: Device, closed: frozenset[str]) -> str:
    return f"place:{_band(device)}" if _band(device) in closed else device.id


def _band(device: Device) -> str:
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


class _Drawing:
    """One map being laid out: rows, then lanes, then tracks, then px."""

    def __init__(
        self,
        plan: PlanIndex,
        lines: list[_Line],
        bands: dict[str, list[str]],
        aside: dict[str, list[str]],
        closed: frozenset[str],
    ) -> None:
        self.plan, self.lines, self.aside, self.closed = plan, lines, aside, closed
        order = ["unplaced", *plan.places, "online"]
        self.bands = [b for b in order if b in bands]
        self.members = bands
        self.band_of = {n: b for b, nodes in bands.items() for n in nodes}
        self.column = columns_of(self.band_of, ((x.a, x.b) for x in lines))
        last = max(self.column.values(), default=0)
        for n in bands.get("online", []):
            self.column[n] = last
        self.into: dict[str, list[_Line]] = defaultdict(list)
        self.out: dict[str, list[_Line]] = defaultdict(list)
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
        turns: dict[int, list[_Turn]] = defaultdict(list)
        for x in self.lines:
            a, b = self.column[x.a], self.column[x.b]
            if x.id in lanes:
                lane = first[lanes[x.id][0]] + lanes[x.id][1]
                turns[a].append(_Turn(x.id, exits[x.id], lane))
                turns[b - 1].append(_Turn(x.id, lane, entries[x.id]))
            else:
                turns[a].append(_Turn(x.id, exits[x.id], entries[x.id]))
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

    def _lane(self, x: _Line) -> tuple[str, int] | None:
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
        turns: dict[int, list[_Turn]],
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
            place = self.plan.places.get(band)
            yield Band(
                place=band, name=place.name if place else names[band], y=tops[band], height=bottom - tops[band],
                aside=tuple(self.aside.get(band, ())), collapsed=band in self.closed,
                devices=sum(_band(d) == band for d in self.plan.devices.values()),
            )  # fmt: skip

    def _name(self, n: str) -> str:
        if n in self.plan.devices:
            return self.plan.devices[n].name
        count = sum(f"place:{_band(d)}" == n for d in self.plan.devices.values())
        return f"{count} device{'s' if count != 1 else ''}"

    def _notes(self, n: str) -> tuple[str, ...]:
        """What the box is and what it adds: one under the other where it is tall, nothing beside a name of two lines."""
        if self.height[n] == 1 and len(self._name(n)) > _LINE:
            return ()
        device = self.plan.devices.get(n)
        if device is None:
            return ("drawn as one",)
        made = device.produces.label if device.produces and device.kind == "switcher" else ""
        ms = f"{device.delay_ms:g} ms" if device.delay_ms else ""
        kind = ", ".join(filter(None, (device.kind.replace("-", " "), ms)))
        return (kind, f"system format {made}") if made and self.height[n] > 1 else (kind,)


def tracks(turns: list[_Turn]) -> dict[str, int]:
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


def overlapped(turns: list[_Turn], given: dict[str, int]) -> set[str]:
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


def _wide(line: _Line) -> float:
    return max(len(line.label), len(line.detail)) * LETTER


def _lines(plan: PlanIndex, network: bool) -> Iterator[_Line]:
    """Every link that is drawn, with its words, in the order of the inputs it goes to."""
    found, each = plan.once(flow), plan.once(loads)
    place_of_port = {ref: i for i, ref in enumerate(plan.ports)}
    for link in plan.links.values():
        a, b = ends_of(link)
        if isinstance(link, Cable) and link.cable == "ethernet" and not network:
            continue
        signal = found.on_link.get(link.id)
        state: Literal["live", "dark", "broken"] = "live" if signal else "dark"
        if link.broken:
            state = "broken"
        elif isinstance(link, Stream) and is_dark(plan, link):
            state = "dark"
        elif isinstance(link, Cable) and link.cable in ("audio", "ethernet"):
            state = "live"
        ref = (
            f"{b}/{link.input}" if isinstance(link, Stream) and link.input else getattr(link, "to_port", None)
        )
        order = place_of_port.get(ref or "", len(place_of_port))
        label, detail = _words(plan, link)
        if isinstance(link, Stream):
            delay = link_delay_ms(plan, link)
            label = f"{PROTOCOL_WORDS[link.protocol]} {each[link.id].total.value:.3g} Mb/s{f', {delay:g} ms' if delay else ''}"
        if ref and sum(p.way == "in" and bool(VIDEO & set(p.types)) for p in plan.devices[b].ports) > 2:
            detail = ", ".join(filter(None, (detail, plan.ports[ref].name)))
        elif signal and signal.carries in ("multi-view", "clean"):
            detail = ", ".join(filter(None, (signal.carries, detail)))
        yield _Line(link.id, a, b, order, _pattern(link), state, label, detail)


def _words(plan: PlanIndex, link: Link) -> tuple[str, str]:
    """Two short lines on a link: what it is and how long, and what is on it."""
    signal = plan.once(flow).on_link.get(link.id)
    fmt = signal.format if signal else None
    if isinstance(link, Stream):
        return "", link.format.label
    word = "Radio" if isinstance(link, Radio) else "SDI" if link.cable == "coax" else CABLE_WORDS[link.cable]
    metres = link.distance_m if isinstance(link, Radio) else link.length_m
    return f"{word} {metres:g} m", fmt.label if fmt else ""


def _pattern(link: Link) -> Pattern:
    if isinstance(link, Stream):
        return "stream"
    if isinstance(link, Radio):
        return "radio"
    return "network" if link.cable == "ethernet" else "sound" if link.cable == "audio" else "cable"


def _bundled(plan: PlanIndex, lines: Iterable[_Line], node: dict[str, str]) -> list[_Line]:
    """The lines between boxes: those inside a closed place go, those between the same two boxes become one."""
    found: dict[tuple[str, str, str], _Line] = {}
    count: dict[tuple[str, str, str], int] = defaultdict(int)
    for line in lines:
        a, b = node[line.a], node[line.b]
        if a == b and a != line.a:
            continue
        whole = a != line.a or b != line.b
        key = (a, b, "" if whole else line.id)
        count[key] += 1
        kept = found.get(key)
        if kept:
            pattern = line.pattern if line.pattern == kept.pattern else "cable"
            found[key] = kept._replace(label=f"{count[key]} links", detail="", pattern=pattern)
        else:
            found[key] = line._replace(a=a, b=b)
    return list(found.values())
