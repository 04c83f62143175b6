"""What the plan may keep of a fault whose cause is found: the cable is damaged, or the picture goes by another socket, address or line."""

from collections.abc import Iterator
from itertools import islice

from humble_relay.core.addressing.address_plan import free_address
from humble_relay.core.addressing.hosts import host_of, readdressed
from humble_relay.core.cures.address_cures import set_port
from humble_relay.core.cures.cure import Cure, set_link
from humble_relay.core.cures.reach_cures import other_lines, set_list
from humble_relay.core.faults.causes import Cause
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Cable, Port, Radio, Stream
from humble_relay.core.plan.edits import Edit, SetPort

_MOST = 3


def fault_fixes(case: Case, cause: Cause) -> tuple[Cure, ...]:
    """At most three, none tried yet; empty where it is mended on the device alone."""
    return tuple(islice(_fixes(case, cause), _MOST))


def _fixes(case: Case, cause: Cause) -> Iterator[Cure]:
    link = case.links.get(cause.link)
    if cause.id == f"address:{cause.device}":
        yield from _another_address(case, cause.device)
    elif isinstance(link, Stream):
        if cause.family in ("line", "limit"):
            yield from other_lines(case, link)
    elif link and cause.family == "cable":
        if not link.broken:
            yield Cure(
                title=f"{case.link_name(link.id)} is damaged", edits=(set_link(link.id, "broken", True),)
            )
    elif link and cause.family in ("input", "output"):
        yield from _another_socket(case, link, "to_port" if cause.family == "input" else "from_port")


def _another_socket(case: Case, link: Cable | Radio, field: str) -> Iterator[Cure]:
    """The same cable at a free socket of the same device that does the same."""
    now: str = getattr(link, field)
    device, port = case.device_of(now), case.ports[now]
    for other in device.ports:
        ref = f"{device.id}/{other.id}"
        if other.id != port.id and ref not in case.join_at and _does_the_same(port, other):
            told = other.type == port.type or port.type is None
            edits = () if told else (SetPort(port=ref, field="assigned", value=port.type),)
            title = f"Use {other.name} of {device.name}"
            yield Cure(title=title, needs="moving the plug", edits=(*edits, set_link(link.id, field, ref)))
            return


def _does_the_same(port: Port, other: Port) -> bool:
    kind = port.type
    fits = kind in other.types if kind else other.types == port.types
    return fits and (other.way, other.carries, other.loop_of) == (port.way, port.carries, port.loop_of)


def _another_address(case: Case, id: str) -> Iterator[Cure]:
    """A free address of its network in place of its own, with what is typed of that one at the other ends and forwarded to it."""
    device = case.devices[id]
    calls = (*case.streams_from[id], *case.streams_to[id])
    for port in device.ports:
        old, network = port.address, case.networks.get(port.network or "")
        free = free_address(case, network, device.kind) if old and network else None
        if not network or not free:
            continue
        new, edits = str(free), list[Edit]()
        for stream in calls:
            if host_of(stream.address) == old:
                edits.append(set_link(stream.id, "address", readdressed(stream.address, new)))
        for router in case.plan.routers:
            to_it = network.id in router.networks and any(f.to_address == old for f in router.forwards)
            moved = (
                f.model_copy(update={"to_address": new}) if f.to_address == old else f
                for f in router.forwards
            )
            if to_it:
                edits.append(set_list("router", router.id, "forwards", tuple(moved)))
        title = f"Give {device.name} {new} in place of {old}"
        needs = "typing it into the device" + (", and at the other end" if edits else "")
        yield Cure(title=title, needs=needs, edits=(set_port(f"{id}/{port.id}", "address", new), *edits))
