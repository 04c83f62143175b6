"""Short typed lines, such as `slipway cam to encoder`, read as alternatives to choose from."""

import re
from collections.abc import Callable, Iterator
from itertools import chain, islice

from pydantic import ValidationError

from humble_relay.core.bonding.modems import modem_port
from humble_relay.core.catalogue.gear import Model, new_devices, stands_nowhere
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import ENDS, Carries, Device, Noun, Port
from humble_relay.core.plan.edits import SetField, added
from humble_relay.core.plan.edits.draft import plain_reason
from humble_relay.core.plan.stages import STAGES
from humble_relay.core.signal.finder.alternatives import find_routes, reroute
from humble_relay.core.signal.finder.plain_cables import plain_cables
from humble_relay.core.signal.finder.route import Route
from humble_relay.core.signal.finder.whole_show import patch_all, unpatched
from humble_relay.core.views.commands.brief_lines import asked_for, between_places, site_added
from humble_relay.core.views.commands.day_lines import happened, inputs_seen, numbers_seen
from humble_relay.core.views.commands.fault_lines import fault_begun
from humble_relay.core.views.commands.go_to import measuring, pages_named, papers_named, picked
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.commands.modem_lines import COUNTS, modems_added
from humble_relay.core.views.commands.naming import devices_called, fits, heads, is_address, named, respelt
from humble_relay.core.views.commands.quantities import number_in, rate_in
from humble_relay.core.views.commands.rearrange import (
    backed_up,
    broken,
    forwarded,
    measured,
    moved,
    places_said,
    renamed,
    swapped,
    taken_out,
)
from humble_relay.core.views.commands.set_things import muted, things_set
from humble_relay.core.views.commands.show_lines import show_said
from humble_relay.core.views.commands.troubles import troubled
from humble_relay.core.views.read_address import read_address
from humble_relay.core.views.ways import boxes_of

_MOST, _MOST_ADDED = 8, 50
_MIXERS, _RUNS = 3, 4
"""Of how many boxes and links of that name the ways are looked for: each is a search."""


_VERB = re.compile(r"^(?:send|show|find|go to|look at|select|open) ")
LineReading = Callable[[Case, str, str], Iterator[Alternative]]
"""A way to read a line: of the case, the line in small letters, and as it was typed."""
_READINGS: tuple[LineReading, ...] = (
    lambda case, text, line: _whole_names(case, text),
    lambda case, text, line: pages_named(case, text),
    lambda case, text, line: papers_named(case, text),
    lambda case, text, line: measuring(case, text),
    lambda case, text, line: happened(case, text),
    lambda case, text, line: inputs_seen(case, text),
    lambda case, text, line: numbers_seen(case, text),
    renamed,
    lambda case, text, line: taken_out(case, text),
    lambda case, text, line: muted(case, text),
    lambda case, text, line: forwarded(case, text),
    measured,
    lambda case, text, line: broken(case, text),
    lambda case, text, line: fault_begun(case, text),
    lambda case, text, line: troubled(case, text),
    site_added,
    asked_for,
    between_places,
    lambda case, text, line: swapped(case, text),
    places_said,
    lambda case, text, line: moved(case, text),
    show_said,
    lambda case, text, line: iter(_patch(case, text)),
    lambda case, text, line: _reroute(case, text),
    lambda case, text, line: modems_added(case, text),
    lambda case, text, line: backed_up(case, text),
    lambda case, text, line: _add(case, text),
    lambda case, text, line: _join(case, text),
    lambda case, text, line: iter(_bitrate(case, text, line)),
    lambda case, text, line: (picked(case, thing) for thing in named(case, text, _LOOKED_AT)),
    things_set,
    lambda case, text, line: (picked(case, thing) for thing in named(case, _VERB.sub("", text), _LOOKED_AT)),
)  # fmt: skip
"""Every way to read a line, the plainest first."""
_LOOKED_AT: tuple[Noun, ...] = ("device", "link", "uplink", "network", "place", "site", "router")
_VERBS = ("add", "remove", "rename", "move", "print", "measure", "undo", "redo", "restarted", "mute", "patch", "forward", *STAGES, "monitor", "camera", "latency", "gateway", "bitrate")  # fmt: skip


