"""Which uplink a stream leaves by, and whether its sender can reach it."""

from collections.abc import Iterator

from humble_relay.core.edits import SetPort
from humble_relay.core.findings import Fault, Fix, rule
from humble_relay.core.index import PlanIndex
from humble_relay.core.plan import Stream


def way_out(plan: PlanIndex, stream: Stream) -> str | None:
    """The uplink the stream leaves by: that of the first of its sender's networks that has one.

    A stream between two devices of one site stays there, and leaves by none.
    """
    sender, taker = plan.devices[stream.from_device], plan.devices[stream.to_device]
    if taker.ingest is None and plan.site_of(sender) == plan.site_of(taker):
        return None
    for _, port in plan.network_ports(sender):
        uplink = plan.networks[port.network or ""].uplink
        if uplink:
            return uplink
    return None


def streams_by_uplink(plan: PlanIndex) -> dict[str, list[Stream]]:
    """For every uplink, the streams that leave by it."""
    found: dict[str, list[Stream]] = {id: [] for id in plan.uplinks}
    for stream in plan.streams:
        uplink = way_out(plan, stream)
        if uplink:
            found[uplink].append(stream)
    return found


@rule("no-way-out", "addresses")
def no_way_out(plan: PlanIndex) -> Iterator[Fault]:
    """Senders that are on no network, or on one that has no uplink."""
    for stream in plan.streams:
        if way_out(plan, stream) or plan.devices[stream.to_device].ingest is None:
            continue
        sender = plan.devices[stream.from_device]
        ports = [(r, plan.ports[r]) for r in (f"{sender.id}/{p.id}" for p in sender.ports)]
        lan = [r for r, p in ports if {"ethernet", "wifi"} & set(p.types)]
        on = [plan.networks[p.network].name for _, p in ports if p.network]
        where = f"is on {', '.join(on)}, which has no way out" if on else "is on no network"
        site = plan.site_of(sender)
        fixes = [
            Fix(
                title=f"Put it on {n.name}",
                needs="a free socket there",
                edits=(
                    SetPort(port=ref, field="network", value=n.id),
                    SetPort(port=ref, field="address", value=""),
                    SetPort(port=ref, field="addressing", value="dhcp"),
                ),
            )
            for n in plan.networks.values()
            if n.uplink and (site is None or n.site == site.id)
            for ref in lan[:1]
        ]
        yield Fault(
            severity="stops",
            noun="device",
            subject=sender.id,
            part=stream.id,
            wrong=f"{sender.name} {where}: {stream.name} cannot leave.",
            means="The encoder says it is streaming to nowhere, or that there is no internet.",
            do="Put it on the network that has the line out, and say on the network which line that is.",
            fixes=tuple(fixes),
        )


@rule("network-elsewhere", "addresses")
def network_elsewhere(plan: PlanIndex) -> Iterator[Fault]:
    """Devices said to be on a network of a site they do not stand in."""
    for device in plan.devices.values():
        site = plan.site_of(device)
        for ref, port in plan.network_ports(device):
            network = plan.networks[port.network or ""]
            if site and network.site != site.id:
                yield Fault(
                    severity="stops",
                    noun="device",
                    subject=device.id,
                    part=port.id,
                    wrong=f"{plan.port_name(ref)} is on {network.name}, but {device.name} stands at {site.name}.",
                    means="There is no such network where the box is: it will not come up.",
                    do="Put the device on a network of its own site, or move it.",
                )
