"""The signal graph as GraphML (graphml.graphdrawing.org, 2002): devices as nodes, links as directed edges."""

from xml.etree.ElementTree import Element, SubElement, indent, tostring

from humble_relay.core.judging.case import Case
from humble_relay.core.places.distances import length_of
from humble_relay.core.plan import Stream
from humble_relay.core.plan.vocabulary import ends_of
from humble_relay.core.signal.flow.propagation import flow
from humble_relay.core.signal.flow.tracing import medium_words

_NODE = ("name", "kind", "model", "place")
_EDGE = ("medium", "from_port", "to_port", "format", "carries", "length_m", "bitrate_mbps", "state")
_NUMBERS = ("length_m", "bitrate_mbps")


def write_graphml(case: Case) -> str:
    """The whole plan as one directed multigraph; stream keys are no part of it."""
    root = Element("graphml", xmlns="http://graphml.graphdrawing.org/xmlns")
    for what, names in (("node", _NODE), ("edge", _EDGE)):
        for name in names:
            kind = "double" if name in _NUMBERS else "string"
            SubElement(
                root, "key", {"id": f"{what}-{name}", "for": what, "attr.name": name, "attr.type": kind}
            )
    graph = SubElement(root, "graph", id="signal", edgedefault="directed")
    for device in case.devices.values():
        place = case.places.get(device.place or "")
        values = (device.name, device.kind, device.model, place.name if place else "")
        _data(SubElement(graph, "node", id=device.id), "node", dict(zip(_NODE, values, strict=True)))
    on_link = flow(case).on_link
    for link in case.links.values():
        signal, (a, b) = on_link.get(link.id), ends_of(link)
        values_of = {
            "medium": medium_words(case, link),
            "from_port": getattr(link, "from_port", ""),
            "to_port": getattr(link, "to_port", ""),
            "format": signal.format.label if signal and signal.format else "",
            "carries": signal.carries if signal else "",
            "length_m": ""
            if isinstance(link, Stream) or (length := length_of(case, link)) is None
            else length,
            "bitrate_mbps": getattr(link, "video_mbps", ""),
            "state": "broken" if link.broken else "planned",
        }
        _data(SubElement(graph, "edge", id=link.id, source=a, target=b), "edge", values_of)
    indent(root)
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + tostring(root, encoding="unicode") + "\n"


def _data(element: Element, what: str, values: dict[str, object]) -> None:
    for name, value in values.items():
        if value != "":
            SubElement(element, "data", key=f"{what}-{name}").text = str(value)
