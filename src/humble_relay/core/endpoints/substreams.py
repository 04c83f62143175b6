"""Which of a box's two streams is asked for: the full one, or the small one beside it."""

from collections.abc import Iterator
from urllib.parse import urlsplit, urlunsplit

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful, fails
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.plan import Device, Stream


def path_meant(sender: Device, stream: Stream) -> str:
    """The path of the stream that is meant, without its first slash; empty where nobody said which, or what it is called."""
    can = sender.encoding
    if can is None:
        return ""
    return (can.sub_path if stream.small else can.main_path).lstrip("/")


def with_path(address: str, path: str) -> str:
    """The address with another path, and its settings where the path brings its own.

    >>> with_path("rtsp://admin@10.0.0.5:554/full", "/video?size=small")
    'rtsp://admin@10.0.0.5:554/video?size=small'
    """
    bare = "//" not in address
    parts, new = urlsplit(f"//{address}" if bare else address), urlsplit(path)
    kept = parts._replace(path=f"/{new.path.lstrip('/')}", query=new.query)
    return urlunsplit(kept).removeprefix("//" if bare else "")


def has_two_paths(case: Case, stream: Stream) -> bool:
    """Whether the sender of a stream has a main stream and a substream, each with a path of its own."""
    can = case.devices[stream.from_device].encoding
    return stream.protocol == "rtsp" and can is not None and bool(can.main_path and can.sub_path)


def _pulled(case: Case) -> Iterator[tuple[Thing, Stream]]:
    for stream in case.streams:
        if stream.address and has_two_paths(case, stream):
            yield Thing("link", stream.id, "which"), stream


OF_TWO: SubjectKind[Stream] = SubjectKind(
    "stream by address from a box that has a full and a small one", _pulled
)


@check(
    "other-stream-of-it", OF_TWO, "addresses", "Does its address ask for the stream that is meant, full or small?",
    "RFC 3986; the box's own paths", "gear",
)  # fmt: skip
def other_stream_of_it(case: Case, stream: Stream) -> Verdict:
    """Whether an address asks for the substream where the main stream is meant, or the reverse.

    Where nobody said which is meant, a picture planned smaller than the box's own tells that it is the small one, and the
    other way round; that is a doubt only."""
    sender = case.devices[stream.from_device]
    assert sender.encoding
    asks = _asks(stream.address)
    paths = {False: _asks(sender.encoding.main_path), True: _asks(sender.encoding.sub_path)}
    meant = stream.small
    if meant is None and sender.produces:
        meant = stream.format.height < sender.produces.height
    if meant is None or asks != paths[not meant] or paths[True] == paths[False]:
        return HOLDS

    def say() -> Words:
        asked, other = ("full", "small") if meant else ("small", "full")
        return Words(
            f"{stream.name} is to be the {other} stream of {sender.name}, and its address asks for the {asked} one.",
            "It takes several times the bitrate that is planned, and the picture stutters."
            if meant
            else "The picture is soft on the big screen, and nobody finds out why.",
            f"Type its path: {path_meant(sender, stream.model_copy(update={'small': meant}))}",
        )

    return doubtful(say) if stream.small is None else fails(say)


def _asks(text: str) -> tuple[str, tuple[str, ...]]:
    """The path and the settings of an address or of a bare path, to be compared."""
    try:
        parts = urlsplit(text if "//" in text else f"//h/{text.lstrip('/')}")
    except ValueError:
        return "", ()
    return parts.path.strip("/").lower(), tuple(sorted(filter(None, parts.query.lower().split("&"))))


CHECKS = (other_stream_of_it,)
