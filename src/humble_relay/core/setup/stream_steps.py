"""What is to be set for the streams: addresses, what is switched on, profiles, settings files, what the far end types; and the lines they go by."""

from collections.abc import Iterator

from humble_relay.core.addressing.subnets import own_range
from humble_relay.core.catalogue.words import CODEC_WORDS, LAYOUT_WORDS
from humble_relay.core.egress.outbound import in_the_cloud, on_the_internet, uplink_out
from humble_relay.core.endpoints.calls import call_of
from humble_relay.core.endpoints.endpoint_settings import settings_of_each_side
from humble_relay.core.endpoints.substreams import path_meant
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Device, Stream
from humble_relay.core.plan.vocabulary import MIXERS
from humble_relay.core.setup.device_steps import InUse
from humble_relay.core.setup.step import SetupStep, step

_LOGIN = {
    True: "The camera's own user and password.",
    False: "None: leave both empty.",
    None: "Read in the camera whether it wants them.",
}
_FILTERS_CALLS = ("computer",)
"""Devices whose own firewall may stop a caller."""


def stream_steps(case: Case, use: InUse) -> Iterator[SetupStep | None]:
    """What is to be set on a device for the streams that leave and reach it."""
    yield from _network(case, use)
    for stream in use.sends:
        yield from _sent(case, use.device, stream)
    for stream in use.takes:
        yield from _taken(case, use.device, stream)
    yield from _lines(case, use)


def _network(case: Case, use: InUse) -> Iterator[SetupStep | None]:
    """The address of each socket that streams go by: fixed ones are typed; one that others call is read, and compared."""
    device = use.device
    streams = (*use.sends, *use.takes)
    called = any(_listens(case, s) == device.id for s in streams)
    at = tuple(s.id for s in streams)
    for port in device.ports:
        network = case.networks.get(port.network or "")
        if network is None or not streams or port.interface is None:
            continue
        if port.addressing == "dhcp" and not called:
            continue
        range_ = own_range(port, network)
        values = (
            ("Address", port.address or "read it off, and write it down"),
            ("Mask", f"{range_.netmask} (/{range_.prefixlen})" if range_ else ""),
            ("Gateway", network.gateway),
        )
        says = (
            "Fixed address typed" if port.addressing == "fixed" else "Address read off, as it is in the plan"
        )
        yield step(
            case, device, "network", values if port.addressing == "fixed" else values[:1], at, port.id, says
        )


def _listens(case: Case, stream: Stream) -> str:
    """The device that is called for a stream; empty where a service is, or nobody knows."""
    taker = case.devices[stream.to_device]
    if stream.protocol == "web" or on_the_internet(taker):
        return ""
    if stream.protocol == "ndi":
        return stream.from_device
    return call_of(case, stream).listener.id


def _sent(case: Case, device: Device, stream: Stream) -> Iterator[SetupStep | None]:
    taker, at, of = case.devices[stream.to_device], (stream.id,), stream.id
    typed, also = _typed(case, device, stream), _also(case, device, stream)
    picture = (
        ("Picture", stream.format.label),
        ("Codec", CODEC_WORDS[stream.codec]),
        ("Video bitrate", f"{stream.video_mbps:g} Mb/s"),
        ("Audio bitrate", f"{stream.audio_kbps:g} kb/s" if stream.audio_kbps else "none"),
        ("Latency", f"{stream.latency_ms:g} ms" if stream.protocol == "srt" and stream.latency_ms else ""),
        ("Keyframe interval", f"{stream.keyframe_s:g} s" if stream.keyframe_s else ""),
    )
    match stream.protocol:
        case "web":
            yield step(
                case,
                device,
                "lens",
                (("Held", "vertical" if stream.format.height > stream.format.width else "horizontal"),),
                at,
                of,
            )
            yield step(case, device, "guest-link", typed, at, of, also=also)
        case "rtsp" | "hls":
            yield step(
                case,
                device,
                "stream-on",
                (*typed, *picture),
                at,
                of,
                f"{stream.protocol.upper()} switched on",
                also,
            )
        case "ndi":
            if device.kind != "computer":
                yield step(case, device, "stream-on", (*typed, picture[0]), at, of, "NDI switched on", also)
        case "paired" if not taker.ingest:
            yield step(case, device, "settings-file", (*typed, *picture), at, of, also=also)
        case "rtmp" | "rtmps" if device.decoding and device.kind == "distribution":
            return  # a server: it passes on what was sent to it
        case _:
            says = f"Profile for {taker.name} filled and chosen"
            key = (
                ("Stream key", stream.key or ("left out of this copy" if stream.key_withheld else "")),
                ("Stream ID", stream.stream_id),
            )
            yield step(case, device, "profile", (*typed, *key, *picture), at, of, says, also)
    if stream.layout != "full":
        yield step(
            case,
            device,
            "layout",
            (("Canvas", stream.format.label), ("Picture", LAYOUT_WORDS[stream.layout])),
            at,
            of,
        )


