"""From form 9 to form 10.

An accepted doubt no longer goes by a fingerprint of its sentence: it stands by its check and thing until what it compares is
noted (`judgement/acceptance_notes.py`). Who calls is said as `caller`: `sender`, `receiver` or `rendezvous`.
"""

from typing import Any

from humble_relay.core.plan.upgrades.json_shape import Document

_CALLER = {"taker": "receiver", "both": "rendezvous"}


def plan(doc: Document) -> Document:
    """A plan of form 9."""
    accepted, links = doc.get("accepted", []), doc.get("links", [])
    return {**doc, "accepted": [_accepted(a) for a in accepted], "links": [_link(x) for x in links]}


def edit(doc: Document) -> Document:
    """An edit of a plan of form 9."""
    match doc:
        case {"kind": "add-link", "item": dict(item)}:
            return {**doc, "item": _link(item)}
        case {"kind": "accept", "item": dict(item)}:
            return {**doc, "item": _accepted(item)}
        case {"kind": "set", "noun": "link", "field": "calls", "value": value}:
            return {**doc, "field": "caller", "value": _caller(value)}
    return doc


def _accepted(doc: Document) -> Document:
    return {**doc, "compared": None}


def _link(doc: Document) -> Document:
    if "calls" not in doc:
        return doc
    return {**{k: v for k, v in doc.items() if k != "calls"}, "caller": _caller(doc["calls"])}


def _caller(value: Any) -> Any:
    return _CALLER.get(value, value) if isinstance(value, str) else value
