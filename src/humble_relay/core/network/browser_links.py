"""Whether the two links of a browser link are told apart."""

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Want, Words, fails, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import Asked, check
from humble_relay.core.plan import Stream

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


CHECKS = (links_mixed_up,)
