"""Short typed lines, such as `slipway cam to encoder`, read as alternatives to choose from."""

import re
from collections.abc import Iterator
from itertools import chain, islice
from typing import Literal

from humble_relay.core.addressing.hosts import address_in
from humble_relay.core.bonding.modems import modem_port, with_modems
from humble_relay.core.catalogue.gear import new_devices
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import ENDS, Carries, Device, Port
from humble_relay.core.plan.edits import Edit, SetField, added
from humble_relay.core.plan.stages import STAGES, Stage
from humble_relay.core.signal.finder.alternatives import find_routes, reroute
from humble_relay.core.signal.finder.plain_cables import plain_cables
from humble_relay.core.signal.finder.whole_show import patch_all, unpatched
from humble_relay.core.views.read_address import read_address
from humble_relay.core.views.ways import boxes_of

_MOST, _MOST_MODEMS = 8, 8
_MIXERS, _RUNS = 3, 4
"""Of how many boxes and links of that name the ways are looked for: each is a search."""


Action = Literal["undo", "redo", "history", "keys"]
_ACTIONS: dict[Action, tuple[str, tuple[str, ...]]] = {
    "undo": ("Undo the last change", ("undo", "back")),
    "redo": ("Do the undone change again", ("redo", "again")),
    "history": ("Show every change so far", ("history", "changes")),
    "keys": ("Show the keys of the page, and what can be typed here", ("help", "keys", "?")),
}
"""What a page can do, with the words that mean it."""


class Alternative(Frozen):
    """One thing the line may mean: edits to make, a stage to open, or something to do. Nothing is done until it is
    chosen."""

    title: str
    edits: tuple[Edit, ...] = ()
    go: Stage | None = None
    do: Action | None = None


