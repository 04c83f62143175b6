"""`add site school with fibre`, `need program on screen gym screen at gym, no sound`: what a brief says, in a line each."""

import re
from collections.abc import Iterator
from typing import get_args

from humble_relay.core.catalogue.words import MATERIAL_WORDS
from humble_relay.core.frozen import free_id
from humble_relay.core.judging.case import Case
from humble_relay.core.places.distances import span_between
from humble_relay.core.places.new_site import edits_of_new_site
from humble_relay.core.plan import AimedPicture, Span
from humble_relay.core.plan.edits import SetField, added
from humble_relay.core.plan.edits.amounts import amount_in
from humble_relay.core.plan.networks import LineKind
from humble_relay.core.show.new_aims import NEW_ENDS, NewEnd, WantedPicture, edits_of_aim
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.commands.naming import named

_KINDS: tuple[str, ...] = get_args(LineKind)


def site_added(case: Case, text: str, line: str) -> Iterator[Alternative]:
    """`add site school with fibre`: a location, its first place and network, and its uplink where one is named."""
    found = re.fullmatch(
        r"(?:add|new) (?:a )?(?:site|venue|location) (.+?)(?: (?:with|on|by) (?:an? )?(.+))?", text
    )
    if not found:
        return
    kind = next((k for k in _KINDS if found.group(2) and k == found.group(2).replace(" ", "-")), None)
    if found.group(2) and kind is None:
        yield Alternative(title=f'"{found.group(2)}" is no kind of uplink: {", ".join(_KINDS)}', go="brief", page="places")  # fmt: skip
        return
    name = _as_typed(line, found.group(1))
    edits = edits_of_new_site(case.plan, name, kind)  # type: ignore[arg-type]
    with_line = f", with {kind}" if kind else ""
    yield Alternative(title=f"Add the site {name}{with_line}", edits=edits, go="brief", page="places")


_OBSTACLES = ("wall", "floor", "water", "road", "trees", "crowd", "open air")


def between_places(case: Case, text: str, line: str) -> Iterator[Alternative]:
    """`brick wall between hall and stage`, `water between quay and weir`: what lies on the way of two places."""
    found = re.fullmatch(rf"(?:add )?(?:an? )?(?:(.+?) )?({'|'.join(_OBSTACLES)})(?: of (.+?))?(?: (\d+(?:[.,]\d+)? ?(?:m|cm))(?: thick)?)? between (.+?) and (.+)", text)  # fmt: skip
    if not found:
        return
    what, made_of = found.group(2).replace(" ", "-"), found.group(1) or found.group(3) or ""
    material = next((m for m, words in MATERIAL_WORDS.items() if made_of in (m, words)), None)
    if made_of and material is None:
        yield Alternative(title=f'"{made_of}" is no material: {", ".join(MATERIAL_WORDS.values())}', go="brief", page="places")  # fmt: skip
        return
    thick = amount_in(found.group(4), "m") if found.group(4) else None
    for a, b in (
        (a, b)
        for a in named(case, found.group(5), ("place",))
        for b in named(case, found.group(6), ("place",))
    ):
        if a.id == b.id:
            continue
        span = span_between(case, a.id, b.id)
        known = span is not None and any(s.id == span.id for s in case.plan.spans)
        id = span.id if span and known else free_id(f"{a.id}-{b.id}"[:60], {s.id for s in case.plan.spans})
        new = {"kind": what, "material": material, "thickness_m": thick}
        there = [o.model_dump(mode="json") for o in span.between] if span else []
        edits = () if known else (added(Span(id=id, a=a.id, b=b.id)),)
        says = f"{made_of} {found.group(2)}".strip()
        yield Alternative(
            title=f"{a.name} to {b.name}: {says} between",
            edits=(*edits, SetField.model_validate({"noun": "span", "id": id, "field": "between", "value": [*there, new]})),
            pick=f"span:{id}",
        )  # fmt: skip


_ENDS: tuple[tuple[str, NewEnd], ...] = (
    ("vertical platform", "vertical-platform"), ("platform", "platform"), ("screen", "screen"), ("projector", "projector"),
    ("recorder", "recorder"), ("guest", "person"), ("person", "person"),
)  # fmt: skip
_PICTURES: dict[str, AimedPicture] = {"program": "program", "show": "program", "multi-view": "multi-view", "multiview": "multi-view", "clean": "clean", "clean feed": "clean"}  # fmt: skip


def asked_for(case: Case, text: str, line: str) -> Iterator[Alternative]:
    """`need program on alder`, `need quay camera on screen bar at net loft, without sound`: a picture that must arrive."""
    found = re.fullmatch(r"(?:need|want|ask for) (?:the )?(.+?) (?:on|at) (?:an? |the )?(.+)", text)
    live = re.fullmatch(
        r"(?:stream|go live|broadcast|publish|push)(?: it)? (?:to|on) (?:an? |the )?(.+)", text
    )
    if live and not named(case, live.group(1), ("device",)):
        what, rest, sound = "program", f"platform {live.group(1).removeprefix('platform ')}", None
    elif found or live:
        what, rest, sound = (
            (found.group(1), found.group(2), None)
            if found
            else ("program", live.group(1) if live else "", None)
        )
    else:
        return
    if said := re.fullmatch(r"(.+?),? (with|without|no) (?:sound|audio)", rest):
        rest, sound = said.group(1), said.group(2) == "with"
    talked = re.fullmatch(r"(.+?),? (?:talked back|talk-?back)", rest)
    rest = talked.group(1) if talked else rest
    of = [] if what in _PICTURES else [t.id for t in named(case, what, ("device",))]
    if what not in _PICTURES and not of:
        return
    for wanted, where in _ends_said(case, rest, line):
        sources: list[str | None] = [*of] or [None]
        for source in sources:
            picture: AimedPicture = "source" if source else _PICTURES[what]
            update = {"picture": picture, "of": source, "sound": sound, "liveness": "talked-back" if talked else None}  # fmt: skip
            edits = edits_of_aim(case, wanted.model_copy(update=update))
            shown = case.devices[source].name if source else f"the {picture}"
            heard = "" if sound is None else ", with sound" if sound else ", without sound"
            yield Alternative(title=f"Must arrive: {shown} at {where}{heard}", edits=edits, go="brief", page="show")  # fmt: skip


def _ends_said(case: Case, text: str, line: str) -> Iterator[tuple[WantedPicture, str]]:
    """The devices that the words name, or a new end of the kind they begin with."""
    for device in named(case, text, ("device",)):
        yield WantedPicture(end=device.id), device.name
    for word, end in _ENDS:
        if text != word and not text.startswith(f"{word} "):
            continue
        called, place = text.removeprefix(word).strip().removeprefix("called "), None
        for at in (m.start() for m in re.finditer(r" at ", f" {called}")):
            if places := named(case, f" {called}"[at + 4 :], ("place",)):
                called, place = f" {called}"[:at].strip(), places[0].id
        name = _as_typed(line, called) if called else None
        yield WantedPicture(end=end, name=name, place=place), name or NEW_ENDS[end].words
        return


def _as_typed(line: str, words: str) -> str:
    """The words as they stand in the line, beginning with a capital."""
    at = line.lower().find(words)
    cased = line[at : at + len(words)] if at >= 0 else words
    return cased[:1].upper() + cased[1:]
