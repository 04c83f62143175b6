"""Whether a bonded line still carries the pictures when a part of it goes, and holds packets back long enough."""

import math
from collections import Counter
from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.bonding.bonded_uplinks import parts_of, whole_show
from humble_relay.core.bonding.simulation import Bonded, BondWithout, Part, buffer_ms
from humble_relay.core.brief.on_air import on_air
from humble_relay.core.egress.outbound import line_behind
from humble_relay.core.judging.answer import (
    HOLDS,
    DependsOn,
    Numbers,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    holds,
    waits,
    wants,
    within,
)
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import listed
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.load.uplink_demand import Demand, demands
from humble_relay.core.measurements.weighting import show_hours
from humble_relay.core.plan import Uplink
from humble_relay.core.upload.upload_fit import no_measurement


class BondUse(NamedTuple):
    """A bonded uplink that streams leave by, its load, and what it is made of; None while that is not measured."""

    line: Uplink
    demand: Demand
    parts: tuple[Part, ...] | None
    evenings: Bonded | None


@analysis
def _bonds(case: Case) -> tuple[tuple[Thing, BondUse], ...]:
    return tuple(_in_use(case))


def _in_use(case: Case) -> Iterator[tuple[Thing, BondUse]]:
    for id, demand in demands(case).items():
        line = case.uplinks[id]
        if line.parts and demand.streams:
            parts = parts_of(case, line, show_hours(on_air(case)))
            yield Thing("uplink", id), BondUse(line, demand, parts, whole_show(case, line))


BONDS: SubjectKind[BondUse] = SubjectKind("bonded line that streams leave by", _bonds)


def left_words(case: Case, left: BondWithout) -> str:
    """The lines that are gone, in words."""
    return listed(case.uplinks[id].name for id in left.gone)


@check(
    "bond-one-gone", BONDS, "bandwidth", "Does what is sent still fit when any one of its lines is gone?",
    "arithmetic; common practice, no source", "measured",
)  # fmt: skip
def bond_one_gone(case: Case, bond: BondUse) -> Verdict:
    """Whether the low end (10 %) of what is left without any one line carries what is asked (Mb/s): that is what a bond is for."""
    if bond.evenings is None:
        return waits(DependsOn(no_measurement, Thing("uplink", bond.line.id)))
    asked = bond.demand.total.value
    worst = min(bond.evenings.without_one, key=lambda left: left.low_mbps)
    numbers = Numbers(asked, round(worst.low_mbps, 2), math.inf, "Mb/s")

    def say() -> Words:
        return Words(
            f"Without {left_words(case, worst)}, {bond.line.name} carries {number(worst.low_mbps)} Mb/s in its worse minutes; {number(asked)} Mb/s are planned.",
            "One modem drops, as modems do, and the picture goes with it: the bond was to prevent that.",
            f"Send no more than {number(worst.low_mbps)} Mb/s, or add a line.",
            _working(
                case, bond, [*bond.evenings.without_one, *bond.evenings.without_two] if bond.evenings else []
            ),
        )

    return within(numbers, say)


@check(
    "bond-shares-fate", BONDS, "bandwidth", "Do its lines go by different carriers, or does what is left carry it when one is gone?",
    "common practice, no source", "measured",
)  # fmt: skip
def bond_shares_fate(case: Case, bond: BondUse) -> Verdict:
    """Whether two mobile lines of a bond that go by one carrier leave enough (Mb/s) when that carrier is down; and whether any two hang
    behind one line, which leaves what goes by others."""
    roots = Counter(line_behind(case, id) for id in bond.line.parts)
    root, many = roots.most_common(1)[0]
    if many > 1:
        behind = [id for id in bond.line.parts if line_behind(case, id) == root]
        return doubtful(lambda: _behind_one(case, bond, root, behind), compared=behind)
    mobile = [case.uplinks[id] for id in bond.line.parts if case.uplinks[id].kind == "mobile"]
    unsaid = next((line for line in mobile if not line.carrier.strip()), None)
    if len(mobile) > 1 and unsaid:
        return wants(Want(Thing("uplink", unsaid.id), "carrier", f"Which carrier is {unsaid.name} with? Two of one carrier go down together."))  # fmt: skip
    shared: dict[str, list[Uplink]] = {}
    for line in mobile:
        shared.setdefault(line.carrier.strip().lower(), []).append(line)
    if all(len(lines) < 2 for lines in shared.values()):
        return HOLDS
    if bond.evenings is None:
        return waits(DependsOn(no_measurement, Thing("uplink", bond.line.id)))
    asked = bond.demand.total.value
    worst = min(bond.evenings.without_a_carrier, key=lambda left: left.low_mbps)
    carrier, alike = case.uplinks[worst.gone[0]].carrier, "both" if len(worst.gone) == 2 else "all"
    numbers = Numbers(asked, round(worst.low_mbps, 2), math.inf, "Mb/s")

    def say() -> Words:
        return Words(
            f"{left_words(case, worst)} are {alike} with {carrier}: when that is down or crowded, {number(worst.low_mbps)} Mb/s are left of {bond.line.name}, and {number(asked)} Mb/s are planned.",
            "They look like two lines and fail like one.",
            f"Put a card of another carrier into one of them, or send no more than {number(worst.low_mbps)} Mb/s.",
            _working(case, bond, bond.evenings.without_a_carrier if bond.evenings else ()),
        )

    return within(numbers, say)


