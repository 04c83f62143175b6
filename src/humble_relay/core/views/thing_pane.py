"""What the pane says of a thing that is picked: its state in a sentence, the fields that matter here, and what it hangs on."""

from collections.abc import Iterator
from typing import Any

from humble_relay.core.catalogue.cables import ONE_WAY
from humble_relay.core.catalogue.words import KIND_WORDS, LINE_WORDS
from humble_relay.core.frozen import Frozen
from humble_relay.core.judgement import answers, findings
from humble_relay.core.judging.answer import Answer, State, Want
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.found import FoundAs, found_as
from humble_relay.core.plan import (
    Aim,
    Cable,
    CommsLink,
    Device,
    Network,
    Noun,
    Place,
    Protocol,
    Router,
    Site,
    Span,
    Stream,
    Uplink,
)
from humble_relay.core.plan.comms import COMMS_KIND
from humble_relay.core.plan.edits import Edit, SetField, SetPort
from humble_relay.core.plan.stages import Stage
from humble_relay.core.plan.vocabulary import ends_of
from humble_relay.core.views.read_aloud import SpokenAddress, spoken_addresses
from humble_relay.core.views.thing_fields import ThingField, fields_of, thing_of

MOST_FIELDS = 7
"""How many fields stand open for what is picked; the others are on its sheet."""
_MOST_STEPS = 6
_OF_THE_SHOW: dict[str, dict[Stage | str, tuple[str, ...]]] = {
    "site": {"": ("name", "run_by", "latitude", "longitude")},
    "place": {"": ("name", "site", "floor", "indoor", "mains", "x_m", "y_m")},
    "span": {"": ("distance_m", "cable", "note")},
    "uplink": {"": ("others_mbps", "carrier", "lets_out", "address", "outside", "ipv6", "sign_in"),
               "bandwidth": ("others_mbps", "carrier", "mobile.cap_gb", "mobile.used_gb", "mobile.technology", "mobile.rsrp_dbm", "parts")},
    "network": {"": ("range", "gateway", "pool_first", "pool_last", "vlan", "guest_isolation", "admission")},
    "router": {"": ("networks", "uplinks", "steers", "switch_s", "translates", "reflects", "mapping")},
    "device": {"": ("name", "place", "produces", "delay_ms", "ingest.host", "power.by", "power.battery_h", "microphone.muted"),
               "addresses": ("name", "interface.network", "interface.addressing", "interface.address", "interface.address_v6", "lets_in", "ingest.host"),
               "bandwidth": ("name", "encoding.max_mbps", "encoding.codecs", "encoding.destinations", "ingest.max_mbps", "ingest.keyframe_s", "place"),
               "signal": ("name", "place", "produces", "delay_ms", "sound_through", "microphone.muted", "power.by")},
    "cable": {"": ("cable", "length_m", "joints", "repeaters", "rated_m", "fibre_mode", "broken")},
    "radio": {"": ("distance_m", "walls", "broken")},
    "stream": {"": ("protocol", "format", "codec", "video_mbps", "layout", "input", "broken"),
               "addresses": ("address", "view_address", "key", "stream_id", "caller", "listens_port", "media_over"),
               "bandwidth": ("video_mbps", "peak_mbps", "codec", "audio_kbps", "latency_ms", "backup", "line")},
    "comms": {"": ("means", "link", "who", "telephone", "minus", "from_device", "to_device"),
              "signal": ("means", "who", "telephone", "link", "minus")},
    "aim": {"": ("picture", "need", "priority", "lowest", "sound", "liveness", "longest_delay_ms")},
}  # fmt: skip
"""The fields that are of a show and not of the gear, by noun (a link by its kind) and stage; under no stage those of all others."""


_ONLY_BY: dict[str, tuple[Protocol, ...]] = {
    "latency_ms": ("srt",), "stream_id": ("srt",), "caller": ("srt",), "listens_port": ("srt",), "media_over": ("rtsp",),
    "view_address": ("web",), "relayed": ("web",), "key": ("rtmp", "rtmps", "srt"), "backup": ("rtmp", "rtmps"),
}  # fmt: skip
"""The fields of a stream that say something only where it goes by one of these protocols."""


def says_something(thing: Any, path: str) -> bool:
    """Whether a field says something of such a thing: the SRT latency of a stream by SRT, the fibre mode of a fibre."""
    match thing:
        case Stream():
            return thing.protocol in _ONLY_BY.get(path, (thing.protocol,))
        case CommsLink() if path in ("link", "minus", "telephone"):
            return (path, thing.means or "link") in (("link", "link"), ("telephone", "telephone")) or (
                path,
                thing.kind,
            ) == ("minus", "return")
        case Cable() if path == "fibre_mode":
            return thing.cable == "fibre"
        case Cable() if path in ("rated_m", "joints", "repeaters"):
            return (path == "rated_m") == (thing.cable in ONE_WAY)
    return True


