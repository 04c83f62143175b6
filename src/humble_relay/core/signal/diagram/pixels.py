"""The signal map in px: how wide its columns are, how high its bands, and the corners of every line.

Between columns the lines turn in channels, each turn on a track of its own (`channels.py`).
"""

from collections.abc import Iterator, Mapping
from typing import NamedTuple

from humble_relay.core.judging.case import Case
from humble_relay.core.signal.diagram.channels import overlapped, tracks
from humble_relay.core.signal.diagram.model import DrawnBox, DrawnHop, PlaceBand, Point, SignalMap, Wire
from humble_relay.core.signal.diagram.placement import Placement, band_of

BOX, ROW, PAD, TRACK, SHIFT, LETTER = 132.0, 36.0, 8.0, 9.0, 9.0, 6.6
"""Width of a box, height of a row, space at a band's top and bottom, width of a track,
how much lower a line leaves that would lie on another, and width of a letter, in px."""
_LINE = 19
"""Letters of a name on one line of a box."""
_ASIDE = 16.0
"""Height of the line that names what no picture goes through, in px."""


class _Columns(NamedTuple):
    """Where columns and the channels after them begin, in px; the labels' width before each, and the map's."""

    left: dict[int, float]
    channel: dict[int, float]
    track: dict[int, dict[str, int]]
    texts: dict[int, float]
    shifted: set[str]
    """The lines that leave a little lower, so as not to lie on another."""
    width: float


class _Rows(NamedTuple):
    """The middle of each row of the map, the top of each band, and the map's height, in px."""

    y: dict[int, float]
    tops: dict[str, float]
    height: float


def drawn(
    case: Case, wires: list[Wire], where: Placement, aside: Mapping[str, list[str]], closed: frozenset[str]
) -> SignalMap:
    """The finished map. `aside` are the boxes of a band that no picture goes through; `closed` bands are one box."""
    columns, rows = _columns(wires, where), _rows(where, aside)
    exits, entries = where.pins()
    hops = tuple(_hop(x, where, columns, rows, exits[x.id], entries[x.id]) for x in wires)
    boxes = tuple(_box(case, n, where, columns, rows) for n in where.band_of)
    return SignalMap(
        width=round(columns.width + PAD, 1),
        height=rows.height,
        bands=tuple(_bands(case, where, rows, aside, closed)),
        boxes=boxes,
        hops=hops,
    )


def _rows(where: Placement, aside: Mapping[str, list[str]]) -> _Rows:
    middle, tops, y, first = {}, {}, 0.0, where.first
    for band in where.bands:
        tops[band] = y
        for r in range(where.rows[band]):
            middle[first[band] + r] = y + PAD + ROW * (r + 0.5)
        y += ROW * where.rows[band] + 2 * PAD + (_ASIDE if aside.get(band) else 0)
    return _Rows(middle, tops, y)


def _columns(wires: list[Wire], where: Placement) -> _Columns:
    turns, columns = where.turns(wires), range(max(where.column.values(), default=0) + 1)
    texts = {c: max((_wide(x) for x in wires if where.column[x.b] == c), default=0.0) for c in columns}
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
    leaves = {w.id: where.column[w.a] for w in wires}
    shifted = {n for c, found in turns.items() for n in overlapped(found, track[c]) if leaves[n] == c}
    return _Columns(left, channel, track, texts, shifted, x)


def _hop(x: Wire, where: Placement, columns: _Columns, rows: _Rows, exit: int, entry: int) -> DrawnHop:
    a, b = where.column[x.a], where.column[x.b]
    lower = SHIFT if x.id in columns.shifted else 0.0
    start, stop = (columns.left[a] + BOX, rows.y[exit] + lower), (columns.left[b], rows.y[entry])
    go = columns.channel[a] + TRACK * columns.track[a].get(x.id, 0)
    if x.id in where.lanes:
        band, row = where.lanes[x.id]
        lane = rows.y[where.first[band] + row]
        back = columns.channel[b - 1] + TRACK * columns.track[b - 1].get(x.id, 0)
        bends = [(go, start[1]), (go, lane), (back, lane), (back, stop[1])]
    else:
        bends = [(go, start[1]), (go, stop[1])]
    return DrawnHop(
        link=x.id, from_device=x.a, to_device=x.b, pattern=x.pattern, state=x.state, label=x.label, detail=x.detail,
        points=_straightened([start, *bends, stop]), label_x=round(columns.left[b] - columns.texts[b] - 9, 1),
        label_y=stop[1],
    )  # fmt: skip


def _box(case: Case, n: str, where: Placement, columns: _Columns, rows: _Rows) -> DrawnBox:
    band, column, tall = where.band_of[n], where.column[n], where.height[n]
    name = _name(case, n)
    return DrawnBox(
        device=n, name=name, lines=wrapped(name, _LINE, 2), notes=_notes(case, n, name, tall), band=band, column=column,
        row=where.row[n], x=columns.left[column], y=rows.y[where.first[band] + where.row[n]] - ROW / 2 + 3,
        width=BOX, height=ROW * tall - 6,
    )  # fmt: skip


def _bands(
    case: Case, where: Placement, rows: _Rows, aside: Mapping[str, list[str]], closed: frozenset[str]
) -> Iterator[PlaceBand]:
    names = {"unplaced": "No place yet", "online": "Online"}
    bottoms = [*list(rows.tops.values())[1:], rows.height]
    for band, bottom in zip(where.bands, bottoms, strict=False):
        place = case.places.get(band)
        yield PlaceBand(
            place=band, name=place.name if place else names[band], y=rows.tops[band],
            height=bottom - rows.tops[band], aside=tuple(aside.get(band, ())), collapsed=band in closed,
            devices=sum(band_of(d) == band for d in case.devices.values()),
        )  # fmt: skip


def _name(case: Case, n: str) -> str:
    if n in case.devices:
        return case.devices[n].name
    count = sum(f"place:{band_of(d)}" == n for d in case.devices.values())
    return f"{count} device{'s' if count != 1 else ''}"


def _notes(case: Case, n: str, name: str, tall: int) -> tuple[str, ...]:
    """What the box is and what it adds: one under the other where it is tall, nothing beside a name of two lines."""
    if tall == 1 and len(name) > _LINE:
        return ()
    device = case.devices.get(n)
    if device is None:
        return ("drawn as one",)
    made = device.produces.label if device.produces and device.kind == "switcher" else ""
    ms = f"{device.delay_ms:g} ms" if device.delay_ms else ""
    kind = ", ".join(filter(None, (device.kind.replace("-", " "), ms)))
    return (kind, f"system format {made}") if made and tall > 1 else (kind,)


def wrapped(text: str, width: int, most: int) -> tuple[str, ...]:
    """The text in at most so many lines, the last one cut with an ellipsis.

    >>> wrapped("Sound desk screen", 11, 2)
    ('Sound desk', 'screen')
    """
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


def _wide(line: Wire) -> float:
    return max(len(line.label), len(line.detail)) * LETTER
