"""What may keep a picture from appearing, along the path that it takes, and how likely each cause is before anything was tried."""

from collections import Counter, defaultdict
from collections.abc import Iterator
from typing import Literal, NamedTuple

from humble_relay.core.catalogue.cables import CABLE_WORDS
from humble_relay.core.egress.outbound import in_the_cloud, on_the_internet, uplink_out
from humble_relay.core.judgement import answers
from humble_relay.core.judging.answer import State
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.log.entries import FaultBegun
from humble_relay.core.log.fault_kinds import SOUND, Symptom
from humble_relay.core.plan import Cable, Device, Stream
from humble_relay.core.plan.setup_kinds import SetupKind
from humble_relay.core.plan.vocabulary import MIXERS, VIDEO, ends_of, is_source
from humble_relay.core.setup.day import SetupDay
from humble_relay.core.setup.seen_pictures import SeenPicture, seen_pictures
from humble_relay.core.setup.setup_list import setup_list

FaultFamily = Literal[
    "cable", "power", "input", "output", "stream", "address", "key", "firewall", "line", "limit", "service"
]
FaultPart = Literal["device", "output", "link", "input"]
"""Where on a hop a cause is, in the order of the signal: the device that gives, its output, the link, the input that takes it."""
_PARTS: dict[FaultPart, int] = {"device": 0, "output": 1, "link": 2, "input": 3}


class Cause(NamedTuple):
    """Something that may be wrong. `at` is its place along the path: what is before it still shows the picture."""

    id: str
    family: FaultFamily
    at: int
    device: str
    """Where one goes to mend it."""
    link: str
    says: str
    mend: str
    minutes: float
    steps: tuple[str, ...]
    """The steps of the set-up that are then not right."""


def picture_of(case: Case, id: str) -> SeenPicture | None:
    """The picture of that id; None where the plan has none."""
    return _pictures(case).get(id)


@analysis
def _pictures(case: Case) -> dict[str, SeenPicture]:
    return {p.id: p for p in seen_pictures(case)}


def path_of_picture(picture: SeenPicture) -> list[str]:
    """The devices of its path in the order of the signal."""
    return [picture.hops[0].giver, *(hop.taker for hop in picture.hops)]


def causes_of(case: Case, picture: SeenPicture, symptom: Symptom) -> tuple[Cause, ...]:
    """Every cause that the plan knows, in the order of the signal."""
    made = _sound_causes(case, picture) if symptom in SOUND else _causes(case, picture)
    found: dict[str, Cause] = {}
    for cause in made:
        own = (
            cause.steps
            if cause.family == "key"
            else tuple(s for s in cause.steps if s.startswith(f"{cause.device}:"))
        )
        found.setdefault(cause.id, cause._replace(steps=own))
    return tuple(sorted(found.values(), key=lambda c: c.at))


@analysis
def _steps_at(case: Case) -> dict[str, dict[SetupKind, tuple[str, ...]]]:
    """The steps by the port or link that they show on, and by their kind; those of none by their device."""
    found: dict[str, dict[SetupKind, list[str]]] = defaultdict(lambda: defaultdict(list))
    for step in setup_list(case):
        for at in step.at or {step.device}:
            found[at][step.kind].append(step.id)
    return {at: {kind: tuple(ids) for kind, ids in kinds.items()} for at, kinds in found.items()}


def _steps(case: Case, at: str, *kinds: SetupKind) -> tuple[str, ...]:
    known = _steps_at(case).get(at, {})
    return tuple(id for kind in kinds for id in known.get(kind, ()))


_OUT: tuple[SetupKind, ...] = ("carries", "output-mode", "output-format", "menus-off", "mirrored")
_IN: tuple[SetupKind, ...] = (
    "input-on",
    "input-type",
    "assigned",
    "capture-picked",
    "source-size",
    "source-reloads",
    "substream",
    "credentials",
)
_SENT: tuple[SetupKind, ...] = (
    "stream-on",
    "server-on",
    "profile",
    "settings-file",
    "guest-link",
    "lens",
    "layout",
)


