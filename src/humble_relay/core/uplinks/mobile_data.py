"""Whether mobile lines have data left for the show, and a signal that can be relied on."""

from collections.abc import Iterator
from statistics import median
from typing import NamedTuple

from humble_relay.core.bonding.bonded_uplinks import whole_show
from humble_relay.core.brief.on_air import on_air
from humble_relay.core.brief.times import end_not_known, no_start
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
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.load.uplink_demand import demands
from humble_relay.core.plan import Uplink
from humble_relay.core.uplinks.failover import SPARES
from humble_relay.core.upload.upload_fit import no_measurement

WEAK = {"rsrp_dbm": -110.0, "rsrq_db": -15.0, "sinr_db": 0.0}
"""Below these a line is weak: power in dBm, quality and signal over noise in dB (ranges: 3GPP TS 36.133 §9.1; where it is weak:
common practice, no source)."""
_NAMES = {"rsrp_dbm": ("RSRP", "dBm"), "rsrq_db": ("RSRQ", "dB"), "sinr_db": ("SINR", "dB")}


class MobileUse(NamedTuple):
    """A mobile line that pictures leave by, alone or in a bond, and what goes by it in Mb/s; None while that is not known."""

    line: Uplink
    mbps: float | None
    spare_of: str = ""
    """The line that it stands in for, where it carries nothing until that drops."""


@analysis
def _mobile(case: Case) -> tuple[tuple[Thing, MobileUse], ...]:
    return tuple(_in_use(case))


def _in_use(case: Case) -> Iterator[tuple[Thing, MobileUse]]:
    for id, demand in demands(case).items():
        if not demand.streams:
            continue
        line = case.uplinks[id]
        bond = whole_show(case, line) if line.parts else None
        for n, part in enumerate(line.parts or (id,)):
            if case.uplinks[part].kind != "mobile":
                continue
            mbps: float | None = demand.total.value
            if line.parts:
                mbps = demand.total.value / case.figures["bond-efficiency"] * bond.shares[n] if bond else None
            yield Thing("uplink", part), MobileUse(case.uplinks[part], mbps)


def _spare(case: Case) -> Iterator[tuple[Thing, MobileUse]]:
    """The mobile lines that stand in for another one, and carry nothing else."""
    used = {use.line.id for _, use in _mobile(case)}
    for _, spare in SPARES.each(case):
        line = case.uplinks[spare.next]
        if line.kind == "mobile" and not line.parts and line.id not in used:
            used.add(line.id)
            yield Thing("uplink", line.id, "spare"), MobileUse(line, spare.demand.total.value, spare.first)


MOBILE: SubjectKind[MobileUse] = SubjectKind("mobile line that pictures leave by", _mobile)
CARDS: SubjectKind[MobileUse] = SubjectKind(
    "mobile line that pictures leave by, now or when another drops",
    lambda case: (*_mobile(case), *_spare(case)),
)


def _sent_again(case: Case, line: Uplink) -> float:
    """What is sent again on a line, as a share of what is sent, by the loss that was measured there (p ÷ (1 − p))."""
    losses = [m.loss_pct for m in case.measured[line.id] if m.loss_pct is not None]
    p = min(0.5, median(losses) / 100) if losses else 0.0
    return p / (1 - p)


def _hours_on_air(case: Case) -> float:
    """All that goes out, in hours: the show, what is asked for before and after it, its rehearsals and further days."""
    show = on_air(case)
    assert show.starts_at and show.ends_at
    sessions = sum((s.ends_at - s.starts_at).total_seconds() for s in show.sessions)
    return ((show.ends_at - show.starts_at).total_seconds() + sessions) / 3600


def card_allows_mbps(case: Case, line: Uplink) -> float | None:
    """What may go by a line for as long as the show lasts until the data of its card are used to the share that is planned for, in
    Mb/s; of a bond, until the first of its parts' are. None where no card sets a limit, or nobody knows it."""
    if line.parts:
        bond = whole_show(case, line)
        if bond is None:
            return None
        each = (
            (card_allows_mbps(case, case.uplinks[p]), share)
            for p, share in zip(line.parts, bond.shares, strict=True)
        )
        found = [
            mbps * case.figures["bond-efficiency"] / share
            for mbps, share in each
            if mbps is not None and share
        ]
        return min(found, default=None)
    card, show = line.mobile, case.plan.show
    known = line.kind == "mobile" and card and not card.unlimited and show.starts_at and show.ends_at
    if not known or card is None or card.cap_gb is None:
        return None
    left = max(0.0, card.cap_gb - card.used_gb) * case.figures["card-filled"]
    return left * 1000 * 8 / 3600 / _hours_on_air(case) / (1 + _sent_again(case, line))


