"""What may mend an address, a network, or a sender that has no uplink."""

from collections.abc import Iterator
from ipaddress import ip_network
from urllib.parse import urlsplit, urlunsplit

from humble_relay.core.addressing.address_faults import (
    address_fault,
    address_missing,
    address_twice,
    neighbours_alike,
    network_range,
)
from humble_relay.core.addressing.address_plan import free_address
from humble_relay.core.addressing.hosts import host_of, readdressed
from humble_relay.core.addressing.leases import no_lease
from humble_relay.core.addressing.masks import mask_hides
from humble_relay.core.cures.cure import Cure, Cures, set_link
from humble_relay.core.egress.service_zones import SERVED, nearest_zone, zone_far
from humble_relay.core.endpoints.ndi_groups import groups_apart, groups_of
from humble_relay.core.endpoints.stream_names import (
    name_taken,
    not_published,
    published_as,
    published_to,
    with_name,
)
from humble_relay.core.endpoints.stream_urls import built_address, key_missing, stream_address
from humble_relay.core.endpoints.substreams import other_stream_of_it, with_path
from humble_relay.core.endpoints.typed_addresses import taken_apart
from humble_relay.core.judging.answer import Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import listed
from humble_relay.core.lan.sockets import lan_port
from humble_relay.core.plan import Device, Network, Stream
from humble_relay.core.plan.edits import Edit, LeaveBy, SetField, SetPort
from humble_relay.core.reach.address_stability import address_may_move, called_at
from humble_relay.core.reach.intersite_streams import far_way_out
from humble_relay.core.reach.leaving_streams import no_way_out
from humble_relay.core.reach.local_streams import networks_apart


def _whole_range(case: Case, thing: Thing) -> Iterator[Cure]:
    network = case.networks[thing.id]
    try:
        whole = str(ip_network(network.range, strict=False))
    except ValueError:
        return
    if whole != network.range:
        edit = SetField(noun="network", id=network.id, field="range", value=whole)
        yield Cure(title=f"Use {whole}", edits=(edit,))
    router = case.router_of.get(network.id)
    own = [p.address for p in case.devices[router.device].ports if p.network == network.id and p.address] if router and router.device else []  # fmt: skip
    first = next(ip_network(whole).hosts(), None)
    for gateway in dict.fromkeys((*own, str(first) if first else "")):
        if gateway and gateway != network.gateway:
            edit = SetField(noun="network", id=network.id, field="gateway", value=gateway)
            yield Cure(title=f"Gateway {gateway}", needs="a look at the router", edits=(edit,))


def _readdress(case: Case, thing: Thing) -> Iterator[Cure]:
    ref = f"{thing.id}/{thing.part}"
    port = case.ports[ref]
    network = case.networks[port.network or ""]
    free = free_address(case, network, case.devices[thing.id].kind)
    if apart := neighbours_alike(case, ref, port, network):
        yield from _of_their_network(case, network, (case.devices[thing.id], *apart))
    if free:
        fixed = "fixed" if port.addressing == "dhcp" else port.addressing
        yield Cure(
            title=f"Use {free}, {fixed}",
            needs="typing it into the device" if fixed == "fixed" else "a reservation in the router",
            edits=(set_port(ref, "address", str(free)), set_port(ref, "addressing", fixed)),
        )
    yield Cure(title="Leave it to DHCP", edits=_by_dhcp(ref))


def _of_their_network(case: Case, network: Network, devices: tuple[Device, ...]) -> Iterator[Cure]:
    """Addresses of the network for devices that have some of another range, and what is typed of the old ones."""
    made: dict[str, str] = {}
    edits: list[Edit] = []
    for device in devices:
        port = next(p for p in device.ports if p.network == network.id and p.address)
        free = free_address(case, network, device.kind, tuple(made.values()))
        if free is None:
            return
        made[port.address] = str(free)
        edits.append(set_port(f"{device.id}/{port.id}", "address", str(free)))
    typed = ((s, made.get(host_of(s.address))) for s in case.streams)
    edits += [set_link(s.id, "address", readdressed(s.address, new)) for s, new in typed if new]
    yield Cure(title=f"Use {listed(made.values())}", needs="typing them into the devices", edits=tuple(edits))


