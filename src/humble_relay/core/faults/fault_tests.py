"""What can be looked at or tried when a picture does not appear, what each shows, how long it takes, and which pictures it takes down."""

from collections.abc import Iterable, Iterator
from typing import Literal

from humble_relay.core.catalogue.words import SETUP_WORDS
from humble_relay.core.egress.outbound import on_the_internet, uplink_out
from humble_relay.core.endpoints.calls import call_of
from humble_relay.core.faults.causes import Cause, lan_cables_at, path_of_picture, pictures_by_part
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.log.fault_kinds import SOUND, Symptom
from humble_relay.core.plan import Cable, Device, Radio, Stream
from humble_relay.core.plan.vocabulary import MIXERS, ends_of
from humble_relay.core.setup.seen_pictures import SeenPicture, seen_pictures

FaultTestKind = Literal[
    "screen", "monitor", "lamps", "settings", "address", "arp", "port", "second-laptop", "upload", "status", "account", "limit", "interface", "handshake", "swap", "meter", "headphones", "mend"
]  # fmt: skip
Said = tuple[str, str]


class FaultTest(Frozen):
    """A test: one sentence, two answers, and the causes by which the second one comes. `minutes` are without the way there."""

    id: str
    kind: FaultTestKind
    says: str
    answers: Said
    minutes: float
    place: str
    device: str
    link: str = ""
    interrupts: tuple[str, ...] = ()
    """The pictures that it takes down while it is made, beside the one that is dark."""
    bad_if: frozenset[str] = frozenset()
    mends: str = ""
    """The cause that it mends."""


_OWN_SCREEN = ("camera", "phone", "computer")
_PREVIEW = ("switcher", "encoder", "recorder", "monitor", "projector", "platform")


def fault_tests(
    case: Case, picture: SeenPicture, symptom: Symptom, causes: tuple[Cause, ...]
) -> tuple[FaultTest, ...]:
    """Every test that tells some of the causes from others, and the mending of each."""
    looks = _sound_tests(case, picture, causes) if symptom in SOUND else _looks(case, picture, causes)
    made = (*looks, *_checks(case, causes), *(_mend(case, picture, c) for c in causes))
    every = frozenset(c.id for c in causes)
    return tuple(t for t in made if t.mends or (t.bad_if and t.bad_if != every))


def _place(case: Case, device: str) -> str:
    return case.devices[device].place or ""


def _by(causes: Iterable[Cause], upto: int) -> frozenset[str]:
    """The causes that lie before a place of the path, or at it."""
    return frozenset(c.id for c in causes if c.at <= upto)


def _looks(case: Case, picture: SeenPicture, causes: tuple[Cause, ...]) -> Iterator[FaultTest]:
    """The picture itself, split at each place where it can be seen: own screens and previews, and a pocket monitor in each lead."""
    devices = path_of_picture(picture)
    for n, id in enumerate(devices[:-1]):
        device = case.devices[id]
        if (n == 0 and device.kind in _OWN_SCREEN) or (n and device.kind in _PREVIEW):
            where = "on its own screen" if n == 0 else "at its input or preview"
            yield FaultTest(id=f"screen:{id}", kind="screen", says=f"Is the picture there on {device.name}, {where}?", answers=("It is there", "It is not"), minutes=1, place=_place(case, id), device=id, bad_if=_by(causes, n * 4))  # fmt: skip
    for n, hop in enumerate(picture.hops):
        link = case.links[hop.link]
        if isinstance(link, Stream | Radio):
            continue
        giver, taker = case.devices[hop.giver], case.devices[hop.taker]
        yield FaultTest(id=f"monitor:{hop.link}", kind="monitor", says=f"Pull the lead from {giver.name} out of {taker.name}, and put a pocket monitor on it. Is the picture there?",
                        answers=("It is there", "It is not"), minutes=3, place=_place(case, hop.taker), device=hop.taker, link=hop.link,
                        interrupts=_interrupted(case, picture, hop.link, ""), bad_if=_by(causes, n * 4 + 2))  # fmt: skip