def _taken(case: Case, device: Device, stream: Stream) -> Iterator[SetupStep | None]:
    sender, at, of = case.devices[stream.from_device], (stream.id,), stream.id
    if on_the_internet(device):
        return
    typed, also = _typed(case, device, stream), _also(case, device, stream)
    if stream.protocol == "rtsp":
        login = sender.encoding.login if sender.encoding else None
        path = path_meant(sender, stream)
        which = "" if stream.small is None else "substream" if stream.small else "main stream"
        yield step(case, device, "substream", (*typed, ("Which", which), ("Path", path)), at, of, also=also)
        yield step(case, device, "credentials", (), at, of, also=_LOGIN[login])
    if stream.protocol == "web" and device.kind in MIXERS:
        size = f"{stream.format.width} × {stream.format.height}"
        yield step(case, device, "source-size", (("Width × height", size), *typed), at, of, also=also)
        yield step(case, device, "source-reloads", (), at, of)
    if stream.protocol == "ndi" and not stream.input:
        yield step(
            case,
            device,
            "assigned",
            (("Source", sender.name),),
            at,
            of,
            f"{sender.name} chosen from the list",
        )
    if stream.protocol in ("rtmp", "rtmps") and device.kind == "distribution":
        yield step(case, device, "server-on", typed, at, of, also=also)
    elif stream.protocol in ("srt", "paired") and _listens(case, stream) == device.id:
        yield step(
            case,
            device,
            "settings-file" if stream.protocol == "paired" else "profile",
            typed,
            at,
            of,
            "" if stream.protocol == "paired" else f"Listens for {stream.name}",
            also,
        )
    if device.kind in _FILTERS_CALLS and (
        _listens(case, stream) == device.id or stream.protocol in ("rtsp", "ndi")
    ):
        yield step(case, device, "firewall", (), at, of)


def _lines(case: Case, use: InUse) -> Iterator[SetupStep | None]:
    """A bond that is to be on, and phones whose data are lent."""
    device = use.device
    away = [s for s in use.sends if not in_the_cloud(device)]
    lines = {uplink_out(case, device, s) for s in away}
    for line in sorted(filter(None, lines)):
        if case.uplinks[line].parts:
            parts = ", ".join(case.uplinks[p].name for p in case.uplinks[line].parts if p in case.uplinks)
            yield step(case, device, "bonding", (("Joins", parts),), of=line)
    lends = [p for p in device.ports if "mobile" in p.types and p.role == "uplink"]
    if device.kind == "router" and lends and any("usb" in p.types or "wifi" in p.types for p in device.ports):
        yield step(case, device, "tethering")


def _typed(case: Case, device: Device, stream: Stream) -> tuple[tuple[str, str], ...]:
    """What is typed at this end, as the paper of each side says it."""
    sides = settings_of_each_side(case, stream)
    return tuple(("Address", side.types) for side in sides if side.device == device.id and side.types)


def _also(case: Case, device: Device, stream: Stream) -> str:
    """What else is set at this end."""
    return "; ".join(s.sets for s in settings_of_each_side(case, stream) if s.device == device.id and s.sets)
