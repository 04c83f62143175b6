"""From form 4 to form 5.

New are what a box can be fed by and for how long, whether sound goes through it, and the speeds of its network, HDMI, optical and
USB sockets. A box that was copied from a model of the gear library gets what the library knew of that model when this form
was made (`form_5.json`); what its plan says already stands. Everything else that is new is not known in older documents.
"""

import json
from functools import cache
from importlib.resources import files

from humble_relay.core.plan.upgrades.json_shape import Document


def plan(doc: Document) -> Document:
    """A plan of form 4."""
    return {**doc, "devices": [_device(d) for d in doc.get("devices", [])]}


def model(doc: Document) -> Document:
    """A gear model of form 4."""
    return {**doc, "device": _device(doc["device"])}


def edit(doc: Document) -> Document:
    """An edit of a plan of form 4."""
    match doc:
        case {"kind": "add-device", "item": dict(item)}:
            return {**doc, "item": _device(item)}
    return doc


@cache
def _known() -> dict[str, Document]:
    found: dict[str, Document] = json.loads(
        files("humble_relay.core.plan.upgrades").joinpath("form_5.json").read_text(encoding="utf-8")
    )
    return found


def _device(doc: Document) -> Document:
    known = _known().get(doc.get("model") or "")
    if not known:
        return doc
    found = {**doc, "ports": [_port(p, known.get("ports", {})) for p in doc.get("ports", [])]}
    if "sound_through" in known:
        found["sound_through"] = known["sound_through"]
    said = doc.get("power") or {}
    if "power" in known and not said.get("by"):
        found["power"] = {**said, **known["power"]}
    return found


def _port(doc: Document, known: Document) -> Document:
    if len(doc["types"]) > 1 or doc.get("max_gbps") is not None:
        return doc
    return {**doc, **known.get(doc["id"], {})}
