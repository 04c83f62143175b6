"""What feeds each box, and whether that lasts as long as the show."""

import math
from collections.abc import Iterator
from typing import Literal, NamedTuple

from humble_relay.core.brief.on_air import in_use
from humble_relay.core.brief.times import end_not_known
from humble_relay.core.judging.answer import (
    HOLDS,
    YES_NO,
    Choice,
    DependsOn,
    Numbers,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    fails,
    waits,
    wants,
)
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.lan.sockets import fed_by_network
from humble_relay.core.plan import Device, Show
from humble_relay.core.plan.vocabulary import ends_of
from humble_relay.core.power.over_ethernet import at_the_device_w

_FEEDS = (
    Choice(value=["mains"], words="mains"),
    Choice(value=["poe"], words="its network cable"),
    Choice(value=["battery"], words="a battery of its own"),
    Choice(value=["usb"], words="USB"),
    Choice(value=["battery", "mains"], words="a battery, or mains"),
)


class Feeding(NamedTuple):
    """Whether one way of being fed will do: yes, no, or not known, and which fact would tell."""

    will: Literal["yes", "no", "too short", "not known"]
    want: Want | None = None


def _in_use(case: Case) -> Iterator[tuple[Thing, Device]]:
    """Boxes that something is plugged into, or that stream; not those that live on their network cable, which have a
    question of their own, nor those of others on the internet."""
    used = {end for link in case.links.values() for end in ends_of(link)}
    for device in case.devices.values():
        elsewhere = device.place is None and device.ingest is not None
        if device.id in used and not elsewhere and device.kind != "platform" and not fed_by_network(device):
            yield Thing("device", device.id, "feed"), device


IN_USE: SubjectKind[Device] = SubjectKind("box in use that does not live on its network cable", _in_use)


@check("nothing-feeds-it", IN_USE, "gear", "Is there power for it, for as long as the show?", "the maker's data; arithmetic", "gear", tried=True)  # fmt: skip
def nothing_feeds_it(case: Case, device: Device) -> Verdict:
    """Whether something that the box can live on is there: mains at its place, a network socket that gives power, a USB
    lead, or a charge of its own (h) that outlasts the show. A charge that does not is doubtful: it may be changed."""
    power = device.power
    if power is None or not power.by:
        asked = f"What can {device.model or device.name} be fed by?"
        return wants(Want(Thing("device", device.id), "power.by", asked, model=device.model, choices=_FEEDS))
    show = in_use(case, device.id)
    length = _of_the_show(case) if show is case.plan.show else _longest_day_h(show)
    found = {}
    for feed in power.by:
        found[feed] = _FEEDING[feed](case, device, length)
        if found[feed].will == "yes":
            return HOLDS
    if length is None and "battery" in found and power.battery_h:
        if show.starts_at is None:
            return wants(Want(Thing("show", "show"), "starts_at", f"When does {show.name} start, and end?"))
        return waits(DependsOn(end_not_known, Thing("show", "show")))
    want = next((f.want for f in found.values() if f.want), None)
    if want:
        return wants(want)
    if all(f.will == "no" for f in found.values()):
        return fails(lambda: _unfed(case, device))
    bank = bank_hours(case, device.place) if "usb" in found else None
    lasts, asked_h = max(power.battery_h or 0.0, bank or 0.0), length or 0.0
    return doubtful(lambda: _short(device, lasts, asked_h), Numbers(round(asked_h, 2), lasts, math.inf, "h"))


@analysis
def _of_the_show(case: Case) -> float | None:
    return _longest_day_h(case.plan.show)


def _longest_day_h(show: Show) -> float | None:
    """How long a charge must last, in h: the longest day of a show, for a battery is charged between two; None where nobody knows."""
    days = [(end - start).total_seconds() / 3600 for start, end in show.days if end]
    return max(days) if show.starts_at and show.ends_at else None


