"""Whether the streams of each uplink fit what was measured, and whether a bitrate suits its picture."""

from datetime import datetime
from typing import NamedTuple

from humble_relay.core.capacity.demand import Demand, demands, left_over
from humble_relay.core.capacity.upload import Sample, Upload, uploads
from humble_relay.core.judging.answer import (
    HOLDS,
    Numbers,
    On,
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
from humble_relay.core.judging.check import Asked, check
from humble_relay.core.judging.things import STREAMS
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.picture.bitrate import suggested_bitrate
from humble_relay.core.plan import Stream


class LineInUse(NamedTuple):
    """An uplink that streams leave by: what is asked of it, and what was measured."""

    id: str
    demand: Demand
    upload: Upload


LINES: Asked[LineInUse] = Asked(
    "uplink that streams leave by",
    lambda case: (
        (Thing("uplink", id), LineInUse(id, demand, case.once(uploads)[id]))
        for id, demand in case.once(demands).items()
        if demand.streams
    ),
)


@check(
    "no-measurement",
    LINES,
    "survey",
    "Has its upload been measured?",
    "common practice, no source",
    "measured",
)
def no_measurement(case: Case, line: LineInUse) -> Verdict:
    """Whether anybody measured the uplink."""
    if line.upload.samples:
        return HOLDS
    name = case.uplinks[line.id].name
    asked = f"How much upload does {name} carry? Measure it from the socket the encoder will use, at the hour of the show."
    return wants(Want(Thing("uplink", line.id), "measurements", asked))


def _not_measured(line: LineInUse) -> Verdict:
    return waits(On("no-measurement", Thing("uplink", line.id)))


@check(
    "thin-evidence", LINES, "survey",
    "Are there enough measurements, fresh, at the hour of the show, with the building in use?",
    "common practice, no source", "measured",
)  # fmt: skip
def thin_evidence(_: Case, line: LineInUse) -> Verdict:
    """Whether the measurements carry a judgement: how many, how old, at which hour, under what conditions."""
    upload = line.upload
    if not upload.samples:
        return _not_measured(line)
    if not upload.doubts:
        return HOLDS

    def say() -> Words:
        return Words(
            f"The measurements of {upload.name} say little: {'; '.join(upload.doubts)}.",
            "The line on the evening may carry far less than these figures.",
            "Measure again with the building in use, at the hour of the show.",
        )

    return doubtful(say) if upload.trust == "thin" else holds(remark=say)


@check(
    "upload-too-small", LINES, "bandwidth",
    "Does what is sent fit what the chosen school of headroom allows?", "common practice, no source", "measured",
)  # fmt: skip
def upload_too_small(_: Case, line: LineInUse) -> Verdict:
    """Whether the sum of the streams (Mb/s) is within the allowance of the chosen school."""
    allowed, asked = line.upload.allowed, line.demand.total
    if allowed is None:
        return _not_measured(line)
    numbers = Numbers(asked.value, allowed.value, allowed.value, "Mb/s")
    if asked.value <= allowed.value:
        return holds(numbers)
    return fails(
        lambda: Words(
            f"{line.upload.name} is asked for {number(asked.value)} Mb/s and may carry {number(allowed.value)} Mb/s.",
            "The encoder's buffer fills, frames are dropped, and the platform's viewers see it stop and start.",
            "Send less: a lower bitrate, a smaller picture, fewer destinations. Or find another line.",
            left_over(line.demand, allowed),
        ),
        numbers,
    )


@check(
    "upload-bad-hour", LINES, "bandwidth",
    "Does what is sent fit the worst hour that was measured?", "common practice, no source", "measured",
)  # fmt: skip
def upload_bad_hour(case: Case, line: LineInUse) -> Verdict:
    """Whether the sum of the streams (Mb/s) fits every measurement; one at the show's own hour counts as certain."""
    allowed, asked, upload = line.upload.allowed, line.demand.total.value, line.upload
    if allowed is None:
        return _not_measured(line)
    if asked > allowed.value:
        return waits(On("upload-too-small", Thing("uplink", line.id)))
    short = [s for s in upload.samples if s.up_mbps - upload.others_mbps < asked]
    lowest = min(s.up_mbps for s in upload.samples) - upload.others_mbps
    numbers = Numbers(asked, max(0.0, lowest), max(0.0, lowest), "Mb/s")
    if not short:
        return holds(numbers)
    at_show = [s for s in short if s.in_show_hours]

    def say() -> Words:
        worst, bad_hour = min(short, key=lambda s: s.up_mbps), in_bad_hour(upload, short)
        return Words(
            f"{number(asked)} Mb/s fits {upload.name} on average, but not its bad hour: {number(worst.up_mbps)} Mb/s measured {_when(case, worst.at)}.",
            "That hour is the hour of the show. The average will be fine and the picture will stop."
            if at_show
            else "If the show meets such an hour, the picture stops.",
            "Send what the bad hour carries, keep others off the line, or bring a second line.",
            left_over(line.demand, bad_hour),
        )

    return fails(say, numbers) if at_show else doubtful(say, numbers)


def in_bad_hour(upload: Upload, short: list[Sample]) -> Working:
    """What is left of the lowest of the measurements that are too low, in Mb/s."""
    worst = min(short, key=lambda s: s.up_mbps)
    at_show = sum(s.in_show_hours for s in short)
    return Working(
        name="Upload in the bad hour",
        value=round(max(0.0, worst.up_mbps - upload.others_mbps), 2),
        unit="Mb/s",
        steps=(
            Step(name="Lowest measured", value=worst.up_mbps, unit="Mb/s", how=f"{worst.at[:16].replace('T', ' ')}, {worst.conditions}", source="the survey"),
            Step(name="Set aside for others on the line", value=-upload.others_mbps, unit="Mb/s", source="set in this plan"),
            Step(name="Measurements below what is asked", value=len(short), how=f"of {len(upload.samples)}, {at_show} of them at the hour of the show", source="the survey"),
        ),
    )  # fmt: skip


@check(
    "bitrate-unsuited", STREAMS, "bandwidth",
    "Is the bitrate enough for this picture, and not more than anybody sees?",
    "common practice, no source; from memory", "practice", tried=True,
)  # fmt: skip
def bitrate_unsuited(case: Case, stream: Stream) -> Verdict:
    """Whether the video bitrate (Mb/s) lies within the range that its raster, rate, codec and content deserve."""
    fit = suggested_bitrate(stream.format, stream.codec, case.plan.show.content, case.figures)
    low = stream.video_mbps < fit.low
    numbers = Numbers(stream.video_mbps, fit.low, 0, "Mb/s", at_least=True)
    if not low and stream.video_mbps <= fit.high * 1.5:
        return holds(numbers)

    def say() -> Words:
        return Words(
            f"{stream.name}: {stream.video_mbps:g} Mb/s is {'thin' if low else 'more than it needs'} for {stream.format.label} ({fit.low:g} to {fit.high:g} Mb/s).",
            "Movement falls apart into blocks." if low else "The line is spent on a difference nobody sees.",
            "Choose a picture and a bitrate that belong together.",
            fit.suggested,
        )

    return doubtful(say, numbers) if low else holds(numbers, say)


def _when(case: Case, at: str) -> str:
    return datetime.fromisoformat(at).astimezone(case.plan.show.clock).strftime("%a %d %b at %H:%M")


CHECKS = (no_measurement, thin_evidence, upload_too_small, upload_bad_hour, bitrate_unsuited)
