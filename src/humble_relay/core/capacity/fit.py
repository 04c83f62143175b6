"""Whether the streams of each uplink fit what was measured, and what would."""

import math
from collections.abc import Callable, Iterator
from datetime import datetime
from typing import NamedTuple

from humble_relay.core.capacity.load import load, loads
from humble_relay.core.capacity.upload import uploads
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Fault, Fix, rule
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.network.ways_out import streams_by_uplink
from humble_relay.core.picture.bitrate import suggested_bitrate
from humble_relay.core.plan import Stream
from humble_relay.core.plan.edits import Edit, SetField
from humble_relay.core.plan.video import Rate, VideoFormat

_STEP_MBPS = 0.5
_HALF_RATE: dict[Rate, Rate] = {"50": "25", "59.94": "29.97", "60": "30"}
_SMALLER = {
    (3840, 2160): (1920, 1080),
    (1920, 1080): (1280, 720),
    (2160, 3840): (1080, 1920),
    (1080, 1920): (720, 1280),
}


class Demand(NamedTuple):
    """All that leaves by one uplink: its streams, and their sum in Mb/s."""

    streams: list[Stream]
    total: Working


def demands(case: Case) -> dict[str, Demand]:
    """What the plan asks of every uplink, by uplink."""
    each, found = case.once(loads), {}
    for id, streams in case.once(streams_by_uplink).items():
        steps = tuple(
            Step(
                name=s.name,
                value=each[s.id].total.value,
                unit="Mb/s",
                how="video, audio, container, transport",
            )
            for s in streams
        )
        total = sum(each[s.id].total.value for s in streams)
        found[id] = Demand(
            streams, Working(name="Asked of the line", value=round(total, 3), unit="Mb/s", steps=steps)
        )
    return found


@rule("no-measurement", "survey")
def no_measurement(case: Case) -> Iterator[Fault]:
    """Uplinks that streams leave by and nobody has measured."""
    for id, demand in case.once(demands).items():
        if demand.streams and not case.survey.of(id):
            yield Fault(
                severity="stops",
                noun="uplink",
                subject=id,
                wrong=f"Nobody has measured the upload of {case.uplinks[id].name}.",
                means="What the contract promises is not what leaves the building. The bitrate is a guess.",
                do="Measure it from the socket the encoder will use, at the hour of the show, more than once.",
            )


@rule("thin-evidence", "survey")
def thin_evidence(case: Case) -> Iterator[Fault]:
    """Uplinks in use whose measurements are few, old, or taken when nobody was there."""
    for id, demand in case.once(demands).items():
        upload = case.once(uploads)[id]
        if demand.streams and upload.doubts:
            yield Fault(
                severity="risks" if upload.trust == "thin" else "note",
                noun="uplink",
                subject=id,
                wrong=f"The measurements of {upload.name} say little: {'; '.join(upload.doubts)}.",
                means="The line on the evening may carry far less than these figures.",
                do="Measure again with the building in use, at the hour of the show.",
            )


@rule("upload-too-small", "bandwidth")
def upload_too_small(case: Case) -> Iterator[Fault]:
    """Uplinks asked for more than the chosen school of headroom allows."""
    for id, demand in case.once(demands).items():
        upload = case.once(uploads)[id]
        allowed = upload.allowed
        if not demand.streams or allowed is None or demand.total.value <= allowed.value:
            continue
        yield Fault(
            severity="stops",
            noun="uplink",
            subject=id,
            wrong=f"{upload.name} is asked for {number(demand.total.value)} Mb/s and may carry {number(allowed.value)} Mb/s.",
            means="The encoder's buffer fills, frames are dropped, and the platform's viewers see it stop and start.",
            do="Send less: a lower bitrate, a smaller picture, fewer destinations. Or find another line.",
            working=_against(demand, allowed),
            fixes=tuple(_fixes(case, demand, allowed.value)),
        )


@rule("upload-bad-hour", "bandwidth")
def upload_bad_hour(case: Case) -> Iterator[Fault]:
    """Uplinks whose typical measurement carries the streams and whose bad hour does not."""
    for id, demand in case.once(demands).items():
        upload = case.once(uploads)[id]
        allowed = upload.allowed
        if not demand.streams or allowed is None or demand.total.value > allowed.value:
            continue
        short = [s for s in upload.samples if s.up_mbps - upload.others_mbps < demand.total.value]
        if not short:
            continue
        at_show = [s for s in short if s.in_show_hours]
        worst = min(short, key=lambda s: s.up_mbps)
        left = max(0.0, worst.up_mbps - upload.others_mbps)
        bad_hour = Working(
            name="Upload in the bad hour",
            value=round(left, 2),
            unit="Mb/s",
            steps=(
                Step(name="Lowest measured", value=worst.up_mbps, unit="Mb/s", how=f"{worst.at[:16].replace('T', ' ')}, {worst.conditions}", source="the survey"),
                Step(name="Set aside for others on the line", value=-upload.others_mbps, unit="Mb/s", source="set in this plan"),
                Step(name="Measurements below what is asked", value=len(short), how=f"of {len(upload.samples)}, {len(at_show)} of them at the hour of the show", source="the survey"),
            ),
        )  # fmt: skip
        yield Fault(
            severity="stops" if at_show else "risks",
            noun="uplink",
            subject=id,
            wrong=f"{number(demand.total.value)} Mb/s fits {upload.name} on average, but not its bad hour: {number(worst.up_mbps)} Mb/s measured {_when(case, worst.at)}.",
            means=(
                "That hour is the hour of the show. The average will be fine and the picture will stop."
                if at_show
                else "If the show meets such an hour, the picture stops."
            ),
            do="Send what the bad hour carries, keep others off the line, or bring a second line.",
            working=_against(demand, bad_hour),
            fixes=tuple(_fixes(case, demand, left)),
        )


