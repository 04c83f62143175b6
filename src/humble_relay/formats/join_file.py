"""The settings file of one side of a stream: a small JSON document that the other side's Humble Relay reads.

It says from whose view it is written (`you` is the reader), the address from outside and, where the two may stand on
one network, the one inside; the passphrase only where that was asked for. `docs/join-file.md` describes every field.
"""

from typing import Annotated, Literal

from pydantic import Field, ValidationError

from humble_relay.core.addressing.hosts import host_of, readdressed
from humble_relay.core.addressing.subnets import ipv4, subnet
from humble_relay.core.catalogue.gear import library, made_from
from humble_relay.core.endpoints.calls import asked_port, call_of
from humble_relay.core.frozen import Frozen, Name, Text, free_id, free_name, slug
from humble_relay.core.hidden_text import left_out
from humble_relay.core.judging.case import Case
from humble_relay.core.lan.sockets import lan_port
from humble_relay.core.papers.join_card import typed_for
from humble_relay.core.places.new_site import edits_of_new_site
from humble_relay.core.plan import Device, Forward, Network, Place, Plan, Protocol, Stream, Transport
from humble_relay.core.plan.devices import Mbps
from humble_relay.core.plan.edits import Addition, Edit, SetField, SetPort, added
from humble_relay.core.plan.edits.draft import plain_reason
from humble_relay.core.plan.video import Codec, VideoFormat
from humble_relay.core.reach.exposure import has_secret
from humble_relay.formats.plan_file import read_document


class OtherEnd(Frozen):
    """The end that wrote the file."""

    name: Name
    address: Text = ""
    """Its address inside its own network; empty where it has none that stays."""
    network: Text = ""
    """The range of that network, and its gateway: how the reader knows that it is the same."""
    gateway: Text = ""


class JoinFile(Frozen):
    """What a settings file holds."""

    format: Literal["humble-relay-join"] = "humble-relay-join"
    version: Literal[1, 2] = 2
    """2: with a stream id."""
    show: Name
    stream: Name
    you_send: bool
    you_call: bool
    protocol: Protocol
    address: Text = ""
    """What the caller types, from outside."""
    picture: VideoFormat
    codec: Codec = "h264"
    video_mbps: Mbps
    audio_kbps: Annotated[float, Field(ge=0, le=5000)] = 160
    latency_ms: Annotated[float, Field(ge=0, le=600_000)] | None = None
    other_end: OtherEnd
    secret: Text | None = None
    stream_id: Annotated[str, Field(max_length=512)] = ""
    """Of SRT; told only where the secret is."""
    secret_withheld: bool = False


class UnreadableJoin(ValueError):
    """A settings file that cannot be read; the message says why and what to do."""


def write_join(case: Case, stream: Stream, device: Device, secrets: bool = False) -> str:
    """The file for the box that reads it, one of the stream's two ends; its passphrase only where `secrets` says so."""
    other = case.devices[stream.to_device if device.id == stream.from_device else stream.from_device]
    socket = next((p for p in other.ports if p.network), None)
    network = case.networks[socket.network] if socket and socket.network else None
    address = typed_for(case, stream)
    made = JoinFile(
        show=case.plan.show.name,
        stream=stream.name,
        you_send=device.id == stream.from_device,
        you_call=call_of(case, stream).caller.id == device.id,
        protocol=stream.protocol,
        address=address if secrets else left_out(address),
        picture=stream.format,
        codec=stream.codec,
        video_mbps=stream.video_mbps,
        audio_kbps=stream.audio_kbps,
        latency_ms=stream.latency_ms,
        other_end=OtherEnd(
            name=other.name,
            address=socket.address if socket and socket.addressing != "dhcp" else "",
            network=network.range if network else "",
            gateway=network.gateway if network else "",
        ),
        secret=stream.key if secrets else None,
        stream_id=stream.stream_id if secrets else "",
        secret_withheld=(has_secret(stream) or bool(stream.stream_id)) and not secrets,
    )
    return made.model_dump_json(indent=1) + "\n"


def read_join(text: str) -> JoinFile:
    """The file read. Raises UnreadableJoin with what to change."""
    document = read_document(text, "humble-relay-join", "a stream's settings", UnreadableJoin, newest=2)
    try:
        return JoinFile.model_validate(document)
    except ValidationError as error:
        raise UnreadableJoin(f"The settings file cannot be used: {plain_reason(error)}") from None


def box_for(case: Case, found: JoinFile) -> Device | None:
    """The box of the plan that a file fits best: one that sends or takes its protocol, on a network before others."""

    def suits(device: Device) -> tuple[bool, bool]:
        part = device.encoding if found.you_send else device.decoding
        return (part is not None and found.protocol in part.protocols, any(p.network for p in device.ports))

    boxes = [d for d in case.devices.values() if d.encoding or d.decoding]
    return max(boxes, key=suits, default=None)


