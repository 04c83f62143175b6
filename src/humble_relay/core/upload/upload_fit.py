"""Whether the streams of each uplink fit what was measured, and whether a bitrate suits its picture."""

import math
from datetime import datetime
from typing import NamedTuple

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
    fails,
    holds,
    waits,
    wants,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import listed, said_moment
from humble_relay.core.judging.things import STREAMS
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.load.uplink_demand import Demand, demands, left_over
from humble_relay.core.measurements.forecast import HoldEstimate
from humble_relay.core.picture.bitrate import sensible_mbps, suggested_bitrate
from humble_relay.core.plan import Stream
from humble_relay.core.upload.headroom import FEW, LOW_PERCENT, SCHOOL_NAMES, ShowHour, Upload, uploads
from humble_relay.core.upload.probability import (
    chance_words,
    evenings_of,
    hold_probability,
    next_measurement,
    undecided,
)

SURE_PERCENT = 95.0
"""On how many of a hundred nights a line must hold that is said to (common practice, no source)."""


class UplinkInUse(NamedTuple):
    """An uplink that streams leave by: its load, and what was measured."""

    id: str
    demand: Demand
    upload: Upload


LINES: SubjectKind[UplinkInUse] = SubjectKind(
    "uplink that streams leave by",
    lambda case: (
        (Thing("uplink", id), UplinkInUse(id, demand, uploads(case)[id]))
        for id, demand in demands(case).items()
        if demand.streams
    ),
)


@check(
    "no-measurement",
    LINES,
    "survey",
    "Has its upload been measured, within an hour of every hour of the show?",
    "common practice, no source",
    "measured",
)
def no_measurement(case: Case, line: UplinkInUse) -> Verdict:
    """Whether anybody measured the uplink at the hours of the show, on whatever day."""
    upload = line.upload
    missing = [h.hour for h in upload.hours if not h.samples]
    if upload.samples and not missing:
        return HOLDS
    when = f" at {listed(missing)}" if missing else ""
    asked = f"How much upload does {upload.name} carry{when}? Measure it from the socket the encoder will use, with the building in use."
    return wants(Want(Thing("uplink", line.id), "measurements", asked))


def _not_known(case: Case, line: UplinkInUse) -> Verdict | None:
    """What the line waits for before it can be said to carry the whole show; None where nothing is missing."""
    if not line.upload.samples or any(not h.samples for h in line.upload.hours):
        return waits(DependsOn(no_measurement, Thing("uplink", line.id)))
    if case.plan.show.starts_at is None:
        return waits(DependsOn(no_start, Thing("show", "show")))
    if case.plan.show.ends_at is None:
        return waits(DependsOn(end_not_known, Thing("show", "show")))
    return None


@check(
    "thin-evidence", LINES, "survey",
    "Are there enough measurements, fresh, at the hour of the show, with the building in use?",
    "common practice, no source", "measured",
)  # fmt: skip
def thin_evidence(case: Case, line: UplinkInUse) -> Verdict:
    """Whether the measurements carry a judgement: how many, how old, at which hour, under what conditions; and whether what fits
    them was measured on evenings enough, or with so much to spare, that it holds on 95 of 100 nights like it."""
    upload = line.upload
    if not upload.samples:
        return waits(DependsOn(no_measurement, Thing("uplink", line.id)))
    nothing = [
        f"nothing was measured {_when(case, s.at)}, a test that failed and is left out" for s in upload.failed
    ]
    unsure = _unsure(case, line)
    doubts = (*([_too_few(case, line, unsure)] if unsure else ()), *upload.doubts, *nothing)
    if not doubts:
        return HOLDS

    def say() -> Words:
        return Words(
            f"The measurements of {upload.name} say little: {'; '.join(doubts)}.",
            "Lines have good evenings and bad ones: the one on the day may carry far less than these figures.",
            "Measure again at the hour of the show, with the building in use, on another evening; or send less.",
        )

    if not unsure:
        return doubtful(say) if upload.trust == "thin" else holds(remark=say)
    numbers = Numbers(round(unsure.expected, 1), SURE_PERCENT, 0, "%", at_least=True)
    return doubtful(say, numbers)