def _checks(case: Case, causes: tuple[Cause, ...]) -> Iterator[FaultTest]:
    """Lamps, settings, addresses, ports: each tells one kind of cause at one device."""
    seen: set[str] = set()
    for cause in causes:
        device = case.devices[cause.device]
        stream = case.links.get(cause.link)
        name = stream.name if isinstance(stream, Stream) else ""
        made: list[FaultTest] = []

        def test(
            kind: FaultTestKind,
            of: str,
            says: str,
            answers: Said,
            minutes: float,
            bad: Iterable[str],
            at: Device = device,
            link: str = cause.link,
        ) -> FaultTest:
            return FaultTest(
                id=f"{kind}:{of}",
                kind=kind,
                says=says,
                answers=answers,
                minutes=minutes,
                place=at.place or "",
                device=at.id,
                link=link,
                bad_if=frozenset(bad),
            )

        match cause.family:
            case "power":
                made.append(
                    test(
                        "lamps",
                        device.id,
                        f"Is {device.name} awake: lamps as always, not hot?",
                        ("Yes", "No"),
                        0.5,
                        [cause.id],
                    )
                )
            case "output" if cause.id.startswith("handshake:"):
                made.append(
                    test(
                        "handshake",
                        cause.link,
                        f'What does {device.name} say of this input: a format, and no "protected"?',
                        ("A format", "Nothing, or protected"),
                        1,
                        [cause.id],
                    )
                )
            case "input" if swap := _swapped(case, cause):
                made.append(swap)
            case "input" | "output" | "stream" if not cause.id.startswith(_NO_SETTING):
                here = [
                    c.id
                    for c in causes
                    if c.device == device.id
                    and c.family in ("input", "output", "stream")
                    and not c.id.startswith(_NO_SETTING)
                ]
                kinds = dict.fromkeys(
                    SETUP_WORDS[k]
                    for c in causes
                    if c.id in here
                    for s in c.steps
                    for k in SETUP_WORDS
                    if s.split(":")[1] == k
                )
                what = ", ".join(kinds).lower() or "inputs, outputs and streams"
                made.append(
                    test(
                        "settings",
                        device.id,
                        f"Are the settings of {device.name} as its set-up list says: {what}?",
                        ("As listed", "Something differs"),
                        2,
                        here,
                        link="",
                    )
                )
            case "address" if cause.id.startswith("interface:"):
                made.append(
                    test(
                        "interface",
                        device.id,
                        f"On {device.name}: is its Wi-Fi or other interface off, the VPN off, and {name} let through its firewall?",
                        ("Yes, all", "No"),
                        1,
                        [cause.id],
                    )
                )
            case "address":
                made.append(
                    test(
                        "address",
                        device.id,
                        f"Read the address of {device.name} off the device. Is it the one in the plan?",
                        ("The same", "Another, or none"),
                        1,
                        [cause.id],
                    )
                )
                lan = _lan_of(case, causes, device.id)
                made.append(
                    test(
                        "arp",
                        device.id,
                        f"Ping {device.name} from the same network, and look it up with arp. Does it answer, with its own hardware address?",
                        ("It answers", "Nothing, or another"),
                        2,
                        [cause.id, f"power:{device.id}", *lan],
                    )
                )
                if lan:
                    made.append(
                        test(
                            "second-laptop",
                            device.id,
                            f"Put a laptop in the socket of {device.name}. Does it get an address, and reach the router?",
                            ("It does", "It does not"),
                            4,
                            lan,
                        )
                    )
            case "firewall":
                closed = _closed(case, causes, cause.link)
                made.append(
                    test(
                        "port",
                        cause.link,
                        f"Open {name} from a second laptop on the other side, with a player. Does it connect?",
                        ("It connects", "Refused, or it times out"),
                        3,
                        closed,
                    )
                )
            case "key":
                made.append(
                    test(
                        "account",
                        cause.link,
                        f"Compare key, name and login of {name} at both ends, and the event on its page. Are they today's?",
                        ("They match", "Something differs"),
                        3,
                        [cause.id],
                    )
                )
            case "line":
                made.append(
                    test(
                        "upload",
                        cause.id.partition(":")[2],
                        f"Measure the upload of {case.uplinks[cause.id.partition(':')[2]].name}, with RTT and loss. As it was measured before?",
                        ("As before", "Less, or it loses"),
                        2,
                        [cause.id],
                    )
                )
            case "service":
                made.append(
                    test(
                        "status",
                        device.id,
                        f"Look at the status page of {device.name}, from a phone on mobile data. In order?",
                        ("In order", "It is not"),
                        1,
                        [cause.id],
                    )
                )
            case "limit":
                made.append(
                    test(
                        "limit",
                        cause.id.partition(":")[2],
                        f"{cause.says.split(' has reached')[0]}: is there time, data and room left?",
                        ("There is", "Used up"),
                        1,
                        [cause.id],
                    )
                )
        if cause.family == "input" and (swap := _swapped(case, cause)):
            made.append(swap)
        for each in made:
            if each.id not in seen:
                seen.add(each.id)
                yield each


