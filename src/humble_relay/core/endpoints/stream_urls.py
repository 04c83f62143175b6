"""The address a stream is sent to: built from the platform's data, or checked as typed."""

import re
from collections import defaultdict
from urllib.parse import quote, urlsplit

from humble_relay.core.addressing.hosts import host_class, host_of
from humble_relay.core.endpoints.typed_addresses import fault_in, taken_apart
from humble_relay.core.hidden_text import HIDDEN
from humble_relay.core.judging.answer import (
    HOLDS,
    DependsOn,
    NamedQuestion,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    fails,
    waits,
    wants,
)
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import PUSHES
from humble_relay.core.plan import Device, Ingest, Protocol, Stream

DEFAULT_PORT: dict[Protocol, int | None] = {"rtmp": 1935, "rtmps": 443, "srt": None, "rtsp": 554, "hls": 443}
"""HTTP segments 443 (RFC 9110; 80 where the address says http). RTMP 1935: published protocol. RTSP 554: RFC 7826. RTMPS 443: common practice, no source. SRT has no assigned port."""


def built_address(stream: Stream, ingest: Ingest) -> str | None:
    """The address from the platform's host, port and app, without the key; None until they are known. The port is that of
    the first protocol it takes; another goes to its own."""
    own = DEFAULT_PORT.get(stream.protocol)
    port = (ingest.port or own) if stream.protocol == ingest.protocols[0] else (own or ingest.port)
    if not ingest.host or port is None:
        return None
    host = (
        f"[{ingest.host}]" if ingest.host.count(":") > 1 and not ingest.host.startswith("[") else ingest.host
    )
    if stream.protocol == "srt":
        return f"srt://{host}:{port}"
    if (
        stream.protocol == "paired"
    ):  # its makers' own: a host and a port, and no scheme that anybody published
        return f"{host}:{port}"
    if stream.protocol == "hls":
        return f"https://{host}{'' if port == own else f':{port}'}/{ingest.app}/"
    return f"{stream.protocol}://{host}:{port}/{ingest.app}"


def with_stream_id(address: str, stream_id: str) -> str:
    """An SRT address with its stream id among the settings, escaped (RFC 3986 §2.1).

    >>> with_stream_id("srt://203.0.113.7:9000?mode=caller", "#!::r=program,m=publish")
    'srt://203.0.113.7:9000?mode=caller&streamid=%23%21%3A%3Ar%3Dprogram%2Cm%3Dpublish'
    """
    if not stream_id or "streamid=" in address:
        return address
    return f"{address}{'&' if '?' in address else '?'}streamid={quote(stream_id, safe='')}"


def typed_address(case: Case, stream: Stream) -> str | None:
    """The address as it will be typed: the stream's own, or else the built one."""
    ingest = case.devices[stream.to_device].ingest
    return stream.address or (built_address(stream, ingest) if ingest else None)


_FROM_THE_PAGE = "Copy the address from the platform's page for this event."


@check(
    "stream-address", PUSHES, "addresses",
    "Is the address that it is sent to known, and can it work?", "RFC 3986, RFC 1122, RFC 1918", "standard",
)  # fmt: skip
def stream_address(case: Case, stream: Stream) -> Verdict:
    """Whether the address of a push, typed or built, can reach its platform."""
    platform = case.devices[stream.to_device]
    ingest, here = platform.ingest, platform.place is not None
    assert ingest
    if stream.address:
        wrong = _wrong_with(stream, ingest, here)
    elif built_address(stream, ingest) is None:
        field = "port" if ingest.host else "host"
        asked = f"At which {field} does {platform.name} take {stream.name}? Its page for this event says."
        return wants(Want(Thing("device", platform.id), f"ingest.{field}", asked))
    else:
        wrong = _host_typed(platform, stream, ingest) or _not_there(ingest.host, here)
    if wrong is None and (app := _other_application(stream, ingest)):
        return doubtful(
            lambda: Words(
                f"{stream.name} is sent to the application {app}, and {platform.name} is said to take streams at {ingest.app}.",
                "One of the two is mistyped: the service answers, and refuses the stream.",
                _FROM_THE_PAGE,
            ),
            compared=(app, ingest.app),
        )
    if wrong is None and (other := _elsewhere(stream, ingest)):
        return doubtful(
            lambda: Words(
                f"{stream.name} is sent to {other}, and {platform.name} is said to take streams at {ingest.host}.",
                "One of the two is mistyped, or last year's: the encoder says 'cannot connect'.",
                _FROM_THE_PAGE,
            ),
            compared=(other, ingest.host),
        )
    if wrong is None:
        return HOLDS
    return fails(
        lambda: Words(
            f"{stream.name}: {wrong}", "The encoder tries, waits, and says 'cannot connect'.", _FROM_THE_PAGE
        )
    )


KEY_QUESTION = "Is its key there, as the platform gave it?"


def _withheld(case: Case, stream: Stream) -> bool:
    return stream.key_withheld or HIDDEN in (typed_address(case, stream) or "")


KEYED: SubjectKind[Stream] = SubjectKind(
    "push that a key names, or whose key was left out",
    lambda case: (
        (Thing("link", s.id), s)
        for s in case.streams
        if _withheld(case, s) or (case.devices[s.to_device].ingest and s.protocol in ("rtmp", "rtmps"))
    ),
)


@analysis
def _by_key(case: Case) -> dict[str, list[Stream]]:
    """The streams that have each key."""
    found: dict[str, list[Stream]] = defaultdict(list)
    for s in case.streams:
        if s.key:
            found[s.key].append(s)
    return found


