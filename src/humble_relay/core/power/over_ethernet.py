"""Whether a box that lives on its network cable gets power over it."""

import math
from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.judging.answer import Numbers, Thing, Verdict, Want, Words, fails, holds, wants, within
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.lan.sockets import fed_by_network
from humble_relay.core.places.distances import length_of
from humble_relay.core.plan import Device, Port

AT_THE_DEVICE = ((90.0, 71.3), (60.0, 51.0), (30.0, 25.5), (15.4, 12.95))
"""What a source of so many watts leaves at the far end of 100 m of copper, in W (IEEE 802.3 af, at, bt)."""


class PoweredDevice(NamedTuple):
    """A box that takes power over its network cable alone, and the socket its cable goes to, if it has one."""

    device: Device
    socket: str | None
    port: Port | None


def at_the_device_w(source_w: float) -> float:
    """What reaches the device, in W, of a source of so many watts; a source below every type gives the same share.

    >>> at_the_device_w(30), round(at_the_device_w(10), 2)
    (25.5, 8.41)
    """
    return next((left for given, left in AT_THE_DEVICE if source_w >= given), source_w * 12.95 / 15.4)


def _fed(case: Case) -> Iterator[tuple[Thing, PoweredDevice]]:
    for device in case.devices.values():
        if fed_by_network(device):
            sockets = (f"{device.id}/{p.id}" for p in device.ports if "ethernet" in p.types)
            socket = next((there for ref in sockets if (there := case.other_end(ref))), None)
            if socket is None and not case.streams_from.get(device.id):
                continue  # no question applies yet
            yield (
                Thing("device", device.id, "power"),
                PoweredDevice(device, socket, case.ports[socket] if socket else None),
            )


FED: SubjectKind[PoweredDevice] = SubjectKind("box in use that lives on its network cable", _fed)


@check(
    "no-power-over-ethernet",
    FED,
    "gear",
    "Does its network cable bring it power enough?",
    "IEEE 802.3 af, at, bt",
    "standard",
)
def no_power_over_ethernet(_: Case, fed: PoweredDevice) -> Verdict:
    """Whether the socket at the other end of its network cable gives what the box draws (W), the loss on the way taken
    off. A socket that is not known to give power gives none; without a cable in the plan it is not known what feeds it."""
    device, port = fed.device, fed.port
    draw = device.power.draw_w if device.power else None
    if port is None:
        asked = f"What is {device.name} plugged into: a socket or an injector that gives power?"
        return wants(Want(Thing("device", device.id), "power.by", asked))
    if not port.poe_w:
        return fails(lambda: _unfed(device, port))
    if draw is None:
        return wants(
            Want(
                Thing("device", device.id),
                "power.draw_w",
                f"How much does {device.name} draw?",
                "W",
                device.model,
            )
        )
    gives = at_the_device_w(port.poe_w)
    steps = (
        Step(name=port.name, value=port.poe_w, unit="W", how="at the source"),
        Step(name="At the end of the cable", value=round(gives, 2), unit="W", source="IEEE 802.3"),
        Step(name=device.name, value=draw, unit="W", how="draws", source=device.model),
    )
    return within(
        Numbers(draw, gives, gives, "W"),
        lambda: Words(
            f"{device.name} draws {number(draw)} W; {number(gives)} W reach it over its network cable.",
            "It starts, and starts again as soon as its heater, its motor or its lamp comes on.",
            "Use a socket or an injector of a stronger type.",
            Working(name="Power over the cable", value=round(gives - draw, 2), unit="W", steps=steps),
        ),
    )


def _unfed(device: Device, port: Port) -> Words:
    return Words(
        f"{device.name} takes its power over the network cable, and {port.name} gives none.",
        "It stays dark, up on its pole.",
        "Plug it into a socket that gives power, or put an injector in between: power side to the box.",
    )


def _givers(case: Case) -> Iterator[tuple[Thing, tuple[Device, list[tuple[Device, Port]]]]]:
    for device in case.devices.values():
        feeding: list[tuple[Device, Port]] = []
        for port in device.ports:
            there = case.other_end(f"{device.id}/{port.id}") if port.poe_w else None
            taker = case.device_of(there) if there else None
            if taker and taker.power and "poe" in taker.power.by:
                feeding.append((taker, port))
        if feeding:
            yield Thing("device", device.id, "budget"), (device, feeding)


GIVERS: SubjectKind[tuple[Device, list[tuple[Device, Port]]]] = SubjectKind(
    "box that feeds others over the network", _givers
)


@check(
    "poe-budget",
    GIVERS,
    "gear",
    "Can it feed all of them at once?",
    "IEEE 802.3 af, at, bt; the maker's data",
    "gear",
)
def poe_budget(case: Case, what: tuple[Device, list[tuple[Device, Port]]]) -> Verdict:
    """Whether what a switch gives over all its sockets (W at the source) is enough for all that hang on them, the loss on
    each cable added, at most as much as its length may lose; without any loss it is hopeless. What one socket may give, all
    together can."""
    giver, feeding = what
    unsaid = next((d for d, _ in feeding if d.power is None or d.power.draw_w is None), None)
    if unsaid:
        asked = f"How much does {unsaid.name} draw?"
        return wants(Want(Thing("device", unsaid.id), "power.draw_w", asked, "W", unsaid.model))
    draws = [
        (d, (d.power.draw_w or 0) * _at_source(p.poe_w or 0, _length_m(case, giver, p)))
        for d, p in feeding
        if d.power
    ]
    together = round(sum(watts for _, watts in draws), 1)
    # What may live on mains as well may be plugged in there.
    alone = sum(d.power.draw_w or 0 for d, _ in draws if fed_by_network(d) and d.power)
    one = max(p.poe_w or 0 for _, p in feeding)
    budget = giver.power.poe_budget_w if giver.power else None
    if budget is None:
        if together <= one:
            return holds(Numbers(together, one, one, "W"))
        asked = f"How much does {giver.model or giver.name} give over all its sockets together? {number(together)} W are planned."
        return wants(Want(Thing("device", giver.id), "power.poe_budget_w", asked, "W", giver.model))
    return within(
        Numbers(together, budget, budget if alone > budget else math.inf, "W"),
        lambda: Words(
            f"{giver.name} gives {number(budget)} W over all its sockets; {number(together)} W hang on them.",
            "The last one plugged in stays dark, or all start again in turn.",
            "Feed one from mains or by an injector, or use a switch that gives more.",
            Working(
                name="Power over the network",
                value=round(budget - together, 1),
                unit="W",
                steps=tuple(
                    Step(name=d.name, value=round(w, 1), unit="W", how="at the source") for d, w in draws
                ),
            ),
        ),
    )


def _at_source(source_w: float, length_m: float) -> float:
    """How many times what a device draws its source gives at most: the loss is that of 100 m, I²R, in the ratio of the lengths.

    >>> round(36 * _at_source(60, 30), 1)  # 36 W over 30 m of a 60 W source
    37.9
    """
    return 1 + (source_w / at_the_device_w(source_w) - 1) * min(length_m, 100) / 100


def _length_m(case: Case, giver: Device, port: Port) -> float:
    """The length of the cable on a socket, in m; 100, the longest there is, where it is not known."""
    join = case.join_at.get(f"{giver.id}/{port.id}")
    known = length_of(case, join) if join else None
    return 100.0 if known is None else known


CHECKS = (no_power_over_ethernet, poe_budget)