def _unsure(case: Case, line: UplinkInUse) -> HoldEstimate | None:
    """On how many evenings it holds, where what is sent fits all that was measured, and that is still too little to rely on."""
    chance = None if line.upload.reckoned else hold_probability(case, line.id)
    low = min((h.low_mbps or 0.0 for h in line.upload.measured), default=0.0)
    fits = line.demand.total.value <= _middle(line.upload) and line.demand.peak_mbps <= low
    return chance if chance and fits and round(chance.expected, 1) < SURE_PERCENT else None


def _too_few(case: Case, line: UplinkInUse, chance: HoldEstimate) -> str:
    count = evenings_of(case, line.id)
    seen = "they are all of one evening" if count == 1 else f"they are of {count} evenings"
    return f"{number(line.demand.peak_mbps)} Mb/s fits them, but {seen}, and it holds {chance_words(chance)}"


@check(
    "upload-too-small", LINES, "bandwidth",
    "Does what is sent fit the middle of what was measured, at each hour of the show?", "arithmetic", "measured",
)  # fmt: skip
def upload_too_small(case: Case, line: UplinkInUse) -> Verdict:
    """Whether the sum of the streams (Mb/s) is within the median of each hour's measurements, others' share taken off."""
    asked, upload, middle = line.demand.total.value, line.upload, _middle(line.upload)
    worst = min(upload.measured, key=lambda h: h.middle_mbps or 0, default=None)
    numbers = Numbers(asked, middle, middle, "Mb/s")
    if asked <= middle or not upload.samples:
        return _not_known(case, line) or holds(numbers)

    def say() -> Words:
        when = f"at {worst.hour}" if worst else "at its best"
        return Words(
            f"{upload.name} is asked for {number(asked)} Mb/s; {when} it {'comes to' if upload.reckoned else 'was measured at'} {number(middle)} Mb/s{', as reckoned from its parts' if upload.reckoned else ''}.",
            "The encoder's buffer fills, frames are dropped, and the platform's viewers see it stop and start.",
            "Send less: a lower bitrate, a smaller picture, fewer destinations. Or find another line.",
            left_over(line.demand, of_the_hour(upload, worst)) if worst else None,
        )

    return fails(say, numbers)


def _middle(upload: Upload) -> float:
    """The least of the medians of the hours of the show, in Mb/s; the highest of all where none of them was measured."""
    best = max(0.0, (upload.highest_mbps or 0) - upload.others_mbps)
    return min((h.middle_mbps or 0.0 for h in upload.measured), default=best)


@check(
    "upload-bad-hour", LINES, "bandwidth",
    "Does what is sent fit the low end of what was measured, at each hour of the show?",
    "common practice, no source", "measured",
)  # fmt: skip
def upload_bad_hour(case: Case, line: UplinkInUse) -> Verdict:
    """Whether the sum of the streams (Mb/s), those that vary at their peaks, fits the low end of each hour too: its 10 %
    quantile, or the lowest of few."""
    asked, upload = line.demand.peak_mbps, line.upload
    worst = min(upload.measured, key=lambda h: h.low_mbps or 0, default=None)
    if worst is None or line.demand.total.value > _middle(upload):
        return _not_known(case, line) or waits(DependsOn(upload_too_small, Thing("uplink", line.id)))
    low = worst.low_mbps or 0.0
    numbers = Numbers(asked, low, _middle(upload), "Mb/s")
    lowest = min(worst.samples, key=lambda s: s.up_mbps)

    def say() -> Words:
        down = (
            f"a tenth of its minutes carry less than {number(low)} Mb/s, as reckoned from its parts"
            if upload.reckoned
            else f"at {worst.hour} it was down to {number(lowest.up_mbps)} Mb/s {_when(case, lowest.at)}"
        )
        return Words(
            f"{number(asked)} Mb/s fits {upload.name} mostly, but not at its worst: {down}.",
            f"If the evening is like that one the picture stops, however good the average was. It holds {chance_words(hold_probability(case, line.id))}.",
            "Send what the bad hour carries, keep others off the line, or bring a second line.",
            left_over(line.demand, of_the_hour(upload, worst, low=True)),
        )

    more = next_measurement(case, line.id) if any(undecided(h, asked) for h in upload.measured) else None
    if asked > low:
        verdict = doubtful(say, numbers)
        if more is None or upload.reckoned:
            return verdict
        question = f"How much upload does {upload.name} carry? {more.what}: {more.why}."
        return verdict._replace(want=Want(Thing("uplink", line.id), "measurements", question))
    alone = lowest.up_mbps - upload.others_mbps < asked
    return _not_known(case, line) or holds(numbers, say if alone and not upload.reckoned else None)


