"""What is typed on the day: `restarted pebble`, and the numbers of the set-up list that were seen: `1 2 5-8 seen`."""

import re
from collections.abc import Iterator

from humble_relay.core.catalogue.words import LOSS_WORDS
from humble_relay.core.judging.case import Case
from humble_relay.core.log.entries import SeenStep, SettingsLost, SetupSeen
from humble_relay.core.plan.setup_kinds import SettingLoss
from humble_relay.core.setup.numbered import numbered_confirmations
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.commands.naming import named

_HAPPENED: dict[str, SettingLoss] = {
    "restarted": "power-off", "rebooted": "power-off", "power cycled": "power-off", "power-cycled": "power-off", "switched off": "power-off",
    "reset": "reset", "factory reset": "reset", "updated": "firmware", "replugged": "reconnecting", "reconnected": "reconnecting",
}  # fmt: skip
_NUMBERS = re.compile(r"(?:seen\s+)?((?:\d+(?:\s*(?:-|to)\s*\d+)?[\s,]*)+)(?:seen|ok|done)?")
_RANGE = re.compile(r"(\d+)(?:\s*(?:-|to)\s*(\d+))?")


def happened(case: Case, text: str) -> Iterator[Alternative]:
    """`restarted pebble`: what it may have lost by that is open again."""
    for verb, how in _HAPPENED.items():
        if not text.startswith(f"{verb} "):
            continue
        for device in named(case, text.removeprefix(f"{verb} "), ("device",)):
            title = f"{device.name}: {LOSS_WORDS[how]}. What it loses by that is to be seen again"
            yield Alternative(
                title=title, lost=SettingsLost(device=device.id, how=how), pick=f"device:{device.id}"
            )


def numbers_seen(case: Case, text: str) -> Iterator[Alternative]:
    """`1 2 5-8 seen`: the lines of the set-up list with these numbers, as they are ticked on paper."""
    if "seen" not in text.split() or not (found := _NUMBERS.fullmatch(text)):
        return
    lines = {c.number: c for c in numbered_confirmations(case)}
    numbers = [
        n for a, b in _RANGE.findall(found[1]) for n in range(int(a), min(int(b or a), int(a) + 500) + 1)
    ]
    unknown = [n for n in numbers if n not in lines]
    if unknown:
        yield Alternative(
            title=f"The set-up list has no number {unknown[0]}: it goes to {len(lines)}", go="set-up"
        )
        return
    seen = tuple(
        SetupSeen(
            device=c.device,
            picture=c.picture,
            steps=tuple(SeenStep(step=id, stamp=stamp) for id, stamp in c.steps),
        )
        for c in (lines[n] for n in dict.fromkeys(numbers))
    )
    said = "; ".join(lines[n].says for n in dict.fromkeys(numbers))
    yield Alternative(title=f"Seen: {said}"[:300], seen=seen, go="set-up")
