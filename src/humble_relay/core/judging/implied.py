"""What the cables and addresses of a plan say where a field was left empty: which network a socket is on, which router a device is."""

from collections import defaultdict
from collections.abc import Iterator

from humble_relay.core.plan import Device, Interface, Plan, Port, Router
from humble_relay.core.plan.vocabulary import is_lan_socket

_HANDS_ON = ("network-switch", "injector")


def with_implied(plan: Plan) -> Plan:
    """The plan with the networks of sockets and the routers that its cables and addresses leave no doubt about."""
    devices = {d.id: d for d in plan.devices}
    routers = _with_boxes(plan, devices)
    networks = dict(_networks_of_sockets(plan, routers, devices))
    if routers == plan.routers and not networks:
        return plan
    changed = {ref.split("/")[0] for ref in networks}
    found = (_on_networks(d, networks) if d.id in changed else d for d in plan.devices)
    return plan.model_copy(update={"routers": routers, "devices": tuple(found)})


def _with_boxes(plan: Plan, devices: dict[str, Device]) -> tuple[Router, ...]:
    """The routers; a device that stands on several networks joins them, whether or not a router of the plan says so.

    It is the router that one of them has already, where that is no other device; else one of its own. Where it has another address than the
    gateway, the two join the networks all the same, and whether that is mistyped is a question to the network.
    """
    routers = {r.id: r for r in plan.routers}
    for box in devices.values():
        if box.kind != "router":
            continue
        on = {p.network: p.address for p in box.ports if p.network and p.role != "uplink"}
        if len(on) < 2:
            continue
        named = next((r for r in routers.values() if r.device == box.id), None)
        known = [r for r in routers.values() if r.device is None and set(r.networks) & set(on)]
        if named is None and len(known) == 1:
            there = {n.id: n.gateway for n in plan.networks}
            it_is = all(on[n] in ("", there[n]) for n in known[0].networks if n in on)
            named = known[0].model_copy(update={"device": box.id}) if it_is else known[0]
        routed = {n for r in routers.values() for n in r.networks}
        if new := tuple(n for n in on if n not in routed):
            site = next(n.site for n in plan.networks if n.id == new[0])
            whole = named or Router(id=_free(box.id, routers), name=box.name, site=site, device=box.id)
            routers[whole.id] = whole.model_copy(update={"networks": (*whole.networks, *new)})
    return tuple(routers.values())


def _free(id: str, taken: dict[str, Router]) -> str:
    return id if id not in taken else _free(f"{id}-routes"[-50:].strip("-"), taken)


def _networks_of_sockets(
    plan: Plan, routers: tuple[Router, ...], devices: dict[str, Device]
) -> Iterator[tuple[str, str]]:
    """The socket and the network of each device that is plugged in, and of which nobody said a network: the only one that its
    cable leads to; where that leads to switches alone, the only one of their site."""
    streaming = {d for s in plan.links if s.kind == "stream" for d in (s.from_device, s.to_device)}
    nowhere = [
        id
        for id in streaming
        if devices[id].kind not in (*_HANDS_ON, "router") and not any(p.network for p in devices[id].ports)
    ]
    if not nowhere:
        return
    ports = {f"{d.id}/{p.id}": p for d in devices.values() for p in d.ports if is_lan_socket(p)}
    beside: dict[str, list[tuple[str, str]]] = defaultdict(list)
    for cable in plan.links:
        if cable.kind == "cable" and not cable.broken and cable.from_port in ports and cable.to_port in ports:
            beside[cable.from_port.split("/")[0]].append((cable.from_port, cable.to_port))
            beside[cable.to_port.split("/")[0]].append((cable.to_port, cable.from_port))
    site_of = {p.id: p.site for p in plan.places}
    of_box: dict[str | None, Router] = {r.device: r for r in routers if r.device}
    for id in nowhere:
        for here, there in beside.get(id, ()):
            if ports[here].role == "control":
                continue
            found, boxes = _led_to(there, ports, beside, devices, of_box)
            if not found and boxes & {"network-switch", "router"}:
                found = {n.id for n in plan.networks if n.site == site_of.get(devices[id].place or "")}
            if len(found) == 1:
                yield here, found.pop()


def _led_to(
    port: str,
    ports: dict[str, Port],
    beside: dict[str, list[tuple[str, str]]],
    devices: dict[str, Device],
    of_box: dict[str | None, Router],
) -> tuple[set[str], set[str]]:
    """The networks that a cable leads to, through switches and injectors, and the kinds of device that it leads to."""
    networks, kinds, todo, seen = set[str](), set[str](), [port], set[str]()
    while todo:
        ref = todo.pop()
        box = devices[ref.split("/")[0]]
        kinds.add(box.kind)
        if own := ports[ref].network:
            networks.add(own)
        elif box.kind == "router" and ports[ref].role != "uplink" and (router := of_box.get(box.id)):
            networks |= set(router.networks)
        if box.kind in _HANDS_ON and box.id not in seen:
            seen.add(box.id)
            networks |= {p.network for p in box.ports if p.network}
            todo += [there for _, there in beside[box.id]]
    return networks, kinds


def _on_networks(device: Device, networks: dict[str, str]) -> Device:
    """The device with its sockets on those networks."""
    refs = {p.id: f"{device.id}/{p.id}" for p in device.ports}
    ports = (
        p.model_copy(
            update={
                "interface": (p.interface or Interface()).model_copy(update={"network": networks[refs[p.id]]})
            }
        )
        if refs[p.id] in networks
        else p
        for p in device.ports
    )
    return device.model_copy(update={"ports": tuple(ports)})
