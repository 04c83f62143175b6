"""The address a stream is sent to: built from the platform's data, or checked as typed."""

from collections.abc import Iterator
from ipaddress import ip_address
from urllib.parse import urlsplit

from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Fault, Fix, rule
from humble_relay.core.network.subnets import classify
from humble_relay.core.plan import Ingest, Protocol, Stream
from humble_relay.core.plan.edits import SetField
from humble_relay.core.plan.secrets import HIDDEN

DEFAULT_PORT: dict[Protocol, int | None] = {"rtmp": 1935, "rtmps": 443, "srt": None, "rtsp": 554}
"""RTMP 1935: published protocol. RTSP 554: RFC 7826. RTMPS 443: common practice, no source. SRT has no assigned port."""


def built_address(stream: Stream, ingest: Ingest) -> str | None:
    """The address from the platform's host, port and app, without the key; None until they are known."""
    port = ingest.port or DEFAULT_PORT.get(stream.protocol)
    if not ingest.host or port is None:
        return None
    if stream.protocol == "srt":
        return f"srt://{ingest.host}:{port}"
    return f"{stream.protocol}://{ingest.host}:{port}/{ingest.app}"


def typed_address(case: Case, stream: Stream) -> str | None:
    """The address as it will be typed: the stream's own, or else the built one."""
    ingest = case.devices[stream.to_device].ingest
    return stream.address or (built_address(stream, ingest) if ingest else None)


@rule("stream-address", "addresses")
def stream_address(case: Case) -> Iterator[Fault]:
    """Stream addresses that cannot work, or are not known yet."""
    for stream in case.streams:
        ingest = case.devices[stream.to_device].ingest
        if ingest is None:
            continue
        built = built_address(stream, ingest)
        if not stream.address and built is None:
            yield _fault(
                stream,
                "risks",
                f"{stream.name} has no address yet.",
                "There is nothing to type into the encoder.",
            )
            continue
        wrong = _wrong_with(stream, ingest) if stream.address else None
        if wrong:
            fixes: tuple[Fix, ...] = ()
            if built:
                edit = SetField(noun="link", id=stream.id, field="address", value="")
                fixes = (Fix(title=f"Use {built}", edits=(edit,)),)
            yield _fault(
                stream,
                "stops",
                f"{stream.name}: {wrong}",
                "The encoder tries, waits, and says 'cannot connect'.",
                fixes,
            )


@rule("key-missing", "addresses")
def key_missing(case: Case) -> Iterator[Fault]:
    """Pushes to a platform without the key that names the show."""
    for stream in case.streams:
        if stream.key_withheld or HIDDEN in (typed_address(case, stream) or ""):
            yield Fault(
                severity="risks",
                noun="link",
                subject=stream.id,
                wrong=f"The key or password of {stream.name} was left out of the file this plan came from.",
                means="The stream cannot be set up from these papers alone.",
                do="Type it again: the key in its field, or the whole address.",
            )
        elif case.devices[stream.to_device].ingest is None or stream.key or stream.protocol == "srt":
            continue
        else:
            yield Fault(
                severity="stops",
                noun="link",
                subject=stream.id,
                wrong=f"{stream.name} has no stream key.",
                means="The platform refuses the connection, or sends it to nobody's show.",
                do="Copy the key from the platform's page for this event, not from last time's.",
            )


def _wrong_with(stream: Stream, ingest: Ingest) -> str | None:
    """What is wrong with a typed address, in words, or None."""
    text = stream.address
    if text != text.strip() or " " in text:
        return "the address has a space in it."
    try:
        parts = urlsplit(text)
        host, port = parts.hostname, parts.port
    except ValueError:
        return f"{text} cannot be read as an address."
    if parts.scheme not in DEFAULT_PORT:
        return f"{text} does not start with {stream.protocol}://."
    if parts.scheme != stream.protocol:
        return f"the address says {parts.scheme}, the stream is set to {stream.protocol}."
    if not host:
        return f"{text} names no host."
    if (local := _local(host)) is not None:
        return local
    if stream.protocol == "srt":
        return None if port else "an SRT address needs a port: none is assigned."
    path = parts.path.strip("/")
    if not path:
        return f"the application name is missing after the host (such as /{ingest.app})."
    if stream.key and stream.key in text:
        return "the key is in the address as well as in its own field: the encoder would send it twice."
    if parts.scheme == "rtmp" and port == 443:
        return "port 443 expects RTMPS; plain RTMP is not answered there."
    return None


def _local(host: str) -> str | None:
    if host == "localhost":
        return "localhost means the encoder itself, not the platform."
    try:
        kind, source = classify(str(ip_address(host)))
    except ValueError:
        return None
    if kind in ("public", "documentation"):
        return None
    return f"{host} is a {kind} address ({source}): a platform on the internet is not there."


def _fault(stream: Stream, severity: str, wrong: str, means: str, fixes: tuple[Fix, ...] = ()) -> Fault:
    return Fault.model_validate(
        {
            "severity": severity,
            "noun": "link",
            "subject": stream.id,
            "wrong": wrong,
            "means": means,
            "do": "Copy the address from the platform's page for this event.",
            "fixes": fixes,
        }
    )
