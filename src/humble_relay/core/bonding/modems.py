"""Modems put into a box that sends by mobile data: the lines, their cards, and the bond that joins them."""

from collections.abc import Iterator, Sequence

from humble_relay.core.frozen import free_id, free_name
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device, Mobile, Network, Port, Router, Uplink
from humble_relay.core.plan.edits import Edit, SetField, SetPort, added


def modem_ports(device: Device) -> tuple[Port, ...]:
    """The ports of a box's own mobile data, the first of which stands for all of it."""
    return tuple(p for p in device.ports if "mobile" in p.types)


def modem_port(device: Device) -> Port | None:
    """The port that stands for a box's own mobile data; None where it has none."""
    return next(iter(modem_ports(device)), None)


def with_modems(case: Case, device: Device, carriers: Sequence[str]) -> tuple[Edit, ...]:
    """The edits that put one more modem into a box for each of the carriers (empty: not known yet). Several are bonded to one line, by
    which the box goes out; one alone is a line of its own. What its cards have is a question of each.

    Raises ValueError, in words, for a box that takes none, or stands nowhere.
    """
    return tuple(_edits(case, device, carriers))


def _edits(case: Case, device: Device, carriers: Sequence[str]) -> Iterator[Edit]:
    port, site = modem_port(device), case.site_of(device)
    if port is None:
        raise ValueError(f"{device.name} takes no modem: it has no mobile data of its own")
    if site is None:
        raise ValueError(
            f"{device.name} stands nowhere yet: say at which place, then its modems are lines of that site"
        )
    called, what = ("mobile", _of_a_phone(device)) if device.kind == "phone" else ("modem", f"{device.name} modem")  # fmt: skip
    taken, names = set(case.uplinks), {u.name for u in case.plan.uplinks}
    made: list[Uplink] = []
    for carrier in carriers:
        id, name = free_id(f"{device.id[:50]}-{called}", taken), free_name(what, names)
        taken.add(id)
        names.add(name)
        made.append(Uplink(id=id, name=name, site=site.id, kind="mobile", carrier=carrier, mobile=Mobile()))
    yield from (added(line) for line in made)
    router = case.router_of.get(port.network or "")
    first = case.uplinks[router.uplinks[0]] if router and router.uplinks else None
    parts = (*(first.parts or (first.id,) if first else ()), *(line.id for line in made))
    out = first.id if first and first.parts else made[0].id
    if first and first.parts:
        yield SetField(noun="uplink", id=first.id, field="parts", value=list(parts))
    elif len(parts) > 1:
        id, name = free_id(f"{device.id[:50]}-bond", taken), free_name(f"{device.name} bond", names)
        yield added(Uplink(id=id, name=name, site=site.id, kind="mobile", parts=parts))
        out = id
    if router is None:
        yield from _its_way_out(case, device, port, site.id, out)
    elif first is None or out != first.id:
        rest = [u for u in router.uplinks[1:] if u not in parts]
        yield SetField(noun="router", id=router.id, field="uplinks", value=[out, *rest])


def _of_a_phone(device: Device) -> str:
    return f"Mobile data of {device.name}"[:80]


def _its_way_out(case: Case, device: Device, port: Port, site: str, line: str) -> Iterator[Edit]:
    """The network that stands for the modems, and what joins it to the line."""
    if port.network is None:
        id = free_id(f"{device.id[:50]}-modems", case.networks)
        yield added(Network(id=id, name=free_name(_of_a_phone(device) if device.kind == "phone" else f"{device.name} modems", {n.name for n in case.plan.networks}), site=site))  # fmt: skip
        yield SetPort(port=f"{device.id}/{port.id}", field="interface.network", value=id)
    else:
        id = port.network
    routers = {r.id for r in case.plan.routers}
    name = free_name(f"Mobile data, {device.name}", {r.name for r in case.plan.routers})
    yield added(Router(id=free_id(f"{device.id[:50]}-mobile", routers), name=name, site=site, networks=(id,), uplinks=(line,)))  # fmt: skip
