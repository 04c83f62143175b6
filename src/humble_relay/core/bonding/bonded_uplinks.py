"""The bonded lines of a plan: what they are made of, as measured, and the evenings that this makes."""

import math
from collections.abc import Iterable
from functools import lru_cache
from statistics import median

from humble_relay.core.bonding.simulation import UNMEASURED_SPREAD, Bonded, Part, bonded
from humble_relay.core.brief.on_air import on_air
from humble_relay.core.judging.case import Case
from humble_relay.core.measurements.forecast import quantile
from humble_relay.core.measurements.weighed import Weighed
from humble_relay.core.measurements.weighting import measured_at, show_hours
from humble_relay.core.plan import Uplink

SEEN_BEFORE = 3
"""As how many measurements the usual spread of mobile lines counts (common practice, no source)."""
LONGEST_MIN = 8 * 60
"""A show is simulated for so many minutes at most; the rest of it is like them."""


def minutes_of(case: Case) -> int:
    """How long the show is, in minutes: an hour where nobody knows."""
    show = on_air(case)
    if show.starts_at is None or show.ends_at is None:
        return 60
    return max(1, min(LONGEST_MIN, math.ceil((show.ends_at - show.starts_at).total_seconds() / 60)))


def parts_of(case: Case, uplink: Uplink, hours: Iterable[int]) -> tuple[Part, ...] | None:
    """The lines of a bond as measured at these hours of the show, of any day; None while one of them was not measured then."""
    found, asked = [], list(hours)
    for id in uplink.parts:
        line, at = (
            case.uplinks[id],
            [measured_at(case, id, hour) for hour in asked] or [measured_at(case, id, None)],
        )
        if any(not of.ups for of in at):
            return None
        trips = tuple(m.rtt_ms for m in case.measured[id] if m.rtt_ms)
        carrier, mast = line.carrier.strip().lower(), line.mobile.mast.strip().lower() if line.mobile else ""
        found.append(_part(id, tuple(at), line.set_aside_mbps, line.kind == "mobile", carrier, mast, trips))
    return tuple(found) or None


@lru_cache(maxsize=1024)
def _part(
    id: str,
    at: tuple[Weighed, ...],
    aside_mbps: float,
    mobile: bool,
    carrier: str,
    mast: str,
    rtts_ms: tuple[float, ...],
) -> Part:
    tightest = min(at, key=lambda of: quantile(of, 50))
    left = Weighed(tuple(max(0.01, up - aside_mbps) for up in tightest.ups), tightest.weights)
    return Part(
        id=id,
        middle_mbps=quantile(left, 50),
        spread=_spread(left, mobile),
        worth=left.effective,
        mobile=mobile,
        carrier=carrier,
        mast=mast,
        rtt_ms=median(rtts_ms) if rtts_ms else None,
    )


def _spread(of: Weighed, mobile: bool) -> float:
    """The standard deviation of the logarithm of the uploads; of a mobile line drawn towards the usual one, as if that had been
    seen three times, and the usual one alone of any line measured fewer than three times."""
    if len(of.ups) < 3:
        return UNMEASURED_SPREAD
    total = sum(of.weights)
    logs = [math.log(up) for up in of.ups]
    mean = sum(w * x for w, x in zip(of.weights, logs, strict=True)) / total
    varied = sum(w * (x - mean) ** 2 for w, x in zip(of.weights, logs, strict=True)) / total
    varied *= len(logs) / (len(logs) - 1)
    if mobile:
        varied = (of.effective * varied + SEEN_BEFORE * UNMEASURED_SPREAD**2) / (of.effective + SEEN_BEFORE)
    return max(0.02, math.sqrt(varied))


def reckoned(case: Case, uplink: Uplink, hour: int) -> Bonded | None:
    """An hour of the show on a bond."""
    parts = parts_of(case, uplink, [hour])
    return bonded(parts, 60, case.figures["bond-efficiency"], f"{uplink.id} {hour}") if parts else None


def whole_show(case: Case, uplink: Uplink) -> Bonded | None:
    """The whole show on a bond, each line as at the hour of the show when it carries least."""
    parts = parts_of(case, uplink, show_hours(on_air(case)))
    return bonded(parts, minutes_of(case), case.figures["bond-efficiency"], uplink.id) if parts else None