@rule("bitrate-unsuited", "bandwidth")
def bitrate_unsuited(case: Case) -> Iterator[Fault]:
    """Bitrates below what the picture deserves, or above what anybody can see."""
    for stream in case.streams:
        fit = suggested_bitrate(stream.format, stream.codec, case.plan.show.content, case.figures)
        low = stream.video_mbps < fit.low
        if not low and stream.video_mbps <= fit.high * 1.5:
            continue
        edit = SetField(noun="link", id=stream.id, field="video_mbps", value=fit.suggested.value)
        smaller = _picture_for(case, stream) if low else None
        fixes = [Fix(title=f"Send {fit.suggested.value:g} Mb/s", edits=(edit,))]
        if smaller:
            fixes.insert(
                0, Fix(title=f"Send {smaller.label} at this bitrate", edits=(_set_format(stream, smaller),))
            )
        yield Fault(
            severity="risks" if low else "note",
            noun="link",
            subject=stream.id,
            wrong=f"{stream.name}: {stream.video_mbps:g} Mb/s is {'thin' if low else 'more than it needs'} for {stream.format.label} ({fit.low:g} to {fit.high:g} Mb/s).",
            means="Movement falls apart into blocks."
            if low
            else "The line is spent on a difference nobody sees.",
            do="Choose a picture and a bitrate that belong together.",
            working=fit.suggested,
            fixes=tuple(fixes),
        )


def _picture_for(case: Case, stream: Stream) -> VideoFormat | None:
    """The largest smaller picture that the stream's bitrate is enough for."""
    for shrink in _SHRINKS:
        fmt = shrink(stream.format)
        fit = fmt and suggested_bitrate(fmt, stream.codec, case.plan.show.content, case.figures)
        if fit and stream.video_mbps >= fit.low:
            return fmt
    return None


def _against(demand: Demand, allowed: Working) -> Working:
    """The sum that a verdict rests on: what is asked, beside what is there."""
    left = allowed.value - demand.total.value
    return Working(
        name="Left over",
        value=round(left, 2),
        unit="Mb/s",
        steps=(
            *allowed.steps,
            Step(name=allowed.name, value=allowed.value, unit="Mb/s"),
            *demand.total.steps,
            Step(
                name="Left over",
                value=round(left, 2),
                unit="Mb/s",
                how=f"{allowed.value:g} − {demand.total.value:g}",
            ),
        ),
    )


def _fixes(case: Case, demand: Demand, allowed: float) -> Iterator[Fix]:
    """Bitrates that fit at the same picture, then smaller pictures that fit at theirs."""
    tried = []
    for shrink in (lambda f: f, *_SHRINKS):
        formats = [shrink(s.format) or s.format for s in demand.streams]
        rates = None if formats in tried else _sharing(case, demand, allowed, formats)
        tried.append(formats)
        if rates is None:
            continue
        pairs = list(zip(demand.streams, rates, strict=True))
        summary = ", ".join(f"{s.name} {s.video_mbps:g} → {mbps:g} Mb/s" for s, mbps in pairs)
        edits: list[Edit] = [
            _set_format(s, f) for s, f in zip(demand.streams, formats, strict=True) if f != s.format
        ]
        labels = ", ".join(dict.fromkeys(f.label for f in formats))
        title = f"Smaller picture: {labels}, {summary}" if edits else f"Lower the bitrate: {summary}"
        edits += [SetField(noun="link", id=s.id, field="video_mbps", value=mbps) for s, mbps in pairs]
        yield Fix(title=title, edits=tuple(edits))


def _sharing(case: Case, demand: Demand, allowed: float, formats: list[VideoFormat]) -> list[float] | None:
    """Each stream's video bitrate in Mb/s when all shrink alike into `allowed`; None when that is too
    little for one of the pictures."""
    share, rates = min(1, allowed / demand.total.value), []
    for stream, fmt in zip(demand.streams, formats, strict=True):
        fit = suggested_bitrate(fmt, stream.codec, case.plan.show.content, case.figures)
        most = load(stream, case.figures).total.value * share
        mbps = math.floor(min(stream.video_mbps * share, fit.high) / _STEP_MBPS) * _STEP_MBPS
        while mbps >= fit.low:
            smaller = stream.model_copy(update={"video_mbps": mbps, "format": fmt})
            if load(smaller, case.figures).total.value <= most:
                break
            mbps -= _STEP_MBPS
        else:
            return None
        rates.append(mbps)
    return rates


def _set_format(stream: Stream, fmt: VideoFormat) -> SetField:
    return SetField(noun="link", id=stream.id, field="format", value=fmt.model_dump(mode="json"))


def _half_rate(fmt: VideoFormat) -> VideoFormat | None:
    rate = _HALF_RATE.get(fmt.rate)
    return fmt.model_copy(update={"rate": rate}) if rate else None


def _smaller(fmt: VideoFormat) -> VideoFormat | None:
    size = _SMALLER.get((fmt.width, fmt.height))
    return fmt.model_copy(update={"width": size[0], "height": size[1]}) if size else None


def _when(case: Case, at: str) -> str:
    return datetime.fromisoformat(at).astimezone(case.plan.show.clock).strftime("%a %d %b at %H:%M")


_SHRINKS: tuple[Callable[[VideoFormat], VideoFormat | None], ...] = (
    _half_rate,
    _smaller,
    lambda fmt: _smaller(_half_rate(fmt) or fmt),
)
"""Ways to a smaller picture, the least loss first."""
