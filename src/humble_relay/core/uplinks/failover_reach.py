"""What still gets through when the first line drops: out by the spare, and in at another address."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.reach.hop_answers.hop_verdicts import DOWN
from humble_relay.core.reach.routing.call_hops import CallHop, ConnectionTrace
from humble_relay.core.reach.stream_uplinks import downlink_crossed, uplink_crossed
from humble_relay.core.reach.trace.connection_trace import connection_traces


class UplinkDrop(NamedTuple):
    """Lines that drop at once, each with others of its router left, and the case then."""

    lines: frozenset[str]
    then: Case


@analysis
def _drops(case: Case) -> tuple[UplinkDrop, ...]:
    """The first line of every router that has another; and what other lines carry by rule or call: it goes by the first then."""
    spared = [r for r in case.plan.routers if len(r.uplinks) > 1]
    firsts = frozenset(r.uplinks[0] for r in spared)
    used = frozenset(
        line for s in case.streams for line in (uplink_crossed(case, s), downlink_crossed(case, s)) if line
    )
    found = []
    for lines in (firsts, (used & {u for r in spared for u in r.uplinks}) - firsts):
        if lines:
            routers = tuple(
                r.model_copy(update={"uplinks": tuple(u for u in r.uplinks if u not in lines)})
                if r in spared
                else r
                for r in case.plan.routers
            )
            found.append(UplinkDrop(lines, case.with_plan(case.plan.model_copy(update={"routers": routers}))))
    return tuple(found)


class FailedOverTrace(NamedTuple):
    """The journey of a stream now, and when the line that it crosses is gone."""

    now: ConnectionTrace
    then: ConnectionTrace
    line: str


@analysis
def changed_journeys(case: Case) -> dict[str, FailedOverTrace]:
    """For each stream that crosses a line which has a spare, its journey now and then; the one that ends, where it crosses two."""
    found: dict[str, FailedOverTrace] = {}
    for drop in _drops(case):
        then = connection_traces(drop.then)
        for id, (now, *_) in connection_traces(case).items():
            line = next(
                (w.thing.id for w in now.waypoints if w.kind == "line" and w.thing.id in drop.lines), None
            )
            if line and id in then and (id not in found or found[id].then.ends_at is None):
                found[id] = FailedOverTrace(now, _without(case, then[id][0], drop.lines), line)
    return found


def _without(case: Case, journey: ConnectionTrace, down: frozenset[str]) -> ConnectionTrace:
    """The journey, ending where it would come in by a line that is down."""
    at = next((n for n, w in enumerate(journey.waypoints) if w.kind == "line" and w.thing.id in down), None)
    if at is None:
        return journey
    thing = journey.waypoints[at].thing
    gone = CallHop(
        "line", thing, f"{case.uplinks[thing.id].name}, which it is called at, is down", "not-let-in", DOWN
    )
    return journey._replace(waypoints=(*journey.waypoints[:at], gone))


def _with_a_spare(case: Case) -> Iterator[tuple[Thing, FailedOverTrace]]:
    return ((Thing("link", id, "spare"), what) for id, what in changed_journeys(case).items())


WITH_A_SPARE: SubjectKind[FailedOverTrace] = SubjectKind("stream by a line that has a spare", _with_a_spare)


@check(
    "spare-does-not-reach", WITH_A_SPARE, "addresses", "Does it still get through when its line drops?",
    "common practice, no source", "plan", tried=True,
)  # fmt: skip
def spare_does_not_reach(case: Case, what: FailedOverTrace) -> Verdict:
    """Whether a stream that gets through now also does by the failover uplink: listeners have another address then."""
    now, then, line = what
    if now.ends_at is not None or then.ends_at is None:
        return HOLDS
    stream, last = now.call.stream, then.waypoints[then.ends_at]
    return doubtful(
        lambda: Words(
            f"When {case.uplinks[line].name} drops, {stream.name} does not get through by the failover uplink: {last.says}.",
            "The line comes back in seconds, and the picture does not.",
            "Let the end with the failover uplink call, or go through a relay that both call. Prove it: pull the cable in the rehearsal.",
        ),
        compared=(line,),
    )


CHECKS = (spare_does_not_reach,)
