"""Form 4: what only some boxes have is a part of theirs, and what nobody told can be not known.

`family`, `firmware`, `needs`, `microphone` and `power_w` of every device become its pairing, software, microphone and
power. An input that was not said to refuse a protected picture no longer counts as one that takes it.
"""

from typing import Any

from humble_relay.core.plan.upgrades.json_shape import Document

_FIELDS = {
    "family": "pairing.family",
    "firmware": "software.firmware",
    "needs": "software.needs",
    "power_w": "power.draw_w",
}
_OVERLAYS = {True: "on", False: "off"}


def plan(doc: Document) -> Document:
    """A plan of form 3."""
    return {**doc, "devices": [_device(d) for d in doc.get("devices", [])]}


def model(doc: Document) -> Document:
    """A gear model of form 3."""
    return {**doc, "device": _device(doc["device"])}


def edit(doc: Document) -> Document:
    """An edit of a plan of form 3."""
    match doc:
        case {"kind": "add-device", "item": dict(item)}:
            return {**doc, "item": _device(item)}
        case {"kind": "add-port", "item": dict(item)}:
            return {**doc, "item": _port(item)}
        case {"kind": "set", "noun": "device", "field": "microphone", "value": str(value)}:
            return {**doc, "field": "microphone.muted", "value": value == "muted"}
        case {"kind": "set", "noun": "device", "field": field}:
            return {**doc, "field": _FIELDS.get(field, field)}
        case {"kind": "set-port", "field": "overlay", "value": bool(value)}:
            return {**doc, "value": _OVERLAYS[value]}
        case {"kind": "set-port", "field": "refuses_protected", "value": value}:
            return {**doc, "field": "takes_protected", "value": False if value else None}
    return doc


def _device(doc: Document) -> Document:
    found = {k: v for k, v in doc.items() if k not in (*_FIELDS, "microphone")}
    if doc.get("family") or _pairs(doc):
        found["pairing"] = {"family": doc.get("family", "")}
    if doc.get("firmware") or doc.get("needs"):
        found["software"] = {"firmware": doc.get("firmware"), "needs": doc.get("needs", [])}
    if doc.get("power_w") is not None:
        found["power"] = {"draw_w": doc["power_w"]}
    if doc.get("microphone"):
        found["microphone"] = _microphone(doc["microphone"])
    return {**found, "ports": [_port(p) for p in doc.get("ports", [])]}


def _pairs(doc: Document) -> bool:
    """Whether it has one side of a maker's own link."""
    speaks = (part for part in ("encoding", "decoding") if doc.get(part))
    return any("radio" in p["types"] for p in doc.get("ports", [])) or any(
        "paired" in doc[part].get("protocols", ()) for part in speaks
    )


def _microphone(state: Any) -> Document | None:
    return {"muted": state == "muted"} if state else None


def _port(doc: Document) -> Document:
    found = {k: v for k, v in doc.items() if k not in ("refuses_protected", "overlay")}
    if doc.get("refuses_protected"):
        found["takes_protected"] = False
    if doc.get("overlay") is not None:
        found["overlay"] = _OVERLAYS[doc["overlay"]]
    return found
