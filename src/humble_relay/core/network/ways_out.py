"""Which uplink a stream leaves by, and whether its sender can reach it."""

from collections.abc import Iterator

from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Fault, Fix, rule
from humble_relay.core.plan import Stream
from humble_relay.core.plan.edits import SetPort


def way_out(case: Case, stream: Stream) -> str | None:
    """The uplink the stream leaves by: that of the first of its sender's networks that has one.

    A stream between two devices of one site stays there, and leaves by none.
    """
    sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
    if taker.ingest is None and case.site_of(sender) == case.site_of(taker):
        return None
    for _, port in case.network_ports(sender):
        uplink = case.uplink_of(port.network)
        if uplink:
            return uplink
    return None


def streams_by_uplink(case: Case) -> dict[str, list[Stream]]:
    """For every uplink, the streams that leave by it."""
    found: dict[str, list[Stream]] = {id: [] for id in case.uplinks}
    for stream in case.streams:
        uplink = way_out(case, stream)
        if uplink:
            found[uplink].append(stream)
    return found


@rule("no-way-out", "addresses")
def no_way_out(case: Case) -> Iterator[Fault]:
    """Senders that are on no network, or on one that has no uplink."""
    for stream in case.streams:
        if way_out(case, stream) or case.devices[stream.to_device].ingest is None:
            continue
        sender = case.devices[stream.from_device]
        ports = [(r, case.ports[r]) for r in (f"{sender.id}/{p.id}" for p in sender.ports)]
        lan = [r for r, p in ports if {"ethernet", "wifi"} & set(p.types)]
        on = [case.networks[p.network].name for _, p in ports if p.network]
        where = f"is on {', '.join(on)}, which has no way out" if on else "is on no network"
        site = case.site_of(sender)
        fixes = [
            Fix(
                title=f"Put it on {n.name}",
                needs="a free socket there",
                edits=(
                    SetPort(port=ref, field="interface.network", value=n.id),
                    SetPort(port=ref, field="interface.address", value=""),
                    SetPort(port=ref, field="interface.addressing", value="dhcp"),
                ),
            )
            for n in case.networks.values()
            if case.uplink_of(n.id) and (site is None or n.site == site.id)
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
def network_elsewhere(case: Case) -> Iterator[Fault]:
    """Devices said to be on a network of a site they do not stand in."""
    for device in case.devices.values():
        site = case.site_of(device)
        for ref, port in case.network_ports(device):
            network = case.networks[port.network or ""]
            if site and network.site != site.id:
                yield Fault(
                    severity="stops",
                    noun="device",
                    subject=device.id,
                    part=port.id,
                    wrong=f"{case.port_name(ref)} is on {network.name}, but {device.name} stands at {site.name}.",
                    means="There is no such network where the box is: it will not come up.",
                    do="Put the device on a network of its own site, or move it.",
                )