_NO_SETTING = ("hangs:", "handshake:")
"""The causes of inputs, outputs and streams that no page of settings shows."""


def _swapped(case: Case, cause: Cause) -> FaultTest | None:
    """A neighbour's lead put into this input; None where the device has no other input of the kind in use."""
    link = case.links[cause.link]
    if not isinstance(link, Cable):
        return None
    others = (
        c
        for c in case.cables
        if c.id != link.id
        and ends_of(c)[1] == cause.device
        and c.cable == link.cable
        and case.brings_picture(c)
    )
    other = next(others, None)
    if other is None:
        return None
    giver, taker = case.devices[ends_of(other)[0]], case.devices[cause.device]
    down = tuple(p.at for p in seen_pictures(case) if any(h.link == other.id for h in p.hops))
    return FaultTest(
        id=f"swap:{link.id}",
        kind="swap",
        says=f"Put the lead of {giver.name} into this input of {taker.name} for a moment. Does its picture show there?",
        answers=("It shows", "Dark too"),
        minutes=2,
        place=taker.place or "",
        device=taker.id,
        link=link.id,
        interrupts=down,
        bad_if=frozenset({cause.id, f"power:{taker.id}"}),
    )


def _closed(case: Case, causes: tuple[Cause, ...], link: str) -> list[str]:
    """The causes by which the listener of a stream does not answer: stopped on the way, not there, or not switched on."""
    stream = case.links[link]
    assert isinstance(stream, Stream)
    taker = case.devices[stream.to_device]
    asked = stream.protocol in ("ndi", "rtsp", "hls")
    listener = (
        case.devices[stream.from_device]
        if asked
        else taker
        if on_the_internet(taker)
        else call_of(case, stream).listener
    )
    there = {
        f"firewall:{link}",
        f"address:{listener.id}",
        f"interface:{listener.id}",
        f"power:{listener.id}",
        f"service:{listener.id}",
        *_lan_of(case, causes, listener.id),
    }
    if listener.id == stream.from_device:
        there.add(f"stream:{link}")
    return sorted(there & {c.id for c in causes})


def _lan_of(case: Case, causes: tuple[Cause, ...], device: str) -> list[str]:
    """The network cables at a device, and the switches that they lead to."""
    cables = lan_cables_at(case).get(device, ())
    near = {f"cable:{c.id}" for c in cables} | {
        f"power:{d}" for c in cables for d in ends_of(c) if d != device
    }
    return sorted(near & {c.id for c in causes})


def _sound_tests(case: Case, picture: SeenPicture, causes: tuple[Cause, ...]) -> Iterator[FaultTest]:
    for cause in causes:
        if cause.id.startswith("power:") or cause.id.endswith(":microphone"):
            device = case.devices[cause.device]
            yield FaultTest(id=f"meter:{device.id}", kind="meter", says=f"Does the output meter of {device.name} move with the sound?", answers=("It moves", "It lies still"), minutes=0.5, place=_place(case, device.id), device=device.id, bad_if=_by(causes, 0))  # fmt: skip
        if cause.family == "cable":
            device = case.devices[cause.device]
            yield FaultTest(id=f"headphones:{cause.link}", kind="headphones", says=f"Headphones on the line where it comes into {device.name}: is it clean?", answers=("Clean", "It is not"), minutes=2, place=_place(case, device.id), device=device.id, link=cause.link, bad_if=_by(causes, 2))  # fmt: skip
    for id in path_of_picture(picture):
        device = case.devices[id]
        if device.kind in MIXERS:
            yield FaultTest(id=f"meter:{id}", kind="meter", says=f"Does the program meter of {device.name} move on both sides, and is it clean in headphones?", answers=("Both, and clean", "It does not"), minutes=1, place=_place(case, id), device=id, bad_if=_by(causes, 4))  # fmt: skip


