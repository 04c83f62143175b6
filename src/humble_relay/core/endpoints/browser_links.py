"""Whether the two links of a browser link are told apart."""

import re
from urllib.parse import parse_qsl, urlsplit

from humble_relay.core.addressing.hosts import host_of
from humble_relay.core.hidden_text import HIDDEN
from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Want, Words, doubtful, fails, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.plan import Stream

CALLS: SubjectKind[Stream] = SubjectKind(
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
    if apart := _do_not_belong(stream):
        return doubtful(lambda: _of_two(stream, *apart), compared=apart)
    if stream.address.strip().rstrip("/") != stream.view_address.strip().rstrip("/"):
        return doubtful(lambda: _swapped(stream)) if look_swapped(stream) else HOLDS
    return fails(
        lambda: Words(
            f"Both sides of {stream.name} open the same link.",
            "Two that send, or two that look: each waits for the other.",
            "Give the guest the link that invites, and the production software the one that views.",
        )
    )


_SENDS, _VIEWS = (
    {"push", "join", "invite", "guest", "send", "publish"},
    {"view", "watch", "scene", "look", "play"},
)
"""Words of links that invite a sender, and of those for viewers (common practice, no source)."""


def look_swapped(stream: Stream) -> bool:
    """Whether the link to send by reads like one to look by, and the other way round.

    >>> from humble_relay.core.plan.video import VideoFormat
    >>> call = Stream(id="c", name="C", from_device="a", to_device="b", protocol="web", format=VideoFormat(width=1280, height=720, rate="25"),
    ...     video_mbps=2, address="https://calls.example/?view=deck", view_address="https://calls.example/?push=deck")
    >>> look_swapped(call)
    True
    """
    sending, viewing = (
        set(re.findall(r"[a-z]+", a.partition("//")[2].partition("/")[2].lower()))
        for a in (stream.address, stream.view_address)
    )
    return bool(sending & _VIEWS and viewing & _SENDS) and not (sending & _SENDS or viewing & _VIEWS)


def _do_not_belong(stream: Stream) -> tuple[str, str] | None:
    """What the two links say otherwise, where they cannot be of one call: the service, or the name of the sender in it; else None."""
    hosts = [".".join(host_of(a).split(".")[-2:]) for a in (stream.address, stream.view_address)]
    if hosts[0] != hosts[1] and all(hosts):
        return host_of(stream.address), host_of(stream.view_address)
    sent, viewed = (
        {v for k, v in _settings(a) if k in words}
        for a, words in ((stream.address, _SENDS), (stream.view_address, _VIEWS))
    )
    viewing = {part for v in viewed for part in v.split(",")}
    if any(HIDDEN in value for value in sent | viewing):
        return None  # what was left out cannot be compared
    if not sent or not viewing or sent & viewing:
        return None
    return (
        ("one name", "another")
        if any("•" in value for value in sent | viewing)
        else (min(sent), min(viewing))
    )


def _settings(address: str) -> list[tuple[str, str]]:
    try:
        return parse_qsl(urlsplit(address).query)
    except ValueError:
        return []


def _of_two(stream: Stream, sends: str, views: str) -> Words:
    return Words(
        f"The links of {stream.name} do not belong together: the sender's says {sends}, the viewing side's {views}.",
        "Each side waits in a room of its own, and both look right.",
        "Copy both links again, of one call on one service.",
    )


def _swapped(stream: Stream) -> Words:
    return Words(
        f"The links of {stream.name} look swapped: the sender opens the one to look by, and the viewing side the one that invites.",
        "Both sides wait: the guest sees an empty page, and the production a lobby.",
        "Give the guest the link that invites, and the production software the one that views.",
    )


CHECKS = (links_mixed_up,)
