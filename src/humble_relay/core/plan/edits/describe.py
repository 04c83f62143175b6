"""Edits in words, for the history and for those who agree to them."""

from collections.abc import Callable
from typing import Any, Literal

from pydantic import ValidationError

from humble_relay.core.plan import Aim, Cable, CommsLink, Noun, Radio, Span, Stream
from humble_relay.core.plan.comms import COMMS_KIND
from humble_relay.core.plan.edits import (
    Accept,
    Addition,
    AddPort,
    Edit,
    LeaveBy,
    Remove,
    RemovePort,
    Reopen,
    SetField,
    SetFigure,
    SetPort,
    nouns_of,
)
from humble_relay.core.plan.edits.field_words import field_words
from humble_relay.core.plan.secret_fields import Holds, held_at
from humble_relay.core.plan.video import VideoFormat

Look = Callable[[Noun | Literal["show", "settings"], str | None], dict[str, Any]]
"""The document of a thing by noun and id, as it stands; empty where there is none."""


def description(look: Look, edit: Edit) -> str:
    """The edit as one readable line, such as `video bitrate of Slipway feed 8 → 5.5 Mb/s`. Of what is declared a secret it says
    that it was set, and no more; what else may be one is for the caller to seal before."""
    match edit:
        case SetField():
            if edit.noun == "show" or edit.noun == "settings":
                return _change(edit.noun, look(edit.noun, None), edit)
            name, item = _named(look, edit.noun, edit.id or "")
            return _change(name, item, edit)
        case SetPort():
            device, _, port_id = edit.port.partition("/")
            name, found = _named(look, "device", device)
            port: dict[str, Any] = next((p for p in found.get("ports", ()) if p["id"] == port_id), {})
            return _change(f"{name}, {port.get('name', port_id)}", port, edit)
        case Remove():
            return f"took out {_named(look, edit.noun, edit.id)[0]}"
        case RemovePort():
            return f"took out port {edit.port}"
        case AddPort():
            return f"added port {edit.item.name} to {_named(look, 'device', edit.device)[0]}"
        case SetFigure():
            to = "back to the catalogue's" if edit.value is None else f"set to {edit.value:g}"
            return f"figure {edit.figure.replace('-', ' ')} {to}"
        case LeaveBy():
            by = _named(look, "uplink", edit.uplink)[0] if edit.uplink else "nothing"
            return f"{_named(look, 'network', edit.network)[0]} leaves by {by}"
        case Accept():
            return f"accepted {edit.item.finding.replace(':', ' ').replace('-', ' ')}: {edit.item.reason}"
        case Reopen():
            return f"took up again {edit.finding.replace(':', ' ').replace('-', ' ')}"
        case Addition():
            return _added(look, edit)


def _added(look: Look, edit: Addition) -> str:
    match edit.item:
        case Stream() as stream:
            return f"added stream {stream.name}"
        case Cable() | Radio() as link:
            return f"added {link.cable if link.kind == 'cable' else 'radio'} link {link.id}"
        case Span() as span:
            return (
                f"added the way from {_named(look, 'place', span.a)[0]} to {_named(look, 'place', span.b)[0]}"
            )
        case Aim() as aim:
            return f"asked for {aim.picture} at {_named(look, 'device', aim.end)[0]}"
        case CommsLink() as comms:
            return f"added {COMMS_KIND[comms.kind]} from {_named(look, 'device', comms.from_device)[0]} to {_named(look, 'device', comms.to_device)[0]}"
        case item:
            return f"added {edit.kind.removeprefix('add-')} {item.name}"


def _named(look: Look, noun: Noun, id: str) -> tuple[str, dict[str, Any]]:
    item = look(noun, id)
    if not item:
        return id, {}
    return item.get("name") or f"{item.get('kind', noun)} {id}", item


def _change(owner: str, item: dict[str, Any], edit: SetField | SetPort) -> str:
    before: Any = item
    for part in edit.field.split("."):
        before = before.get(part) if isinstance(before, dict) else None
    label, unit = field_words(edit.field)
    if held_at(nouns_of(edit), edit.field) is Holds.SECRET:
        return f"{label} of {owner} {'set' if edit.value else 'taken out'}"
    return f"{label} of {owner} {_shown(before)} → {_shown(edit.value)}{f' {unit}' if unit else ''}"


def _shown(value: object) -> str:
    match value:
        case None | "":
            return "none"
        case {"width": _, "height": _, "rate": _}:
            try:
                return VideoFormat.model_validate(value).label
            except ValidationError:
                return "a format"
        case float():
            return f"{value:g}"
        case list():
            return ", ".join(_shown(x) for x in value[:5])[:60] or "none"
        case {"transport": str(transport), "port": int(port), **more}:
            to = f" to {more['to_address']}" if more.get("to_address") else ""
            return f"{transport.upper()} {port}{to}"
        case {"lets": bool(lets), "from_network": str(network), **more}:
            return f"{'let' if lets else 'keep'} {network} {'to' if lets else 'from'} {more.get('to_network') or 'outside'}"
        case dict():
            return f"{len(value)} values"
    return str(value)[:60]
