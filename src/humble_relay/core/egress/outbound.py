"""Outbound routes of a device: its sockets, its router and that router's uplink."""

from collections.abc import Iterable

from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.lan.sockets import picture_sockets, sockets_on_networks
from humble_relay.core.plan import Connector, Device, Port, Router, Stream


def uplink_out(case: Case, device: Device, stream: Stream) -> str | None:
    """The uplink by which a box at one end of a stream goes out with it: of its sockets that are on a network with an uplink
    the one that boxes take first (see `sockets_out`), and there the line that a rule says, or the first of the router's."""
    router = router_out(case, device)
    return uplink_by_policy(router, stream) if router else None


def router_out(case: Case, device: Device) -> Router | None:
    """The router that a box goes out by."""
    socket = next((p for p, _ in sockets_out(case, device)), None)
    return case.router_of[socket.network or ""] if socket else None


def uplink_by_policy(router: Router, stream: Stream) -> str | None:
    """The line by which a router sends a stream out: the one that a rule of it says, if it has that and can, else its first."""
    if stream.line in router.uplinks and router.steers is not False:
        return stream.line
    return router.uplinks[0] if router.uplinks else None


def line_behind(case: Case, uplink: str) -> str:
    """The line that an uplink goes out by in the end: itself, or the first line of the router that it hangs behind."""
    seen = {uplink}
    while (
        (network := case.uplinks[uplink].behind) and (outer := case.uplink_of(network)) and outer not in seen
    ):
        seen.add(outer)
        uplink = outer
    return uplink


@analysis
def line_routers(case: Case) -> dict[str, Router]:
    """For each uplink, its router."""
    return {up: router for router in case.plan.routers for up in router.uplinks}


def sockets_out(case: Case, device: Device) -> list[tuple[Port, str]]:
    """The sockets by which a box can leave its site, each with the uplink, in the order in which boxes take them: a socket
    meant for it, cable, a phone on USB, Wi-Fi, mobile data of its own (common practice)."""
    known = _sockets_out(case)
    if device.id not in known or case.devices.get(device.id) is not device:
        return _out(case, picture_sockets(device))
    return known[device.id]


@analysis
def _sockets_out(case: Case) -> dict[str, list[tuple[Port, str]]]:
    return {device: _out(case, sockets) for device, sockets in sockets_on_networks(case).items()}


def _out(case: Case, sockets: Iterable[Port]) -> list[tuple[Port, str]]:
    found = [(p, up) for p in sockets if (up := case.uplink_of(p.network))]
    return sorted(found, key=lambda f: default_route_rank(f[0])) if len(found) > 1 else found


def default_route_rank(port: Port) -> tuple[int, bool, int, bool]:
    """Which socket of a device its default route goes by, the lowest first: as it is set, else its WAN port, else by kind of
    socket."""
    said = port.interface.default_route if port.interface else None
    if said:
        return 0, False, 0, False  # two that are both set to it are alike
    kind = next((n for n, type in enumerate(_FIRST) if type in port.types), len(_FIRST))
    return 2 if said is False else 1, port.role != "uplink", kind, port.role == "lan"


_FIRST: tuple[Connector, ...] = ("ethernet", "usb", "wifi", "mobile")
"""Whose default route goes first where nothing else is set: cable, a phone on USB, Wi-Fi, mobile data (the metrics of
NetworkManager and systemd-networkd: common practice, no source)."""


def in_the_cloud(device: Device) -> bool:
    """Whether a box is on the internet itself, as a relay or a bonding gateway is: it takes streams, and stands nowhere."""
    return device.ingest is not None and device.place is None


def on_the_internet(device: Device) -> bool:
    """Whether a box is a service on the internet: one that repeats, or where pictures end."""
    return in_the_cloud(device) or (device.kind == "platform" and device.place is None)


def stays(case: Case, stream: Stream) -> bool:
    """Whether a stream stays in one site: between two boxes there, or to a server that stands there."""
    sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
    return (taker.ingest is None or taker.place is not None) and case.site_of(sender) is case.site_of(taker)


def joined(case: Case, stream: Stream) -> bool:
    """Whether a network or a router of ours joins the two ends, so that what goes between them crosses no line. A browser link
    goes by its service all the same."""
    ends = (case.devices[stream.from_device], case.devices[stream.to_device])
    if stream.protocol == "web" or any(on_the_internet(d) for d in ends):
        return False
    here, there = (_ours_above(case, d) for d in ends)
    return bool(here & there)


def _ours_above(case: Case, device: Device) -> set[str]:
    """The networks that a box is on, their routers, and what those hang behind."""
    found: set[str] = set()
    todo = [p.network for p in sockets_on_networks(case)[device.id] if p.network]
    while todo:
        network = todo.pop()
        router = case.router_of.get(network)
        if network not in found:
            found.add(network)
            found |= {f"router {router.id}"} if router else set()
            lines = router.uplinks[:1] if router else ()
            todo += [behind for line in lines if (behind := case.uplinks[line].behind)]
    return found