def read_command(case: Case, line: str) -> list[Alternative]:
    """What the line may mean, likeliest first; where it means nothing, why, and the nearest that does. Empty of an empty line. No more
    is worked out than is shown."""
    text = " ".join(line.lower().split())
    if not text:
        return []
    if ("://" in text and " " not in text) or is_address(text.split(":")[0].split("/")[0]):
        return list(_address(case, line))
    if found := _read(case, text, line):
        return found
    if bought := list(islice(_add(case, f"add {text}"), _MOST)):
        return bought
    nearer = respelt(case, text, _VERBS)
    if nearer and (found := _read(case, nearer, nearer)):
        return found
    return [_not_understood(case, text)]


def _whole_names(case: Case, text: str) -> Iterator[Alternative]:
    """What is called just so."""
    for words in dict.fromkeys((text, _VERB.sub("", text))):
        for thing in named(case, words, _LOOKED_AT):
            if thing.name.lower() == words:
                yield picked(case, thing)


def _taken(reading: LineReading, case: Case, text: str, line: str) -> Iterator[Alternative]:
    """What a reading says; of what no plan can hold (a name too long, a rate too high) why not."""
    try:
        yield from reading(case, text, line)
    except ValidationError as error:
        yield Alternative(title=plain_reason(error))


def _read(case: Case, text: str, line: str) -> list[Alternative]:
    """The likeliest meanings, no title twice."""
    seen = set[str]()
    fresh = (a for a in _meanings(case, text, line) if not (a.title in seen or seen.add(a.title)))  # type: ignore[func-returns-value]
    return list(islice(fresh, _MOST))


def _meanings(case: Case, text: str, line: str) -> Iterator[Alternative]:
    """Every meaning, the plainest first; each is worked out when it is asked for."""
    return chain.from_iterable(_taken(reading, case, text, line) for reading in _READINGS)


def _not_understood(case: Case, text: str) -> Alternative:
    """Which word means nothing here, and of which thing the rest is said; else what can be said."""
    things = [t for found, _ in heads(case, text, _LOOKED_AT) for t in found][:1]
    if things:
        rest = text.split()[len(text.split()) - 1]
        why = f'{things[0].name} is understood, "{rest}" is not: no field of it takes that. Its fields are in the pane'
        return picked(case, things[0], why)
    ends = re.fullmatch(r"(.+?) (?:to|into) (.+)", text)
    known = [devices_called(case, end)[:1] for end in ends.groups()] if ends else []
    for (there, other), word in zip((known, known[::-1]), ends.groups()[::-1] if ends else (), strict=False):
        if there and not other:
            title = (
                f'{there[0].name} is here; nothing is called "{word[:60]}". Add it first: "add {word[:60]}"'
            )
            return Alternative(title=title, pick=f"device:{there[0].id}")
    device = next((d.name.lower() for d in case.devices.values()), "camera")
    return Alternative(
        title=f'Nothing in this plan is called "{text[:60]}". Say a thing and its value ("{device} dhcp"), two devices ("{device} to …"), '
        "a page, or a verb: add, remove, rename, move, mute, print, measure, patch"
    )


def _address(case: Case, line: str) -> Iterator[Alternative]:
    """`srt://203.0.113.20:9000`: what the address says, and the stage where it is typed."""
    read = read_address(case, line)
    said = [read.wrong or "", *(f"{at.about.lower()} {at.says}" for at in read.lines)]
    yield Alternative(title=f"{read.shown}: {'; '.join(filter(None, said))}"[:300], go="addresses")


