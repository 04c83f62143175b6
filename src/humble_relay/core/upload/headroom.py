"""What the measurements of an uplink support: the schools of headroom side by side, and how far to trust them."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from humble_relay.core.bonding.bonded_uplinks import reckoned
from humble_relay.core.brief.on_air import on_air
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.working import Figures, Step, Working
from humble_relay.core.load.stream_load import loads
from humble_relay.core.load.uplink_demand import demands
from humble_relay.core.measurements.forecast import dip_missed, low_end, quantile
from humble_relay.core.measurements.weighed import Weighed
from humble_relay.core.measurements.weighting import evidence, id_of, show_hours
from humble_relay.core.plan import HeadroomRule, Uplink
from humble_relay.core.plan.survey import Measurement

SCHOOL_NAMES: dict[HeadroomRule, str] = {
    "half": "At most half",
    "third-free": "A third left free",
    "one-and-half": "One and a half times",
    "worst": "By the worst",
    "one-push": "One push alone",
}


LOW_PERCENT, FEW = 10.0, 5
"""The low end of an hour's measurements: this quantile, or the lowest of fewer than so many (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class Allowance:
    """What one school lets the plan send over this uplink, others' share taken off."""

    school: HeadroomRule
    name: str
    mbps: Working


@dataclass(slots=True)
class Sample:
    """One measurement as the headroom bar draws it. Some 400 are made a judgement, and one that cannot be changed takes four times
    as long to make."""

    at: str
    up_mbps: float
    conditions: str
    in_show_hours: bool
    weight: float = 1.0
    """How much it counts for the hour it is drawn at, 0 to 1: by hour, kind of day, building and age."""


@dataclass(frozen=True, slots=True)
class ShowHour:
    """One hour of the show on one uplink: what was measured at it, others' share taken off, and what that allows.

    Middle and low end are weighed; `low_mbps` is the 10 % quantile of its measurements, or the lowest of them where there are
    under five.
    """

    hour: str
    samples: tuple[Sample, ...]
    middle_mbps: float | None
    low_mbps: float | None
    low_from_mbps: float | None
    low_to_mbps: float | None
    """90 % interval of the 10th percentile, in Mb/s."""
    worth: float
    """How many measurements of full weight they are worth."""
    beside: int
    """How many of them were not taken in the hour itself, but within an hour of it."""
    allowances: tuple[Allowance, ...]
    not_told: str = ""
    """What the interval takes for granted, as the measurements cannot tell it."""


@dataclass(frozen=True, slots=True)
class InTheBuilding:
    """What was measured while the building was empty, in use, or nobody noted it: how often, lowest, middle, highest, in Mb/s."""

    conditions: str
    count: int
    low_mbps: float
    middle_mbps: float
    high_mbps: float


class Upload(Frozen):
    """One uplink, judged: samples, the hours of the show, allowances by school, and the trust the evidence deserves.

    The allowances are those of the hour that allows least; of all measurements, where none was taken at such an hour.
    """

    uplink: str
    name: str
    samples: tuple[Sample, ...]
    lowest_mbps: float | None
    highest_mbps: float | None
    others_mbps: float
    hours: tuple[ShowHour, ...]
    allowances: tuple[Allowance, ...]
    allowed_at: str
    """The hour that the allowances are of; empty where they are of no hour of the show."""
    chosen: HeadroomRule
    trust: str
    doubts: tuple[str, ...]
    by_building: tuple[InTheBuilding, ...]
    reckoned: bool
    """Whether a bonded line that nobody measured is reckoned from its parts: its samples are simulated minutes."""
    failed: tuple[Sample, ...]
    """Tests that failed: they measured nothing where others measured something. Nothing is judged by them."""

    @property
    def allowed(self) -> Working | None:
        """The headroom rule's allowance; None without a measurement."""
        return next((a.mbps for a in self.allowances if a.school == self.chosen), None)

    @property
    def measured(self) -> tuple[ShowHour, ...]:
        """The hours of the show that were measured."""
        return tuple(h for h in self.hours if h.samples)


@analysis
def uploads(case: Case) -> dict[str, Upload]:
    """Every uplink judged, by uplink."""
    return {id: _upload(case, id) for id in case.uplinks}


def allowances(
    measured: Sequence[float] | Weighed,
    others_mbps: float,
    figures: Figures,
    when: str = "",
    push_mbps: float = 0.0,
) -> tuple[Allowance, ...]:
    """The headroom rules applied to measured uploads in Mb/s, weighed or all alike; empty without measurements. `when` names
    their hour. `push_mbps` is the largest push by the line: all that it may be asked for by the rule of one push, while it is measured
    below what carries more than one."""
    of = measured if isinstance(measured, Weighed) else Weighed(tuple(measured), (1.0,) * len(measured))
    if not of.ups:
        return ()
    return _allowances(of, others_mbps, figures, when, push_mbps)


