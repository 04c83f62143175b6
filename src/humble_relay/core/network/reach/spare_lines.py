"""What still gets through when the first line drops: out by the spare, and in at another address."""

from collections.abc import Iterator

from humble_relay.core.judging.answer import HOLDS, Thing, Verdict, Words, doubtful
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import Asked, check
from humble_relay.core.network.reach.journey import Journey, Waypoint, journeys
from humble_relay.core.network.reach.verdicts import DOWN


def on_the_spare(case: Case) -> Case | None:
    """The case with every router's first line gone that has another; None where none has."""
    routers = tuple(
        r.model_copy(update={"uplinks": r.uplinks[1:]}) if len(r.uplinks) > 1 else r
        for r in case.plan.routers
    )
    if routers == case.plan.routers:
        return None
    return case.with_plan(case.plan.model_copy(update={"routers": routers}))


def changed_journeys(case: Case) -> dict[str, tuple[Journey, Journey]]:
    """For each stream that crosses a line which has a spare, its journey now and when the first line is gone."""
    spare = case.once(on_the_spare)
    if spare is None:
        return {}
    firsts = case.once(_firsts)
    then = spare.once(journeys)
    return {
        id: (found[0], _without(case, then[id][0], firsts))
        for id, found in case.once(journeys).items()
        if any(at.kind == "line" and at.thing.id in firsts for at in found[0].waypoints) and id in then
    }


def _firsts(case: Case) -> set[str]:
    return {r.uplinks[0] for r in case.plan.routers if len(r.uplinks) > 1}


def _without(case: Case, journey: Journey, down: set[str]) -> Journey:
    """The journey, ending where it would come in by a line that is down."""
    at = next((n for n, w in enumerate(journey.waypoints) if w.kind == "line" and w.thing.id in down), None)
    if at is None:
        return journey
    thing = journey.waypoints[at].thing
    gone = Waypoint(
        "line", thing, f"{case.uplinks[thing.id].name}, which it is called at, is down", "not-let-in", DOWN
    )
    return journey._replace(waypoints=(*journey.waypoints[:at], gone))


def _with_a_spare(case: Case) -> Iterator[tuple[Thing, tuple[Journey, Journey]]]:
    return ((Thing("link", id, "spare"), both) for id, both in case.once(changed_journeys).items())


WITH_A_SPARE: Asked[tuple[Journey, Journey]] = Asked("stream by a line that has a spare", _with_a_spare)


@check(
    "spare-does-not-reach", WITH_A_SPARE, "addresses", "Does it still get through when the first line drops?",
    "common practice, no source", "plan", tried=True,
)  # fmt: skip
def spare_does_not_reach(case: Case, both: tuple[Journey, Journey]) -> Verdict:
    """Whether a stream that gets through now also does by the spare line: whoever is called has another address then."""
    now, then = both
    if now.ends_at is not None or then.ends_at is None:
        return HOLDS
    first = next(at for at in now.waypoints if at.kind == "line" and at.thing.id in case.once(_firsts))
    stream, last = now.call.stream, then.waypoints[then.ends_at]
    return doubtful(
        lambda: Words(
            f"When {case.uplinks[first.thing.id].name} drops, {stream.name} does not get through by the spare: {last.says}.",
            "The line comes back in seconds, and the picture does not.",
            "Let the end with the spare line call, or go through a relay that both call. Prove it: pull the cable in the rehearsal.",
        )
    )


CHECKS = (spare_does_not_reach,)
