"""Form 2: every field has bounds, and a measurement has an id.

What an older version let through is brought within them: a number to the nearest that is allowed, text without what
cannot be printed, and what means nothing is left out.
"""

import re
from datetime import datetime
from typing import Any

from humble_relay.core.frozen import EARLIEST, LATEST, UNPRINTABLE, UNPRINTABLE_IN_A_LINE
from humble_relay.core.plan.figures import catalogue
from humble_relay.core.plan.upgrades.json_shape import Document


def plan(doc: Document) -> Document:
    doc = _printable(doc)
    show, settings = {**doc["show"]}, {**doc.get("settings", {})}
    for moment in ("starts_at", "ends_at", "judge_at"):
        show[moment] = _within_years(show.get(moment))
    show["name"] = _name(show["name"], "show")
    settings["figures"] = {
        id: _clamped(value, catalogue()[id].least, catalogue()[id].most)
        for id, value in settings.get("figures", {}).items()
        if id in catalogue()
    }
    settings["done"] = [t for t in settings.get("done", []) if re.fullmatch(r"[a-z0-9:-]+", t)][:2000]
    places = [
        {**p, **{c: _clamped(p.get(c), -100_000, 100_000) for c in ("x_m", "y_m")}, "floor": _clamped(p.get("floor", 0), -50, 300)}
        for p in doc.get("places", [])
    ]  # fmt: skip
    links = [
        {**x, "name": _name(x["name"], x["id"])} if x["kind"] == "stream" else x for x in doc.get("links", [])
    ]
    named = {
        group: [{**x, "name": _name(x["name"], x["id"])} for x in items]
        for group, items in (("sites", doc.get("sites", [])), ("places", places),
                             ("uplinks", doc.get("uplinks", [])), ("networks", doc.get("networks", [])))
    }  # fmt: skip
    devices = [_device(d) for d in doc.get("devices", [])]
    return {**doc, **named, "show": show, "settings": settings, "devices": devices, "links": links}


def _device(doc: Document) -> Document:
    doc = {**doc, "name": _name(doc["name"], doc["id"])}
    for field, least, most in (("delay_ms", 0, 600_000), ("power_w", 0, 100_000), ("range_m", 0, 100_000)):
        if field in doc:
            doc[field] = _clamped(doc[field], least, most)
    for field in ("model", "family"):
        if field in doc:
            doc[field] = doc[field].strip()[:80].strip()
    doc["ports"] = [_port(p) for p in doc.get("ports", [])]
    doc["groups"] = [{**g, "name": _name(g["name"], g["id"]), "at_once": _clamped(g.get("at_once", 1), 1, 1000)}
                     for g in doc.get("groups", [])]  # fmt: skip
    doc["needs"] = doc.get("needs", [])[:100]
    for part in ("encoding", "decoding", "ingest"):
        if doc.get(part):
            doc[part] = _speaking(doc[part])
    return doc


def _port(doc: Document) -> Document:
    doc = {**doc, "name": _name(doc["name"], doc["id"])}
    if doc.get("max_gbps") is not None:
        doc["max_gbps"] = _clamped(doc["max_gbps"], 0, 10_000)
    if doc.get("accepts"):
        doc["accepts"] = _accepts(doc["accepts"])
    for field in ("types", "may_carry"):
        if field in doc:
            doc[field] = list(dict.fromkeys(doc[field]))
    return doc


def _speaking(part: Document) -> Document | None:
    """An encoder, decoder or platform; None where it speaks no protocol or codec at all."""
    part = {**part}
    for field in ("protocols", "codecs"):
        if field in part:
            part[field] = list(dict.fromkeys(part[field]))
            if not part[field]:
                return None
    for field in ("destinations", "channels", "at_once"):
        if field in part:
            part[field] = _clamped(part[field], 1, 1000)
    if part.get("accepts"):
        part["accepts"] = _accepts(part["accepts"])
    return part


def _accepts(doc: Document) -> Document:
    rasters = []
    for text in doc.get("rasters", []):
        found = re.fullmatch(r"\s*(\d{2,4})\s*[xX×*]\s*(\d{2,4})\s*", text)
        if found and all(16 <= int(side) <= 8192 for side in found.groups()):
            rasters.append(f"{int(found[1])}x{int(found[2])}")
    doc = {**doc, "rasters": list(dict.fromkeys(rasters))[:100]}
    for field in ("rates", "scans"):
        if field in doc:
            doc[field] = list(dict.fromkeys(doc[field]))
    return doc


def measurement(doc: Document) -> Document:
    doc = _printable(doc)
    return {**doc, "at": _within_years(doc["at"]) or EARLIEST.isoformat()}


def model(doc: Document) -> Document:
    doc = _printable(doc)
    return {**doc, "device": _device(doc["device"])}


def holding(doc: Document) -> Document:
    doc = _printable(doc)
    first, last = EARLIEST.date().isoformat(), (LATEST.replace(year=LATEST.year - 1)).date().isoformat()
    until = doc.get("until")
    return {**doc, "model": _name(doc["model"], doc["id"]), "until": until and min(max(until, first), last)}


def _printable(value: Any) -> Any:
    """The document without characters that cannot be printed; only the notes of a show keep their lines."""
    if isinstance(value, str):
        return UNPRINTABLE_IN_A_LINE.sub(" ", value)
    if isinstance(value, dict):
        return {
            k: UNPRINTABLE.sub(" ", v) if k == "notes" and isinstance(v, str) else _printable(v)
            for k, v in value.items()
        }
    return [_printable(v) for v in value] if isinstance(value, list) else value


def _name(text: str, otherwise: str) -> str:
    return text.strip()[:80].strip() or otherwise


def _clamped(value: Any, least: float, most: float) -> Any:
    return value if value is None else min(max(value, least), most)


def _within_years(moment: str | None) -> str | None:
    """The moment, or None where it lies outside the years that are planned in."""
    if moment is None:
        return None
    try:
        within = EARLIEST <= datetime.fromisoformat(moment) < LATEST
    except (ValueError, OverflowError, TypeError):
        within = False
    return moment if within else None
