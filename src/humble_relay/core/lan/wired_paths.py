"""By which network cables each stream runs within a site: from box to box through switches, injectors and routers."""

from collections import deque
from collections.abc import Iterator, Set

from humble_relay.core.judging.case import Case, analysis, analysis_of_each
from humble_relay.core.plan import Cable, Device, Kind, Stream
from humble_relay.core.plan.vocabulary import is_lan_socket

PASSES_ON: tuple[Kind, ...] = ("network-switch", "injector", "router")


@analysis
def wired_paths(case: Case) -> dict[str, tuple[str, ...]]:
    """For each stream, the network cables it runs over, in their order, as far as they are in the plan: to its taker, or
    to the router that leads out of the site. None where either is not reached by cables of the plan."""
    return {s.id: path for s in case.streams if (path := _path(case, s))}


@analysis
def _beside(case: Case) -> dict[str, list[tuple[str, str]]]:
    """For each box, the boxes at the other ends of its network cables, each with the cable; a socket for a control page
    carries no picture."""
    found: dict[str, list[tuple[str, str]]] = {}
    for cable in case.cables:
        control = any(case.ports[ref].role == "control" for ref in (cable.from_port, cable.to_port))
        if cable.id in case.lan_cables and not cable.broken and not control:
            a, b = (ref.split("/")[0] for ref in (cable.from_port, cable.to_port))
            found.setdefault(a, []).append((b, cable.id))
            found.setdefault(b, []).append((a, cable.id))
    return found


def _path(case: Case, stream: Stream) -> tuple[str, ...]:
    sender = stream.from_device
    if sender not in _beside(case):
        return ()
    tree = _reached(case, sender)
    routers = (
        r.device for p in case.devices[sender].ports if p.network and (r := case.router_of.get(p.network))
    )
    ends = [stream.to_device, *(d for d in routers if d)]
    end = next((e for e in ends if e in tree and e != sender), None)
    if end is None:  # what it goes on by is not in the plan
        end = next(iter(_plugged_into(case, sender)), None)
    path: list[str] = []
    while end and end != sender:
        end, cable = tree[end]
        path.append(cable)
    return tuple(reversed(path))


def _plugged_into(case: Case, sender: str) -> Iterator[str]:
    """The boxes that its sockets on a network are plugged into."""
    for ref, port in case.network_ports(case.devices[sender]):
        there = case.other_end(ref) if is_lan_socket(port) and port.role != "control" else None
        if there:
            yield case.device_of(there).id


@analysis_of_each
def _reached(case: Case, start: str) -> dict[str, tuple[str, str]]:
    """Every box that cables lead to from a box, with the box and the cable before it: the fewest cables first."""
    found, waiting, beside = {start: ("", "")}, deque([start]), _beside(case)
    while waiting:
        here = waiting.popleft()
        if here != start and case.devices[here].kind not in PASSES_ON:
            continue
        for there, cable in beside.get(here, ()):
            if there not in found:
                found[there] = (here, cable)
                waiting.append(there)
    return found


def reached_from(case: Case, device: str) -> Set[str]:
    """Every box that network cables of the plan lead to from a box, through switches, injectors and routers."""
    return _reached(case, device).keys()


def alone_with(case: Case, socket: str) -> Device | None:
    """The device that a network cable leads to from a socket, where nothing else can be reached by it: neither of the two hands
    anything on, nor has a second cable to somewhere. None where the cable leads on, or nobody drew one."""
    there = case.other_end(socket) if is_lan_socket(case.ports[socket]) else None
    if there is None:
        return None
    here, other = case.device_of(socket), case.device_of(there)
    plugged = [r for d in (here, other) for p in d.ports if is_lan_socket(p) and (r := f"{d.id}/{p.id}") in case.join_at]  # fmt: skip
    ends = {here.kind, other.kind}.isdisjoint((*PASSES_ON, "radio"))
    return other if ends and len(plugged) == 2 else None


def network_at(case: Case, socket: str) -> str | None:
    """The network that a socket carries: its own, its box's, or the only one that the boxes wired to it are on, or that its
    site has; one with a VLAN number only where there is no other (IEEE 802.1Q). None where there are several, or none."""
    box = case.device_of(socket)
    if own := case.ports[socket].network:
        return own
    wired = {p.network for d in reached_from(case, box.id) for _, p in case.network_ports(case.devices[d])}
    if not wired and (site := case.site_of(box)) is not None:
        wired = {n.id for n in case.networks.values() if n.site == site.id}
    found = {n for n in wired if n and case.networks[n].vlan is None} or wired
    return next(iter(found)) if len(found) == 1 else None


@analysis
def runs_over(case: Case) -> dict[str, tuple[tuple[Cable, Stream], ...]]:
    """For each network cable that streams run over, those streams."""
    found: dict[str, list[tuple[Cable, Stream]]] = {}
    cables = {c.id: c for c in case.cables}
    for stream in case.streams:
        for id in wired_paths(case).get(stream.id, ()):
            found.setdefault(id, []).append((cables[id], stream))
    return {id: tuple(whats) for id, whats in found.items()}
