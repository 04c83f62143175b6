"""Under which name a stream is published on a server or a service, and whether another one has it already."""

from collections import defaultdict
from collections.abc import Iterator
from typing import NamedTuple
from urllib.parse import quote, urlsplit, urlunsplit

from humble_relay.core.endpoints.calls import call_of
from humble_relay.core.endpoints.stream_urls import typed_address
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful, fails
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.plan import Stream


class Published(NamedTuple):
    """A stream that its sender publishes: where, and under which name there."""

    stream: Stream
    where: str
    name: str


def published_name(stream: Stream) -> str:
    """The name under which a stream is published: of its address, else its own."""
    try:
        path = [part for part in urlsplit(stream.address).path.split("/") if part]
    except ValueError:
        path = []
    return path[1] if len(path) > 1 else quote(stream.id)


def with_name(address: str, name: str) -> str:
    """The address of an application with another stream name behind it.

    >>> with_name("rtmp://10.0.0.5:1935/live/tide", "slipway")
    'rtmp://10.0.0.5:1935/live/slipway'
    """
    parts = urlsplit(address)
    app = next((part for part in parts.path.split("/") if part), "live")
    return urlunsplit(parts._replace(path=f"/{app}/{quote(name)}"))


@analysis
def _published(case: Case) -> tuple[tuple[Thing, Published], ...]:
    return tuple(_calling(case))


def _calling(case: Case) -> Iterator[tuple[Thing, Published]]:
    for stream in case.streams:
        call = call_of(case, stream)
        if (
            stream.broken
            or stream.protocol not in ("rtmp", "rtmps", "srt", "hls")
            or call.caller.id != stream.from_device
        ):
            continue
        taker = case.devices[stream.to_device]
        address = typed_address(case, stream) or ""
        if stream.protocol == "srt":
            where, name = str(call.port or ""), stream.stream_id or _setting(address, "streamid")
        else:
            where, name = (
                _application(address),
                (stream.key or "" if taker.ingest else published_name(stream)),
            )
            name = name or address
        if where and (name or stream.protocol == "srt"):
            yield (
                Thing("link", stream.id, "name"),
                Published(stream, f"{stream.protocol[:4]} {taker.id} {where.lower()}", name),
            )


def _application(address: str) -> str:
    """The server, port and application of an address, without the stream's own name."""
    try:
        parts = urlsplit(address)
        path = [part for part in parts.path.split("/") if part]
        return f"{parts.hostname}:{parts.port or ''}/{path[0] if path else ''}"
    except ValueError:
        return address


def _setting(address: str, name: str) -> str:
    try:
        query = urlsplit(address).query
    except ValueError:
        return ""
    return next((p.partition("=")[2] for p in query.split("&") if p.partition("=")[0].lower() == name), "")


@analysis
def _holders(case: Case) -> dict[tuple[str, str], list[Stream]]:
    found: dict[tuple[str, str], list[Stream]] = defaultdict(list)
    for _, each in _published(case):
        found[each.where, each.name].append(each.stream)
    return found


PUBLISHED: SubjectKind[Published] = SubjectKind("stream that is published under a name", _published)


@check(
    "name-taken", PUBLISHED, "addresses", "Is it the only one published under its name there?",
    "common practice, no source", "plan", tried=True,
)  # fmt: skip
def name_taken(case: Case, what: Published) -> Verdict:
    """Whether another stream is published to the same server under the same name, or key, before this one: the second is
    refused, or throws the first off. Two SRT callers at one port without a stream id cannot be told apart; what the
    listener does then is its own."""
    stream = what.stream
    first = _holders(case)[what.where, what.name][0]
    if first.id == stream.id:
        return HOLDS
    there = case.devices[stream.to_device].name
    nameless = stream.protocol == "srt" and not what.name

    def say() -> Words:
        return Words(
            f"{first.name} and {stream.name} both call {there} at one port, and neither has a stream id."
            if nameless
            else f"{first.name} and {stream.name} are both published to {there} under one name.",
            "The second is refused, or throws the first off: viewers see one picture, and not always the same.",
            "Give each a stream id or a port of its own."
            if nameless
            else "Give one of them another name there.",
        )

    return doubtful(say) if nameless else fails(say)


CHECKS = (name_taken,)
