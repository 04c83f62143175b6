"""What the logs of other shows say of the very boxes that this one uses: what lasts is carried over to it."""

from collections.abc import Iterable, Iterator
from datetime import UTC, datetime, time
from typing import NamedTuple

from humble_relay.core.judging.case import Case
from humble_relay.core.log.entries import AnyEntry, LostEntry, SeenEntry, SettingsLost, SetupSeen

ELSEWHERE = "another show"
"""Who saw what is carried over."""


class ItemEntry(NamedTuple):
    """An entry of another show's log about one item, which was `device` there."""

    model: str
    item: str
    device: str
    entry: SeenEntry | LostEntry


def items_named(case: Case) -> dict[tuple[str, str], str]:
    """The devices that say which box they are, by its model and its label. Two that say the same are neither."""
    found: dict[tuple[str, str], str] = {}
    twice = set()
    for device in case.devices.values():
        key = (device.model, device.item)
        if device.item:
            twice |= {key} & found.keys()
            found[key] = device.id
    return {key: id for key, id in found.items() if key not in twice}


def seen_elsewhere(case: Case, entries: Iterable[ItemEntry]) -> list[AnyEntry]:
    """The entries as this show's own, of the devices that they are of here: settings, never pictures. What came before an item was
    last in our hands again is lost."""
    here = items_named(case)
    found = list(_away(case, here))
    for n, (model, item, there, entry) in enumerate(entries):
        device = here.get((model, item))
        if device is None or entry.at is None:
            continue
        told = {"id": f"carried-{n}", "at": entry.at, "role": ELSEWHERE}
        if isinstance(entry, LostEntry):
            found.append(LostEntry(**told, body=SettingsLost(device=device, how=entry.body.how)))
            continue
        steps = tuple(
            step.model_copy(update={"step": device + step.step.removeprefix(there)})
            for step in entry.body.steps
            if step.step.startswith(f"{there}:")
        )
        if steps:
            body = SetupSeen(device=device, steps=steps, picture=entry.body.picture, right=entry.body.right)
            found.append(SeenEntry(**told, body=body))
    return found


def _away(case: Case, here: dict[tuple[str, str], str]) -> Iterator[AnyEntry]:
    for holding in case.stock.holdings:
        for item in holding.items:
            if item.since and (device := here.get((holding.model, item.label))):
                at = datetime.combine(item.since, time(), case.plan.show.clock or UTC)
                yield LostEntry(id=f"away-{device}", at=at, body=SettingsLost(device=device, how="away"))
