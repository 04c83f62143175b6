"""Streams that a rule of a router sends by another line than its first (policy routing, by source and destination)."""

from typing import NamedTuple

from humble_relay.core.addressing.hosts import host_of
from humble_relay.core.egress.outbound import router_out, stays, uplink_by_policy
from humble_relay.core.endpoints.calls import asked_port
from humble_relay.core.endpoints.stream_urls import typed_address
from humble_relay.core.judging.answer import HOLDS, YES_NO, Thing, Verdict, Want, Words, doubtful, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.plan import Router, Stream


class LineRule(NamedTuple):
    """A stream, the router at one of its ends that is to send it by a line of its own, and that line."""

    stream: Stream
    router: Router
    line: str

    @property
    def needed(self) -> bool:
        """Whether a rule must be set for it: its router would not send it so by itself."""
        return self.router.uplinks[:1] != (self.line,)


def line_rules(case: Case) -> tuple[LineRule, ...]:
    """What the routers must be told that can be, in the order of the streams: nothing of a stream that has no line of its own."""
    found = (_rule(case, s, s.line) for s in case.streams if s.line)
    return tuple(rule for rule in found if rule and rule.needed and rule.router.steers is not False)


def _rule(case: Case, stream: Stream, line: str) -> LineRule | None:
    routers = (router_out(case, case.devices[end]) for end in (stream.from_device, stream.to_device))
    return next((LineRule(stream, r, line) for r in routers if r and line in r.uplinks), None)


WITH_A_LINE: SubjectKind[Stream] = SubjectKind(
    "stream that is to go by a line of its own",
    lambda case: ((Thing("link", s.id, "line"), s) for s in case.streams if s.line and not stays(case, s)),
)


@check(
    "line-not-chosen", WITH_A_LINE, "addresses", "Does its router send it by the line that is meant?",
    "common practice, no source", "plan",
)  # fmt: skip
def line_not_chosen(case: Case, stream: Stream) -> Verdict:
    """Whether the router has the line, can send single streams by it, and can tell this one from the others of its sender:
    rules know a sender, an address and a port."""
    assert stream.line
    rule = _rule(case, stream, stream.line)
    meant = case.uplinks[stream.line].name
    if rule is None:
        sender = case.devices[stream.from_device]
        router = router_out(case, sender)
        by = uplink_by_policy(router, stream) if router else None
        goes = f"it goes by {case.uplinks[by].name}" if by else "it leaves by none"
        return doubtful(
            lambda: Words(
                f"{stream.name} is to go by {meant}, which is no uplink of {router.name if router else sender.name}: {goes}.",
                "The line that was planned for it stays empty, and the other is asked for more than was meant.",
                f"Add {meant} to the uplinks of its router, or take the wish back.",
            ),
            compared=(
                stream.line,
                by,
            ),
        )
    if not rule.needed:
        return HOLDS
    router, first = rule.router, case.uplinks[rule.router.uplinks[0]].name
    if router.steers is False:
        return doubtful(
            lambda: Words(
                f"{router.name} cannot send single streams by another line: {stream.name} goes by {first}, not by {meant}.",
                f"{meant} stays empty, and {first} is asked for more than was meant.",
                f"Take a router that can (policy routing), put the sender on a network of its own that leaves by {meant}, or let everything leave by it.",
            ),
            compared=(
                stream.line,
                router.id,
            ),
        )
    alike = _not_told_apart(case, rule)
    if alike:
        return doubtful(
            lambda: Words(
                f"{stream.name} and {alike.name} go from one box to one address and port: {router.name} cannot tell them apart.",
                "Both go by one line, whichever rule comes first.",
                "Send both by one line, or one of them to another entrance.",
            ),
            compared=(
                stream.line,
                alike.id,
            ),
        )
    if router.steers is None:
        asked = f"Can {router.name} send {stream.name} by {meant} and the rest by {first} (policy routing)?"
        return wants(Want(Thing("router", router.id), "steers", asked, choices=YES_NO))
    return HOLDS


def _not_told_apart(case: Case, rule: LineRule) -> Stream | None:
    """Another stream of the sender to the same address and port that leaves by another line."""
    stream, router = rule.stream, rule.router
    others = (
        s for s in case.streams_from.get(stream.from_device, ())
        if s.id != stream.id and (s.to_device, s.protocol) == (stream.to_device, stream.protocol)
    )  # fmt: skip
    where = _entrance(case, stream)
    return next(
        (s for s in others if _entrance(case, s) == where and uplink_by_policy(router, s) != rule.line), None
    )


def _entrance(case: Case, stream: Stream) -> tuple[str | None, int | None]:
    address = typed_address(case, stream)
    return host_of(address or ""), asked_port(stream.protocol, address or "")


CHECKS = (line_not_chosen,)
