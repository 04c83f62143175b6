"""What each side of a stream types or sets: who calls, who listens, at which address, port and name. Keys are never told."""

from urllib.parse import quote, urlsplit

from humble_relay.core.endpoints.calls import asked_port, call_of
from humble_relay.core.endpoints.forwarded_ports import listening_port
from humble_relay.core.endpoints.ndi_groups import groups_of
from humble_relay.core.endpoints.stream_names import asked_of_servers, path_of, published_name
from humble_relay.core.endpoints.stream_urls import DEFAULT_PORT, typed_address
from humble_relay.core.endpoints.substreams import path_meant
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.lan.sockets import picture_sockets
from humble_relay.core.plan import Device, Stream

_APP = "live"
"""The application name that servers come with (common practice, no source)."""


class SideLine(Frozen):
    """One side of a stream: the box, what is done there, what is typed there (empty where nothing is), and what else is set."""

    device: str
    name: str
    does: str
    types: str
    sets: str


def settings_of_each_side(case: Case, stream: Stream) -> tuple[SideLine, ...]:
    """The sides of a stream, the one that acts first. What is not known yet stands in angle quotes."""
    sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
    match stream.protocol:
        case "rtmp" | "rtmps":
            return _published(case, stream, sender, taker)
        case "rtsp":
            path = path_meant(sender, stream) or "‹path›"
            types = (
                stream.address or f"rtsp://‹user›:‹password›@{_host(sender)}:{DEFAULT_PORT['rtsp']}/{path}"
            )
            which = {True: "its substream", False: "its main stream"}.get(
                bool(stream.small) if stream.small is not None else None,  # type: ignore[arg-type]
                "its main stream, or the substream where that is too much",
            )
            return (
                _side(taker, "calls, and pulls the picture", types, "user and password are the camera's own"),
                _side(sender, "listens", "", f"RTSP switched on, TCP port {listening_port(case, call_of(case, stream)) or 554}; {which}"),
            )  # fmt: skip
        case "srt":
            return _srt(case, stream, sender, taker)
        case "hls":
            return _segments(case, stream, sender, taker)
        case "web":
            fmt = stream.format
            return (
                _side(sender, "opens the link that invites", stream.address or "‹the link that invites›", "camera and microphone allowed"),
                _side(taker, "opens the link that views", stream.view_address or "‹the link that views›", f"as a browser source of {fmt.width} × {fmt.height}"),
            )  # fmt: skip
        case "ndi":
            far = not _one_network(sender, taker)
            group = f"group {', '.join(groups_of(sender))}"
            types = _host(sender) if far else ""
            sets = (
                "the source's address, for its name does not cross a router"
                if far
                else f"picks {sender.name} from the list"
            )
            return (_side(taker, "takes the source", types, sets), _side(sender, "announces itself", "", f"named {sender.name}, in {group}"))  # fmt: skip
        case _ if taker.ingest:
            types = typed_address(case, stream) or f"‹address of {taker.name}, from its page›"
            return (_side(sender, "calls", types, "the zone chosen before going live; signed in to the same account"),)  # fmt: skip
        case _:
            near = _one_network(sender, taker)
            if near and taker.kind == "decoder" and not stream.address:
                return (
                    _side(sender, f"picks {taker.name} from its list, and calls", "", "no file, no key and no forward, while both are on one network"),
                    _side(taker, "listens", "", f"named {taker.name}"),
                )  # fmt: skip
            sets = (
                f"in the file the public address is replaced by {_host(taker)}"
                if near
                else "the file with the public address and the forwarded port"
            )
            return (
                _side(taker, "writes its settings file, and listens", "", "a port that its router forwards" if not near else ""),
                _side(sender, "imports the file, and calls", stream.address or (_host(taker) if near else "‹public address of the other site›"), sets),
            )  # fmt: skip


def _segments(case: Case, stream: Stream, sender: Device, taker: Device) -> tuple[SideLine, ...]:
    """HTTP segments: put to a service, or asked for where they lie (RFC 8216)."""
    if taker.ingest:
        types = typed_address(case, stream) or f"‹address of {taker.name}, from its page›"
        return (
            _side(sender, "calls, and puts the segments there", types, "segments of 6 s; a keyframe at each"),
        )
    types = stream.address or f"http://{_host(sender)}/{_APP}/{quote(stream.id)}.m3u8"
    port = asked_port("hls", types)
    return (
        _side(taker, "calls, and pulls the segments", types, "as a stream by address; it starts three segments behind"),
        _side(sender, "listens", "", f"TCP port {port}; segments of 6 s, a keyframe at each"),
    )  # fmt: skip


