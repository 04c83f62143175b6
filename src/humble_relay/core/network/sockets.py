"""Where a box goes on the network: which network, by which of its ports, into which free socket."""

from humble_relay.core.judging.case import Case
from humble_relay.core.places.distances import run_length_m
from humble_relay.core.plan import Device, Network, Port

_SOCKETED = ("router", "network-switch")


def network_for(case: Case, device: Device, place: str | None, planned: bool = True) -> Network | None:
    """The network a box is on, or would be put on: the first of its site, one with a way out before others.

    `planned` says whether the box is in the plan, so that what is set on its ports counts.
    """
    if planned:
        on = [case.networks[p.network] for p in device.ports if p.network]
        if on:
            return on[0]
    if not any({"ethernet", "wifi"} & set(p.types) for p in device.ports):
        return None
    here = case.places.get(place or "")
    there = [n for n in case.networks.values() if here and n.site == here.site]
    return min(there, key=lambda n: case.uplink_of(n.id) is None, default=None)


def free_sockets(case: Case, place: str | None, fed: bool = False) -> list[tuple[float, str]]:
    """Free sockets of the switches and routers at a place's site within a copper run, nearest first; only those that
    give power where the box is `fed` by its network cable."""
    here = case.places.get(place or "")
    found = []
    for device in case.devices.values():
        at = case.places.get(device.place or "")
        if device.kind not in _SOCKETED or not here or not at or at.site != here.site:
            continue
        metres = run_length_m(case, place, device.place)
        ports = (p for p in device.ports if p.role != "uplink" and (p.poe_w or not fed))
        free = [p for p in ports if f"{device.id}/{p.id}" not in case.join_at]
        if free and metres is not None and metres <= case.figures["ethernet-reach"]:
            found += [(metres, f"{device.id}/{p.id}") for p in free]
    return sorted(found, key=lambda s: s[0])


def picture_sockets(device: Device) -> list[Port]:
    """The network sockets of a box that streams go by: not that of a control page, unless it has no other."""
    sockets = [p for p in device.ports if {"ethernet", "wifi", "mobile", "usb"} & set(p.types)]
    return [p for p in sockets if p.role != "control"] or sockets


def fed_by_network(device: Device) -> bool:
    """Whether the box takes its power over its network cable, and from nothing else."""
    return device.power is not None and device.power.by == ("poe",)


def has_sockets(case: Case, place: str | None) -> bool:
    """Whether the plan knows any router or switch at the place's site; where it does not, one is to be brought."""
    here = case.places.get(place or "")
    boxes = (d for d in case.devices.values() if d.kind in _SOCKETED)
    return any(here and (at := case.places.get(d.place or "")) and at.site == here.site for d in boxes)


def lan_port(device: Device) -> Port | None:
    """The port a device would go on the network by: the one that is on it, or its last network socket."""
    ports = [p for p in device.ports if {"ethernet", "wifi"} & set(p.types)]
    return next((p for p in ports if p.network), ports[-1] if ports else None)