def read_command(case: Case, line: str) -> list[Alternative]:
    """What the line may mean, likeliest first; empty when it means nothing. No more is worked out than is shown."""
    text = " ".join(line.lower().split())
    if not text:
        return []
    stages = (
        Alternative(title=f"Open {s.capitalize()}", go=s)
        for s in STAGES
        if s.startswith(text.removeprefix("go "))
    )
    actions = (
        Alternative(title=title, do=action)
        for action, (title, words) in _ACTIONS.items()
        if any(word.startswith(text) for word in words)
    )
    if "://" in text or address_in(text.split(":")[0].split("/")[0]):
        return list(_address(case, line))
    ways = (_patch(case, text), _reroute(case, text), _join(case, text))
    return list(
        islice(
            chain(actions, stages, *ways, _bitrate(case, text), _modems(case, text), _add(case, text)), _MOST
        )
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
    made = [
        *(f"{_short(case, a)} to {_short(case, b)}" for a in loose[:1] for b in ends[:1]),
        *(["patch all"] if loose and mixers else []),
        *(f"re-route {_short(case, case.device_of(x.from_port))}" for x in case.joins[:1]),
        *(f"{s.name.lower()} 5.5 mb" for s in case.streams[:1]),
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
    return [line for line in made if read_command(case, line)][:7]


def _short(case: Case, device: Device) -> str:
    """The device as one would type it: as few of its first words as name it alone, or its whole name."""
    words = device.name.lower().split()
    some = (" ".join(words[:n]) for n in range(1, len(words)))
    return next((w for w in some if _matching(case, w) == [device]), device.name.lower())


def _join(case: Case, text: str) -> Iterator[Alternative]:
    """`slipway cam to switcher 3`: the ways from one to the other, to that input where one is named."""
    match = re.fullmatch(r"(?:get |patch )?(.+?) (?:to|>|→) (.+?)(?: (\d+(?:\.\d+)?) ?m)?", text)
    if not match:
        return
    length = float(match.group(3)) if match.group(3) else None
    carries = next((c for c in _PICTURES if match.group(1).endswith(f" {c}")), None)
    for a in _matching(case, match.group(1).removesuffix(f" {carries}")):
        for b, port in _with_port(case, match.group(2)):
            if a.id == b.id:
                continue
            for joint in plain_cables(case, a.id, b.id, length):
                yield Alternative(title=f"{a.name} to {b.name}: {joint.title}", edits=joint.edits)
            end = f"{b.id}/{port.id}" if port else b.id
            for route in find_routes(case, a.id, end, carries, length).routes:
                _, to_get = boxes_of(case, route)
                brings = f" (to get: {', '.join(to_get)})" if to_get else ""
                title = f"{a.name} to {b.name}: {route.title}, {route.delay_ms:g} ms{brings}"
                yield Alternative(title=title, edits=route.edits)


def _patch(case: Case, text: str) -> list[Alternative]:
    """`patch all to switcher`: every source that goes nowhere, each to the input that suits it."""
    match = re.fullmatch(r"patch (?:all|all cameras|cameras|everything)(?: to (.+))?", text)
    if not match:
        return []
    mixers = [
        d for d in case.devices.values() if d.kind == "switcher" and _fits(match.group(1) or "", d.name)
    ]
    found = []
    for mixer in mixers[:_MIXERS]:
        patch = patch_all(case, mixer.id)
        if patch.edits:
            words = [line.words for line in patch.lines] + [patch.left] * bool(patch.left)
            title = f"Patch to {mixer.name}: {'; '.join(words)}"
            found.append(Alternative(title=title, edits=patch.edits))
    return found


def _reroute(case: Case, text: str) -> Iterator[Alternative]:
    """`re-route slipway`: other ways for the links that touch a device of that name."""
    match = re.fullmatch(r"re-?route (.+)", text)
    if not match:
        return
    links = (
        id
        for id, link in case.links.items()
        if case.brings_picture(link) and _fits(match.group(1), case.link_name(id))
    )
    for id in islice(links, _RUNS):
        for route in reroute(case, id).routes[:2]:
            title = f"Instead of {case.link_name(id)}: {route.title}, {route.delay_ms:g} ms"
            yield Alternative(title=title, edits=route.edits)


_PICTURES: tuple[Carries, ...] = ("program", "multi-view", "clean")


def _with_port(case: Case, words: str) -> list[tuple[Device, Port | None]]:
    """The devices the words name, with the input where the last word is one: `switcher 3`, `switcher in-3`."""
    found: list[tuple[Device, Port | None]] = [(d, None) for d in _matching(case, words)]
    head, _, last = words.rpartition(" ")
    if found or not head:
        return found
    for device in _matching(case, head.removesuffix(" input").removesuffix(" in")):
        found += [(device, p) for p in device.ports if p.way == "in" and last in (p.id, p.id.split("-")[-1])]
    return found


def _bitrate(case: Case, text: str) -> list[Alternative]:
    match = re.fullmatch(r"(?:(.+?) )?(\d+(?:[.,]\d+)?) ?(kb|mb|gb)(?:ps|/s|it/s)?", text)
    if not match:
        return []
    value = float(match.group(2).replace(",", ".")) * {"kb": 0.001, "mb": 1, "gb": 1000}[match.group(3)]
    words = match.group(1) or ""
    return [
        Alternative(
            title=f"{s.name}: video bitrate {s.video_mbps:g} → {value:g} Mb/s",
            edits=(SetField(noun="link", id=s.id, field="video_mbps", value=value),),
        )
        for s in case.streams
        if value > 0 and _fits(words.removesuffix("bitrate").strip(), s.name)
    ]


_COUNTS = {"": 1, "a": 1, "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6}


def _modems(case: Case, text: str) -> Iterator[Alternative]:
    """`add 3 modems of fenside and marram to field encoder`: the lines, and the bond that joins them."""
    match = re.fullmatch(r"add (?:(\w+) )?modems?(?: (?:of|by|with) (.+?))? (?:to|in|into) (.+)", text)
    if not match:
        return
    typed = match.group(1) or ""
    count = int(typed) if typed.isdecimal() else _COUNTS.get(typed, 0)
    carriers = [c.strip().title() for c in re.split(r",| and ", match.group(2) or "") if c.strip()] or [""]
    for device in _matching(case, match.group(3)):
        if modem_port(device) and not 0 < count <= _MOST_MODEMS:
            yield Alternative(
                title=f"{device.name} takes 1 to {_MOST_MODEMS} modems, not {typed}", go="survey"
            )
            continue
        try:
            edits = with_modems(case, device, [carriers[n % len(carriers)] for n in range(count)])
        except ValueError as why:
            yield Alternative(title=f"{why}", go="gear")
            continue
        bond = any(
            getattr(e, "field", "") == "parts" or getattr(getattr(e, "item", None), "parts", ())
            for e in edits
        )
        what = f"{count} modem{'s' * (count > 1)}"
        cards = "and asks for the card of each" if count > 1 else "and asks for its card"
        yield Alternative(
            title=f"Put {what} into {device.name}{', bonded to one line' if bond else ''}, {cards}",
            edits=edits,
        )


def _add(case: Case, text: str) -> list[Alternative]:
    if not text.startswith("add "):
        return []
    what, _, where = text.removeprefix("add ").partition(" at ")
    place = next((p.id for p in case.places.values() if where and _fits(where, p.name)), None)
    at = f" at {case.places[place].name}" if place else ""
    return [
        Alternative(
            title=f"Add a {model.device.name}{at}",
            edits=tuple(added(d) for d in new_devices(case.devices.values(), [(model, 1)], place)),
        )
        for model in case.models.values()
        if _fits(what, model.found_by)
    ]


def _matching(case: Case, words: str) -> list[Device]:
    """Devices whose name has all the words, each as the beginning of one of its own."""
    return [d for d in case.devices.values() if _fits(words, d.name)][:4]


def _fits(words: str, name: str) -> bool:
    parts = re.split(r"[\s-]+", name.lower())
    return all(any(part.startswith(word) for part in parts) for word in words.split())