def _mend(case: Case, picture: SeenPicture, cause: Cause) -> FaultTest:
    """The mending of a cause: the picture comes back, or it was something else."""
    restarted = cause.device if cause.family == "power" else ""
    pulled = cause.link if cause.family == "cable" else ""
    return FaultTest(
        id=f"mend:{cause.id}",
        kind="mend",
        says=cause.mend,
        answers=("It is back", "Still not right"),
        minutes=cause.minutes,
        place=_place(case, cause.device),
        device=cause.device,
        link=cause.link,
        interrupts=_interrupted(case, picture, pulled, restarted, _streams_moved(case, cause)),
        mends=cause.id,
    )


_NETWORK_GEAR = ("router", "network-switch", "injector")


def _streams_moved(case: Case, cause: Cause) -> frozenset[str]:
    """The streams that stop for a moment where a device gets another address, or an uplink is changed."""
    if cause.family == "address":
        return frozenset(
            s.id for s in (*case.streams_from.get(cause.device, ()), *case.streams_to.get(cause.device, ()))
        )
    line = cause.id.partition(":")[2]
    if cause.family in ("line", "limit") and line in case.uplinks:
        return frozenset(
            s.id for s in case.streams if uplink_out(case, case.devices[s.from_device], s) == line
        )
    return frozenset()


def _interrupted(
    case: Case, picture: SeenPicture, link: str, device: str, moved: frozenset[str] = frozenset()
) -> tuple[str, ...]:
    """The pictures that a pulled link, a restarted device or moved streams take down, but for the one that is dark: those that come by
    it, and those that are sent on from there. What a mixer makes goes on without one of its sources."""
    dark = _streams_down(case, link, device) | moved
    start = (
        {ends_of(case.links[link])[1]}
        if link and link not in case.lan_cables
        else {device}
        if device
        else set()
    )
    reached = _reached_from(
        case, frozenset(d for d in start if d == device or case.devices[d].kind not in MIXERS)
    )
    by = pictures_by_part(case)
    hit = {p.id: p for part in (link, device, *dark) for p in by.get(part, ())}
    hit |= {p.id: p for d in reached for p in by.get(d, ()) if any(h.giver == d for h in p.hops)}
    hit.pop(picture.id, None)
    return tuple(p.at for p in sorted(hit.values(), key=lambda p: _order(case)[p.id]))


@analysis
def _order(case: Case) -> dict[str, int]:
    return {p.id: n for n, p in enumerate(seen_pictures(case))}


def _streams_down(case: Case, link: str, device: str) -> set[str]:
    """The streams that a pulled network cable or a restarted router or network switch takes down: those of the devices at it; of gear
    that others hang on, all of its site."""
    ends = set(ends_of(case.lan_cables[link])) if link in case.lan_cables else {device} if device else set()
    gear = {d for d in ends if case.devices[d].kind in _NETWORK_GEAR}
    if not gear or (link and len(gear) < len(ends)):
        down = ends - gear
    else:
        sites = {site.id for d in gear if (site := case.site_of(case.devices[d]))}
        down = {d for id in sites for d in _at_site(case).get(id, ())}
    if not link and not gear:
        return set()
    return {s.id for d in down for s in (*case.streams_from.get(d, ()), *case.streams_to.get(d, ()))}


@analysis
def _at_site(case: Case) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for device in case.devices.values():
        if site := case.site_of(device):
            found.setdefault(site.id, []).append(device.id)
    return found


def _reached_from(case: Case, start: frozenset[str]) -> set[str]:
    """The devices that a picture from these ones gets to, as far as no mixer makes another of it."""
    found, todo = set(start), list(start)
    while todo:
        for other in _onward(case).get(todo.pop(), ()):
            if other not in found and case.devices[other].kind not in MIXERS:
                found.add(other)
                todo.append(other)
    return found


@analysis
def _onward(case: Case) -> dict[str, set[str]]:
    found: dict[str, set[str]] = {}
    for link in case.links.values():
        if case.brings_picture(link):
            giver, taker = ends_of(link)
            found.setdefault(giver, set()).add(taker)
    return found