def _fixed_alone(case: Case, thing: Thing) -> Iterator[Cure]:
    """Fixed addresses of their network for the two devices that one cable joins."""
    made: list[str] = []
    edits: list[SetPort] = []
    for ref in (f"{thing.id}/{thing.part}", case.other_end(f"{thing.id}/{thing.part}")):
        port = case.ports[ref] if ref else None
        if ref and port and port.network and not port.address:
            free = free_address(case, case.networks[port.network], case.device_of(ref).kind, made)
            if free is None:
                return
            made.append(str(free))
            edits += [set_port(ref, "address", str(free)), set_port(ref, "addressing", "fixed")]
    yield Cure(title=f"Use {listed(made)}, fixed", needs="typing them into the devices", edits=tuple(edits))


def _reserved(case: Case, thing: Thing) -> Iterator[Cure]:
    """The address of the box that is called, kept for it."""
    box, port = next((what.box, what.port) for about, what in called_at(case) if about == thing)
    ref, free = (
        f"{box.id}/{port.id}",
        port.address or free_address(case, case.networks[port.network or ""], box.kind),
    )
    address = () if not free else (set_port(ref, "address", str(free)),)
    if address:
        edits = (*address, set_port(ref, "addressing", "reserved"))
        yield Cure(title=f"Reserve {free} for {box.name}", needs="a reservation in the router", edits=edits)


def set_port(ref: str, field: str, value: str | bool | None) -> SetPort:
    """An edit of one field of a port's addressing."""
    return SetPort(port=ref, field=f"interface.{field}", value=value)


def _by_dhcp(ref: str) -> tuple[SetPort, SetPort]:
    return set_port(ref, "address", ""), set_port(ref, "addressing", "dhcp")


def _onto_a_network(case: Case, thing: Thing) -> Iterator[Cure]:
    sender = case.devices[thing.id]
    lan = [f"{sender.id}/{p.id}" for p in sender.ports if {"ethernet", "wifi"} & set(p.types)]
    site = case.site_of(sender)
    for network in case.networks.values():
        if lan and case.uplink_of(network.id) and (site is None or network.site == site.id):
            yield Cure(
                title=f"Put it on {network.name}",
                needs="a free socket there",
                edits=(set_port(lan[0], "network", network.id), *_by_dhcp(lan[0])),
            )
    for on in dict.fromkeys(p.network for p in sender.ports if p.network):
        for uplink in case.uplinks.values():
            if uplink.site == case.networks[on].site and not case.uplink_of(on):
                title = f"{case.networks[on].name} leaves by {uplink.name}"
                yield Cure(title=title, needs="the router's WAN port there", edits=(LeaveBy(network=on, uplink=uplink.id),))  # fmt: skip


def _ends_online(case: Case, thing: Thing) -> Iterator[Cure]:
    """The ends of a stream to another site put on a network with an uplink."""
    stream = case.links[thing.id]
    assert isinstance(stream, Stream)
    for end in (stream.from_device, stream.to_device):
        yield from _onto_a_network(case, Thing("device", end))


def _use_built(case: Case, thing: Thing) -> Iterator[Cure]:
    stream = case.links[thing.id]
    assert isinstance(stream, Stream)
    ingest = case.devices[stream.to_device].ingest
    built = built_address(stream, ingest) if ingest else None
    if ingest and not stream.address:
        host, port, path = taken_apart(ingest.host)
        fields = {"host": host, **({"port": port} if port else {}), **({"app": path} if path else {})}
        edits = tuple(
            SetField(noun="device", id=stream.to_device, field=f"ingest.{f}", value=v)
            for f, v in fields.items()
        )
        if host and host != ingest.host:
            yield Cure(
                title="Take it apart",
                how=f"Host {host}"
                + (f", port {port}" if port else "")
                + (f", application {path}" if path else ""),
                edits=edits,
            )
    if built and stream.address:
        yield Cure(title=f"Use {built}", edits=(set_link(stream.id, "address", ""),))