def _mains(case: Case, device: Device, _: float | None) -> Feeding:
    place = case.places.get(device.place or "")
    if place is None:
        spots = tuple(Choice(value=p.id, words=p.name) for p in case.places.values())
        asked = f"Where does {device.name} stand?"
        return Feeding("not known", Want(Thing("device", device.id), "place", asked, choices=spots))
    if place.mains is None:
        asked = f"Is there mains power at {place.name}?"
        return Feeding("not known", Want(Thing("place", place.id), "mains", asked, choices=YES_NO))
    return Feeding("yes" if place.mains else "no")


def _network(case: Case, device: Device, _: float | None) -> Feeding:
    there = [case.other_end(f"{device.id}/{p.id}") for p in device.ports if "ethernet" in p.types]
    most = max((at_the_device_w(case.ports[ref].poe_w or 0) for ref in there if ref), default=0.0)
    draw = device.power.draw_w if device.power else None
    return Feeding("yes" if most and (draw is None or draw <= most) else "no")


def _usb(case: Case, device: Device, hours: float | None) -> Feeding:
    """A USB lead from a computer feeds it; a charger does where there is mains, and a power bank that stands beside it."""
    for port in device.ports:
        there = case.other_end(f"{device.id}/{port.id}") if "usb" in port.types else None
        if there and case.device_of(there).kind in ("computer", "switcher"):
            return Feeding("yes")
    lasts = bank_hours(case, device.place)
    if lasts is not None and hours is not None and lasts >= hours:
        return Feeding("yes")
    found = _mains(case, device, hours)
    return Feeding("too short") if found.will == "no" and lasts is not None else found


def bank_hours(case: Case, place: str | None) -> float | None:
    """How long the power banks at a place feed all that may live on USB there, in h: what they hold × their share ÷ what is
    drawn; None where there is no bank, or a draw is not known.
    """
    here = [d.power for d in case.devices.values() if place and d.place == place and d.power]
    stored = sum(p.stored_wh or 0 for p in here)
    draws = [p.draw_w for p in here if "usb" in p.by]
    drawn = sum(w or 0 for w in draws)
    if not stored or not drawn or None in draws:
        return None
    return stored * case.figures["bank-share"] / drawn


def _battery(_: Case, device: Device, hours: float | None) -> Feeding:
    lasts = device.power.battery_h if device.power else None
    if lasts is None:
        asked = f"How long does one charge of {device.model or device.name} last?"
        return Feeding(
            "not known", Want(Thing("device", device.id), "power.battery_h", asked, "h", device.model)
        )
    return Feeding("too short" if hours is None or hours > lasts else "yes")


_FEEDING = {"mains": _mains, "poe": _network, "usb": _usb, "battery": _battery}


def _unfed(case: Case, device: Device) -> Words:
    words = {"mains": "mains", "poe": "its network cable", "usb": "USB"}
    by = " or ".join(words[f] for f in (device.power.by if device.power else ()) if f in words)
    place = case.places.get(device.place or "")
    return Words(
        f"{device.name} is fed by {by}, and there is none{f' at {place.name}' if place else ''}.",
        "It stays dark.",
        "Have a circuit laid by a licensed electrician, move the box to where there is power, or bring a power bank that it takes.",
    )


def _short(device: Device, lasts: float, hours: float) -> Words:
    steps = (
        Step(name="One charge", value=lasts, unit="h", source=device.model or "set in this plan"),
        Step(name="The show, and what is asked for before and after it", value=round(hours, 2), unit="h"),
    )
    return Words(
        f"One charge of {device.name} lasts {number(lasts)} h; it is used for {number(hours)} h, and there is nothing else to feed it.",
        "It goes out in the middle, most likely in the cold and the dark.",
        "Bring a power bank or a second battery and say when it is changed, or feed it from mains. Lithium batteries are never charged unattended.",
        Working(name="Battery left at the end", value=round(lasts - hours, 2), unit="h", steps=steps),
    )


CHECKS = (nothing_feeds_it,)