def _behind_one(case: Case, bond: BondUse, root: str, behind: list[str]) -> Words:
    return Words(
        f"{listed(case.uplinks[id].name for id in behind)} both go out by {case.uplinks[root].name}: {bond.line.name} joins a line with itself.",
        "The total is that of one line, and when it drops both are gone.",
        "Bond lines of different carriers: a modem beside the fixed line.",
    )


def _working(case: Case, bond: BondUse, left: list[BondWithout] | tuple[BondWithout, ...]) -> Working:
    assert bond.evenings
    every = [Step(name=f"Without {left_words(case, each)}", value=round(each.low_mbps, 2), unit="Mb/s", how="a tenth of the minutes are lower", source="simulated, seeded") for each in left]  # fmt: skip
    return Working(
        name=f"What is left of {bond.line.name}",
        value=round(bond.evenings.at(10), 2),
        unit="Mb/s",
        steps=(
            *(Step(name=case.uplinks[p.id].name, value=round(p.middle_mbps, 2), unit="Mb/s", how=f"middle at the hour when it carries least, spread {100 * p.spread:.0f} %", source="the survey") for p in bond.parts or ()),
            case.figures.step("bond-efficiency"),
            Step(name="All of them", value=round(bond.evenings.at(10), 2), unit="Mb/s", how="a tenth of the minutes are lower", source="simulated, seeded"),
            *every,
        ),
    )  # fmt: skip


@check(
    "bond-held-too-short", BONDS, "bandwidth", "Does its gateway hold packets back until the slowest line's have come?",
    "arithmetic; common practice, no source", "measured", tried=True,
)  # fmt: skip
def bond_held_too_short(case: Case, bond: BondUse) -> Verdict:
    """Whether the buffer (ms) covers what the lines' round trips differ by, and one more try by the slowest."""
    if bond.parts is None:
        return waits(DependsOn(no_measurement, Thing("uplink", bond.line.id)))
    unsaid = next((p for p in bond.parts if p.rtt_ms is None), None)
    if unsaid:
        return wants(Want(Thing("uplink", unsaid.id), "measurements", f"What is the round trip of {case.uplinks[unsaid.id].name}? {bond.line.name} waits for the slowest of its lines."))  # fmt: skip
    if bond.line.holds_ms is None:
        return wants(Want(Thing("uplink", bond.line.id), "holds_ms", f"How long does the gateway of {bond.line.name} hold packets back (its buffer, or latency)?", "ms"))  # fmt: skip
    needed = buffer_ms(bond.parts) or 0.0
    slowest = max(bond.parts, key=lambda p: p.rtt_ms or 0)

    def say() -> Words:
        steps = tuple(Step(name=case.uplinks[p.id].name, value=p.rtt_ms or 0, unit="ms", how="round trip, median", source="the survey") for p in bond.parts or ())  # fmt: skip
        return Words(
            f"{bond.line.name} holds packets back {number(bond.line.holds_ms or 0)} ms; {case.uplinks[slowest.id].name} needs {number(needed)} ms for a packet to come, and to come again.",
            "What the slowest line brings is too late: it counts in the total, and not in the picture.",
            f"Set the buffer to {number(math.ceil(needed / 50) * 50)} ms, or leave that line out.",
            Working(name="Buffer", value=round(needed), unit="ms", steps=(*steps, Step(name="Half of what they differ by, and a round trip of the slowest", value=round(needed), unit="ms", source="arithmetic"))),
        )  # fmt: skip

    if bond.line.holds_ms >= needed:
        return holds(Numbers(bond.line.holds_ms, needed, 0, "ms", at_least=True))
    return doubtful(say, Numbers(bond.line.holds_ms, needed, 0, "ms", at_least=True))


CHECKS = (bond_one_gone, bond_shares_fate, bond_held_too_short)
