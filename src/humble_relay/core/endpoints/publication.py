"""How a show is published at its destinations: whether those who were sent a link see it, and nobody sees it too early."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.brief.on_air import on_air
from humble_relay.core.catalogue.words import EVENT_WORDS
from humble_relay.core.egress.outbound import in_the_cloud
from humble_relay.core.judging.answer import (
    HOLDS,
    YES_NO,
    Choice,
    Numbers,
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
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.working import number
from humble_relay.core.plan import Device
from humble_relay.core.plan.devices import Publication
from humble_relay.core.plan.vocabulary import is_public


class PublishedAt(NamedTuple):
    """A platform that gets a stream, and how the show is published there."""

    platform: Device
    how: Publication


def _published_at(case: Case) -> Iterator[tuple[Thing, PublishedAt]]:
    for device in case.devices.values():
        how = device.ingest.publication if device.ingest else None
        if how and is_public(device) and case.streams_to.get(device.id):
            yield Thing("device", device.id, "publication"), PublishedAt(device, how)


PUBLICATIONS: SubjectKind[PublishedAt] = SubjectKind(
    "platform of which it is said how the show is published", _published_at
)


def _want(at: PublishedAt, field: str, question: str, choices: tuple[Choice, ...]) -> Verdict:
    return wants(
        Want(Thing("device", at.platform.id), f"ingest.publication.{field}", question, choices=choices)
    )


@check(
    "link-leads-nowhere", PUBLICATIONS, "brief", "Does the link that was sent out lead to this stream?", "common practice, no source", "practice",
)  # fmt: skip
def link_leads_nowhere(_: Case, at: PublishedAt) -> Verdict:
    """Whether the stream appears under the link that people have: a post that is made with the picture has an address of its own, which
    nobody knows before. An event made ahead has one, and so has a page that stays."""
    name, how = at.platform.name, at.how
    if how.event == "instant" and how.links_out is None:
        return _want(at, "links_out", f"Was a link to {name} sent to anybody?", YES_NO)
    if not how.links_out or how.event in ("scheduled", "persistent"):
        return HOLDS
    if how.event is None:
        choices = tuple(Choice(value=kind, words=words) for kind, words in EVENT_WORDS.items())
        return _want(at, "event", f"Which is the stream on {name} attached to?", choices)
    return fails(
        lambda: Words(
            f"{name}: links were sent out, and the stream makes a post of its own.",
            "The post has another address: who follows the link sees an empty page.",
            "Make the event ahead and attach the stream to it, or send the link of a page that stays.",
        )
    )


@check(
    "live-unseen", PUBLICATIONS, "brief", "Is it looked at before anybody else sees it?", "common practice, no source", "practice",
)  # fmt: skip
def live_unseen(case: Case, at: PublishedAt) -> Verdict:
    """Whether there is a preview: what goes live with the picture shows the first thing that is sent, unless it is private, or a relay
    that has a preview of its own is before it."""
    relayed = all(in_the_cloud(case.devices[s.from_device]) for s in case.streams_to[at.platform.id])
    if at.how.starts != "by-itself" or at.how.privacy == "private" or relayed:
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{at.platform.name} goes live as soon as picture comes.",
            "The first thing that viewers see is whatever the encoder was sending: a test picture, or the wrong camera.",
            "Have it go live by hand, keep it private until it was looked at, or put a relay with a preview before it.",
        )
    )


@check(
    "stops-by-itself", PUBLICATIONS, "brief", "Does the show outlast a picture that drops for a moment?", "common practice, no source", "practice",
)  # fmt: skip
def stops_by_itself(_: Case, at: PublishedAt) -> Verdict:
    """Whether a drop of some seconds ends the event: its link is then dead, and a second one has another. A page that stays has the same."""
    if not at.how.stops_on_drop or at.how.event == "persistent":
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{at.platform.name} ends the show by itself when the picture drops.",
            "A cable pulled for seconds ends the event for good, and its link with it.",
            "Switch auto-stop off, and end the show there by hand.",
        )
    )


@check(
    "approval-open", PUBLICATIONS, "brief", "Is it approved to go live there?", "common practice, no source", "practice",
)  # fmt: skip
def approval_open(case: Case, at: PublishedAt) -> Verdict:
    """Whether what the platform has to approve is approved; while it is only asked for, hours until the start against those it takes."""
    how, start = at.how, case.plan.show.starts_at
    if how.approval != "asked":
        return HOLDS
    left = (start - case.as_of).total_seconds() / 3600 if start else None
    late = left is not None and how.approval_h is not None and left < how.approval_h

    def say() -> Words:
        takes = f" It takes {number(how.approval_h)} h there" if how.approval_h else ""
        leaves = (
            f", and the show starts in {number(max(left or 0, 0))} h"
            if how.approval_h and left is not None
            else ""
        )
        return Words(
            f"{at.platform.name} has not approved it yet.{takes}{leaves}{'.' if takes else ''}",
            "It may come too late: the button to go live is then grey."
            if late
            else "Until it is given, nothing goes live there.",
            "Ask today, and have a second destination ready." if late else "Tick it off when it is given.",
        )

    return doubtful(say, compared=(how.approval, how.approval_h))


@check(
    "longer-than-taken", PUBLICATIONS, "brief", "Does it take a stream as long as the show?", "the platform's own limit", "gear",
)  # fmt: skip
def longer_than_taken(case: Case, at: PublishedAt) -> Verdict:
    """Whether the show, and the preview before it, fit the longest stream that the platform takes, in h."""
    show, cap = on_air(case), at.how.cap_h
    if cap is None or show.starts_at is None or show.ends_at is None:
        return HOLDS
    bare = (show.ends_at - show.starts_at).total_seconds() / 3600
    hours = bare + case.figures["feed-lead"] / 60
    numbers = Numbers(round(hours, 2), cap, cap + hours - bare, "h")
    if hours <= cap:
        return holds(numbers)

    def say() -> Words:
        return Words(
            f"{at.platform.name} takes streams of {number(cap)} h; the show and the feed before it are {number(hours)} h.",
            "It is cut off before the end."
            if bare > cap
            else "What is fed before the start eats up the end.",
            "Make a second event for the second part, or begin the feed later."
            if bare > cap
            else "Begin the feed later.",
        )

    return fails(say, numbers) if bare > cap else doubtful(say, numbers)


CHECKS = (link_leads_nowhere, live_unseen, stops_by_itself, approval_open, longer_than_taken)
