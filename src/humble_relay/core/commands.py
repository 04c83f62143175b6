"""Short typed lines, such as `slipway cam to encoder`, read as alternatives to choose from."""

import re

from humble_relay.core.edits import AddDevice, Edit, SetField
from humble_relay.core.findings import STAGES, Stage
from humble_relay.core.frozen import Frozen
from humble_relay.core.gear import free_id, from_library, library
from humble_relay.core.index import PlanIndex
from humble_relay.core.plan import Device
from humble_relay.core.signal.connect import joints

_MOST = 8


class Alternative(Frozen):
    """One thing the line may mean: edits to make, or a stage to open. Nothing is done until it is chosen."""

    title: str
    edits: tuple[Edit, ...] = ()
    go: Stage | None = None


def read_command(plan: PlanIndex, line: str) -> list[Alternative]:
    """What the line may mean, likeliest first; empty when it means nothing."""
    text = " ".join(line.lower().split())
    found: list[Alternative] = []
    if not text:
        return found
    found += [
        Alternative(title=f"Open {s.capitalize()}", go=s)
        for s in STAGES
        if s.startswith(text.removeprefix("go "))
    ]
    found += _join(plan, text)
    found += _bitrate(plan, text)
    found += _add(plan, text)
    return found[:_MOST]


def _join(plan: PlanIndex, text: str) -> list[Alternative]:
    match = re.fullmatch(r"(.+?) (?:to|>|→) (.+?)(?: (\d+(?:\.\d+)?) ?m)?", text)
    if not match:
        return []
    length = float(match.group(3)) if match.group(3) else None
    return [
        Alternative(title=f"{a.name} to {b.name}: {joint.title}", edits=joint.edits)
        for a in _matching(plan, match.group(1))
        for b in _matching(plan, match.group(2))
        if a.id != b.id
        for joint in joints(plan, a.id, b.id, length)
    ]


def _bitrate(plan: PlanIndex, text: str) -> list[Alternative]:
    match = re.fullmatch(r"(?:(.+?) )?(\d+(?:[.,]\d+)?) ?(?:mb|mbps|mb/s|mbit/s)", text)
    if not match:
        return []
    value, words = float(match.group(2).replace(",", ".")), match.group(1) or ""
    return [
        Alternative(
            title=f"{s.name}: video bitrate {s.video_mbps:g} → {value:g} Mb/s",
            edits=(SetField(noun="link", id=s.id, field="video_mbps", value=value),),
        )
        for s in plan.streams
        if value > 0 and _fits(words.removesuffix("bitrate").strip(), s.name)
    ]


def _add(plan: PlanIndex, text: str) -> list[Alternative]:
    if not text.startswith("add "):
        return []
    what, _, where = text.removeprefix("add ").partition(" at ")
    place = next((p.id for p in plan.places.values() if where and _fits(where, p.name)), None)
    at = f" at {plan.places[place].name}" if place else ""
    return [
        Alternative(
            title=f"Add a {model.device.name}{at}",
            edits=(AddDevice(item=from_library(id, free_id(id, plan.devices), place)),),
        )
        for id, model in library().items()
        if _fits(what, f"{model.device.name} {model.device.kind} {id}")
    ]


def _matching(plan: PlanIndex, words: str) -> list[Device]:
    """Devices whose name has all the words, each as the beginning of one of its own."""
    return [d for d in plan.devices.values() if _fits(words, d.name)][:4]


def _fits(words: str, name: str) -> bool:
    parts = re.split(r"[\s-]+", name.lower())
    return all(any(part.startswith(word) for part in parts) for word in words.split())
