"""A way as a technician compares it: its hops, what it takes, its delay, and what to mind."""

from collections.abc import Iterator

from humble_relay.core.catalogue.cables import CABLE_WORDS, PROTOCOL_WORDS
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device
from humble_relay.core.plan.edits import Edit
from humble_relay.core.signal.finder.routing_problem import Leg, Path

CARRIED = {*CABLE_WORDS, "radio"}
"""The media that run from port to port."""
_LATE_MS = 100
"""What a hop may add before a cut against direct cameras shows plainly (common practice, no source)."""


class RouteHop(Frozen):
    """One line of a route: the link, where it runs, the format on it, and the delay so far in ms."""

    what: str
    from_name: str
    to_name: str
    format: str
    delay_ms: float


class Route(Frozen):
    """A way to make the picture arrive, and what it takes. `delay_ms` is what the way adds after the source;
    `effort` compares ways: 1 is a metre of cable."""

    title: str
    short: str
    """What sets it apart in a word or two: what its long run goes by, or the box it goes through."""
    hops: tuple[RouteHop, ...]
    boxes: tuple[str, ...]
    to_get: tuple[str, ...]
    uses_up: tuple[str, ...]
    cable: str
    """The metres of cable it takes, in words; how many runs of it are still to be measured."""
    cable_m: float
    delay_ms: float
    risks: tuple[str, ...]
    effort: float
    edits: tuple[Edit, ...]


def title_of(path: Path, source: str) -> str:
    """The way in a line: from which box where that is not the source, what it runs on, and through which boxes."""
    parts = []
    if path.start.tapped:
        parts.append(f"split with a {path.start.exit.box.device.short_name}")
    elif path.start.exit.box.key != source:
        parts.append(f"from {path.start.exit.box.device.name}")
    for hop in path.hops:
        parts.append(medium_of(hop))
        if hop is not path.hops[-1]:
            parts.append(hop.entry.box.device.short_name)
    last = path.hops[-1].entry.port
    return ", ".join(parts) + (f" to {last.name}" if last else "")


def short_of(path: Path) -> str:
    """The way in a word or two, such as `by fibre` or `through a Cross-scaler`."""
    run = next((h for h in path.hops if h.is_long), None)
    if run is None and len(path.hops) > 1:
        return f"through a {path.hops[0].entry.box.device.short_name}"
    medium = (run or path.hops[-1]).medium
    words = next((w for m, w in (*CABLE_WORDS.items(), *PROTOCOL_WORDS.items()) if m == medium), medium)
    return f"by {words if words[1:2].isupper() or words[:1].isdigit() else words[:1].lower() + words[1:]}"


def medium_of(hop: Leg) -> str:
    """What a leg runs on, such as `SDI coax 44 m`."""
    if hop.medium == "radio":
        return "radio, distance to measure" if hop.length_m is None else f"radio {hop.length_m:.0f} m"
    if hop.medium in CABLE_WORDS:
        length = ", length to measure" if hop.length_m is None else f" {hop.length_m:g} m"
        return f"{CABLE_WORDS[hop.medium]}{length}"
    by = f" by {hop.by}" if hop.by else ""
    return f"{PROTOCOL_WORDS[hop.medium]} stream{by}"  # type: ignore[index]


def risks_of(case: Case, hop: Leg, giver: Device, taker: Device) -> Iterator[str]:
    """What to mind about a leg, in whole sentences."""
    if hop.medium == "radio":
        walls = f", through at least {_several(hop.walls, 'wall')}" if hop.walls else ""
        quoted = min(d.range_m or case.figures["radio-range"] for d in (giver, taker))
        far = "a distance to be measured" if hop.length_m is None else f"{hop.length_m:.0f} m"
        yield f"Radio over {far} of the {quoted:.0f} m quoted in the open{walls}: try it with people in the room. Local rules decide the power allowed."
    if hop.joints:
        yield f"{_several(hop.joints, 'coupler')} in the run: tape and label them."
    if hop.repeaters:
        yield f"{_several(hop.repeaters, 'repeater')} on the way, where it can be reached, dry and powered."
    outdoors = [p for d in (giver, taker) if (p := case.places.get(d.place or "")) and not p.indoor]
    if outdoors and hop.is_long and hop.medium in CABLE_WORDS:
        yield "Cable outdoors: weatherproof joints, no trip hazard; local codes decide the rest."
    asked, sent = case.plan.show.format, hop.sent or hop.exit.format
    if hop.medium not in CARRIED and taker.ingest and asked and sent != asked:
        yield f"It sends {sent.label}; the brief says {asked.label}."
    if hop.medium not in CARRIED and taker.ingest is None and hop.network == hop.theirs:
        yield "It shares the network: quality goes with whatever else is on it."
    if hop.delay_ms >= _LATE_MS:
        yield f"{taker.name} adds about {hop.delay_ms:.0f} ms: do not cut it against direct cameras."


def _several(number: int, what: str) -> str:
    return f"{number} {what}{'s' if number > 1 else ''}"
