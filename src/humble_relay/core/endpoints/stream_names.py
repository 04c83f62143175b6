"""Under which name a stream is published on a server or a service, and whether another one has it already."""

from collections import defaultdict
from collections.abc import Iterator
from typing import NamedTuple
from urllib.parse import quote, urlsplit, urlunsplit

from humble_relay.core.endpoints.calls import call_of
from humble_relay.core.endpoints.stream_urls import typed_address
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Want, Words, doubtful, fails, wants
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import listed
from humble_relay.core.plan import Stream


class Published(NamedTuple):
    """A stream that its sender publishes: where, and under which name there."""

    stream: Stream
    where: str
    name: str


def path_of(address: str) -> list[str]:
    """The parts of an address's path: of RTMP the application, and the stream's name behind it.

    >>> path_of("rtmp://10.0.0.5:1935/live/tide")
    ['live', 'tide']
    """
    try:
        return [part for part in urlsplit(address).path.split("/") if part]
    except ValueError:
        return []


def published_name(stream: Stream) -> str:
    """The name under which a stream is published to a server: of its address, or of its key's field, else its own id."""
    path = path_of(stream.address)
    return "/".join(path[1:]) if len(path) > 1 else stream.key or quote(stream.id)


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


def published_as(stream: Stream) -> str:
    """The application and name under which a stream is published to a server: what a player asks it for."""
    return f"{(path_of(stream.address) or ['live'])[0]}/{published_name(stream)}"


@analysis
def asked_of_servers(case: Case) -> dict[str, tuple[Stream, ...]]:
    """For each stream that is pulled by RTMP from a server of ours, those published there that its application and name fit: one, where
    the plan says which; several, where it does not; none, where nobody publishes what it asks for."""
    return {
        s.id: _fitting(case, s)
        for s in case.streams
        if _is_pulled(case, s)
        and not case.devices[s.from_device].ingest
        and published_to(case, s.from_device)
    }


def _is_pulled(case: Case, stream: Stream) -> bool:
    return stream.protocol in ("rtmp", "rtmps") and call_of(case, stream).caller.id == stream.to_device


def published_to(case: Case, server: str) -> tuple[Stream, ...]:
    """What is published to a server by RTMP."""
    return tuple(
        s
        for s in case.streams_to.get(server, ())
        if s.protocol in ("rtmp", "rtmps") and not _is_pulled(case, s)
    )


def _fitting(case: Case, pulled: Stream) -> tuple[Stream, ...]:
    there, path = published_to(case, pulled.from_device), path_of(pulled.address)
    if not path:
        return there
    there = tuple(s for s in there if (path_of(s.address) or [path[0]])[0] == path[0])
    name = "/".join(path[1:]) or pulled.key
    return tuple(s for s in there if published_name(s) == name) if name else there


PULLED: SubjectKind[Stream] = SubjectKind(
    "stream that is pulled from a server",
    lambda case: (
        (Thing("link", id, "pulled"), s)
        for id in asked_of_servers(case)
        if isinstance(s := case.links[id], Stream)
    ),
)


@check(
    "not-published", PULLED, "addresses", "Is the stream that it asks for published there, under that application and name?",
    "common practice, no source", "plan",
)  # fmt: skip
def not_published(case: Case, stream: Stream) -> Verdict:
    """Whether the application and name that a player asks a server for are those that a sender publishes under."""
    found = asked_of_servers(case)[stream.id]
    names = sorted({published_as(s) for s in found})
    if len(names) == 1:
        return HOLDS
    server = case.devices[stream.from_device].name
    if found:
        asked = f"Which stream does {stream.name} ask {server} for: {listed(names)}?"
        return wants(Want(Thing("link", stream.id), "address", asked))

    nameless = (
        s for s in published_to(case, stream.from_device) if not s.key and len(path_of(s.address)) < 2
    )
    if unsaid := next(nameless, None):
        asked = f"Under which name is {unsaid.name} published to {server}? {stream.name} asks for {'/'.join(path_of(stream.address))}."
        return wants(Want(Thing("link", unsaid.id), "address", asked))

    def say() -> Words:
        has = listed(published_as(s) for s in published_to(case, stream.from_device))
        return Words(
            f"{stream.name} asks {server} for {'/'.join(path_of(stream.address))}, and what is published there is {has}.",
            "The player says that the stream is not found, while the camera is plainly sending.",
            "Use the same application and stream name at both ends.",
        )

    return fails(say)


def _left_on_servers(case: Case) -> Iterator[tuple[Thing, tuple[Stream, bool]]]:
    """What is published to a server from which something is pulled, and whether that may be it: a player that asks for what nobody
    publishes may mean it, and is asked about."""
    pulls = asked_of_servers(case)
    pulled = {s.id for found in pulls.values() for s in found}
    astray = {s.from_device for s in case.streams if pulls.get(s.id) == ()}
    pulled |= {s.id for server in astray for s in published_to(case, server)}
    for server in dict.fromkeys(s.from_device for s in case.streams if s.id in asked_of_servers(case)):
        for stream in published_to(case, server):
            yield Thing("link", stream.id, "pulled"), (stream, stream.id in pulled)


LEFT_ON_SERVERS: SubjectKind[tuple[Stream, bool]] = SubjectKind(
    "stream published to a server that others pull from", _left_on_servers
)


@check(
    "nobody-pulls", LEFT_ON_SERVERS, "addresses", "Does anybody pull it from the server?", "common practice, no source", "plan"
)  # fmt: skip
def nobody_pulls(case: Case, what: tuple[Stream, bool]) -> Verdict:
    """Whether a stream that is published to a server is pulled by a player."""
    stream, pulled = what
    if pulled:
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{stream.name} is published to {case.devices[stream.to_device].name}, and nobody pulls it from there.",
            "The camera sends to nobody: its picture is in no list and on no input.",
            "Pull it where it is to be seen, under the name that it is published with.",
        ),
        compared=(published_name(stream),),
    )


CHECKS = (name_taken, not_published, nobody_pulls)
