"""What the measurements of an uplink support: the schools of headroom side by side, and how far to trust them."""

from collections.abc import Sequence
from datetime import UTC, timedelta
from statistics import median

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import Figures, Step, Working
from humble_relay.core.plan import School, Show, Uplink
from humble_relay.core.plan.survey import Measurement

SCHOOL_NAMES: dict[School, str] = {
    "half": "At most half",
    "third-free": "A third left free",
    "one-and-half": "One and a half times",
    "worst": "By the worst",
}


LOW_PERCENT, FEW = 10.0, 5
"""The low end of an hour's measurements: this quantile, or the lowest of fewer than so many (common practice, no source)."""


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


class ShowHour(Frozen):
    """One hour of the show on one uplink: what was measured at it, others' share taken off, and what that allows.

    `low_mbps` is the 10 % quantile of its measurements, or the lowest of them where there are under five.
    """

    hour: str
    samples: tuple[Sample, ...]
    middle_mbps: float | None
    low_mbps: float | None
    allowances: tuple[Allowance, ...]


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
    chosen: School
    trust: str
    doubts: tuple[str, ...]
    failed: tuple[Sample, ...]
    """Tests that failed: they measured nothing where others measured something. Nothing is judged by them."""

    @property
    def allowed(self) -> Working | None:
        """The chosen school's allowance; None without a measurement."""
        return next((a.mbps for a in self.allowances if a.school == self.chosen), None)

    @property
    def measured(self) -> tuple[ShowHour, ...]:
        """The hours of the show that were measured."""
        return tuple(h for h in self.hours if h.samples)


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


def allowances(
    ups: Sequence[float], others_mbps: float, figures: Figures, when: str = ""
) -> tuple[Allowance, ...]:
    """The four schools applied to measured uploads in Mb/s; empty without measurements. `when` names their hour."""
    if not ups:
        return ()
    middle = median(ups)
    measured = Step(
        name=f"Middle of {len(ups)} measurement{'s' * (len(ups) > 1)}{when}",
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


def show_hours(show: Show) -> tuple[int, ...]:
    """The hours of the clock that the show lies in, in its own time: 19, 20, 21 for 19:30 to 22:00. The first alone where
    nobody knows when it ends, none where nobody knows when it starts.

    >>> from datetime import datetime
    >>> at = lambda hour: datetime.fromisoformat(f"2026-09-01T{hour}:00+00:00")
    >>> show_hours(Show(name="Regatta", starts_at=at("19:30"), ends_at=at("22:00")))
    (19, 20, 21)
    """
    if show.starts_at is None:
        return ()
    at = show.starts_at.astimezone(show.clock).replace(minute=0, second=0, microsecond=0).astimezone(UTC)
    hours = [at.astimezone(show.clock).hour]
    while (at := at + timedelta(hours=1)) < (show.ends_at or show.starts_at) and len(hours) < 25:
        hours.append(at.astimezone(show.clock).hour)
    return tuple(dict.fromkeys(hours))


def taken_at(show: Show, hour: int, measurements: Sequence[Measurement]) -> list[Measurement]:
    """The measurements that an hour of the show is judged by, of any day: those taken in it where there are three or
    more, so that one alone neither saves nor sinks it; otherwise those within an hour of it too."""

    def after(m: Measurement) -> int:
        local = m.at.astimezone(show.clock)
        return (local.hour * 60 + local.minute - hour * 60) % 1440

    within = [m for m in measurements if after(m) < 60]
    near = [m for m in measurements if after(m) <= 120 or after(m) >= 1380]
    return within if len(within) >= 3 else near


def _upload(case: Case, id: str) -> Upload:
    uplink, every, show = case.uplinks[id], case.survey.of(id), case.plan.show
    works = any(m.up_mbps > 0 for m in every)
    found = [m for m in every if m.up_mbps > 0 or not works]
    at_hour = {hour: taken_at(show, hour, found) for hour in show_hours(show)}
    at_show = {id_ for of in at_hour.values() for id_ in map(id_of, of)}

    def samples(of: Sequence[Measurement]) -> tuple[Sample, ...]:
        return tuple(
            Sample(
                at=m.at.isoformat(),
                up_mbps=m.up_mbps,
                conditions=m.conditions,
                in_show_hours=id_of(m) in at_show,
            )
            for m in of
        )

    hours = tuple(_hour(case, uplink, hour, of, samples(of)) for hour, of in at_hour.items())
    chosen, ups = case.plan.settings.headroom, [m.up_mbps for m in found]
    tightest = min((h for h in hours if h.samples), key=lambda h: _allowed(h, chosen), default=None)
    doubts = _doubts(case, found)
    return Upload(
        uplink=id,
        name=uplink.name,
        samples=samples(found),
        lowest_mbps=min(ups, default=None),
        highest_mbps=max(ups, default=None),
        others_mbps=uplink.others_mbps,
        hours=hours,
        allowances=tightest.allowances if tightest else allowances(ups, uplink.others_mbps, case.figures),
        allowed_at=tightest.hour if tightest else "",
        chosen=chosen,
        trust="none" if not found else ("good" if not doubts else "fair" if len(doubts) == 1 else "thin"),
        doubts=tuple(doubts),
        failed=samples([m for m in every if works and m.up_mbps == 0]),
    )


def id_of(m: Measurement) -> tuple[str | None, str, float]:
    """What tells one measurement from another, kept or not."""
    return m.id, m.at.isoformat(), m.up_mbps


def _hour(
    case: Case, uplink: Uplink, hour: int, found: list[Measurement], samples: tuple[Sample, ...]
) -> ShowHour:
    left = [max(0.0, m.up_mbps - uplink.others_mbps) for m in found]
    low = quantile(left, LOW_PERCENT) if len(left) >= FEW else min(left, default=None)
    return ShowHour(
        hour=f"{hour} to {hour + 1} h",
        samples=samples,
        middle_mbps=round(median(left), 2) if left else None,
        low_mbps=None if low is None else round(low, 2),
        allowances=allowances(
            [m.up_mbps for m in found], uplink.others_mbps, case.figures, f" at {hour} to {hour + 1} h"
        ),
    )


def _allowed(hour: ShowHour, chosen: School) -> float:
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
