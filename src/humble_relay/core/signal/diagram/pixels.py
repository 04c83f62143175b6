"""The signal map in px: how wide its columns are, how high its bands, and the corners of every line.

Between columns the lines turn in channels, each turn on a track of its own (`channels.py`).
"""

from collections import Counter
from collections.abc import Iterator, Mapping
from typing import NamedTuple

from humble_relay.core.judging.answer import State, weakest
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import counted
from humble_relay.core.plan import Device
from humble_relay.core.signal.diagram.channels import overlapped, tracks
from humble_relay.core.signal.diagram.model import (
    LABELLED_ROW,
    SCALES,
    Detail,
    DrawnBox,
    DrawnHop,
    PlaceBand,
    Point,
    SignalMap,
    Wire,
)
from humble_relay.core.signal.diagram.placement import Placement, band_of

PAD, SHIFT, LETTER, MARK = 8.0, 9.0, 6.6, 18.0
"""Space at the map's sides, how much lower a line leaves that would lie on another, width of a letter, and of
the mark before a label, in px."""
_ASIDE = 16.0
"""Height of the line that names what no picture goes through, in px."""


class Drawing(NamedTuple):
    """What is to be drawn: lines and boxes where they were placed, how near, and what is said of them."""

    case: Case
    wires: list[Wire]
    where: Placement
    detail: Detail
    inside: Mapping[str, list[Device]]
    """The devices that each box stands for."""
    aside: Mapping[str, list[str]]
    """The names of a band's boxes that no picture goes through."""
    closed: frozenset[str]
    """The bands that are one box."""
    marks: Mapping[str, State]
    lit: frozenset[str] | None


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
    """The middle, the top and the bottom of each row of the map, the top of each band, and the map's height, in px."""

    y: dict[int, float]
    top: dict[int, float]
    bottom: dict[int, float]
    tops: dict[str, float]
    height: float


def drawn(drawing: Drawing) -> SignalMap:
    """The finished map."""
    columns, rows = _columns(drawing), _rows(drawing)
    exits, entries = drawing.where.pins()
    return SignalMap(
        detail=drawing.detail,
        width=round(columns.width + PAD, 1),
        height=rows.height,
        bands=tuple(_bands(drawing, rows)),
        boxes=tuple(_box(drawing, n, columns, rows) for n in drawing.where.band_of),
        hops=tuple(_hop(drawing, x, columns, rows, exits[x.id], entries[x.id]) for x in drawing.wires),
    )


def size(drawing: Drawing) -> tuple[float, float]:
    """The finished map's width and height, in px."""
    return round(_columns(drawing).width + PAD, 1), _rows(drawing).height


def _rows(drawing: Drawing) -> _Rows:
    """Rows as high as what stands on them."""
    where, scale = drawing.where, SCALES[drawing.detail]
    _, entries = where.pins()
    labelled = {entries[x.id] for x in drawing.wires if x.labelled}
    middle, top, bottom, tops, y = {}, {}, {}, {}, 0.0
    for band in where.bands:
        tops[band] = y
        y += scale.pad
        for r in range(where.first[band], where.first[band] + where.rows[band]):
            tall = LABELLED_ROW if r in labelled else scale.row
            top[r], middle[r], bottom[r] = y, y + tall / 2, y + tall
            y += tall
        y += scale.pad + (_ASIDE if drawing.aside.get(band) else 0)
    return _Rows(middle, top, bottom, tops, y)


def _columns(drawing: Drawing) -> _Columns:
    where, wires, scale = drawing.where, drawing.wires, SCALES[drawing.detail]
    turns, columns = where.turns(wires), range(max(where.column.values(), default=0) + 1)
    texts = dict.fromkeys(columns, 0.0)
    for wire in wires:
        texts[where.column[wire.b]] = max(texts[where.column[wire.b]], _wide(wire))
    marked = {where.column[wire.b] for wire in wires if wire.mark}
    track = {c: tracks(turns.get(c, [])) for c in (-1, *columns)}
    left, channel, x = {}, {}, PAD
    for c in (-1, *columns):
        if c >= 0:
            left[c] = x
            x += scale.box
        channel[c] = x + scale.track
        used = max(track[c].values(), default=-1) + 1
        text = texts.get(c + 1, 0.0)
        if used or text or c + 1 in columns:
            wide = scale.track * (used + 1) + (text + 10 if text else 0) + (MARK if c + 1 in marked else 0)
            x += max(wide, scale.gap if c + 1 in columns else 0) if c >= 0 or used or text else 0.0
    leaves = {w.id: where.column[w.a] for w in wires}
    shifted = {n for c, found in turns.items() for n in overlapped(found, track[c]) if leaves[n] == c}
    return _Columns(left, channel, track, texts, shifted, x)


