"""What is typed on the day: `restarted pebble`; the inputs of a mixer whose pictures were seen, `1 2 3 5 seen`; and the numbers of the set-up
list, as they are ticked on paper."""

import re
from collections.abc import Iterator

from humble_relay.core.catalogue.words import LOSS_WORDS
from humble_relay.core.judging.case import Case
from humble_relay.core.log.entries import SeenStep, SettingsLost, SetupSeen
from humble_relay.core.plan.setup_kinds import SettingLoss
from humble_relay.core.setup.numbered import Confirmation, numbered_confirmations
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.commands.naming import named

_HAPPENED: dict[str, SettingLoss] = {
    "restarted": "power-off", "rebooted": "power-off", "power cycled": "power-off", "power-cycled": "power-off", "switched off": "power-off",
    "reset": "reset", "factory reset": "reset", "updated": "firmware", "replugged": "reconnecting", "reconnected": "reconnecting", "lent": "away", "lent out": "away",
}  # fmt: skip
_ONE = r"\d{1,4}(?:\s?(?:-|to)\s?\d{1,4})?"
_NUMBERS = re.compile(rf"(?:seen\s)?(?:inputs?\s)?({_ONE}(?:[\s,]+{_ONE})*)(?:\s?seen)?")
_INPUT = re.compile(r"(\d+)$")
_MOST = 500
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


def inputs_seen(case: Case, text: str) -> Iterator[Alternative]:
    """`1 2 3 5 seen`: the pictures at these inputs, of each mixer on which there are pictures at all of them."""
    numbers = _numbers(text)
    for device in case.devices.values() if numbers else ():
        at = {}
        for line in numbered_confirmations(case):
            port = case.ports.get(line.id)
            if line.picture and line.device == device.id and port and (found := _INPUT.search(port.name)):
                at[int(found[1])] = line
        if at.keys() >= set(numbers):
            yield _seen([at[n] for n in numbers])


def numbers_seen(case: Case, text: str) -> Iterator[Alternative]:
    """`1 2 5-8 seen`: the lines of the set-up list with these numbers, as they are ticked on paper."""
    numbers = _numbers(text)
    lines = {c.number: c for c in numbered_confirmations(case)}
    unknown = [n for n in numbers if n not in lines]
    if unknown:
        title = f"The set-up list has no number {unknown[0]}: it goes to {len(lines)}"
        yield Alternative(title=title, go="set-up")
    elif numbers:
        yield _seen([lines[n] for n in numbers], "On the list, ")


def _numbers(text: str) -> list[int]:
    """The numbers of a line that says that they were seen, each once; none of any other line."""
    if "seen" not in text.split() or not (found := _NUMBERS.fullmatch(text)):
        return []
    ranges = ((int(a), int(b or a)) for a, b in _RANGE.findall(found[1]))
    return list(dict.fromkeys(n for a, b in ranges for n in range(a, min(b, a + _MOST) + 1)))


def _seen(lines: list[Confirmation], on: str = "") -> Alternative:
    seen = tuple(
        SetupSeen(
            device=line.device,
            picture=line.picture,
            steps=tuple(SeenStep(step=id, stamp=stamp) for id, stamp in line.steps),
        )
        for line in lines
    )
    said = "; ".join(line.says for line in lines)
    return Alternative(title=f"{on}seen: {said}"[:1].upper() + f"{on}seen: {said}"[1:300], seen=seen, go="set-up")  # fmt: skip