@check(
    "headroom-used", LINES, "bandwidth", "Does the headroom rule of this plan hold, at every hour of the show?",
    "common practice, no source", "measured",
)  # fmt: skip
def headroom_used(case: Case, line: UplinkInUse) -> Verdict:
    """Whether the sum of the streams (Mb/s) is within the allowance of the headroom rule at each hour of the show."""
    allowed, asked, upload = line.upload.allowed, line.demand.total.value, line.upload
    if allowed is None or asked > _middle(upload):
        return _not_known(case, line) or waits(DependsOn(upload_too_small, Thing("uplink", line.id)))
    numbers = Numbers(asked, allowed.value, math.inf, "Mb/s")
    if upload.chosen == "one-push" and (pushes := _too_many_pushes(case, line)):
        return doubtful(lambda: _one_at_a_time(case, line, pushes), compared=[s.id for s in pushes])
    if asked <= allowed.value:
        return _not_known(case, line) or holds(numbers)

    def say() -> Words:
        when = f" at {upload.allowed_at}" if upload.allowed_at else ""
        return Words(
            f"{upload.name} is asked for {number(asked)} Mb/s{when} and may carry {number(allowed.value)} Mb/s by the school chosen: {SCHOOL_NAMES[upload.chosen].lower()}.",
            "There is too little left for the day when the line is worse than it was measured.",
            "Send less, choose another school on purpose, or accept it with a reason.",
            left_over(line.demand, allowed),
        )

    return doubtful(say, numbers)


def _too_many_pushes(case: Case, line: UplinkInUse) -> list[Stream]:
    """The pushes to services by a line, where there are several and it was measured below what carries more than one (Mb/s)."""
    pushes = [s for s in line.demand.streams if case.devices[s.to_device].ingest]
    thin = line.upload.samples and _middle(line.upload) < case.figures["one-push-below"]
    return pushes if len(pushes) > 1 and thin else []


def _one_at_a_time(case: Case, line: UplinkInUse, pushes: list[Stream]) -> Words:
    most = case.figures["one-push-below"]
    return Words(
        f"{len(pushes)} pushes go out by {line.upload.name}, measured at {number(_middle(line.upload))} Mb/s; up to about {most:g} Mb/s a shared line carries one.",
        "The two fight each other, while others read their mail.",
        "Push once, to a relay that repeats it, or measure the line with the building in use.",
    )


@check(
    "pushes-share-line", LINES, "bandwidth", "Does a shared line that nobody measured in use carry one push alone?",
    "common practice, no source", "practice",
)  # fmt: skip
def pushes_share_line(case: Case, line: UplinkInUse) -> Verdict:
    """Whether several pushes go by a line that others share, or may share, and that was never measured with the building in use. Where it
    was, the measurements speak; where the headroom rule is this one, that speaks."""
    uplink, used = case.uplinks[line.id], any(s.conditions == "busy" for s in line.upload.samples)
    pushes = _too_many_pushes(case, line)
    if used or line.upload.chosen == "one-push" or uplink.others_mbps == 0 or not pushes:
        return HOLDS
    return doubtful(lambda: _one_at_a_time(case, line, pushes), compared=[s.id for s in pushes])