def _hop(drawing: Drawing, x: Wire, columns: _Columns, rows: _Rows, exit: int, entry: int) -> DrawnHop:
    where, scale = drawing.where, SCALES[drawing.detail]
    a, b = where.column[x.a], where.column[x.b]
    lower = SHIFT if x.id in columns.shifted else 0.0
    start, stop = (columns.left[a] + scale.box, rows.y[exit] + lower), (columns.left[b], rows.y[entry])
    go = columns.channel[a] + scale.track * columns.track[a].get(x.id, 0)
    if x.id in where.lanes:
        band, row = where.lanes[x.id]
        lane = rows.y[where.first[band] + row]
        back = columns.channel[b - 1] + scale.track * columns.track[b - 1].get(x.id, 0)
        bends = [(go, start[1]), (go, lane), (back, lane), (back, stop[1])]
    else:
        bends = [(go, start[1]), (go, stop[1])]
    return DrawnHop(
        link=x.id, from_device=x.a, to_device=x.b, pattern=x.pattern, state=x.state, label=x.label, detail=x.detail,
        title=x.title, points=_straightened([start, *bends, stop]),
        label_x=round(columns.left[b] - columns.texts[b] - 9, 1), label_y=stop[1], mark=x.mark, back=x.back,
    )  # fmt: skip


_OF_A_MARK = 2
"""How many letters a mark at the end of a box takes."""


def _box(drawing: Drawing, n: str, columns: _Columns, rows: _Rows) -> DrawnBox:
    where, scale, devices = drawing.where, SCALES[drawing.detail], drawing.inside[n]
    band, column, tall = where.band_of[n], where.column[n], where.height[n]
    first = where.first[band] + where.row[n]
    name = drawing.case.devices[n].name if n in drawing.case.devices else counted(len(devices), "device")
    mark = weakest(drawing.marks.get(d.id) for d in devices)
    lines = wrapped(name, scale.letters - _OF_A_MARK * (mark is not None), 2)
    high = rows.bottom[first + tall - 1] - rows.top[first] - scale.apart
    notes = _notes(drawing, n, devices)
    return DrawnBox(
        device=n, name=name, lines=lines, notes=notes[: max(0, int(high / 12) - len(lines))], band=band,
        column=column, row=where.row[n], x=columns.left[column], y=rows.top[first] + scale.apart / 2, width=scale.box, height=high,
        mark=mark, back=drawing.lit is not None and n not in drawing.lit,
    )  # fmt: skip


def _bands(drawing: Drawing, rows: _Rows) -> Iterator[PlaceBand]:
    names = {"unplaced": "No place yet", "online": "Online"}
    bottoms = [*list(rows.tops.values())[1:], rows.height]
    devices = Counter(band_of(d) for d in drawing.case.devices.values())
    for band, bottom in zip(drawing.where.bands, bottoms, strict=False):
        place = drawing.case.places.get(band)
        yield PlaceBand(
            place=band, name=place.name if place else names[band], y=rows.tops[band],
            height=bottom - rows.tops[band], aside=tuple(drawing.aside.get(band, ())),
            collapsed=band in drawing.closed,
            devices=devices[band],
        )  # fmt: skip


def _notes(drawing: Drawing, n: str, devices: list[Device]) -> tuple[str, ...]:
    """What the box is and what it adds, or what is in it."""
    if n not in drawing.case.devices:
        kinds = Counter(d.kind.replace("-", " ") for d in devices).most_common()
        return wrapped(
            ", ".join(counted(count, kind) for kind, count in kinds), SCALES[drawing.detail].letters + 2, 1
        )
    (device,) = devices
    made = device.produces.label if device.produces and device.kind == "switcher" else ""
    ms = f"{device.delay_ms:g} ms" if device.delay_ms else ""
    kind = device.kind.replace("-", " ")
    if drawing.detail == "names":
        return (kind, ms) if ms else (kind,)
    kind = f"{kind}, {ms}" if ms else kind
    return (kind, f"system format {made}") if made else (kind,)


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
