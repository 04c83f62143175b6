"""`switcher 192.168.20.14`, `birch 2.5`, `alder latency 400`: a value for a field of a thing, by the field's name or by what only one
field can mean."""

import re
from collections.abc import Iterator
from itertools import chain
from typing import Any

from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device, Noun, Stream
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.vocabulary import ends_of
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.commands.naming import Named, fits, heads, is_address, named
from humble_relay.core.views.commands.quantities import format_in, number_in, rate_in
from humble_relay.core.views.commands.typed_values import Typed, chosen, setting, typed_value
from humble_relay.core.views.thing_fields import ThingField, fields_of
from humble_relay.core.views.thing_pane import says_something

_NOUNS: tuple[Noun, ...] = ("link", "device", "uplink", "network", "place", "router", "site")
_CALLED = {
    "ip": "address", "ip address": "address", "mac": "hardware address", "gw": "gateway", "others": "other traffic", "bitrate": "video bitrate",
    "rate": "video bitrate", "peak": "peak bitrate", "vbr": "peak bitrate", "passphrase": "key", "stream key": "key", "latency": "srt latency",
    "keyframe": "keyframe interval", "gop": "keyframe interval", "battery": "battery life", "isp": "carrier", "provider": "carrier", "subnet": "range",
}  # fmt: skip
"""What fields are called by those who type them."""
_MAC = re.compile(r"([0-9a-f]{2}[:-]){5}[0-9a-f]{2}", re.IGNORECASE)
_OF_THINGS = {
    "site",
    "place",
    "from_device",
    "to_device",
    "input",
    "line",
    "behind",
    "device",
    "interface.network",
    "end",
    "of",
}
"""Fields that name another thing: a name alone is looked at, not put there."""
_MOST_FIELDS = 3


def things_set(case: Case, text: str, line: str) -> Iterator[Alternative]:
    """Every way to read the line as a thing and a value for it. `line` is as it was typed, for what capitals say."""
    typed = re.sub(r"^(?:set|make|change|give|put|lower|raise|reduce|increase|limit) ", "", text)
    asked = re.fullmatch(
        r"(stream key|key|passphrase|ip address|ip|address|latency|bitrate) (?:(?:for|of) )?(?:the )?(.+)",
        typed,
    )
    field, typed = (f"{asked.group(1)} ", asked.group(2)) if asked else ("", typed)
    whole = [(named(case, typed, _NOUNS), "")] if field else []
    for things, rest in chain(heads(case, typed, _NOUNS), whole):
        rest = rest.removeprefix("to ").removeprefix("= ").removeprefix("is ")
        spelt = " ".join(line.split()[-len(rest.split()) :]) if rest else ""
        found = [
            alternative
            for thing in _with_links(case, things, rest)
            for alternative in _readings(case, thing, f"{field}{rest}".strip(), f"{field}{spelt}".strip())
        ]
        if found:
            yield from found
            return


def _with_links(case: Case, things: list[Named], rest: str) -> list[Named]:
    """The things, and the streams that go to a device that is named; of a length the cables that begin there."""
    ids = [t.id for t in things]
    to = [Named("link", s.id, s.name) for s in case.streams if s.to_device in ids and s.id not in ids]
    metres = re.fullmatch(r"(?:length )?\d+(?:[.,]\d+)? ?(?:m|cm)", rest)
    run = [Named("link", c.id, case.link_name(c.id)) for c in case.cables if metres and ends_of(c)[0] in ids]
    links, others = [t for t in things if t.noun == "link"], [t for t in things if t.noun != "link"]
    by_name = re.match(r"(?:host|port|range|gateway)\b", rest)  # what is the device's own before a stream's
    return [*others, *links, *to, *run] if by_name else [*links, *to, *others, *run]


def _readings(case: Case, thing: Named, rest: str, spelt: str) -> Iterator[Alternative]:
    fields = [f for f in fields_of(case, thing.noun, thing.id) if _typed_here(case, thing, f)]
    how_addressed = any(f.path == "interface.addressing" and chosen(f, rest.split()[0]) for f in fields)
    by_name = [] if how_addressed else list(_by_name(thing, fields, rest, spelt))
    yield from by_name[:_MOST_FIELDS] or _by_value(case, thing, fields, rest, spelt)


def _typed_here(case: Case, thing: Named, field: ThingField) -> bool:
    """Whether a field says something of that thing; of a port only how it is addressed, of a platform no picture of its own."""
    if field.path == "produces" and case.devices[thing.id].kind == "platform":
        return False
    link = case.links.get(thing.id) if thing.noun == "link" else None
    return says_something(link, field.path) and (not field.port or field.path.startswith("interface."))


