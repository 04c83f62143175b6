"""Form 3: aims, spans, routers, interfaces, roles of sockets, and a radio part for what only wireless boxes have.

The uplinks that networks named become those of routers; every end that something led to becomes an aim.
"""

from humble_relay.core.plan.upgrades.json_shape import Document

_ENDS = ("monitor", "projector", "recorder", "platform")
_MIXERS = ("switcher", "computer")
_NO_PICTURE = ("ethernet", "audio")
_ROLES = {"wan": "uplink", "control": "control"}
"""Form 2 knew a socket's role by nothing but its id."""


def plan(doc: Document) -> Document:
    """A plan of form 2."""
    networks = [{k: v for k, v in n.items() if k != "uplink"} for n in doc.get("networks", [])]
    devices = [_device(d) for d in doc.get("devices", [])]
    return {**doc, "networks": networks, "devices": devices, "routers": _routers(doc), "aims": _aims(doc)}


def model(doc: Document) -> Document:
    """A gear model of form 2."""
    return {**doc, "device": _device(doc["device"])}


def edit(doc: Document) -> Document:
    """An edit of a plan of form 2."""
    match doc:
        case {"kind": "add-device", "item": dict(item)}:
            return {**doc, "item": _device(item)}
        case {"kind": "add-port", "item": dict(item)}:
            return {**doc, "item": _port(item)}
        case {"kind": "add-network", "item": dict(item)}:
            return {**doc, "item": {k: v for k, v in item.items() if k != "uplink"}}
        case {"kind": "set", "noun": "device", "field": "range_m"}:
            return {**doc, "field": "radio.range_m"}
        case {"kind": "set", "noun": "network", "field": "uplink"}:
            return {"kind": "leave-by", "network": doc["id"], "uplink": doc["value"]}
        case {"kind": "set-port", "field": "network" | "addressing" | "address" as field}:
            return {**doc, "field": f"interface.{field}"}
    return doc


def _device(doc: Document) -> Document:
    found = {k: v for k, v in doc.items() if k != "range_m"}
    if doc.get("range_m") is not None:
        found["radio"] = {"range_m": doc["range_m"]}
    return {**found, "ports": [_port(p) for p in doc.get("ports", [])]}


def _port(doc: Document) -> Document:
    addressing = ("network", "addressing", "address")
    found = {k: v for k, v in doc.items() if k not in addressing}
    if doc.get("network") or doc.get("address") or doc.get("addressing", "dhcp") != "dhcp":
        found["interface"] = {k: doc[k] for k in addressing if k in doc}
    if doc["types"] == ["ethernet"] and doc["id"] in _ROLES:
        found["role"] = _ROLES[doc["id"]]
    return found


def _routers(doc: Document) -> list[Document]:
    """One router for each uplink that a network named; the box at that site is it where there is one of each."""
    sites = {p["id"]: p["site"] for p in doc.get("places", [])}
    names = {s["id"]: s["name"] for s in doc.get("sites", [])}
    leaving: dict[tuple[str, str], list[str]] = {}
    for network in doc.get("networks", []):
        if network.get("uplink"):
            leaving.setdefault((network["site"], network["uplink"]), []).append(network["id"])
    found = []
    for n, ((site, uplink), networks) in enumerate(leaving.items(), 1):
        boxes = [
            d["id"]
            for d in doc.get("devices", [])
            if d["kind"] == "router" and sites.get(d.get("place") or "") == site
        ]
        alone = len(boxes) == 1 and sum(s == site for s, _ in leaving) == 1
        found.append(
            {
                "id": f"router-{n}",
                "name": f"Router{f' {n}' if len(leaving) > 1 else ''}, {names.get(site, site)}"[:80].strip(),
                "site": site,
                "device": boxes[0] if alone else None,
                "networks": networks,
                "uplinks": [uplink],
            }
        )
    return found


def _aims(doc: Document) -> list[Document]:
    """One aim for each end that a picture link leads to: the picture that its first link brings."""
    devices = {d["id"]: d for d in doc.get("devices", [])}
    into: dict[str, list[Document]] = {}
    for link in doc.get("links", []):
        if link.get("cable") not in _NO_PICTURE:
            into.setdefault(_taker(link), []).append(link)
    return [
        {"id": id, "end": id, **_picture_on(into[id][0], devices, into)}
        for id, device in devices.items()
        if device["kind"] in _ENDS and into.get(id)
    ]


def _picture_on(
    link: Document | None, devices: dict[str, Document], into: dict[str, list[Document]]
) -> Document:
    """Which picture a link brings, followed up to the first box that mixes, or that nothing is plugged into."""
    seen: set[str] = set()
    while link is not None and link["id"] not in seen:
        seen.add(link["id"])
        start: str = link.get("from_port") or link.get("from_device") or ""
        giver, _, out = start.partition("/")
        device = devices[giver]
        port: Document = next((p for p in device.get("ports", []) if p["id"] == out), {})
        before = into.get(giver, [])
        if port.get("carries") == "loop":
            link = next((x for x in before if x.get("to_port") == f"{giver}/{port.get('loop_of')}"), None)
        elif device["kind"] in _MIXERS and (before or device["kind"] == "switcher"):
            made = port.get("carries", "program")
            return {"picture": made if made in ("multi-view", "clean") else "program", "of": giver}
        elif not before or device["kind"] in ("camera", "phone"):
            return {"picture": "source", "of": giver}
        else:
            link = before[0]
    return {"picture": "program", "of": None}


def _taker(link: Document) -> str:
    end: str = link.get("to_port") or link.get("to_device") or ""
    return end.split("/")[0]