def edits_of_join(case: Case, found: JoinFile, device: Device) -> tuple[Edit, ...]:
    """What puts the stream of a file into this plan, at one of its boxes: the other end, where the plan has none of that name,
    with the site, line and forward that the file tells of, and the stream. Where both stand on one network, the inside
    address takes the place of the outside one."""
    other = next((d for d in case.devices.values() if d.name == found.other_end.name), None)
    inside = shared_network(case, found, device)
    edits: list[Edit] = []
    if other is None:
        other, edits = _other_end(case, found, device, inside)
    ends = (device.id, other.id) if found.you_send else (other.id, device.id)
    address = found.address
    if inside and found.other_end.address and found.you_call:
        address = (
            readdressed(found.address, found.other_end.address) if found.address else found.other_end.address
        )
    stream = Stream(
        id=free_id(slug(found.stream), case.links),
        name=free_name(found.stream, {s.name for s in case.streams}),
        from_device=ends[0],
        to_device=ends[1],
        protocol=found.protocol,
        format=found.picture,
        codec=found.codec,
        video_mbps=found.video_mbps,
        audio_kbps=found.audio_kbps,
        latency_ms=found.latency_ms,
        address=address,
        key=found.secret,
        key_withheld=found.secret_withheld,
        stream_id=found.stream_id,
        caller=("sender" if found.you_call == found.you_send else "receiver")
        if found.protocol == "srt"
        else None,
    )
    return (*edits, added(stream))


def _other_end(case: Case, found: JoinFile, device: Device, inside: str | None) -> tuple[Device, list[Edit]]:
    """The box that wrote the file, and what adds it: beside the reader on its network, or at a site of its own."""
    end, plan = found.other_end, case.plan
    model = library()["decoder" if found.you_send else "encoder-one"]
    id = free_id(slug(end.name), case.devices)
    socket = lan_port(model.device)
    if inside or end.network == "":
        network, before = inside, []
        place = device.place
    else:
        before = list(edits_of_new_site(plan, end.name, "fibre"))
        place = next(e.item.id for e in before if isinstance(e, Addition) and isinstance(e.item, Place))
        network = next(
            (e.item.id for e in before if isinstance(e, Addition) and isinstance(e.item, Network)), None
        )
    edits: list[Edit] = [*before, added(made_from(model, id, place, end.name))]
    if socket and network:
        edits += [SetPort(port=f"{id}/{socket.id}", field="interface.network", value=network)]
        if end.address:
            edits += [SetPort(port=f"{id}/{socket.id}", field="interface.addressing", value="reserved"),
                      SetPort(port=f"{id}/{socket.id}", field="interface.address", value=end.address)]  # fmt: skip
    if before and network:
        edits += _as_told(case.after(before).plan, found, network)
    return made_from(model, id, place, end.name), edits


def _as_told(plan: Plan, found: JoinFile, network: str) -> list[Edit]:
    """What the file tells of the other end's site: its range, its outside address, and the port that it forwards."""
    end = found.other_end
    router = next(r for r in plan.routers if network in r.networks)
    edits: list[Edit] = [
        SetField(noun="network", id=network, field=field, value=value)
        for field, value in (("range", end.network), ("gateway", end.gateway))
    ]
    port, host = asked_port(found.protocol, found.address), host_of(found.address)
    if not found.you_call or not port or not end.address:
        return edits
    transport: Transport = "udp" if found.protocol == "srt" else "tcp"
    forward = Forward(transport=transport, port=port, to_address=end.address)
    edits.append(
        SetField(noun="router", id=router.id, field="forwards", value=[forward.model_dump(mode="json")])
    )
    edits.append(SetField(noun="uplink", id=router.uplinks[0], field="outside", value="public"))
    if ipv4(host):
        edits.append(SetField(noun="uplink", id=router.uplinks[0], field="address", value=host))
    return edits


def shared_network(case: Case, found: JoinFile, device: Device) -> str | None:
    """The network of the reading box that the file's other end is on too, by its range and gateway; None where it is on none."""
    end = found.other_end
    if not end.network or not end.gateway:
        return None
    for port in device.ports:
        here = subnet(case.networks[port.network]) if port.network else None
        if here and str(here.range) == end.network and str(here.gateway) == end.gateway and end.address:
            taken = any(p.network == port.network and p.address == end.address for p in case.ports.values())
            same = any(d.name == end.name for d in case.devices.values())
            return port.network if same or not taken else None
    return None