def _by_name(thing: Named, fields: list[ThingField], rest: str, spelt: str) -> Iterator[Alternative]:
    """A field's name, or its beginning, and a value: `delay 40`, `gateway 192.168.20.1`."""
    words, cased = rest.split(), spelt.split()
    for n in range(min(3, len(words) - 1), 0, -1):
        name = _CALLED.get(" ".join(words[:n]), " ".join(words[:n]))
        value = " ".join(cased[n:]).removeprefix("to ").removeprefix("= ")
        of_that_name = _called(fields, name)
        found = [(f, v) for f in of_that_name if (v := typed_value(f, value))]
        if found:
            for field, typed in found:
                yield _set(thing, field, typed)
            return
    name = _CALLED.get(rest, rest)
    for field in _called(fields, name) if len(rest) > 1 else ():
        if field.kind == "yes or no":
            yield _set(thing, field, Typed(True, "yes"))
        elif field.value and not field.secret:
            yield Alternative(title=f"{_whose(thing, field)} is {field.value}", pick=_pick(thing))


def _called(fields: list[ThingField], name: str) -> list[ThingField]:
    """The fields of that name; where none has it whole, those that it begins the words of, the shortest first."""
    whole = [f for f in fields if f.label.lower() == name]
    return whole or sorted(
        (f for f in fields if fits(name, f.label)), key=lambda f: (bool(f.port), len(f.label))
    )


def _by_value(
    case: Case, thing: Named, fields: list[ThingField], rest: str, spelt: str
) -> Iterator[Alternative]:
    """A value that says by itself which field it is of: an address, a bitrate, a format, a codec, how it is addressed."""
    by_path = {f.path: f for f in reversed(fields)}
    words = rest.split()
    addressing = by_path.get("interface.addressing")
    if addressing and (how := chosen(addressing, words[0])):
        more = by_path["interface.address"] if len(words) > 1 and is_address(words[1]) else None
        also = [setting(thing, more, words[1])] if more else []
        said = f"{how.said}{f', {words[1]}' if more else ''}"
        yield _set(thing, addressing, how._replace(said=said), also)
    elif "/" in rest and is_address(rest.split("/")[0]) and "range" in by_path:
        yield _set(thing, by_path["range"], Typed(rest, rest))
    elif is_address(rest):
        field = by_path.get("interface.address") or by_path.get("address")
        if field and thing.noun != "link":
            yield _set(thing, field, Typed(rest, rest))
    elif _MAC.fullmatch(rest) and "interface.hardware_address" in by_path:
        yield _set(thing, by_path["interface.hardware_address"], Typed(rest, rest))
    elif wanted := format_in(rest):
        field = by_path.get("format") or by_path.get("produces")
        if field:
            yield _set(thing, field, Typed(wanted.model_dump(mode="json"), wanted.label))
    elif thing.noun == "link" and isinstance(case.links[thing.id], Stream) and (rate := rate_in(spelt)):
        yield _set(thing, by_path["video_mbps"], Typed(rate, f"{rate:g} Mb/s"))
    elif "length_m" in by_path and (metres := typed_value(by_path["length_m"], rest)):
        yield _set(thing, by_path["length_m"], metres)
    elif number_in(rest) is None:
        for field in fields:
            if field.kind == "choice" and field.path not in _OF_THINGS and (choice := chosen(field, rest)):
                yield _set(thing, field, choice)


def _set(thing: Named, field: ThingField, typed: Typed, also: list[Edit] | None = None) -> Alternative:
    was = (
        f"{field.value} → " if field.value and not field.secret and field.kind in ("number", "whole") else ""
    )
    edits: list[Any] = [setting(thing, field, typed.value), *(also or [])]
    return Alternative(
        title=f"{_whose(thing, field)} {was}{typed.said}", edits=tuple(edits), pick=_pick(thing)
    )


def _whose(thing: Named, field: ThingField) -> str:
    port = f", {field.group}" if field.port else ""
    return (
        f"{thing.name}{port}: {field.label[:1].lower()}{field.label[1:]}"
        if not field.label[:2].isupper()
        else f"{thing.name}{port}: {field.label}"
    )


def _pick(thing: Named) -> str:
    return f"{thing.noun}:{thing.id}"


def muted(case: Case, text: str) -> Iterator[Alternative]:
    """`mute slipway phone`, and back."""
    verb, _, rest = text.partition(" ")
    if verb not in ("mute", "unmute", "open") or not rest:
        return
    for thing in named(case, rest.removeprefix("mic of ").removesuffix(" mic"), ("device",)):
        device = case.devices[thing.id]
        if isinstance(device, Device) and device.microphone:
            off = verb == "mute"
            field = next(f for f in fields_of(case, "device", thing.id) if f.path == "microphone.muted")
            yield Alternative(
                title=f"{thing.name}: own microphone {'muted' if off else 'open'}",
                edits=(setting(thing, field, off),),
                pick=_pick(thing),
            )
        elif verb == "mute":
            yield Alternative(
                title=f"{thing.name} has no microphone of its own: mute it at the sound desk",
                pick=_pick(thing),
            )