class ThingStep(Frozen):
    """A thing that this one hangs on, to step to."""

    noun: Noun
    id: str
    name: str


class PaneField(ThingField):
    """A field that stands open, and the question that waits for it."""

    asked: str = ""
    answered_as: tuple[FoundAs, ...] = ()
    """Where what is typed is written down in the log, where it answers that question; elsewhere it is an edit of the plan."""


class ThingPane(Frozen):
    """A thing that is picked."""

    noun: Noun
    id: str
    name: str
    about: str
    """What it is, and where it stands."""
    state: State | None
    """The weakest answer about it; None where no question applies."""
    said: str
    """That in a sentence."""
    finding: str | None
    """The finding that the sentence is of."""
    holds: int
    asked: int
    """How many questions apply, and how many of them hold."""
    fields: tuple[PaneField, ...]
    others: int
    """How many fields more are on its sheet."""
    addresses: tuple[SpokenAddress, ...]
    """Of a device, where addresses are worked on: what is typed into each socket, to be read aloud."""
    before: tuple[ThingStep, ...]
    after: tuple[ThingStep, ...]
    """What it comes from, and where it leads."""


def pane_of(case: Case, noun: Noun, id: str, stage: Stage) -> ThingPane:
    """What is said of a thing on the page of a stage. Raises KeyError where the plan has none of that name."""
    thing = thing_of(case, noun, id)
    about = list(answers(case).by_thing.get((noun, id), ()))
    state, said, finding = _sentence(case, about)
    every = fields_of(case, noun, id)
    wanted = [a.want for a in answers(case).every if a.want and a.want.thing[:2] == (noun, id)]
    shown = tuple(_open_fields(thing, noun, wanted, every, stage))
    before, after = (tuple(dict.fromkeys(steps))[:_MOST_STEPS] for steps in _steps(case, thing))
    return ThingPane(
        noun=noun,
        id=id,
        name=name_of(case, noun, thing),
        about=_about(case, thing),
        state=state,
        said=said,
        finding=finding,
        holds=sum(a.state == "holds" for a in about),
        asked=len(about),
        fields=shown,
        others=len(every) - len(shown),
        addresses=tuple(spoken_addresses(case, thing)) if noun == "device" and stage == "addresses" else (),
        before=before,
        after=after,
    )


def _sentence(case: Case, about: list[Answer]) -> tuple[State | None, str, str | None]:
    """The weakest answer, in a sentence, and the finding that says more."""
    if not about:
        return None, "No question applies to it yet.", None
    wrong = {f.id: f for f in findings(case)}
    said = [(a.state, wrong[a.id]) for a in about if a.state in ("fails", "doubtful") and a.id in wrong]
    weak = sorted((x for x in said if not x[1].accepted), key=lambda x: x[0] != "fails")
    for state, finding in weak:
        return state, finding.wrong, finding.id
    unknown = [a for a in about if a.state == "not known"]
    if unknown:
        wanted = next((a.want.question for a in unknown if a.want), "")
        return "not known", wanted or "It waits for what is not known of others.", None
    for state, finding in said:
        return state, f"{finding.wrong} Accepted: {finding.accepted}", finding.id
    count = "The one question" if len(about) == 1 else f"All {len(about)} questions"
    return "holds", f"{count} about it hold{'s' * (len(about) == 1)}.", None


def _open_fields(
    thing: Any, noun: Noun, wanted: list[Want], every: tuple[ThingField, ...], stage: Stage
) -> Iterator[PaneField]:
    """What an open answer waits for first; then what is of this show, for this stage."""
    ports = {f.port for f in every if f.port}
    waiting = {
        (port if (port := f"{w.thing.id}/{w.thing.part}") in ports else "", w.field): w.question
        for w in wanted
    }
    kind = thing.kind if noun == "link" else noun
    usual = [path for path in fields_of_the_show(kind, stage) if says_something(thing, path)]
    ranked = sorted(
        (
            f
            for f in every
            if _waits(waiting, f) or (f.there and f.path in usual and (not f.port or "." in f.path))
        ),
        key=lambda f: (not _waits(waiting, f), usual.index(f.path) if f.path in usual else 0),
    )
    for each in ranked[:MOST_FIELDS]:
        asked = _waits(waiting, each)
        into = found_as([_setting(noun, thing.id, each)], each.unit) if asked else ()
        yield PaneField(**{**dict(each), "asked": asked, "answered_as": into})


