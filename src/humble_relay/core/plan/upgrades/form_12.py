"""From form 11 to form 12.

What a compressed radio kit promises is no longer multiplied: the figure for that is gone. That nobody shares a line was what a plan began
with: it is not known until asked. What decoders take, what was set at the
other end, optics, logins, recordings, DHCP servers and sessions are new: older documents say nothing of them.
"""

from humble_relay.core.plan.upgrades.json_shape import Document

_GONE = "radio-promise"


def plan(doc: Document) -> Document:
    """A plan of form 11."""
    settings = doc.get("settings", {})
    figures = {k: v for k, v in settings.get("figures", {}).items() if k != _GONE}
    doc = {**doc, "uplinks": [_uplink(x) for x in doc["uplinks"]]} if "uplinks" in doc else doc
    return {**doc, "settings": {**settings, "figures": figures}} if "figures" in settings else doc


def _uplink(doc: Document) -> Document:
    return {k: v for k, v in doc.items() if k != "others_mbps" or v}


def edit(doc: Document) -> Document:
    """An edit of a plan of form 11."""
    match doc:
        case {"kind": "set-figure", "figure": "radio-promise"}:
            return {**doc, "figure": "radio-measured", "value": None}
        case {"kind": "set", "noun": "settings", "field": "figures", "value": dict(value)}:
            return {**doc, "value": {k: v for k, v in value.items() if k != _GONE}}
    return doc
