"""What may mend a cable that is missing, or plugged into the wrong socket."""

from collections.abc import Iterator

from humble_relay.core.cures.cure import Cure, Cures
from humble_relay.core.cures.signal_cures import another_way
from humble_relay.core.judging.answer import Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.lan.wired_paths import reached_from
from humble_relay.core.lan.wiring import not_plugged_in
from humble_relay.core.plan import Cable, Device, Radio
from humble_relay.core.plan.edits import Remove, added
from humble_relay.core.power.over_ethernet import no_power_over_ethernet, poe_budget
from humble_relay.core.reach.cable_continuity import WIRED, cut_off
from humble_relay.core.signal.cabling.runs import cable_against_the_signal
from humble_relay.core.signal.finder.plain_cables import plain_cables


def _laid(case: Case, a: Device, b: Device) -> Iterator[Cure]:
    """A network cable between free sockets of two devices."""
    for joint in plain_cables(case, a.id, b.id):
        if "audio" not in joint.title:
            yield Cure(title=f"Plug {a.name} into {b.name}", how=joint.title, edits=joint.edits)


def _joined(case: Case, thing: Thing) -> Iterator[Cure]:
    """From the switch that the sender reaches to one that the other end does, or to the other end itself."""
    what = next(w for about, w in WIRED.each(case) if about == thing)
    if what.target is None:
        return
    ours, theirs = reached_from(case, what.sender.id), reached_from(case, what.target.id)
    near = [d for d in case.devices.values() if d.id in ours and d.kind == "network-switch"] or [what.sender]
    far = [d for d in case.devices.values() if d.id in theirs and d.kind in ("network-switch", "router")]
    for a in near:
        for b in dict.fromkeys(d.id for d in (*far, what.target)):
            yield from _laid(case, a, case.devices[b])


def _led_on(case: Case, thing: Thing) -> Iterator[Cure]:
    """From the injector's other side to a switch or router."""
    there = case.other_end(f"{thing.id}/{thing.part}")
    if there:
        for device in case.devices.values():
            if device.kind in ("network-switch", "router"):
                yield from _laid(case, case.device_of(there), device)


def _powered(case: Case, thing: Thing) -> Iterator[Cure]:
    """Its cable moved to a free socket that gives power enough, on the same switch first."""
    device = case.devices[thing.id]
    ref = next(
        (r for p in device.ports if "ethernet" in p.types and case.other_end(r := f"{device.id}/{p.id}")), ""
    )
    cable = case.join_at.get(ref)
    if not isinstance(cable, Cable):
        return
    yield from _moved(case, cable, ref, [case.device_of(case.other_end(ref) or ref), *case.devices.values()])


def _moved(case: Case, cable: Cable, ref: str, givers: list[Device]) -> Iterator[Cure]:
    seen = set[str]()
    for giver in givers:
        free = [p for p in giver.ports if p.poe_w and f"{giver.id}/{p.id}" not in case.join_at]
        if giver.id in seen or not free:
            continue
        seen.add(giver.id)
        socket = max(free, key=lambda p: p.poe_w or 0)
        update = {"from_port": ref, "to_port": f"{giver.id}/{socket.id}"}
        edits = (Remove(noun="link", id=cable.id), added(cable.model_copy(update=update)))
        yield Cure(
            title=f"Plug it into {socket.name} of {giver.name}",
            how=f"It gives {socket.poe_w:g} W.",
            edits=edits,
        )


def _spread(case: Case, thing: Thing) -> Iterator[Cure]:
    """One of those that hang on it fed by another giver."""
    others = [d for d in case.devices.values() if d.id != thing.id]
    for port in case.devices[thing.id].ports:
        there = case.other_end(f"{thing.id}/{port.id}") if port.poe_w else None
        cable = case.join_at.get(f"{thing.id}/{port.id}")
        if there and isinstance(cable, Cable):
            yield from _moved(case, cable, there, others)


def _turned_round(case: Case, thing: Thing) -> Iterator[Cure]:
    """The cable from the output to the input that it joins; else other ways."""
    cable = case.links[thing.id]
    if isinstance(cable, Cable | Radio) and case.ports[cable.from_port].way != "out":
        update = {"from_port": cable.to_port, "to_port": cable.from_port}
        edits = (Remove(noun="link", id=cable.id), added(cable.model_copy(update=update)))
        yield Cure(title="It runs the other way", needs="a look at its plugs", edits=edits)
    yield from another_way(case, thing)


CURES: Cures = {
    cut_off: _joined,
    not_plugged_in: _led_on,
    no_power_over_ethernet: _powered,
    poe_budget: _spread,
    cable_against_the_signal: _turned_round,
}
