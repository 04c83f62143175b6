"""What the Bandwidth stage draws: each line with what is asked of it, each stream with what it weighs."""

from humble_relay.core.capacity.demand import demands
from humble_relay.core.capacity.load import Load, loads
from humble_relay.core.capacity.upload import Upload, uploads
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import Working
from humble_relay.core.picture.bitrate import suggested_bitrate
from humble_relay.core.plan import School, Stream


class SchoolMark(Frozen):
    """How much one school lets the line carry, others' share included (Mb/s), and whether what is asked of it fits."""

    school: School
    name: str
    mbps: float
    fits: bool


class UplinkView(Frozen):
    """One uplink: what was measured, what is asked of it, what is left under the chosen school."""

    upload: Upload
    needed_mbps: float
    """All that is asked of it, others' share included."""
    too_low: tuple[bool, ...]
    """Of each measurement, whether it was less than that."""
    schools: tuple[SchoolMark, ...]
    loads: tuple[Load, ...]
    asked: Working
    left_mbps: float | None


class StreamView(Frozen):
    """A stream: what it weighs, and the bitrate its picture deserves (Mb/s)."""

    stream: str
    load: Load
    suggested: Working
    low_mbps: float
    high_mbps: float


class BandwidthView(Frozen):
    """Lines and streams, in the plan's order."""

    uplinks: tuple[UplinkView, ...]
    streams: tuple[StreamView, ...]


def bandwidth_view(case: Case) -> BandwidthView:
    """What the Bandwidth stage draws."""
    return BandwidthView(
        uplinks=tuple(_uplink(case, id) for id in case.uplinks),
        streams=tuple(_stream(case, stream) for stream in case.streams),
    )


def _uplink(case: Case, id: str) -> UplinkView:
    upload, demand, each = case.once(uploads)[id], case.once(demands)[id], case.once(loads)
    allowed, others = upload.allowed, upload.others_mbps
    needed = demand.total.value + others
    return UplinkView(
        upload=upload,
        needed_mbps=needed,
        too_low=tuple(sample.up_mbps < needed for sample in upload.samples),
        schools=tuple(
            SchoolMark(
                school=a.school,
                name=a.name,
                mbps=a.mbps.value + others,
                fits=a.mbps.value >= demand.total.value,
            )
            for a in upload.allowances
        ),
        loads=tuple(each[s.id] for s in demand.streams),
        asked=demand.total,
        left_mbps=None if allowed is None else round(allowed.value - demand.total.value, 2),
    )


def _stream(case: Case, stream: Stream) -> StreamView:
    fit_ = suggested_bitrate(stream.format, stream.codec, case.plan.show.content, case.figures)
    return StreamView(
        stream=stream.id,
        load=case.once(loads)[stream.id],
        suggested=fit_.suggested,
        low_mbps=fit_.low,
        high_mbps=fit_.high,
    )