def onto_one_network(case: Case, thing: Thing) -> Iterator[Cure]:
    """One end of a stream put on a network of the other, by a socket that it has."""
    stream = case.links[thing.id]
    assert isinstance(stream, Stream)
    sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
    for moved, other in ((sender, taker), (taker, sender)):
        port = lan_port(moved)
        for id in dict.fromkeys(p.network for p in other.ports if p.network):
            if port and case.networks[id].site == getattr(case.site_of(moved), "id", case.networks[id].site):
                ref = f"{moved.id}/{port.id}"
                yield Cure(
                    title=f"Put {moved.name} on {case.networks[id].name}",
                    needs="a free socket there",
                    edits=(set_port(ref, "network", id), *_by_dhcp(ref)),
                )


def _masked_alike(case: Case, thing: Thing) -> Iterator[Cure]:
    """The mask of the network in place of the box's own."""
    edit = set_port(f"{thing.id}/{thing.part}", "mask_bits", None)
    yield Cure(title="Use the network's mask", needs="typing it into the device", edits=(edit,))


def _nearer(case: Case, thing: Thing) -> Iterator[Cure]:
    """The service used in its nearest zone."""
    served = next(what for about, what in SERVED.each(case) if about == thing)
    found = nearest_zone(served)
    if found and found[0].host:
        edit = SetField(noun="device", id=thing.id, field="ingest.host", value=found[0].host)
        yield Cure(title=f"Use {found[0].name}", needs="choosing it before going live", edits=(edit,))


def _other_path(case: Case, thing: Thing) -> Iterator[Cure]:
    """The path of the stream that is meant, in the address that is there."""
    stream = case.links[thing.id]
    assert isinstance(stream, Stream)
    can = case.devices[stream.from_device].encoding
    for path in dict.fromkeys((can.main_path, can.sub_path) if can else ()):
        edit = set_link(stream.id, "address", with_path(stream.address, path))
        yield Cure(title=f"Ask for {path}", edits=(edit,))


def _one_group(case: Case, thing: Thing) -> Iterator[Cure]:
    """One box set to the group of the other."""
    stream = case.links[thing.id]
    assert isinstance(stream, Stream)
    sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
    for box, other in ((taker, sender), (sender, taker)):
        groups = list(groups_of(other))
        edit = SetField(noun="device", id=box.id, field="groups_seen", value=[*groups_of(box), *groups])
        yield Cure(title=f"Have {box.name} look in {groups[0]} too", edits=(edit,))


def _own_name(case: Case, thing: Thing) -> Iterator[Cure]:
    """A name, or a stream id, of its own where another has it."""
    stream = case.links[thing.id]
    assert isinstance(stream, Stream)
    if stream.protocol == "srt":
        yield Cure(title=f"Stream id {stream.id}", needs="a listener that tells callers apart by it", edits=(set_link(stream.id, "stream_id", stream.id),))  # fmt: skip
    elif stream.address and not case.devices[stream.to_device].ingest:
        renamed = with_name(stream.address, stream.id)
        yield Cure(title=f"Publish it as {stream.id}", edits=(set_link(stream.id, "address", renamed),))


def _as_published(case: Case, thing: Thing) -> Iterator[Cure]:
    """What a player asks a server for, as it is published there."""
    stream = case.links[thing.id]
    assert isinstance(stream, Stream)
    for published in published_to(case, stream.from_device):
        typed = urlunsplit(urlsplit(stream.address)._replace(path=f"/{published_as(published)}"))
        yield Cure(title=f"Ask for {published_as(published)}", edits=(set_link(stream.id, "address", typed),))


def _this_shows_key(case: Case, thing: Thing) -> Iterator[Cure]:
    """That a key which came along from an earlier show is this one's too."""
    stream = case.links[thing.id]
    if isinstance(stream, Stream) and stream.key and stream.key_carried:
        yield Cure(
            title="It is this show's key",
            needs="a look at the platform's page",
            edits=(set_link(stream.id, "key_carried", False),),
        )


CURES: Cures = {
    key_missing: _this_shows_key,
    not_published: _as_published,
    mask_hides: _masked_alike,
    zone_far: _nearer,
    other_stream_of_it: _other_path,
    groups_apart: _one_group,
    name_taken: _own_name,
    networks_apart: onto_one_network,
    network_range: _whole_range,
    address_fault: _readdress,
    address_twice: _readdress,
    address_missing: _readdress,
    no_lease: _fixed_alone,
    address_may_move: _reserved,
    no_way_out: _onto_a_network,
    far_way_out: _ends_online,
    stream_address: _use_built,
}
