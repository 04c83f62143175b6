"""The signal map as an SVG 1.1 document, black on white, for printing and for other programs."""

from xml.etree.ElementTree import Element, SubElement, indent, tostring

from humble_relay.core.signal.diagram.model import DrawnHop, SignalMap

DASHES = {"cable": "", "radio": "1 5", "stream": "9 4", "sound": "14 3 2 3", "network": "2 3"}
"""Kinds of link by their line; a broken one is crossed out, a dark one drawn thin."""
_NAMES, _FOOT = 104.0, 26.0
_FONT = "Atkinson Hyperlegible Next, DejaVu Sans, sans-serif"


def write_map_svg(map: SignalMap, title: str) -> str:
    """The map with its place names and a key to its lines."""
    width, height = map.width + _NAMES, map.height + _FOOT
    root = Element(
        "svg",
        {
            "xmlns": "http://www.w3.org/2000/svg", "width": f"{width:g}", "height": f"{height:g}",
            "viewBox": f"0 0 {width:g} {height:g}", "font-family": _FONT, "role": "img",
        },
    )  # fmt: skip
    SubElement(root, "title").text = title
    SubElement(root, "rect", width="100%", height="100%", fill="#fff")
    for i, band in enumerate(map.bands):
        fill = "#f4f4f4" if i % 2 else "#fff"
        SubElement(
            root, "rect", x="0", y=f"{band.y:g}", width=f"{width:g}", height=f"{band.height:g}", fill=fill
        )
        _line(root, [(0, band.y), (width, band.y)], stroke="#999")
        _text(root, 8, band.y + 22, band.name, size=13, weight="600")
        if band.aside:
            words = f"Also here: {', '.join(band.aside)}"
            _text(root, _NAMES + 8, band.y + band.height - 7, words, size=11, fill="#444")
    body = SubElement(root, "g", transform=f"translate({_NAMES:g} 0)")
    for hop in map.hops:
        _hop(body, hop)
    for box in map.boxes:
        SubElement(
            body, "rect", x=f"{box.x:g}", y=f"{box.y:g}", width=f"{box.width:g}", height=f"{box.height:g}", fill="#fff"
        )  # fmt: skip
        for y in (box.y, box.y + box.height):
            _line(body, [(box.x, y), (box.x + box.width, y)], stroke="#000", width=1.6)
        for i, words in enumerate(box.lines):
            _text(body, box.x + 6, box.y + 13 + 14 * i, words, size=12.5, weight="600")
        for i, words in enumerate(box.notes, len(box.lines)):
            _text(body, box.x + 6, box.y + 12 + 14 * i, words, size=10.5, fill="#444")
    for i, (pattern, dash) in enumerate(DASHES.items()):
        x = 8 + i * 110
        _line(root, [(x, height - 10), (x + 34, height - 10)], stroke="#000", width=1.8, dash=dash)
        _text(root, x + 40, height - 6, pattern, size=11)
    indent(root)
    return tostring(root, encoding="unicode") + "\n"


def _hop(on: Element, hop: DrawnHop) -> None:
    corners = [(p.x, p.y) for p in hop.points]
    _line(
        on,
        corners,
        stroke="#000",
        width=0.8 if hop.state == "dark" else 1.8,
        dash=DASHES[hop.pattern],
    )
    x, y = corners[-1]
    _line(on, [(x - 7, y - 4), (x, y), (x - 7, y + 4)], stroke="#000", width=1.6)
    state = "" if hop.state == "live" else f" ({hop.state})"
    _text(on, hop.label_x, hop.label_y - 5, hop.label + state, size=11)
    _text(on, hop.label_x, hop.label_y + 13, hop.detail, size=10.5, fill="#444")


def _line(
    on: Element, points: list[tuple[float, float]], stroke: str, width: float = 1.0, dash: str = ""
) -> None:
    found = {"points": " ".join(f"{x:g},{y:g}" for x, y in points), "fill": "none", "stroke": stroke}
    SubElement(
        on, "polyline", found | {"stroke-width": f"{width:g}"} | ({"stroke-dasharray": dash} if dash else {})
    )


def _text(
    on: Element, x: float, y: float, text: str, size: float, weight: str = "400", fill: str = "#000"
) -> None:
    SubElement(
        on, "text", {"x": f"{x:g}", "y": f"{y:g}", "font-size": f"{size:g}", "font-weight": weight, "fill": fill}
    ).text = text  # fmt: skip