def _causes(case: Case, picture: SeenPicture) -> Iterator[Cause]:
    for n, hop in enumerate(picture.hops):
        base, link = n * 4, case.links[hop.link]
        giver, taker = case.devices[hop.giver].name, case.devices[hop.taker].name
        yield from _power(case, hop.giver, base)
        out, into = (
            next((s for s in hop.sockets if s.startswith(f"{d}/")), "") for d in (hop.giver, hop.taker)
        )

        def at(part: FaultPart, base: int = base) -> int:
            return base + _PARTS[part]

        if isinstance(link, Stream):
            yield from _stream_causes(case, link, base)
        else:
            if case.devices[hop.giver].kind not in _NO_OUTPUT_MENU:
                yield Cause(f"output:{hop.giver}:{hop.link}", "output", at("output"), hop.giver, hop.link, f"The output of {giver} to {taker} is off, or in a mode, format or colour range that {taker} does not take",
                            f"Set the output of {giver} as its set-up list says", 2, _steps(case, out, *_OUT))  # fmt: skip
            if link.kind == "radio":
                yield Cause(f"cable:{hop.link}", "cable", at("link"), hop.taker, hop.link, f"The wireless link from {giver} to {taker} is out of reach, disturbed, or not paired", f"Scan, and pair {giver} with {taker} anew", 10, _steps(case, hop.link, "paired"))  # fmt: skip
            else:
                yield Cause(f"cable:{hop.link}", "cable", at("link"), hop.taker, hop.link, f"The {CABLE_WORDS[link.cable]} cable from {giver} to {taker} is damaged, loose or in a wrong socket", f"Put another {CABLE_WORDS[link.cable]} cable from {giver} to {taker}, by the patch list", 4, ())  # fmt: skip
        if (
            not isinstance(link, Stream)
            and link.kind == "cable"
            and link.cable in _WITH_A_HANDSHAKE
            and case.devices[hop.giver].kind in _HANDSHAKE_AT
        ):
            yield Cause(f"handshake:{hop.link}", "output", at("input"), hop.taker, hop.link, f"{giver} and {taker} do not agree: EDID, or content protection (HDCP)",
                        f"Switch {taker} on first, then plug {giver} in; show nothing that is protected; an EDID emulator where it stays dark", 4, ())  # fmt: skip
        if _chooses_input(case.devices[hop.taker]):
            yield Cause(f"input:{hop.taker}:{hop.link}", "input", at("input"), hop.taker, hop.link, f"The input of {taker} is not enabled, not told its type, or shows another source",
                        f"Set the input of {taker} as its set-up list says", 2, (*_steps(case, into, *_IN), *_steps(case, hop.link, *_IN)))  # fmt: skip
    last = picture.hops[-1].taker
    yield from _power(case, last, len(picture.hops) * 4)
    if case.devices[last].kind == "recorder":
        yield Cause(f"limit:{last}", "limit", len(picture.hops) * 4, last, "", f"{case.devices[last].name} has reached the end of its card, or a file limit", f"Put another card into {case.devices[last].name}", 2, _steps(case, last, "card"))  # fmt: skip


_WITH_A_HANDSHAKE = ("hdmi", "hdmi-active", "hdmi-optical")
_HANDSHAKE_AT = ("computer", "phone", "switcher", "decoder")
"""Cables over which the two ends agree on a format and on protection first (CTA-861, HDCP), and the devices that are choosy about it."""
_NO_OUTPUT_MENU = ("distribution",)


def _chooses_input(device: Device) -> bool:
    """Whether something has to be chosen before an input shows: among several, its type, or a source on the network."""
    if on_the_internet(device):
        return False
    inputs = [p for p in device.ports if p.way == "in" and VIDEO & set(p.types)]
    return (
        device.kind in MIXERS
        or len(inputs) > 1
        or any(len(p.types) > 1 for p in inputs)
        or device.decoding is not None
    )


def _power(case: Case, id: str, at: int) -> Iterator[Cause]:
    device = case.devices[id]
    if not on_the_internet(device):
        yield Cause(f"power:{id}", "power", at, id, "", f"{device.name} has no power, sleeps, is too hot, or hangs", f"Look at the feed of {device.name}; then switch it off and on", 3, _steps(case, id, "charged"))  # fmt: skip


