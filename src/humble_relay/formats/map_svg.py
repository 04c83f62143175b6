"""The signal map as an SVG 1.1 document: the one drawing of it, for the screen, for printing and for other programs.

By itself it is black on white. Everything in it has a class, so that a page may give it colours, and every box and
link says in `data-of` what it is. It has three parts, so that a page can hold the place names still: `places`, `map`
and `key`.
"""

from collections.abc import Iterable
from xml.etree.ElementTree import Element, SubElement, tostring

from humble_relay.core.judging.answer import WEAKEST, State
from humble_relay.core.signal.diagram.model import DrawnBox, DrawnHop, Pattern, PlaceBand, SignalMap
from humble_relay.core.signal.diagram.pixels import wrapped

DASHES: dict[Pattern, str] = {
    "cable": "", "radio": "1 5", "stream": "9 4", "sound": "14 3 2 3", "network": "2 3",
}  # fmt: skip
"""Kinds of link by their line; a broken one is crossed out, a dark one drawn thin."""
_PATTERN_WORDS: dict[Pattern, str] = {
    "cable": "cable", "radio": "radio", "stream": "stream", "sound": "sound", "network": "network cable",
}  # fmt: skip
NAMES, KEY = 104.0, 26.0
"""Width of the place names, and height of the key, in px."""
_WIDEST = 20_000.0
"""Bands run on to the edge of a page, however wide it is."""
_FONT = "Atkinson Hyperlegible Next, DejaVu Sans, sans-serif"
_MARK, _SIZE = 14.0, 12.0
_INK, _FAINT, _RULE = "#000", "#444", "#999"


def write_map_svg(map: SignalMap, title: str) -> str:
    """The map with its place names and a key to its lines and marks."""
    width, height = map.width + NAMES, map.height + KEY
    root = Element(
        "svg",
        {
            "xmlns": "http://www.w3.org/2000/svg", "width": f"{width:g}", "height": f"{height:g}",
            "viewBox": f"0 0 {width:g} {height:g}", "font-family": _FONT, "font-size": f"{_SIZE:g}", "role": "img",
        },
    )  # fmt: skip
    SubElement(root, "title").text = title
    SubElement(root, "rect", width="100%", height="100%", fill="#fff")
    _places(_part(root, "places", 0, 0, NAMES, map.height), map)
    _map(_part(root, "map", NAMES, 0, map.width, map.height), map)
    _key(_part(root, "key", 0, map.height, width, KEY), map)
    return tostring(root, encoding="unicode") + "\n"


def _part(root: Element, name: str, x: float, y: float, width: float, height: float) -> Element:
    return SubElement(
        root,
        "svg",
        {
            "data-part": name, "x": f"{x:g}", "y": f"{y:g}", "width": f"{width:g}", "height": f"{height:g}",
            "font-family": _FONT, "font-size": f"{_SIZE:g}",
        },
    )  # fmt: skip


def _places(on: Element, map: SignalMap) -> None:
    for i, band in enumerate(map.bands):
        group = SubElement(on, "g", {"class": "place", "data-place": band.place})
        if band.collapsed:
            group.set("data-folded", "")
        _ground(group, i % 2, band, NAMES)
        _path(group, [(0, band.y), (NAMES, band.y)], "rule", stroke=_RULE)
        count = f"{band.devices} device{'' if band.devices == 1 else 's'}"
        room = max(1, int((band.height - 6) / 15))
        said = (
            *wrapped(f"+ {band.name}" if band.collapsed else band.name, 14, max(1, min(2, room - 1))),
            count,
        )
        for line, words in enumerate(said[:room]):
            last = line == len(said) - 1
            _text(
                group, 8, band.y + 17 + 15 * line, words, "faint" if last else "name", 12 if last else 13,
                "400" if last else "600", _FAINT if last else _INK,
            )  # fmt: skip


def _map(on: Element, map: SignalMap) -> None:
    for i, band in enumerate(map.bands):
        _ground(on, i % 2, band, _WIDEST)
        _path(on, [(0, band.y), (_WIDEST, band.y)], "rule", stroke=_RULE)
        if band.aside:
            words = f"No picture through: {', '.join(band.aside)}"
            _text(on, 8, band.y + band.height - 6, words, "faint", 12, fill=_FAINT)
    for hop in map.hops:
        _hop(on, hop)
    for box in map.boxes:
        _box(on, box)


def _ground(on: Element, odd: int, band: PlaceBand, width: float) -> None:
    place = {"x": "0", "y": f"{band.y:g}", "width": f"{width:g}", "height": f"{band.height:g}"}
    SubElement(
        on, "rect", place | {"class": "ground odd" if odd else "ground", "fill": "#f4f4f4" if odd else "#fff"}
    )


