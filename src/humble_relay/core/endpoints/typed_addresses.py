"""What is wrong with an address as it stands, whatever it leads to: blanks, scheme, host, port, application."""

import re
from urllib.parse import urlsplit

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


def fault_in(stream: Stream, text: str) -> str | None:
    """What is wrong with an address typed for a stream, in words that go on from `the address`; None where it can be read.

    >>> srt = Stream.model_validate({"id": "s", "name": "S", "from_device": "a", "to_device": "b", "protocol": "srt",
    ...     "format": {"width": 1280, "height": 720, "rate": "25"}, "video_mbps": 4})
    >>> fault_in(srt, "srt://203.0.113.7"), fault_in(srt, "srt://srt://203.0.113.7:9000"), fault_in(srt, "203.0.113.7:9000")
    ('names no port, and SRT has none of its own', 'has its scheme twice', None)
    """
    if text != text.strip() or re.search(r"\s", text):
        return "has a blank in it"
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
    if stream.protocol == "srt" and not port:
        return "names no port, and SRT has none of its own"
    if stream.protocol in ("rtmp", "rtmps") and not parts.path.strip("/"):
        return "names no application after the host, such as /live"
    if stream.protocol == "rtmp" and port == 443:
        return "goes to port 443, which expects RTMPS"
    return None