def _stream_causes(case: Case, stream: Stream, base: int) -> Iterator[Cause]:
    sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
    name, of, link = stream.name, stream.id, base + 2
    if on_the_internet(sender):
        yield Cause(f"service:{sender.id}", "service", base, sender.id, of, f"{sender.name} is out of order, or does not pass {name} on", f"Look at the switch for this destination on {sender.name}", 2, ())  # fmt: skip
    else:
        yield Cause(f"stream:{of}", "stream", base + 1, sender.id, of, f"{name} is not started on {sender.name}, or goes by an old profile", f"Choose today's profile on {sender.name}, and start it", 3, _steps(case, of, *_SENT))  # fmt: skip
        yield Cause(f"hangs:{of}", "stream", base + 1, sender.id, of, f"{sender.name} hangs in an old session of {name}", f"Stop {name} at both ends, wait half a minute, start it again", 3, ())  # fmt: skip
    for end in (sender, taker):
        if not on_the_internet(end) and any(p.network for p in end.ports):
            yield Cause(f"address:{end.id}", "address", link, end.id, of, f"{end.name} has another address than the plan, a doubled one, or is on a wrong network", f"Set the address of {end.name} as its set-up list says", 3, _steps(case, of, "network"))  # fmt: skip
        if end.kind == "computer":
            yield Cause(f"interface:{end.id}", "address", link, end.id, of, f"{end.name} sends by its other interface, through a VPN, or its own firewall stops {name}", f"On {end.name}: switch its other interface and the VPN off, and let {name} through", 3, ())  # fmt: skip
        for cable in lan_cables_at(case).get(end.id, ()):
            other = (
                case.devices[next(d for d in ends_of(cable) if d != end.id)]
                if len(set(ends_of(cable))) > 1
                else end
            )
            yield Cause(f"cable:{cable.id}", "cable", link, end.id, cable.id, f"The network cable from {end.name} to {other.name} is damaged, loose or in a wrong socket", f"Put another network cable at {end.name}", 3, ())  # fmt: skip
            if other.kind in ("network-switch", "router", "injector"):
                yield Cause(f"power:{other.id}", "power", link, other.id, "", f"{other.name} has no power, or hangs", f"Look at the feed and lamps of {other.name}; then switch it off and on", 3, ())  # fmt: skip
    if (
        stream.key
        or stream.key_withheld
        or stream.stream_id
        or taker.ingest
        or stream.protocol in ("rtsp", "srt")
    ):
        yield Cause(f"key:{of}", "key", link, sender.id, of, f"Key, name, login or event of {name} is another one than at {taker.name}", f"Type key and name of {name} anew at both ends; choose today's event", 4, (*_steps(case, of, "profile", "credentials"), *_steps(case, taker.id, "event", "login")))  # fmt: skip
    here, there = case.site_of(sender), case.site_of(taker)
    crosses = here is None or here is not there
    if crosses or stream.protocol in ("srt", "rtsp", "rtmp", "ndi", "web"):
        yield Cause(f"firewall:{of}", "firewall", link, (taker if not on_the_internet(taker) else sender).id, of, f"A firewall, NAT or a portal stops {name} between {sender.name} and {taker.name}", f"Let {name} in, or forward its port, as the network request says", 5, _steps(case, of, "firewall"))  # fmt: skip
    if crosses and not in_the_cloud(sender) and (line := uplink_out(case, sender, stream)):
        yield Cause(f"line:{line}", "line", link, sender.id, of, f"{case.uplinks[line].name} carries too little, loses packets, or others use it", f"Send less over {case.uplinks[line].name}, keep others off it, or change to another uplink", 4, ())  # fmt: skip
        yield Cause(f"limit:{line}", "limit", link, sender.id, of, f"{case.uplinks[line].name} has reached a limit: data, time, or its lease", f"Renew {case.uplinks[line].name}, or change to another uplink", 4, ())  # fmt: skip
    if taker.ingest:
        yield Cause(f"service:{taker.id}", "service", base + 3, taker.id, of, f"{taker.name} is out of order, or limits this account", f"Wait for {taker.name}, or go to a second destination", 2, ())  # fmt: skip