@lru_cache(maxsize=1024)
def _allowances(
    of: Weighed, others_mbps: float, figures: Figures, when: str, push_mbps: float
) -> tuple[Allowance, ...]:
    ups = of.ups
    middle = quantile(of, 50)
    alike = len(set(of.weights)) == 1
    step = Step(
        name=f"Middle of {len(ups)} measurement{'s' * (len(ups) > 1)}{when}",
        value=round(middle, 2),
        unit="Mb/s",
        how="median"
        if alike
        else f"weighed median: worth {of.effective:.1f} like the show's hour, day and building",
        source="the survey",
    )
    low = quantile(of, figures["school-worst-percentile"])
    that = Step(
        name="That percentile",
        value=round(low, 2),
        unit="Mb/s",
        how=f"of {len(ups)}, lowest {min(ups):g}",
        source="the survey",
    )
    one = push_mbps + others_mbps if push_mbps and middle < figures["one-push-below"] else middle
    sums: tuple[tuple[HeadroomRule, float, list[Step]], ...] = (
        ("half", middle * figures["school-half"], [step, figures.step("school-half")]),
        ("third-free", middle * figures["school-third-free"], [step, figures.step("school-third-free")]),
        (
            "one-and-half",
            middle / max(figures["school-one-and-half"], 0.01),
            [step, figures.step("school-one-and-half")],
        ),
        ("worst", low, [figures.step("school-worst-percentile"), that]),
        ("one-push", min(one, middle), [step, figures.step("one-push-below")]),
    )
    found = []
    for school, value, steps in sums:
        left = max(0.0, value - others_mbps)
        if others_mbps:
            steps.append(
                Step(
                    name="Set aside for others on the line",
                    value=-others_mbps,
                    unit="Mb/s",
                    source="set in this plan",
                )
            )
        sum_ = Working(
            name=f"Upload to use: {SCHOOL_NAMES[school].lower()}",
            value=round(left, 2),
            unit="Mb/s",
            steps=tuple(steps),
        )
        found.append(Allowance(school=school, name=SCHOOL_NAMES[school], mbps=sum_))
    return tuple(found)


def _upload(case: Case, id: str) -> Upload:
    uplink, seen = case.uplinks[id], evidence(case)[id]
    if uplink.parts and not seen.every:
        return _of_parts(case, uplink)
    found, at_hour = list(seen.worked), seen.at_hour
    stamps = {m.at: m.at.isoformat() for m in seen.every}
    at_show = {id_ for of in at_hour.values() for id_ in map(id_of, of.measurements)}

    def samples(of: Sequence[Measurement], weights: Sequence[float] | None = None) -> tuple[Sample, ...]:
        return tuple(
            Sample(stamps[m.at], m.up_mbps, m.conditions, id_of(m) in at_show, weight)
            for m, weight in zip(of, weights or [1.0] * len(of), strict=True)
        )

    hours = tuple(
        _hour(case, uplink, hour, of.weighed, samples(of.measurements, of.weights), of.beside)
        for hour, of in at_hour.items()
    )
    chosen, ups = case.plan.settings.headroom, [m.up_mbps for m in found]
    tightest = min((h for h in hours if h.samples), key=lambda h: _allowed(h, chosen), default=None)
    doubts = _doubts(case, found)
    return Upload.model_construct(
        uplink=id,
        name=uplink.name,
        samples=samples(found),
        lowest_mbps=min(ups, default=None),
        highest_mbps=max(ups, default=None),
        others_mbps=uplink.set_aside_mbps,
        hours=hours,
        allowances=tightest.allowances
        if tightest
        else allowances(ups, uplink.set_aside_mbps, case.figures, push_mbps=_largest_push(case, id)),
        allowed_at=tightest.hour if tightest else "",
        chosen=chosen,
        trust="none" if not found else ("good" if not doubts else "fair" if len(doubts) == 1 else "thin"),
        doubts=tuple(doubts),
        by_building=_by_building(found),
        reckoned=False,
        failed=samples(
            [m for m in seen.every if m.up_mbps == 0] if len(seen.worked) < len(seen.every) else []
        ),
    )


def _by_building(found: Sequence[Measurement]) -> tuple[InTheBuilding, ...]:
    lines = []
    for conditions in ("busy", "empty", "unknown"):
        ups = [m.up_mbps for m in found if m.conditions == conditions]
        if ups:
            middle = round(quantile(Weighed(tuple(ups), (1.0,) * len(ups)), 50), 2)
            lines.append(
                InTheBuilding(
                    conditions=conditions,
                    count=len(ups),
                    low_mbps=min(ups),
                    middle_mbps=middle,
                    high_mbps=max(ups),
                )
            )
    return tuple(lines)