def command_examples(case: Case) -> list[str]:
    """Lines that mean something for this plan as it stands, one of each kind that does."""
    devices = list(case.devices.values())
    loose = [case.devices[id] for id in unpatched(case)]
    mixers = [d for d in devices if d.kind == "switcher"]
    ends = mixers or [d for d in devices if d.decoding or d.encoding or d.kind in ENDS]
    joined = [(a, b) for a in loose[:1] for b in ends[:1] if find_routes(case, a.id, b.id, most=1).routes]
    searched = [
        *(f"{_short(case, a)} to {_short(case, b)}" for a, b in joined),
        *(["patch all"] if joined and mixers else []),
        *(
            f"re-route {_short(case, case.device_of(x.from_port))}"
            for x in case.joins[:1]
            if reroute(case, x.id, most=1).routes
        ),
    ]
    """What is answered by a search: whether there is a way is asked here, not which are the best."""
    read = [
        *(f"{s.name.lower()} 5.5 mb" for s in case.streams[:1]),
        *(
            f"{_short(case, d)} 192.168.20.14"
            for d in devices
            if d.kind == "switcher"
            for p in d.ports[-1:]
            if p.interface
        ),
        *(f"add monitor at {p.name.lower()}" for p in list(case.places.values())[-1:]),
        *(
            f"add 2 modems to {_short(case, d)}"
            for d in [d for d in devices if modem_port(d) and d.kind == "encoder"][:1]
        ),
        "add camera",
        "go bandwidth",
        "undo",
        "help",
    ]
    meant = (
        line
        for line in read
        for first in islice(_meanings(case, line, line), 1)
        if first.edits or first.go or first.do
    )
    return [*searched, *meant][:7]


def _short(case: Case, device: Device) -> str:
    """The device as one would type it: as few of its first words as name it alone, or its whole name."""
    words = device.name.lower().split()
    some = (" ".join(words[:n]) for n in range(1, len(words)))
    return next((w for w in some if devices_called(case, w) == [device]), device.name.lower())


_PROMPT_MS = 150
"""A way that takes longer is offered after those that do not, in ms: what a cut between cameras shows."""


def _join(case: Case, text: str) -> Iterator[Alternative]:
    """`slipway cam to switcher 3`: the ways from one to the other, to that input where one is named."""
    match = re.fullmatch(
        r"(?:get |patch |connect |plug |send |route )?(.+?) (?:to|into|>|→) (.+?)(?: (\d+(?:\.\d+)?) ?m)?",
        text,
    )
    if not match:
        return
    length = float(match.group(3)) if match.group(3) else None
    carries = next((c for c in _PICTURES if match.group(1).endswith(f" {c}")), None)
    for a in devices_called(case, match.group(1).removesuffix(f" {carries}")):
        for b, port in _with_port(case, match.group(2)):
            if a.id == b.id:
                continue
            end = f"{b.id}/{port.id}" if port else b.id
            found = find_routes(case, a.id, end, carries, length)
            routes = sorted(found.routes, key=lambda r: _preferred(case, r))
            for route in routes:
                _, to_get = boxes_of(case, route)
                brings = f" (to get: {', '.join(to_get)})" if to_get else ""
                title = f"{a.name} to {b.name}: {route.title}, {route.delay_ms:g} ms{brings}"
                yield Alternative(title=title, edits=route.edits, to_get=to_get)
            for joint in plain_cables(case, a.id, b.id, length):
                no_picture = ", no picture" if routes else ""
                yield Alternative(title=f"{a.name} to {b.name}: {joint.title}{no_picture}", edits=joint.edits)
            if found.why_not:
                yield Alternative(title=f"{a.name} to {b.name}: {found.why_not}", pick=f"device:{b.id}")


def _preferred(case: Case, route: Route) -> tuple[bool, bool, int, float]:
    """What is owned before what is bought, what is prompt before what is late, fewer devices first, then less effort."""
    return bool(boxes_of(case, route)[1]), route.delay_ms > _PROMPT_MS, len(route.boxes), route.effort


def _patch(case: Case, text: str) -> list[Alternative]:
    """`patch all to switcher`: every source that goes nowhere, each to the input that suits it."""
    match = re.fullmatch(r"patch (?:all|all cameras|cameras|everything)(?: to (.+))?", text)
    if not match:
        return []
    mixers = [d for d in case.devices.values() if d.kind == "switcher" and fits(match.group(1) or "", d.name)]
    found = []
    for mixer in mixers[:_MIXERS]:
        patch = patch_all(case, mixer.id)
        if patch.edits:
            routes = [line.route for line in patch.lines if line.route]
            words = [f"{x.words}, {x.route.short}" if x.route else x.words for x in patch.lines]
            brought = [boxes_of(case, route) for route in routes]
            uses, to_get = (tuple(dict.fromkeys(m for b in brought for m in b[n])) for n in (0, 1))
            told = [
                *words,
                *([patch.left] if patch.left else []),
                *([f"uses {', '.join(uses)}"] if uses else []),
                *([f"to get: {', '.join(to_get)}"] if to_get else []),
            ]
            found.append(
                Alternative(
                    title=f"Patch to {mixer.name}: {'; '.join(told)}", edits=patch.edits, to_get=to_get
                )
            )
    return found