def _sound_causes(case: Case, picture: SeenPicture) -> Iterator[Cause]:
    """Of sound alone, where the picture is there: from the desk or microphone to where it is heard."""
    first, last = picture.hops[0].giver, picture.hops[-1].taker
    mixers = [d for d in path_of_picture(picture) if case.devices[d].kind in MIXERS] or [first]
    if is_source(case.devices[first]):
        name = case.devices[first].name
        yield Cause(f"output:{first}:microphone", "output", 0, first, "", f"The microphone of {name} is off, muted, or not sent along", f"Switch the microphone of {name} on, and send it along", 1, ())  # fmt: skip
    for cable in case.cables:
        if cable.cable != "audio" or ends_of(cable)[1] not in mixers:
            continue
        desk, into = (case.devices[d] for d in ends_of(cable))
        yield Cause(f"power:{desk.id}", "power", 0, desk.id, "", f"{desk.name} is off, or its channel is muted", f"Open the channel on {desk.name}, and look at its meter", 1, ())  # fmt: skip
        yield Cause(f"output:{desk.id}:{cable.id}", "output", 1, desk.id, cable.id, f"{desk.name} sends at a wrong level, or from a wrong bus", f"Send program from {desk.name} at line level", 3, ())  # fmt: skip
        yield Cause(f"cable:{cable.id}", "cable", 2, into.id, cable.id, f"The audio cable from {desk.name} to {into.name} is damaged, loose, or hums by its earth", f"Put another audio cable into {into.name}, balanced or through an isolating transformer", 4, ())  # fmt: skip
        yield Cause(f"input:{into.id}:{cable.id}", "input", 3, into.id, cable.id, f"The audio input of {into.name} is off, at a wrong level, or on one side", f"Set the audio input of {into.name} as its set-up list says", 3, _steps(case, into.id, "sound-level"))  # fmt: skip
    for id in mixers:
        device = case.devices[id]
        yield Cause(f"stream:{id}:sound", "stream", 4, id, "", f"{device.name} takes another sound device, or mixes two that are apart in time", f"On {device.name}: choose the sound device, mute the others, set the delay", 3, _steps(case, id, "muted", "capture-picked", "source-reloads"))  # fmt: skip
    if last not in mixers:
        device = case.devices[last]
        yield Cause(f"output:{last}:sound", "output", 6, last, "", f"{device.name} plays no sound, or from the wrong input", f"Turn {device.name} up, and choose its input", 1, ())  # fmt: skip


_UNLIKELY = 0.04
_FITS: dict[Symptom, tuple[FaultFamily, ...]] = {
    "black": ("output", "input", "power", "cable", "stream", "address", "key", "firewall", "service", "limit"), "no-source": ("cable", "power", "input", "stream", "address", "firewall", "key"),
    "listed-but-dark": ("stream", "firewall", "input", "output", "key"), "frozen": ("stream", "line", "power", "input", "cable"), "wrong-picture": ("input", "stream", "output"),
    "not-supported": ("output", "input", "stream"), "sparkles": ("cable", "output"), "wrong-shape": ("output", "input", "stream"), "stutters": ("line", "cable", "power", "stream", "address"),
    "drops": ("line", "cable", "power", "key", "address", "limit", "firewall", "stream"), "refused": ("firewall", "stream", "key", "address", "service"), "times-out": ("address", "firewall", "cable", "power", "service", "line"),
    "wrong-password": ("key",), "already-live": ("key", "stream"), "not-with-others": ("line", "stream", "limit", "output", "address"), "viewers-nothing": ("key", "service", "stream"),
    "one-of-several": ("key", "stream", "service", "firewall", "line", "address"), "stops-after": ("limit", "power", "address", "line", "stream", "service"),
    "no-sound": ("power", "cable", "input", "stream", "output"), "wrong-sound": ("stream", "input", "output"), "late-sound": ("stream",), "hum": ("cable",), "echo": ("stream", "output"),
    "crackle": ("cable", "output", "input"), "distorted": ("output", "input"), "one-side": ("input", "cable"),
}  # fmt: skip
"""The families that a symptom points to; the others stay, faintly, for what is seen is told by people."""
_IS_THERE: tuple[Symptom, ...] = (
    "frozen",
    "sparkles",
    "stutters",
    "drops",
    "stops-after",
    "late-sound",
    "crackle",
)
"""What shows itself so came at some time, whatever was said: it is weighed like what was there and stopped."""
_DOUBTED: dict[State, float] = {"fails": 6.0, "doubtful": 3.0, "not known": 1.5, "holds": 1.0}
_TRUSTED = 0.85
"""How far the table is trusted, as an exponent: it is judgement, and a wrong one must not cost twice the time."""
_OPEN, _TICKED, _WORKING = 2.0, 0.3, 0.25
"""By how much a cause is likelier whose set-up nobody saw today, and less likely where it was seen right, or where another picture comes by
it now."""


