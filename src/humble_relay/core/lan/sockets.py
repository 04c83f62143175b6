"""Where a box goes on the network: which networks, by which of its ports, into which free socket."""

from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.places.distances import cable_can_go, run_length_m
from humble_relay.core.plan import Device, Port

_SOCKETED = ("router", "network-switch")
_NETWORKED = frozenset({"ethernet", "wifi", "mobile", "usb"})


def networks_for(case: Case, device: Device, place: str | None, planned: bool = True) -> list[str]:
    """The networks a box is on by the sockets that streams go by, and after them, where one of those is free, those of
    its site that it would be put on, one with an uplink before others.

    `planned` says whether the box is in the plan, so that what is set on its ports counts.
    """
    sockets = [p for p in picture_sockets(device) if {"ethernet", "wifi", "mobile"} & set(p.types)]
    on = [p.network for p in sockets if p.network] if planned else []
    if not any({"ethernet", "wifi"} & set(p.types) and not (planned and p.network) for p in sockets):
        return list(dict.fromkeys(on))
    here = case.places.get(place or "")
    there = [n.id for n in case.networks.values() if here and n.site == here.site]
    return list(dict.fromkeys([*on, *sorted(there, key=lambda n: case.uplink_of(n) is None)]))


def socket_on(device: Device, network: str, wired: frozenset[str] = frozenset()) -> Port | None:
    """The port by which a box is on a network, or would be put on it: one that is on it; a free one that a cable is in
    (`wired`: ports by id); the last free one, by cable before Wi-Fi. None where it has none."""
    sockets = [p for p in picture_sockets(device) if {"ethernet", "wifi"} & set(p.types)]
    free = [p for p in sockets if not p.network]
    copper = [p for p in free if "ethernet" in p.types] or free
    order = (
        [p for p in picture_sockets(device) if p.network == network],
        [p for p in free if p.id in wired],
        [p for p in copper if p.role != "lan"][-1:],
        copper[-1:],
    )
    return next((ports[0] for ports in order if ports), None)


def free_sockets(case: Case, place: str | None, fed: bool = False) -> list[tuple[float | None, str]]:
    """Free sockets of the switches and routers at a place's site within a copper run, nearest first, and those at a
    distance nobody has measured last; only those that give power where the box is `fed` by its network cable."""
    here = case.places.get(place or "")
    found: list[tuple[float | None, str]] = []
    for device in case.devices.values():
        at = case.places.get(device.place or "")
        if device.kind not in _SOCKETED or not here or not at or at.site != here.site:
            continue
        metres = run_length_m(case, place, device.place)
        ports = (p for p in device.ports if p.role != "uplink" and (p.poe_w or not fed))
        free = [p for p in ports if f"{device.id}/{p.id}" not in case.join_at]
        if (
            free
            and cable_can_go(case, place, device.place)
            and (metres is None or metres <= case.figures["ethernet-reach"])
        ):
            found += [(metres, f"{device.id}/{p.id}") for p in free]
    return sorted(found, key=lambda s: (s[0] is None, s[0] or 0.0))


def picture_sockets(device: Device) -> list[Port]:
    """The network sockets of a box that streams go by: not that of a control page, unless it has no other."""
    sockets = [p for p in device.ports if not _NETWORKED.isdisjoint(p.types)]
    return [p for p in sockets if p.role != "control"] or sockets


@analysis
def sockets_on_networks(case: Case) -> dict[str, tuple[Port, ...]]:
    """For each device, its picture sockets that are on a network."""
    return {d.id: tuple(p for p in picture_sockets(d) if p.network) for d in case.devices.values()}


def fed_by_network(device: Device) -> bool:
    """Whether the box takes its power over its network cable, and from nothing else."""
    return device.power is not None and device.power.by == ("poe",)


def has_sockets(case: Case, place: str | None) -> bool:
    """Whether the plan knows any router or switch at the place's site; where it does not, one is to be brought."""
    here = case.places.get(place or "")
    boxes = (d for d in case.devices.values() if d.kind in _SOCKETED)
    return any(here and (at := case.places.get(d.place or "")) and at.site == here.site for d in boxes)


def lan_port(device: Device) -> Port | None:
    """The port a device would go on the network by: the one that is on it, or its last network socket for streams."""
    ports = [p for p in picture_sockets(device) if {"ethernet", "wifi"} & set(p.types)]
    return next((p for p in ports if p.network), ports[-1] if ports else None)
