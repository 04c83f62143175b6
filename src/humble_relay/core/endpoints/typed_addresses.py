"""What is wrong with an address as it stands, whatever it leads to: blanks, scheme, host, port, application."""

import re
from urllib.parse import urlsplit

from humble_relay.core.addressing.hosts import address_in
from humble_relay.core.plan import Protocol, Stream

SCHEMES: dict[Protocol, tuple[str, ...]] = {
    "rtmp": ("rtmp",),
    "rtmps": ("rtmps",),
    "rtsp": ("rtsp", "rtsps"),
    "srt": ("srt",),
    "web": ("https", "http"),
    "hls": ("https", "http"),
}
"""What an address of a protocol begins with (RFC 7826 for RTSP, RFC 9110 for web pages; published protocols)."""
_ALWAYS: tuple[Protocol, ...] = ("rtmp", "rtmps", "web", "hls")
"""The protocols whose boxes want the scheme typed: others often have fields of their own for host and port."""
_TWICE = re.compile(r"\s*[a-z][a-z0-9+.-]*:/*[a-z][a-z0-9+.-]*://", re.IGNORECASE)


def fault_in(stream: Stream, text: str, port_said: int | None = None) -> str | None:
    """What is wrong with an address typed for a stream, in words that go on from `the address`; None where it can be read.
    `port_said`: the port that the service says it takes the stream at.

    >>> srt = Stream.model_validate({"id": "s", "name": "S", "from_device": "a", "to_device": "b", "protocol": "srt",
    ...     "format": {"width": 1280, "height": 720, "rate": "25"}, "video_mbps": 4})
    >>> fault_in(srt, "srt://203.0.113.7"), fault_in(srt, "srt://srt://203.0.113.7:9000"), fault_in(srt, "203.0.113.7:9000")
    ('names no port, and SRT has none of its own', 'has its scheme twice', None)
    """
    if text != text.strip() or re.search(r"\s", text):
        return "has a blank in it"
    if "#" in text and stream.protocol not in ("web", "hls"):
        return "has a # in it, after which nothing is sent (RFC 3986 §3.5): in a password it is typed %23"
    if _TWICE.match(text):
        return "has its scheme twice"
    bare = "//" not in text
    try:
        parts = urlsplit(f"//{text}" if bare else text)
        host, port = parts.hostname, parts.port
    except ValueError:
        return f"cannot be read: {text}"
    schemes = SCHEMES.get(stream.protocol, (stream.protocol,))
    if bare and stream.protocol in _ALWAYS:
        return f"does not start with {schemes[0]}://"
    if parts.scheme and parts.scheme not in schemes:
        return f"says {parts.scheme}, and the stream is {stream.protocol}"
    if not host:
        return f"names no host: {text}"
    if (wrong := host_fault(host)) is not None:
        return wrong
    if stream.protocol == "srt" and not port:
        return "names no port, and SRT has none of its own"
    if stream.protocol in ("rtmp", "rtmps") and not parts.path.strip("/"):
        return "names no application after the host, such as /live"
    if stream.protocol == "rtmp" and port == 443 and port_said != 443:
        return "goes to port 443, which expects RTMPS"
    return None


def taken_apart(text: str) -> tuple[str, int | None, str]:
    """Host, port and path of what was pasted where a host belongs; the port None and the path empty where it has none.

    >>> taken_apart("rtmps://ingest.alder.example:443/live"), taken_apart("ingest.alder.example")
    (('ingest.alder.example', 443, 'live'), ('ingest.alder.example', None, ''))
    """
    try:
        parts = urlsplit(text if "//" in text else f"//{text}")
        return parts.hostname or "", parts.port, parts.path.strip("/")
    except ValueError:
        return "", None, ""


_LABEL = re.compile(r"[a-z0-9_]([a-z0-9_-]{0,61}[a-z0-9_])?", re.IGNORECASE)


def host_fault(host: str) -> str | None:
    """What is wrong with a host, in words that go on from `the address`; None where it can be a name or an address (RFC 1123 §2.1,
    RFC 952; an underscore is taken, as many servers have one).

    >>> host_fault("192.168.2O.30"), host_fault("ingest..example"), host_fault("192,168.20.30")
    ('has a letter where a digit of 192.168.20.30 should be', 'has a dot too many', 'has a comma in it')
    >>> host_fault("ingest.alder.example"), host_fault("192.168.20.30"), host_fault("2001:db8::7")
    (None, None, None)
    """
    if ":" in host or address_in(host) is not None:
        return None
    if "," in host:
        return "has a comma in it"
    labels = host.removesuffix(".").split(".")
    if not all(labels):
        return "has a dot too many"
    meant = host.translate(str.maketrans("oOlI", "0011"))
    if len(labels) == 4 and address_in(meant) is not None:
        return f"has a letter where a digit of {meant} should be"
    if all(label.isdigit() for label in labels):
        return f"names {host}, which is no IPv4 address (RFC 791)"
    if not all(_LABEL.fullmatch(label) for label in labels) and host.isascii():
        return f"names {host}, which no host is called (RFC 1123 §2.1)"
    return None
