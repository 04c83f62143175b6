"""What is typed for a field of a thing, as an edit writes it."""

from typing import Any, NamedTuple

from humble_relay.core.plan.edits import Edit, SetField, SetPort
from humble_relay.core.plan.edits.amounts import amount_in
from humble_relay.core.views.commands.naming import Named, fits, is_address
from humble_relay.core.views.commands.quantities import format_in
from humble_relay.core.views.thing_fields import ThingField

_YES = {"yes": True, "on": True, "true": True, "no": False, "off": False, "false": False}
_ALIKE = {"cgnat": "shared", "carrier nat": "shared", "static": "fixed", "h265": "hevc", "h.265": "hevc", "h.264": "h264", "avc": "h264"}  # fmt: skip
"""Words for values that a technician says otherwise than the plan."""


class Typed(NamedTuple):
    """A value as it is written, and as it is said."""

    value: Any
    said: str


def typed_value(field: ThingField, text: str) -> Typed | None:
    """The value that a text stands for in a field; None where it stands for none."""
    typed = text.strip()
    match field.kind:
        case "number" | "whole":
            amount = amount_in(typed, field.unit)
            if amount is None or (field.kind == "whole" and amount % 1):
                return None
            return Typed(int(amount) if field.kind == "whole" else amount, f"{amount:g} {field.unit}".strip())
        case "yes or no":
            found = _YES.get(typed.lower())
            return None if found is None else Typed(found, "yes" if found else "no")
        case "choice":
            return chosen(field, typed)
        case "format":
            wanted = format_in(typed)
            return Typed(wanted.model_dump(mode="json"), wanted.label) if wanted else None
        case "text" if not _may_be(field.path, typed):
            return None
        case "text":
            return Typed(typed, "•" * 8 if field.secret else typed) if typed else None
    return None


def _may_be(path: str, typed: str) -> bool:
    """Whether a text may stand in a field of addresses: an IP address there, no blank in a host or in the address of a stream."""
    name = path.rpartition(".")[2]
    if path.startswith("interface.address"):
        return is_address(typed)
    return (
        name not in ("address", "host", "hardware_address", "gateway", "range", "view_address")
        or " " not in typed
    )


def chosen(field: ThingField, text: str) -> Typed | None:
    """The choice that a text names: by its key, or by the beginnings of its words."""
    plain = text.lower()
    plain = _ALIKE.get(plain, plain)
    for choice in field.choices:
        if plain in (choice.key.lower(), choice.words.lower()):
            return Typed(choice.value, choice.words)
    found = [c for c in field.choices if len(plain) > 2 and fits(plain, c.words)]
    return Typed(found[0].value, found[0].words) if len(found) == 1 else None


def setting(thing: Named, field: ThingField, value: Any) -> Edit:
    """The edit that sets a field of a thing, or of one of its ports."""
    if field.port:
        return SetPort(port=field.port, field=field.path, value=value)
    return SetField(noun=thing.noun, id=thing.id, field=field.path, value=value)
