"""What is confirmed by one hand, numbered as on the printed list: a picture, or all that no picture shows of one device."""

from typing import NamedTuple

from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.places.walking import walking_order
from humble_relay.core.setup.day import picture_id
from humble_relay.core.setup.seen_pictures import seen_pictures
from humble_relay.core.setup.setup_list import setup_list, steps_by_device


class Confirmation(NamedTuple):
    """A line to tick: where it is ticked, and the steps that are confirmed by it, each with its stamp."""

    number: int
    device: str
    place: str
    picture: bool
    id: str
    """Of a picture its own, else the device's."""
    says: str
    steps: tuple[tuple[str, str], ...]


@analysis
def shown_by_pictures(case: Case) -> frozenset[str]:
    """The steps that some picture shows."""
    return frozenset(id for p in seen_pictures(case) for id in p.proves)


@analysis
def numbered_confirmations(case: Case) -> tuple[Confirmation, ...]:
    """Every line of the set-up list: place by place in walking order, in each what is set before what is looked at."""
    at = {place: n for n, (place, _) in enumerate(walking_order(case))}
    shown, stamps = shown_by_pictures(case), {s.id: s.stamp for s in setup_list(case)}
    found = []
    for device, steps in steps_by_device(case).items():
        silent = tuple((s.id, s.stamp) for s in steps if s.id not in shown)
        if silent:
            says = ", ".join(dict.fromkeys(s.says for s in steps if s.id not in shown))
            found.append((device, False, device, f"{case.devices[device].name}: {says}", silent))
    for picture in seen_pictures(case):
        proven = ((picture_id(picture), picture.stamp), *((id, stamps[id]) for id in picture.proves))
        found.append((picture.device, True, picture.id, f"Picture at {picture.at}", proven))
    place = {d.id: d.place or "" for d in case.devices.values()}
    found.sort(key=lambda line: (at.get(place[line[0]], len(at)), line[1]))
    return tuple(
        Confirmation(n, device, place[device], picture, id, says, steps)
        for n, (device, picture, id, says, steps) in enumerate(found, 1)
    )