def _hop(on: Element, hop: DrawnHop) -> None:
    group = _thing(on, "hop", hop.link, hop.title, hop.mark, hop.back)
    corners = [(p.x, p.y) for p in hop.points]
    ink = _RULE if hop.back else _INK
    thick = 1 if hop.state == "dark" else 1.8
    _path(group, corners, "line", stroke=ink, width=thick, dash=DASHES[hop.pattern])
    x, y = corners[-1]
    _path(group, [(x - 7, y - 4), (x, y), (x - 7, y + 4)], "line", stroke=ink, width=1.8)
    if hop.state == "broken":
        mx, my = corners[len(corners) // 2]
        _path(group, [(mx - 6, my - 6), (mx + 6, my + 6)], "cross", stroke=_INK, width=3)
        _path(group, [(mx - 6, my + 6), (mx + 6, my - 6)], "cross", stroke=_INK, width=3)
    label = hop.label + (f" ({hop.state})" if hop.state != "live" and hop.label else "")
    if label:
        _text(group, hop.label_x, hop.label_y - 5, label, "label", 12, fill=_FAINT if hop.back else _INK)
    if hop.detail:
        _text(group, hop.label_x, hop.label_y + 14, hop.detail, "faint", 12, fill=_FAINT)
    if hop.mark:
        _mark(group, hop.mark, hop.label_x - 18 if label else x - 24, hop.label_y - 16)


def _box(on: Element, box: DrawnBox) -> None:
    group = _thing(on, "box", box.device, ", ".join([box.name, *box.notes]), box.mark, box.back)
    place = {"x": f"{box.x:g}", "y": f"{box.y:g}", "width": f"{box.width:g}", "height": f"{box.height:g}"}
    SubElement(group, "rect", place | {"class": "face", "fill": "#fff"})
    for y in (box.y, box.y + box.height):
        _path(
            group, [(box.x, y), (box.x + box.width, y)], "line", stroke=_RULE if box.back else _INK, width=1.6
        )
    said = [(words, "name", "600") for words in box.lines] + [(words, "faint", "400") for words in box.notes]
    step = min(14.0, (box.height - 3) / len(said))
    for i, (words, kind, weight) in enumerate(said):
        fill = _INK if kind == "name" and not box.back else _FAINT
        _text(
            group,
            box.x + 6,
            box.y + (12 if step == 14 else 10) + step * i,
            words,
            kind,
            12.5 if kind == "name" else 12,
            weight,
            fill,
        )
    if box.mark:
        _mark(group, box.mark, box.x + box.width - 16, box.y + box.height - 16)


def _thing(on: Element, kind: str, id: str, title: str, mark: State | None, back: bool) -> Element:
    group = SubElement(on, "g", {"class": f"{kind} back" if back else kind, "data-of": id})
    SubElement(group, "title").text = f"{title}: {mark}" if mark else title
    return group


def _key(on: Element, map: SignalMap) -> None:
    x = 8.0
    used = {hop.pattern for hop in map.hops}
    for pattern, words in _PATTERN_WORDS.items():
        if pattern in used:
            _path(on, [(x, 13), (x + 34, 13)], "line", stroke=_INK, width=1.8, dash=DASHES[pattern])
            x = _said(on, x + 40, words)
    marks = {hop.mark for hop in map.hops} | {box.mark for box in map.boxes}
    for mark in WEAKEST:
        if mark in marks:
            _mark(on, mark, x, 6)
            x = _said(on, x + 20, mark)
    if any(hop.state == "dark" for hop in map.hops):
        _path(on, [(x, 13), (x + 34, 13)], "line", stroke=_INK, width=1)
        x = _said(on, x + 40, "thin: no picture on it")


def _said(on: Element, x: float, words: str) -> float:
    _text(on, x, 17, words, "faint", 12, fill=_FAINT)
    return x + 6.6 * len(words) + 18


def _mark(on: Element, state: State, x: float, y: float) -> None:
    """A barred square, a broken frame, a half-filled diamond: never by colour alone."""
    group = SubElement(on, "g", {"class": "mark", "transform": f"translate({x:g} {y:g})"})
    ground = {"x": "-1", "y": "-1", "width": f"{_MARK + 2:g}", "height": f"{_MARK + 2:g}"}
    SubElement(group, "rect", ground | {"class": "face", "fill": "#fff"})
    if state == "fails":
        SubElement(
            group, "rect", {"class": "bar", "x": "1", "y": "1", "width": "12", "height": "12", "fill": _INK}
        )
        SubElement(
            group,
            "rect",
            {"class": "face", "x": "3", "y": "5.75", "width": "8", "height": "2.5", "fill": "#fff"},
        )
    elif state == "not known":
        frame = {"x": "1.75", "y": "1.75", "width": "10.5", "height": "10.5", "fill": "none"}
        SubElement(
            group, "rect", frame | {"class": "line", "stroke": _INK, "stroke-width": "1.5", "stroke-dasharray": "3 2.25"}
        )  # fmt: skip
    else:
        SubElement(
            group, "path", {"class": "line", "d": "M7 .8 13.2 7 7 13.2.8 7Z", "fill": "none", "stroke": _INK, "stroke-width": "1.5"}
        )  # fmt: skip
        SubElement(group, "path", {"class": "full", "d": "M7 .8 13.2 7H.8Z", "fill": _INK})


def _path(
    on: Element,
    points: Iterable[tuple[float, float]],
    kind: str,
    stroke: str,
    width: float = 1.0,
    dash: str = "",
) -> None:
    corners = "L".join(f"{x:g} {y:g}" for x, y in points)
    said = {"class": kind, "d": f"M{corners}", "fill": "none", "stroke": stroke, "stroke-width": f"{width:g}"}
    SubElement(on, "path", said | ({"stroke-dasharray": dash} if dash else {}))


def _text(
    on: Element, x: float, y: float, text: str, kind: str, size: float, weight: str = "400", fill: str = _INK
) -> None:
    said = {"class": kind, "x": f"{x:g}", "y": f"{y:g}"}
    if size != _SIZE:
        said["font-size"] = f"{size:g}"
    if weight != "400":
        said["font-weight"] = weight
    if fill != _INK:
        said["fill"] = fill
    SubElement(on, "text", said).text = text