def _of_parts(case: Case, uplink: Uplink) -> Upload:
    """A bonded line that was not measured as one: each hour of the show from what its parts were measured at, simulated."""
    hours = []
    for hour in show_hours(on_air(case)):
        found = reckoned(case, uplink, hour)
        ups = [found.at(percent) for percent in range(5, 100, 10)] if found else []
        samples = tuple(
            Sample(at="", up_mbps=round(up, 2), conditions="reckoned", in_show_hours=True) for up in ups
        )
        alike = Weighed(tuple(s.up_mbps for s in samples), (1.0,) * len(samples))
        hours.append(_hour(case, uplink, hour, alike, samples))
    every = [s for h in hours for s in h.samples]
    doubts = [f"{case.uplinks[p].name}: {d}" for p in uplink.parts for d in _doubts(case, case.measured[p])]
    chosen = case.plan.settings.headroom
    tightest = min((h for h in hours if h.samples), key=lambda h: _allowed(h, chosen), default=None)
    return Upload.model_construct(
        uplink=uplink.id,
        name=uplink.name,
        samples=tuple(every),
        lowest_mbps=min((s.up_mbps for s in every), default=None),
        highest_mbps=max((s.up_mbps for s in every), default=None),
        others_mbps=uplink.set_aside_mbps,
        hours=tuple(hours),
        allowances=tightest.allowances if tightest else (),
        allowed_at=tightest.hour if tightest else "",
        chosen=chosen,
        trust="none" if not every else "fair",
        doubts=tuple(dict.fromkeys(["reckoned from its parts, not measured as one", *doubts]))
        if every
        else (),
        by_building=(),
        reckoned=True,
        failed=(),
    )


def _hour(
    case: Case, uplink: Uplink, hour: int, of: Weighed, samples: tuple[Sample, ...], beside: int = 0
) -> ShowHour:
    name = f"{hour} to {hour + 1} h"
    if not of.ups:
        return ShowHour(name, (), None, None, None, None, 0, 0, ())
    push = _largest_push(case, uplink.id)
    middle, low, ends, worth, rules, not_told = _figures_of(
        of, uplink.set_aside_mbps, case.figures, name, push, f"{uplink.id} {hour}"
    )
    return ShowHour(name, samples, middle, low, *ends, worth, beside, rules, not_told)


@lru_cache(maxsize=1024)
def _figures_of(
    of: Weighed, aside_mbps: float, figures: Figures, name: str, push_mbps: float, seed: str
) -> tuple[float, float, tuple[float | None, float | None], float, tuple[Allowance, ...], str]:
    """Of an hour that was measured: middle, low end and its 90 % interval in Mb/s, what the measurements are worth, the rules, and what
    they cannot tell."""
    left = of._replace(ups=tuple(max(0.0, up - aside_mbps) for up in of.ups))
    low, high = low_end(left, LOW_PERCENT, seed) if of.evenings else (None, None)
    missed = dip_missed(left) if of.evenings else None
    return (
        round(quantile(left, 50), 2),
        round(quantile(left, LOW_PERCENT if len(of.ups) >= FEW else 0.0), 2),
        (None if low is None else round(low, 2), None if high is None else round(high, 2)),
        round(left.effective, 1),
        allowances(of._replace(evenings=()), aside_mbps, figures, f" at {name}", push_mbps),
        f"if it does not dip: {100 * missed:.0f} in 100 lines that dip one time in ten show none in so few"
        if missed
        else "",
    )


def _largest_push(case: Case, uplink: str) -> float:
    """What the largest push to a service takes of an uplink, in Mb/s; 0 where none goes by it."""
    pushes = (s for s in demands(case)[uplink].streams if case.devices[s.to_device].ingest)
    return max((loads(case)[s.id].total.value for s in pushes), default=0.0)


def _allowed(hour: ShowHour, chosen: HeadroomRule) -> float:
    return next(a.mbps.value for a in hour.allowances if a.school == chosen)


def _doubts(case: Case, found: list[Measurement]) -> list[str]:
    """Why these measurements should be trusted less, in words."""
    if not found:
        return []
    figures, show = case.figures, case.plan.show
    doubts = []
    if len(found) < figures["enough-measurements"]:
        doubts.append(
            f"only {len(found)} measurement{'s' * (len(found) > 1)}; {figures['enough-measurements']:g} carry a judgement"
        )
    if all(m.conditions == "empty" for m in found):
        doubts.append("all taken in an empty building")
    elif not any(m.conditions == "busy" for m in found):
        doubts.append("none known to be taken with the building in use")
    if show.starts_at is not None:
        # Against the show, or against today when the show is far off: what is measured now is fresh now.
        age = (min(case.as_of, show.starts_at) - found[-1].at).total_seconds() / 86_400
        if age > figures["old-after"]:
            doubts.append(f"the newest is {age:.0f} days old")
    return doubts
