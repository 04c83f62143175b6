"""Which measurements say something of an hour of the show, and how much each counts."""

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from typing import NamedTuple

from humble_relay.core.brief.on_air import on_air
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.measurements.weighed import Weighed
from humble_relay.core.plan import Show
from humble_relay.core.plan.survey import Measurement


def show_hours(show: Show) -> tuple[int, ...]:
    """The hours of the clock that the show lies in, in its own time: 19, 20, 21 for 19:30 to 22:00. The first alone where
    nobody knows when it ends, none where nobody knows when it starts. Those of its further days too.

    >>> from datetime import datetime
    >>> at = lambda hour: datetime.fromisoformat(f"2026-09-01T{hour}:00+00:00")
    >>> show_hours(Show(name="Regatta", starts_at=at("19:30"), ends_at=at("22:00")))
    (19, 20, 21)
    """
    hours = (hour for start, end in show.days for hour in _hours_of(show, start, end))
    return tuple(dict.fromkeys(hours))


def _hours_of(show: Show, start: datetime, end: datetime | None) -> list[int]:
    at = start.astimezone(show.clock).replace(minute=0, second=0, microsecond=0).astimezone(UTC)
    hours = [at.astimezone(show.clock).hour]
    while (at := at + timedelta(hours=1)) < (end or start) and len(hours) < 25:
        hours.append(at.astimezone(show.clock).hour)
    return hours


DAY_BEGINS = timedelta(hours=5)
"""When an evening is over, after midnight."""


class TimedMeasurement(NamedTuple):
    """A measurement, the minute of the day that it was taken at by the show's clock, how much it counts at its own hour, 0 to 1, and the
    evening that it is of."""

    measurement: Measurement
    minute: int
    weight: float
    evening: int


def taken_at(hour: int, measurements: Sequence[TimedMeasurement]) -> list[TimedMeasurement]:
    """The measurements that an hour of the show is judged by, of any day: those taken in it where there are three or
    more, so that one alone neither saves nor sinks it; otherwise those within an hour of it too."""
    after = [(m.minute - hour * 60) % 1440 for m in measurements]
    within = [m for m, minutes in zip(measurements, after, strict=True) if minutes < 60]
    if len(within) >= 3:
        return within
    return [m for m, n in zip(measurements, after, strict=True) if n <= 120 or n >= 1380]


def timed(case: Case, measurements: Sequence[Measurement]) -> list[TimedMeasurement]:
    """When each measurement was taken, and how much it says of the show, 0 to 1: less on another kind of day (Monday to
    Friday, or the weekend), in an empty building or one that nobody noted, and the older the less (common practice, no source)."""
    figures, show, clock = case.figures, case.plan.show, case.plan.show.clock
    day = show.starts_at.astimezone(show.clock).weekday() // 5 if show.starts_at else None
    now = min(case.as_of, show.starts_at) if show.starts_at else case.as_of
    found = []
    for m in measurements:
        local = m.at.astimezone(clock)
        weight = figures["weigh-other-day"] if day not in (None, local.weekday() // 5) else 1.0
        weight *= {"busy": 1.0, "empty": figures["weigh-empty"]}.get(m.conditions, figures["weigh-unsaid"])
        age = max(0.0, (now - m.at).total_seconds() / 86_400)
        weight *= 0.5 ** (round(age) / max(figures["weigh-half-life"], 0.1))
        evening = (local - DAY_BEGINS).toordinal()
        found.append(TimedMeasurement(m, local.hour * 60 + local.minute, weight, evening))
    return found


def weights(case: Case, hour: int, measurements: Sequence[TimedMeasurement]) -> tuple[float, ...]:
    """How much each measurement says of an hour of the show, 0 to 1: less beside the hour (common practice, no source)."""
    beside = case.figures["weigh-beside"]
    return tuple(round(m.weight if m.minute // 60 == hour else m.weight * beside, 3) for m in measurements)


def id_of(m: Measurement) -> tuple[str | None, datetime, float]:
    """What tells one measurement from another, kept or not."""
    return m.id, m.at, m.up_mbps


class HourMeasurements(NamedTuple):
    """What was measured on a line that says something of an hour of the show, and how much each counts."""

    measurements: tuple[Measurement, ...]
    weights: tuple[float, ...]
    evenings: tuple[int, ...] = ()
    """The evening that each was taken on: a day of the calendar that ends at five in the morning."""
    beside: int = 0
    """How many of them were taken within an hour of it, and not in it."""

    @property
    def weighed(self) -> Weighed:
        """The uploads with their weights."""
        return Weighed(tuple(m.up_mbps for m in self.measurements), self.weights, self.evenings)


class WeighedMeasurements(NamedTuple):
    """What was measured on a line: all of it, in the order of time; without the tests that failed where others worked; and for
    each hour of the show."""

    every: tuple[Measurement, ...]
    worked: tuple[Measurement, ...]
    at_hour: dict[int, HourMeasurements]


@analysis
def evidence(case: Case) -> dict[str, WeighedMeasurements]:
    """What was measured on every line."""
    hours, found = show_hours(on_air(case)), {}
    for id in case.uplinks:
        every = case.measured[id]
        works = any(m.up_mbps > 0 for m in every)
        worked = [m for m in every if m.up_mbps > 0 or not works]
        on_the_clock = timed(case, worked)
        at = {hour: taken_at(hour, on_the_clock) for hour in hours}
        found[id] = WeighedMeasurements(
            tuple(every),
            tuple(worked),
            {
                h: HourMeasurements(
                    tuple(m.measurement for m in of),
                    weights(case, h, of),
                    tuple(m.evening for m in of),
                    sum(m.minute // 60 != h for m in of),
                )
                for h, of in at.items()
            },
        )
    return found


def measured_at(case: Case, uplink: str, hour: int | None) -> Weighed:
    """What was measured on a line at an hour of the show, weighed; at any hour where that is None."""
    of = evidence(case)[uplink]
    if hour is None:
        return Weighed(tuple(m.up_mbps for m in of.worked), (1.0,) * len(of.worked))
    return of.at_hour[hour].weighed