def _reroute(case: Case, text: str) -> Iterator[Alternative]:
    """`re-route slipway`: other ways for the links that touch a device of that name."""
    match = re.fullmatch(r"re-?route (.+)", text)
    if not match:
        return
    links = (
        id
        for id, link in case.links.items()
        if case.brings_picture(link) and fits(match.group(1), case.link_name(id))
    )
    for id in islice(links, _RUNS):
        for route in reroute(case, id).routes[:2]:
            title = f"Instead of {case.link_name(id)}: {route.title}, {route.delay_ms:g} ms"
            yield Alternative(title=title, edits=route.edits)


_PICTURES: tuple[Carries, ...] = ("program", "multi-view", "clean")


def _with_port(case: Case, words: str) -> list[tuple[Device, Port | None]]:
    """The devices the words name, with the input where the last word is one: `switcher 3`, `switcher in-3`."""
    found: list[tuple[Device, Port | None]] = [(d, None) for d in devices_called(case, words)]
    head, _, last = words.rpartition(" ")
    if found or not head:
        return found
    for device in devices_called(case, head.removesuffix(" input").removesuffix(" in")):
        found += [(device, p) for p in device.ports if p.way == "in" and last in (p.id, p.id.split("-")[-1])]
    return found


def _bitrate(case: Case, text: str, line: str) -> list[Alternative]:
    """`20mbit`: of every stream, each by itself."""
    value = rate_in(line.strip().removeprefix("bitrate "))
    if value is None or value <= 0 or number_in(text) is not None:
        return []
    return [
        Alternative(
            title=f"{s.name}: video bitrate {s.video_mbps:g} → {value:g} Mb/s",
            edits=(SetField(noun="link", id=s.id, field="video_mbps", value=value),),
        )
        for s in case.streams
    ]


def _add(case: Case, text: str) -> Iterator[Alternative]:
    """`add 3 monitors at boathouse`: of each model of that kind, those that are called so first."""
    match = re.fullmatch(
        r"(?:(?:add|new|buy|get) )?(?:(an?|one|two|three|four|five|six|\d{1,2}) )?(.+?)(?: (?:at|in) (.+))?",
        text,
    )
    verb = text.split()[0] in ("add", "new", "buy", "get")
    if not match or not (verb or (match.group(1) and len(match.group(2)) > 3)):
        return
    typed = match.group(1) or ""
    count = int(typed) if typed.isdecimal() else COUNTS.get(typed.removesuffix("n"), 1)
    what = match.group(2)
    words = [what, what.removesuffix("s")] if count > 1 else [what]
    place = next(
        (p.id for p in case.places.values() if match.group(3) and fits(match.group(3), p.name)), None
    )
    at = f" at {case.places[place].name}" if place else ""
    every = list(case.models.values())
    models = [m for m in every if any(fits(w, m.found_by) for w in words)]
    if not models:  # `a phone as backup`, `a backup phone`
        words = [_AS_BACKUP.sub("", what).strip()]
        models = [m for m in every if words[0] and fits(words[0], m.found_by)]
    for model in sorted(models, key=lambda m: _unlike(m, words)) if 0 < count <= _MOST_ADDED else ():
        name = f"{count} {model.device.name}" if count > 1 else f"a {model.device.name}"
        where = ", on the internet" if stands_nowhere(model.device) else at
        edits = tuple(added(d) for d in new_devices(case.devices.values(), [(model, count)], place))
        yield Alternative(title=f"Add {name}{where}", edits=edits)


_AS_BACKUP = re.compile(r" as .*|\b(?:backup|spare|failover|second)\b")


def _unlike(model: Model, words: list[str]) -> tuple[bool, bool, bool]:
    """Whether a model is not such a thing by the last words of its name, not called so at all, nor of a kind that is."""
    name, kind = model.device.name.lower(), model.device.kind.replace("-", " ")
    return (
        not any(name.endswith(w) for w in words),
        not any(fits(w, name) for w in words),
        not any(fits(w, kind) for w in words),
    )
