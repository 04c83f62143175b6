"""What the measurements of an uplink support: the schools of headroom side by side, and how far to trust them."""

from collections.abc import Sequence
from statistics import median

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import Figures, Step, Working
from humble_relay.core.plan import School, Show
from humble_relay.core.plan.survey import Measurement

SCHOOL_NAMES: dict[School, str] = {
    "half": "At most half",
    "third-free": "A third left free",
    "one-and-half": "One and a half times",
    "worst": "By the worst",
}


class Allowance(Frozen):
    """What one school lets the plan send over this uplink, others' share taken off."""

    school: School
    name: str
    mbps: Working


class Sample(Frozen):
    """One measurement as the headroom bar draws it."""

    at: str
    up_mbps: float
    conditions: str
    in_show_hours: bool


class Upload(Frozen):
    """One uplink, judged: samples, allowances by school, and the trust the evidence deserves."""

    uplink: str
    name: str
    samples: tuple[Sample, ...]
    lowest_mbps: float | None
    median_mbps: float | None
    highest_mbps: float | None
    others_mbps: float
    allowances: tuple[Allowance, ...]
    chosen: School
    trust: str
    doubts: tuple[str, ...]

    @property
    def allowed(self) -> Working | None:
        """The chosen school's allowance; None without a measurement."""
        return next((a.mbps for a in self.allowances if a.school == self.chosen), None)


def uploads(case: Case) -> dict[str, Upload]:
    """Every uplink judged, by uplink."""
    return {id: _upload(case, id) for id in case.uplinks}


def quantile(values: Sequence[float], percent: float) -> float:
    """The value below which `percent` of the values lie, straight line between neighbours.

    >>> quantile([10, 20, 30, 40], 50)
    25.0
    """
    if len(values) == 1:
        return values[0]
    ordered = sorted(values)
    where = (len(ordered) - 1) * percent / 100
    low = min(int(where), len(ordered) - 2)
    return ordered[low] + (ordered[low + 1] - ordered[low]) * (where - low)


def allowances(ups: Sequence[float], others_mbps: float, figures: Figures) -> tuple[Allowance, ...]:
    """The four schools applied to measured uploads in Mb/s; empty without measurements."""
    if not ups:
        return ()
    middle = median(ups)
    measured = Step(
        name=f"Middle of {len(ups)} measurements",
        value=round(middle, 2),
        unit="Mb/s",
        how="median",
        source="the survey",
    )
    percent = figures["school-worst-percentile"]
    low = quantile(ups, percent)
    sums: list[tuple[School, float, list[Step]]] = [
        ("half", middle * figures["school-half"], [measured, figures.step("school-half")]),
        ("third-free", middle * figures["school-third-free"], [measured, figures.step("school-third-free")]),
        (
            "one-and-half",
            middle / max(figures["school-one-and-half"], 0.01),
            [measured, figures.step("school-one-and-half")],
        ),
        (
            "worst",
            low,
            [
                figures.step("school-worst-percentile"),
                Step(
                    name="That percentile",
                    value=round(low, 2),
                    unit="Mb/s",
                    how=f"of {len(ups)}, lowest {min(ups):g}",
                    source="the survey",
                ),
            ],
        ),
    ]
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


def in_show_hours(show: Show, m: Measurement) -> bool:
    """Whether a measurement was taken at the hour of the show, an hour either side, on any day.

    >>> from datetime import datetime
    >>> at = lambda hour: datetime.fromisoformat(f"2026-09-01T{hour}:00+00:00")
    >>> show = Show(name="Regatta", starts_at=at("19:30"), ends_at=at("22:00"))
    >>> [in_show_hours(show, Measurement(at=at(hour), uplink="fibre", up_mbps=20)) for hour in ("18:30", "23:00", "23:01")]
    [True, True, False]
    """
    if show.starts_at is None:
        return False
    ends = show.ends_at or show.starts_at
    local, start = m.at.astimezone(show.clock), show.starts_at.astimezone(show.clock)
    minute = local.hour * 60 + local.minute
    first = start.hour * 60 + start.minute - 60
    last = first + 120 + max(0, (ends - show.starts_at).total_seconds() / 60)
    return any(first <= minute + day * 1440 <= last for day in (-1, 0, 1))


def _upload(case: Case, id: str) -> Upload:
    uplink, found, show = case.uplinks[id], case.survey.of(id), case.plan.show
    ups = [m.up_mbps for m in found]
    doubts = _doubts(case, found)
    return Upload(
        uplink=id,
        name=uplink.name,
        samples=tuple(
            Sample(
                at=m.at.isoformat(),
                up_mbps=m.up_mbps,
                conditions=m.conditions,
                in_show_hours=in_show_hours(show, m),
            )
            for m in found
        ),
        lowest_mbps=min(ups, default=None),
        median_mbps=median(ups) if ups else None,
        highest_mbps=max(ups, default=None),
        others_mbps=uplink.others_mbps,
        allowances=allowances(ups, uplink.others_mbps, case.figures),
        chosen=case.plan.settings.headroom,
        trust="none" if not found else ("good" if not doubts else "fair" if len(doubts) == 1 else "thin"),
        doubts=tuple(doubts),
    )


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
        if not any(in_show_hours(show, m) for m in found):
            doubts.append("none taken at the hour of the show")
        # Against the show, or against today when the show is far off: what is measured now is fresh now.
        age = (min(case.as_of, show.starts_at) - found[-1].at).total_seconds() / 86_400
        if age > figures["old-after"]:
            doubts.append(f"the newest is {age:.0f} days old")
    return doubts