def _published(case: Case, stream: Stream, sender: Device, taker: Device) -> tuple[SideLine, ...]:
    """RTMP: published to a platform or a server, or pulled from a server."""
    if taker.ingest:
        types = typed_address(case, stream) or f"‹address of {taker.name}, from its page›"
        return (
            _side(
                sender,
                "calls, and publishes",
                types,
                "the key in its own field" if stream.protocol != "srt" else "",
            ),
        )
    served = sender if sender.decoding else taker
    base = stream.address or f"{stream.protocol}://{_host(served)}:{DEFAULT_PORT[stream.protocol]}/{_APP}"
    app = (_path(base) or [_APP])[0]
    listens = f"TCP port {_port(base, DEFAULT_PORT[stream.protocol] or 0)}, application {app}"
    if served is sender:
        published = asked_of_servers(case).get(stream.id, ())
        name = published_name(published[0]) if len(published) == 1 else "‹stream name›"
        if len(published) == 1 and not stream.address:
            base = f"{base.removesuffix(_APP)}{(path_of(published[0].address) or [_APP])[0]}"
        types = base if len(_path(base)) > 1 else f"{base}/{name}"
        return (
            _side(taker, "calls, and pulls the picture", types, "the stream name is the one that was published"),
            _side(sender, "listens", "", listens),
        )  # fmt: skip
    named = "" if len(_path(base)) > 1 else f"stream name {published_name(stream)}: any, but unique"
    return _side(sender, "calls, and publishes", base, named), _side(taker, "listens", "", listens)


def _srt(case: Case, stream: Stream, sender: Device, taker: Device) -> tuple[SideLine, ...]:
    """SRT: the end that calls types the other's address, the one that listens its own port; at once, both type the other's."""
    latency = (
        f"latency {stream.latency_ms or case.figures['srt-delay']:g} ms: the larger of both sides counts"
    )
    shared = f"{latency}; the same passphrase" if stream.key else latency
    named = f"{shared}; the stream id, in its own field" if stream.stream_id else shared
    if taker.ingest:
        types = typed_address(case, stream) or f"‹address of {taker.name}, from its page›"
        return (_side(sender, "calls", types, named),)
    call = call_of(case, stream)
    port = _port(stream.address, 0) or "‹port›"
    types = stream.address or f"srt://{_host(call.listener)}:{port}?mode=caller"
    if call.both:
        back = f"srt://‹address of {call.caller.name} from outside›:{port}?mode=rendezvous"
        return (_side(call.caller, "calls, at the same time", types, f"mode rendezvous; {shared}"),
                _side(call.listener, "calls, at the same time", back, f"mode rendezvous; {shared}"))  # fmt: skip
    does = "calls, and pulls the picture" if call.caller is taker else "calls"
    heard = listening_port(case, call) or port
    return (
        _side(call.caller, does, types, named),
        _side(call.listener, "listens", f"srt://:{heard}?mode=listener", f"UDP port {heard}; {named}"),
    )


def _side(device: Device, does: str, types: str, sets: str) -> SideLine:
    return SideLine(device=device.id, name=device.name, does=does, types=types, sets=sets)


def _host(device: Device) -> str:
    """The address of a box as it stands in a URL (RFC 3986 §3.2.2: IPv6 in brackets)."""
    address = next((p.address for p in picture_sockets(device) if p.address), "")
    return f"[{address}]" if address.count(":") > 1 else address or f"‹address of {device.name}›"


def _one_network(a: Device, b: Device) -> bool:
    return bool({p.network for p in a.ports if p.network} & {p.network for p in b.ports if p.network})


def _port(address: str, otherwise: int) -> int:
    try:
        return urlsplit(address).port or otherwise
    except ValueError:
        return otherwise


def _path(address: str) -> list[str]:
    try:
        return [part for part in urlsplit(address).path.split("/") if part]
    except ValueError:
        return []