@check(
    "key-missing", KEYED, "addresses", KEY_QUESTION, "common practice, no source", "plan"
)  # fmt: skip
def key_missing(case: Case, stream: Stream) -> Verdict:
    """Whether a push has the key that names the show to the platform: no blank in it, and no other platform's."""
    if _withheld(case, stream):
        return doubtful(
            lambda: Words(
                f"The key or password of {stream.name} was left out of the file this plan came from.",
                "The stream cannot be set up from these papers alone.",
                "Type it again: the key in its field, or the whole address.",
            )
        )
    if stream.key and re.search(r"\s", stream.key):
        return fails(
            lambda: Words(
                f"The key of {stream.name} has a blank in it, or beside it.",
                "It is another key to the platform: the connection is refused, and the key looks right on every screen.",
                "Copy it again, and take the blank away: no platform gives a key with one.",
            )
        )
    same = _by_key(case)[stream.key] if stream.key else []
    twice = next((s for s in same if s.to_device != stream.to_device), None)
    if twice and same[0] is not stream:  # one clash is one finding: of the first
        return waits(DependsOn(NamedQuestion("key-missing", KEY_QUESTION), Thing("link", same[0].id)))
    if twice:
        return doubtful(
            lambda: Words(
                f"{stream.name} and {twice.name} have the same key, and go to two platforms.",
                "One of them was pasted twice: that platform refuses it, or shows another event.",
                "Copy each key from its own platform's page.",
            ),
            compared=(twice.id,),
        )
    if stream.key and stream.key_carried:
        return doubtful(
            lambda: Words(
                f"The key of {stream.name} came along from an earlier show, and nobody said that it is this one's.",
                "The platform takes it, and shows it on last time's event: the link that went out stays empty.",
                "Copy the key from the page for this event, or say that it is the same.",
            )
        )
    if stream.key or _within(stream.address):
        return HOLDS
    return fails(
        lambda: Words(
            f"{stream.name} has no stream key.",
            "The platform refuses the connection, or sends it to nobody's show.",
            "Copy the key from the platform's page for this event, not from last time's.",
        )
    )


CHECKS = (stream_address, key_missing)


def _within(address: str) -> bool:
    """Whether an address goes on behind its application, or has settings: where a key may stand, if the service takes it so.

    >>> _within("rtmps://in.alder.example:443/live/tide-table"), _within("rtmps://in.alder.example:443/live")
    (True, False)
    """
    try:
        parts = urlsplit(address)
    except ValueError:
        return False
    return bool(parts.query) or "/" in parts.path.strip("/")


def _host_typed(platform: Device, stream: Stream, ingest: Ingest) -> str | None:
    """What is wrong with the host that a platform is said to have, in words: more than a host, or none at all; None where nothing is."""
    host = taken_apart(ingest.host)
    if host[1] or host[2] or "//" in ingest.host:
        return f"{ingest.host} is typed as the host of {platform.name}, and is more than a host: host, port and application have fields of their own."
    built = built_address(stream, ingest) or ""
    fault = fault_in(stream, built, ingest.port)
    return f"the host of {platform.name} is typed as {ingest.host}: the address {fault}." if fault else None


def _elsewhere(stream: Stream, ingest: Ingest) -> str | None:
    """The host that a push is typed to go to, where its platform is said to be at another; None where it is that, or not said."""
    asked_for = stream.protocol in ("rtsp", "ndi") or stream.caller in (
        "receiver",
        "rendezvous",
    )  # by the service
    typed = host_of(stream.address) if stream.address and not asked_for else ""
    known = {ingest.host.strip("[]").lower(), *(z.host.lower() for z in ingest.zones)}
    return typed if typed and ingest.host and typed not in known else None


def _other_application(stream: Stream, ingest: Ingest) -> str | None:
    """The application that an RTMP push is typed to go to, where its platform, at the same host, is said to have another; else None."""
    if (
        not stream.address
        or stream.protocol not in ("rtmp", "rtmps")
        or host_of(stream.address) != ingest.host.strip("[]").lower()
    ):
        return None
    typed, known = urlsplit(stream.address).path.strip("/"), ingest.app.strip("/")
    return None if f"{typed}/".startswith(f"{known}/") else typed


def _wrong_with(stream: Stream, ingest: Ingest, here: bool) -> str | None:
    """What is wrong with a typed address, in words, or None. `here`: the platform is a server at one of our places."""
    text = stream.address
    if (
        fault := fault_in(stream, text, ingest.port if stream.protocol == ingest.protocols[0] else None)
    ) is not None:
        return f"the address {fault}."
    parts = urlsplit(text)
    host, port = parts.hostname or "", parts.port
    if (elsewhere := _not_there(host, here)) is not None:
        return elsewhere
    asked, first = port or DEFAULT_PORT[stream.protocol], stream.protocol == ingest.protocols[0]
    if first and ingest.port and host == ingest.host.strip("[]").lower() and asked not in (None, ingest.port):
        return f"{host} takes it on port {ingest.port}, and the address says {asked}."
    if stream.key and stream.key in text:
        return "the key is in the address as well as in its own field: the encoder would send it twice."
    return None


def _not_there(host: str, here: bool) -> str | None:
    """Why the platform cannot be at a host, in words; None where it can. `here`: it is a server at one of our places."""
    found = host_class(host)
    if found is None or found[0] in ("public", "documentation"):
        return None
    kind, source = found
    if kind == "this machine":
        return f"{host} means the encoder itself, not the platform ({source})."
    if here and kind in ("private", "self-named"):
        return None
    if kind == "self-named":
        return f"{host} is a name that only its own network knows ({source}): a platform on the internet is not there."
    return f"{host} is a {kind} address ({source}): a platform on the internet is not there."
