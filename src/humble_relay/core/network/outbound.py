"""Whether a line lets out what is sent by it, and whether the two links of a browser call are told apart."""

from collections.abc import Iterator
from typing import NamedTuple
from urllib.parse import urlsplit

from humble_relay.core.judging.answer import (
    HOLDS,
    Choice,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    fails,
    holds,
    wants,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import Asked, check
from humble_relay.core.network.stream_addresses import DEFAULT_PORT, typed_address
from humble_relay.core.network.ways_out import way_out
from humble_relay.core.plan import Stream, Uplink

WEB_PAGES = (80, 443)
"""The TCP ports of web pages (RFC 9110)."""


class Outgoing(NamedTuple):
    """A stream that leaves a site, and the line it leaves by."""

    stream: Stream
    line: Uplink


def _outgoing(case: Case) -> Iterator[tuple[Thing, Outgoing]]:
    for stream in case.streams:
        line = way_out(case, stream)
        if line is None and stream.protocol == "web":  # the service that joins the two ends is out there
            ports = case.devices[stream.from_device].ports
            line = next((u for p in ports if (u := case.uplink_of(p.network))), None)
        if line:
            yield Thing("link", stream.id, "out"), Outgoing(stream, case.uplinks[line])


OUTGOING: Asked[Outgoing] = Asked("stream that leaves by a line", _outgoing)
_LETS_OUT = (
    Choice(value="everything", words="everything"),
    Choice(value="web", words="web pages only (TCP 80 and 443)"),
)


@check(
    "not-let-out",
    OUTGOING,
    "addresses",
    "Does the line let it out?",
    "RFC 9110; common practice",
    "plan",
    tried=True,
)
def not_let_out(case: Case, what: Outgoing) -> Verdict:
    """Whether a line lets out the port that a stream goes to. A mobile line, and one whose network is our own, let out
    everything unless somebody says otherwise (common practice); a venue's must be asked."""
    stream, line = what
    lets = line.lets_out
    if lets is None:
        ours = line.kind == "mobile" or case.sites[line.site].run_by == "us"
        if ours:
            return holds(evidence="practice")
        asked = f"What does {line.name} let out? The venue's network department knows, or try it."
        return wants(Want(Thing("uplink", line.id), "lets_out", asked, choices=_LETS_OUT))
    if lets == "everything":
        return HOLDS
    if stream.protocol == "web":
        return doubtful(
            lambda: Words(
                f"{line.name} lets out web pages only; {stream.name} may have to go by a relay on port 443, or is blocked.",
                "The guest is seen in the lobby and never in the picture, or only after the service is allowed.",
                "Have the service allowed by name in time, or put the phone on mobile data. Try it there.",
            )
        )
    port = port_of_stream(case, stream)
    if port in WEB_PAGES and stream.protocol in ("rtmp", "rtmps"):
        return HOLDS
    goes = (
        f"UDP {port or 'on a port of its own'}"
        if stream.protocol == "srt"
        else f"port {port or 'of its own'}"
    )
    return fails(
        lambda: Words(
            f"{line.name} lets out web pages only (TCP 80 and 443); {stream.name} goes to {goes}.",
            "The encoder cannot connect, while every web page opens on the laptop beside it.",
            "Have the port opened in time, send by RTMPS to port 443, or use another line.",
        )
    )


def port_of_stream(case: Case, stream: Stream) -> int | None:
    """The port a stream is sent to: of its address, or its protocol's own; None where neither says."""
    address = typed_address(case, stream) or ""
    try:
        typed = urlsplit(address if "//" in address else f"//{address}").port
    except ValueError:
        typed = None
    return typed or DEFAULT_PORT.get(stream.protocol)


CALLS: Asked[Stream] = Asked(
    "browser link",
    lambda case: ((Thing("link", s.id, "links"), s) for s in case.streams if s.protocol == "web"),
)


@check(
    "links-mixed-up",
    CALLS,
    "addresses",
    "Does each side of the browser link open its own link?",
    "common practice, no source",
)
def links_mixed_up(_: Case, stream: Stream) -> Verdict:
    """Whether the link that sends and the link that views are both known, and two."""
    for field, text, asked in (
        (
            "address",
            stream.address,
            f"Which link does the sender of {stream.name} open: the one that invites?",
        ),
        ("view_address", stream.view_address, f"Which link does the viewing side of {stream.name} open?"),
    ):
        if not text:
            return wants(Want(Thing("link", stream.id), field, asked))
    if stream.address.strip().rstrip("/") != stream.view_address.strip().rstrip("/"):
        return HOLDS
    return fails(
        lambda: Words(
            f"Both sides of {stream.name} open the same link.",
            "Two that send, or two that look: each waits for the other.",
            "Give the guest the link that invites, and the production software the one that views.",
        )
    )


CHECKS = (not_let_out, links_mixed_up)