def weights(
    case: Case, picture: SeenPicture, begun: FaultBegun, causes: tuple[Cause, ...], day: SetupDay
) -> dict[str, float]:
    """How likely each cause is, out of 1: by practice (figures `fault-*`), raised by the plan's own doubts and by set-up that nobody saw."""
    came = "stopped" if begun.symptom in _IS_THERE else begun.came or "never"
    families = Counter(c.family for c in causes)
    fits = _FITS[begun.symptom]
    shared, others = _shared(case, picture), come_now(case, picture, day)
    found: dict[str, float] = {}
    for cause in causes:
        weight = case.figures[f"fault-{cause.family}-{came}"] / families[cause.family] + 0.2
        weight *= 1 if cause.family in fits else _UNLIKELY
        weight *= _DOUBTED[_doubt(case, cause)]
        states = [day.steps[s].state for s in cause.steps if s in day.steps]
        if came == "never" and states:
            weight *= _OPEN if "open" in states else _TICKED
        where = cause.link or cause.device
        if begun.spread:
            wide = where in shared or cause.device in shared or cause.family in ("line", "service", "limit")
            weight *= 1 if wide == (begun.spread != "this") else 0.2
        if begun.spread == "this" and where in others and cause.family not in ("input", "stream", "key"):
            weight *= _WORKING
        found[cause.id] = weight
    found = {id: weight**_TRUSTED for id, weight in found.items()}
    whole = sum(found.values()) or 1
    return {id: weight / whole for id, weight in found.items()}


def _doubt(case: Case, cause: Cause) -> State:
    """The weakest answer about what the cause is of."""
    by_thing = answers(case).by_thing
    about = (
        by_thing.get(("link", cause.link), ()) if cause.link else by_thing.get(("device", cause.device), ())
    )
    return max((a.state for a in about), key=lambda state: _DOUBTED[state], default="holds")


def parts_of_path(picture: SeenPicture) -> set[str]:
    """The devices and links of its path."""
    return {x for hop in picture.hops for x in (hop.link, hop.giver, hop.taker)}


@analysis
def pictures_by_part(case: Case) -> dict[str, tuple[SeenPicture, ...]]:
    """The pictures that come by each device and link."""
    found: dict[str, list[SeenPicture]] = defaultdict(list)
    for picture in seen_pictures(case):
        for part in parts_of_path(picture):
            found[part].append(picture)
    return {part: tuple(pictures) for part, pictures in found.items()}


@analysis
def lan_cables_at(case: Case) -> dict[str, tuple[Cable, ...]]:
    """The network cables at each device."""
    found: dict[str, list[Cable]] = defaultdict(list)
    for cable in case.lan_cables.values():
        for end in dict.fromkeys(ends_of(cable)):
            found[end].append(cable)
    return {device: tuple(cables) for device, cables in found.items()}


def _shared(case: Case, picture: SeenPicture) -> set[str]:
    """The devices and links that other pictures come by too."""
    return {part for part in parts_of_path(picture) if len(pictures_by_part(case)[part]) > 1}


def come_now(case: Case, picture: SeenPicture, day: SetupDay) -> set[str]:
    """Those of its path that another picture comes by which was seen today."""
    return {
        part
        for part in parts_of_path(picture)
        if any(
            p.id != picture.id and day.pictures[p.id].state != "open" for p in pictures_by_part(case)[part]
        )
    }