def _setting(noun: Noun, id: str, field: ThingField) -> Edit:
    if field.port:
        return SetPort(port=field.port, field=field.path, value=None)
    return SetField(noun=noun, id=id, field=field.path, value=None)


def fields_of_the_show(kind: str, stage: Stage) -> tuple[str, ...]:
    """The paths of the fields that are of a show and not of the gear, of a noun (a link by its kind), on a stage."""
    rows = _OF_THE_SHOW[kind]
    return rows.get(stage, rows[""])


def _waits(waiting: dict[tuple[str, str], str], field: ThingField) -> str:
    """The question that waits for a field; empty where none does."""
    return waiting.get((field.port, field.path), "")


def name_of(case: Case, noun: Noun, thing: Any) -> str:
    """What a thing is called; of one without a name, by what it lies between."""
    if noun == "link":
        return case.link_name(thing.id)
    if isinstance(thing, Span):
        return f"{case.places[thing.a].name} to {case.places[thing.b].name}"
    if isinstance(thing, CommsLink):
        return f"{COMMS_KIND[thing.kind].capitalize()} from {case.devices[thing.from_device].name} to {case.devices[thing.to_device].name}"
    if isinstance(thing, Aim):
        return f"{thing.picture.capitalize()} at {case.devices[thing.end].name}"
    return str(thing.name)


def _about(case: Case, thing: Any) -> str:
    match thing:
        case Device():
            place = case.places.get(thing.place or "")
            what = thing.model or KIND_WORDS[thing.kind]
            return f"{what}, {place.name}" if place else what
        case Uplink():
            return f"{LINE_WORDS[thing.kind]} line, {case.sites[thing.site].name}"
        case Network() | Router():
            return f"{type(thing).__name__.lower()}, {case.sites[thing.site].name}"
        case Place():
            return f"place, {case.sites[thing.site].name}"
        case Site():
            return "site"
        case Span():
            return "the way between two places"
        case Aim():
            return "required picture"
        case CommsLink():
            return "comms"
    return {"cable": "cable", "radio": "wireless link", "stream": "stream"}[thing.kind]


def _device(case: Case, id: str) -> ThingStep:
    return ThingStep(noun="device", id=id, name=case.devices[id].name)


def _link(case: Case, id: str, other: str) -> ThingStep:
    """A link of a device, called by what is at its other end."""
    return ThingStep(noun="link", id=id, name=case.devices[other].name)


def _named(noun: Noun, things: Any) -> list[ThingStep]:
    return [ThingStep(noun=noun, id=x.id, name=x.name) for x in things]


def _steps(case: Case, thing: Any) -> tuple[list[ThingStep], list[ThingStep]]:
    """What a thing comes from, and where it leads."""
    match thing:
        case Device():
            before, after = [], []
            for link in case.links.values():
                ends = ends_of(link)
                if ends[1] == thing.id:
                    before.append(_link(case, link.id, ends[0]))
                elif ends[0] == thing.id:
                    after.append(_link(case, link.id, ends[1]))
            return before, after
        case Network():
            on = [d for d in case.devices.values() if any(p.network == thing.id for p in d.ports)]
            router = case.router_of.get(thing.id)
            return _named("device", on), _named("router", [router] if router else [])
        case Router():
            return _named("network", [case.networks[n] for n in thing.networks]), _named("uplink", [case.uplinks[u] for u in thing.uplinks])  # fmt: skip
        case Uplink():
            routers = [r for r in case.plan.routers if thing.id in r.uplinks]
            return _named("router", routers), _named("network", [case.networks[thing.behind]] if thing.behind else [])  # fmt: skip
        case Place():
            return _named("site", [case.sites[thing.site]]), _named("device", [d for d in case.devices.values() if d.place == thing.id])  # fmt: skip
        case Site():
            return [], _named("place", [p for p in case.places.values() if p.site == thing.id])
        case Span():
            return _named("place", [case.places[thing.a]]), _named("place", [case.places[thing.b]])
        case CommsLink():
            return [_device(case, thing.from_device)], [_device(case, thing.to_device)]
        case Aim():
            return ([_device(case, thing.of)] if thing.of else []), [_device(case, thing.end)]
    giver, taker = ends_of(thing)
    return [_device(case, giver)], [_device(case, taker)]


def gone(noun: Noun, id: str, since: str = "") -> str:
    """What is said of a thing that the plan has not; `since` when it was taken out, in words, where the history says so."""
    if not since:
        return f"The plan has no {noun} called {id}, and its history tells of none. Look for it by its name in the command bar."
    return f"The plan has no {noun} called {id} any more: it was taken out on {since}. Undo brings it back, and so does an earlier version in the history."
