"""Whether the failover uplink carries what is sent when the first one drops, and how long nothing goes out."""

import math
from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.judging.answer import Numbers, Thing, Verdict, Want, Words, doubtful, holds, wants
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.load.uplink_demand import Demand, demands
from humble_relay.core.plan import Router
from humble_relay.core.upload.headroom import Upload, uploads

SPEAKS_AGAIN_S = 10.0
"""How long encoders take to find that a connection is dead and make another one (common practice, no source)."""


class Spare(NamedTuple):
    """A line of a router that carries streams, and the next one that it would take: the first of the others."""

    router: Router
    first: str
    next: str
    demand: Demand
    upload: Upload


def _spares(case: Case) -> Iterator[tuple[Thing, Spare]]:
    asked = demands(case)
    for router in case.plan.routers:
        for line in router.uplinks:
            spare = next((u for u in router.uplinks if u != line), None)
            if spare and asked[line].streams:
                yield (
                    Thing("uplink", line, f"spare-{spare}"),
                    Spare(router, line, spare, asked[line], uploads(case)[spare]),
                )


SPARES: SubjectKind[Spare] = SubjectKind("line with a spare", _spares)


def left_on_spare(case: Case, spare: Spare) -> float | None:
    """What the spare carries at its low end besides what goes by it already, in Mb/s; None while it is not measured at every
    hour of the show."""
    upload = spare.upload
    if not upload.samples or any(not h.samples for h in upload.hours):
        return None
    return max(0.0, _low(upload) - demands(case)[spare.next].total.value)


def _low(upload: Upload) -> float:
    return min(
        (h.low_mbps or 0.0 for h in upload.hours),
        default=min((s.up_mbps for s in upload.samples), default=0.0),
    )


@check(
    "spare-too-small", SPARES, "bandwidth", "Does the failover uplink carry what is sent when the first one drops?",
    "common practice, no source", "measured",
)  # fmt: skip
def spare_too_small(case: Case, spare: Spare) -> Verdict:
    """Whether the load of the first uplink (Mb/s) fits the 10th percentile of the failover uplink at each hour of the show. Where it does not,
    what it does carry is what the encoder must start at again."""
    upload, asked = spare.upload, spare.demand.total.value
    first, next_ = case.uplinks[spare.first].name, case.uplinks[spare.next].name
    left = left_on_spare(case, spare)
    if left is None:
        return wants(Want(Thing("uplink", spare.next), "measurements", f"How much upload does {next_} carry at the hours of the show? It is the spare of {first}."))  # fmt: skip
    own = demands(case)[spare.next].total.value
    low = _low(upload)
    numbers = Numbers(asked, round(left, 2), math.inf, "Mb/s")
    gap = spare.router.switch_s

    def say() -> Words:
        again = f"{number(gap + SPEAKS_AGAIN_S)} s" if gap is not None else "nobody tried how long"
        steps = (
            Step(name=f"Low end of {next_}", value=round(low, 2), unit="Mb/s", source="the survey"),
            *((Step(name="It carries already", value=-round(own, 2), unit="Mb/s"),) if own else ()),
            *spare.demand.total.steps,
            Step(name="Gap while switching", value=gap or 0, unit="s", how="as tried" if gap is not None else "nobody tried", source="set in this plan"),
            Step(name="Encoders connect again", value=SPEAKS_AGAIN_S, unit="s", source="common practice, no source"),
        )  # fmt: skip
        return Words(
            f"When {first} drops, {number(asked)} Mb/s go by {next_}, which carries {number(left)} Mb/s at its low end.",
            f"The picture comes back ({again} later), and stops again at once: the spare is too small for it.",
            f"Have a lower quality ready to start at, {number(left * 0.9)} Mb/s in all, and pull the cable in the rehearsal.",
            Working(name=f"Left of {next_}", value=round(left, 2), unit="Mb/s", steps=steps),
        )

    return holds(numbers) if asked <= left else doubtful(say, numbers)


@check(
    "switch-not-tried", SPARES, "survey", "Was the failover tried, and timed?",
    "common practice, no source", "measured",
)  # fmt: skip
def switch_not_tried(case: Case, spare: Spare) -> Verdict:
    """How long nothing goes out while a router changes lines (s): known only when the cable was pulled."""
    first = case.uplinks[spare.first].name
    if spare.router.switch_s is not None:
        gap = spare.router.switch_s
        return holds(
            remark=lambda: Words(
                f"When {first} drops, nothing goes out for {gap:g} s, and encoders take about {SPEAKS_AGAIN_S:g} s more to connect again.",
                "Every connection breaks, for the site has another address then: its listeners have to be called there.",
                "Have a card on screen ready, and a person who tells the audience.",
            )
        )
    asked = f"Pull the cable of {first}: how many seconds until {case.uplinks[spare.next].name} carries?"
    return wants(Want(Thing("router", spare.router.id), "switch_s", asked, "s"))


CHECKS = (spare_too_small, switch_not_tried)
