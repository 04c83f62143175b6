"""Probability that an uplink carries the load for the whole show, and which further measurement would tell most."""

from humble_relay.core.bonding.bonded_uplinks import whole_show
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.working import number
from humble_relay.core.load.uplink_demand import demands
from humble_relay.core.measurements.forecast import HoldEstimate, chance_to_hold
from humble_relay.core.measurements.weighed import Weighed
from humble_relay.core.measurements.weighting import evidence
from humble_relay.core.upload.headroom import ShowHour, uploads

EVENINGS = 5
"""On so many evenings a line is well measured (common practice, no source)."""
DAYS = ("Monday to Friday", "Saturday or Sunday")


class NextMeasurement(Frozen):
    """What to measure next on a line, and why just that."""

    what: str
    why: str


def hold_probability(case: Case, line: str) -> HoldEstimate | None:
    """Probability, in percent, that the uplink carries its load for the whole show, with its 90 % interval; None where
    nothing is asked, or too little was measured to tell. Of a bond that is reckoned from its parts only the middle is known."""
    return _chances(case)[line]


@analysis
def _chances(case: Case) -> dict[str, HoldEstimate | None]:
    return {id: _chance(case, id) for id in case.uplinks}


def _chance(case: Case, id: str) -> HoldEstimate | None:
    upload, asked = uploads(case)[id], demands(case)[id].total.value
    if not asked or not upload.hours or any(not h.samples for h in upload.hours):
        return None
    if upload.reckoned:
        found = whole_show(case, case.uplinks[id])
        held = found.holds_on(asked) if found else 0.0
        return HoldEstimate(held, held, held, held) if found else None
    hours = [
        Weighed(tuple(up - upload.others_mbps for up in of.ups), of.weights, of.evenings)
        for of in (each.weighed for each in evidence(case)[id].at_hour.values())
    ]
    return chance_to_hold(hours, asked, case.figures["line-settles"], id)


def evenings_of(case: Case, line: str) -> int:
    """On how many evenings the uplink was measured at the hours of the show."""
    return len({evening for of in evidence(case)[line].at_hour.values() for evening in of.evenings})


def chance_words(found: HoldEstimate | None) -> str:
    """Such as `with a probability of 62 to 97 %`.

    >>> chance_words(HoldEstimate(61.8, 88, 97.2, 86)), chance_words(None)
    ('with a probability of 62 to 97 %', 'with a probability that so few measurements do not tell')
    """
    if found is None:
        return "with a probability that so few measurements do not tell"
    low, high = round(found.low), round(found.high)
    return f"with a probability of {low} to {high} %" if low < high else f"with a probability of {low} %"


SAYS_NOTHING = 60
"""An interval of the chance as wide as this, in percent, tells nothing."""
TOO_WIDE = 3
"""An interval of an upload whose high end is more than so many times the low end tells nothing."""


def sentence_on(case: Case, line: str) -> str:
    """What to send by an uplink, how sure that is, and what to measure next, in one sentence; empty where nothing is sent by it."""
    upload, asked = uploads(case)[line], demands(case)[line]
    if not asked.streams:
        return ""
    sent, name = f"{number(asked.total.value)} Mb/s", upload.name
    if not upload.samples:
        return f"{sent} is to go by {name}, which nobody measured: measure it from the encoder's socket, at the hour of the show."
    most = min(
        [upload.allowed.value if upload.allowed else 0.0, *(h.low_mbps or 0.0 for h in upload.measured)]
    )
    fits = max(asked.total.value, asked.peak_mbps) <= most
    what = (
        f"Send the {sent} that are planned by {name}"
        if fits
        else f"Send at most {number(most)} Mb/s by {name}, not {sent}"
    )
    more = next_measurement(case, line)
    then = f"; measure next: {more.what[0].lower()}{more.what[1:]}, for {more.why}" if more else ""
    return f"{what}{f': {_how_sure(case, line)}' if fits else ''}{then}."


def _how_sure(case: Case, line: str) -> str:
    found, count = hold_probability(case, line), evenings_of(case, line)
    of = "" if uploads(case)[line].reckoned else f", by {count} evening{'s' * (count > 1)}"
    if found is None:
        return "how sure that is, so few measurements do not tell"
    if found.high - found.low > SAYS_NOTHING:
        return f"how sure that is cannot be told yet{of}"
    return f"it holds {chance_words(found)}{of}"


def next_measurement(case: Case, line: str) -> NextMeasurement | None:
    """The measurement that would change the answer most: at an hour of the show that nobody measured; else where what is asked
    lies within the uncertainty of the low end, the one that rests on least; else at the hour that rests on fewer measurements
    than carry a judgement. None where none would."""
    upload, asked = uploads(case)[line], demands(case)[line].total.value
    if not asked or upload.reckoned:
        return None
    blank = next((h for h in upload.hours if not h.samples), None)
    if blank:
        return NextMeasurement(what=_once_more(case, blank), why="nobody measured at that hour of the show")
    open_ = [h for h in upload.hours if undecided(h, asked)]
    if open_:
        hour = min(open_, key=lambda h: h.worth)
        low, high = hour.low_from_mbps or 0.0, hour.low_to_mbps or 0.0
        known = f"the 10th percentile there lies between {number(low)} and {number(high)} Mb/s"
        if high > TOO_WIDE * low:
            known = f"what was measured there, worth {hour.worth:g} full measurements, does not tell its 10th percentile"
        why = f"{known}, and {number(asked)} Mb/s are planned"
        return NextMeasurement(what=_once_more(case, hour), why=why)
    if 0 < evenings_of(case, line) < EVENINGS:
        hour = min(upload.hours, key=lambda h: h.low_mbps or 0.0)
        count = evenings_of(case, line)
        why = (
            "all that was measured is of one evening"
            if count == 1
            else f"{count} evenings tell little of the next one"
        )
        return NextMeasurement(what=_once_more(case, hour), why=why)
    thin = [h for h in upload.hours if h.worth < case.figures["enough-measurements"] / 2]
    if thin and len(upload.samples) >= 1:
        hour = min(thin, key=lambda h: h.worth)
        return NextMeasurement(
            what=_once_more(case, hour),
            why=f"what was measured there is worth {hour.worth:g} full measurements",
        )
    return None


def undecided(hour: ShowHour, asked_mbps: float) -> bool:
    """Whether what is asked (Mb/s) lies within the uncertainty of the low end of an hour."""
    if hour.low_from_mbps is None or hour.low_to_mbps is None:
        return False
    return hour.low_from_mbps < asked_mbps <= hour.low_to_mbps


def _once_more(case: Case, hour: ShowHour) -> str:
    show = case.plan.show
    day = (
        f"on {DAYS[show.starts_at.astimezone(show.clock).weekday() // 5]}"
        if show.starts_at
        else "on a day like the show's"
    )
    return f"Once more {day}, {hour.hour}, with the building in use"