@check(
    "others-not-known", LINES, "survey", "Is it known who else uses the line, or was it measured with the building in use?",
    "common practice, no source", "plan",
)  # fmt: skip
def others_not_known(case: Case, line: UplinkInUse) -> Verdict:
    """Whether it was asked what others take of the line, or a measurement with the building in use has it already."""
    if not line.upload.samples:
        return waits(DependsOn(no_measurement, Thing("uplink", line.id)))
    if (
        case.uplinks[line.id].others_mbps is not None
        or line.upload.reckoned
        or any(s.conditions == "busy" for s in line.upload.samples)
    ):
        return HOLDS
    asked = f"How much of {line.upload.name} do others take at the hour of the show (0: nobody)? Or measure it with the building in use."
    return wants(Want(Thing("uplink", line.id), "others_mbps", asked, "Mb/s"))


def of_the_hour(upload: Upload, hour: ShowHour, low: bool = False) -> Working:
    """What an hour of the show leaves to the plan, in Mb/s: the middle of its measurements, or their low end."""
    ups = [s.up_mbps for s in hour.samples]
    ends = f"{LOW_PERCENT:g} % of them are lower" if len(ups) >= FEW else "the lowest of them"
    value = (hour.low_mbps if low else hour.middle_mbps) or 0.0
    return Working(
        name=f"Upload at {hour.hour}",
        value=value,
        unit="Mb/s",
        steps=(
            Step(name=f"Measurements at {hour.hour}", value=len(ups), how=f"{min(ups):g} to {max(ups):g} Mb/s", source="the survey"),
            Step(name="Low end" if low else "Middle", value=round(value + upload.others_mbps, 2), unit="Mb/s", how=ends if low else "median"),
            *([Step(name="Set aside for others on the line", value=-upload.others_mbps, unit="Mb/s", source="set in this plan")] if upload.others_mbps else ()),
        ),
    )  # fmt: skip


@check(
    "bitrate-unsuited", STREAMS, "bandwidth",
    "Is the bitrate enough for this picture, and not more than anybody sees?",
    "common practice, no source; from memory", "practice", tried=True,
)  # fmt: skip
def bitrate_unsuited(case: Case, stream: Stream) -> Verdict:
    """Whether the video bitrate (Mb/s) lies within the range that its raster, rate, codec and content deserve."""
    least, most = sensible_mbps(stream.format, stream.codec, case.figures)
    low = stream.video_mbps < least
    numbers = Numbers(stream.video_mbps, least, 0, "Mb/s", at_least=True)
    if not low and stream.video_mbps <= most * 1.5:
        return holds(numbers)
    fit = suggested_bitrate(stream.format, stream.codec, case.plan.show.content, case.figures)

    def say() -> Words:
        return Words(
            f"{stream.name}: {stream.video_mbps:g} Mb/s is {'thin' if low else 'more than it needs'} for {stream.format.label} ({fit.low:g} to {fit.high:g} Mb/s).",
            "Movement falls apart into blocks." if low else "The line is spent on a difference nobody sees.",
            "Choose a picture and a bitrate that belong together.",
            fit.suggested,
        )

    return doubtful(say, numbers) if low else holds(numbers, say)


def _when(case: Case, at: str) -> str:
    return said_moment(datetime.fromisoformat(at).astimezone(case.plan.show.clock))


CHECKS = (
    no_measurement,
    thin_evidence,
    upload_too_small,
    upload_bad_hour,
    headroom_used,
    pushes_share_line,
    others_not_known,
    bitrate_unsuited,
)