@check(
    "data-used-up", CARDS, "bandwidth", "Does its card have data enough for the whole show?", "arithmetic", "plan",
)  # fmt: skip
def data_used_up(case: Case, what: MobileUse) -> Verdict:
    """Whether what goes by the line for as long as the show lasts (GB, 10⁹ bytes) is within what is left of its card, relied on
    to the share that is planned for: rehearsals and the set-up take some too. What is lost is sent again, and counts. A failover uplink
    is asked as if the first one were gone for all of it: that is a doubt."""
    line, card = what.line, what.line.mobile
    thing = Thing("uplink", line.id)
    if card and card.unlimited:
        return HOLDS
    if what.mbps is None:
        return waits(DependsOn(no_measurement, thing))
    show = case.plan.show
    if show.starts_at is None or show.ends_at is None:
        whole = Thing("show", "show")
        return waits(DependsOn(end_not_known, whole) if show.starts_at else DependsOn(no_start, whole))
    hours, again = _hours_on_air(case), _sent_again(case, line)
    used = what.mbps * (1 + again) * hours * 3600 / 8 / 1000
    spoken = f"When {case.uplinks[what.spare_of].name} drops, up to " if what.spare_of else ""
    if card is None or card.cap_gb is None:
        return wants(
            Want(
                thing,
                "mobile.cap_gb",
                f"How much data has the card of {line.name}? {spoken}{number(used)} GB go by it.",
                "GB",
            )
        )
    left = max(0.0, card.cap_gb - card.used_gb)
    numbers = Numbers(round(used, 2), round(left * case.figures["card-filled"], 2), round(left, 2), "GB")

    def say() -> Words:
        steps = (
            Step(name="Goes by it", value=round(what.mbps or 0, 2), unit="Mb/s"),
            Step(name="The show, its rehearsals and further days", value=round(hours, 2), unit="h"),
            Step(
                name="Data", value=round(used, 2), unit="GB", how="Mb/s × s ÷ 8 ÷ 1000", source="arithmetic"
            ),
            *(
                (
                    Step(
                        name="Sent again",
                        value=round(100 * again, 1),
                        unit="%",
                        how="loss ÷ (1 − loss)",
                        source="the survey",
                    ),
                )
                if again
                else ()
            ),
            Step(name="Of the card", value=card.cap_gb or 0, unit="GB", source="set in this plan"),
            Step(name="Used so far", value=-card.used_gb, unit="GB", source="set in this plan"),
            case.figures.step("card-filled"),
        )
        return Words(
            f"{spoken}{number(used)} GB go by {line.name} in {number(hours)} h, and {number(left)} GB are left on its card.",
            "Somewhere in the second half the carrier slows it down, or cuts it off.",
            "Have more data put on the card, send less, or send by another line.",
            Working(name="Data", value=round(used, 2), unit="GB", steps=steps),
        )

    if what.spare_of and used > numbers.relied:
        return doubtful(say, numbers)
    return within(numbers, say)


@check(
    "signal-weak", MOBILE, "survey", "Is its signal strong and clean enough to be relied on?",
    "3GPP TS 36.133 §9.1, TS 36.214 §5.1; common practice", "practice", tried=True,
)  # fmt: skip
def signal_weak(case: Case, what: MobileUse) -> Verdict:
    """Whether power, quality and signal over noise, where they were read, are above where modems begin to lose it."""
    line, card = what.line, what.line.mobile
    if card is None:
        return HOLDS  # nobody read them: what was measured is judged
    for field, least in WEAK.items():
        value = getattr(card, field)
        if value is None or value >= least:
            continue
        name, unit = _NAMES[field]

        def say(name: str = name, unit: str = unit, value: float = value, least: float = least) -> Words:
            return Words(
                f"{line.name} has {name} {value:g} {unit}, below {least:g} {unit}: its modem is near where it loses the cell.",
                "It carried something when it was measured; when people come, or stand in the way, it does not.",
                "Move the modem or its antenna higher, to a window, or towards the mast, and read it again.",
            )

        return doubtful(say, Numbers(value, least, 0, unit, at_least=True))
    return holds()


CHECKS = (data_used_up, signal_weak)
