"""What the Bandwidth stage draws: each line with what is asked of it, each stream with what it weighs."""

from humble_relay.core.capacity.demand import demands
from humble_relay.core.capacity.load import Load, loads
from humble_relay.core.capacity.upload import Upload, uploads
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import Working
from humble_relay.core.network.stream_addresses import typed_address
from humble_relay.core.picture.bitrate import suggested_bitrate
from humble_relay.core.plan import Stream


class UplinkReport(Frozen):
    """One uplink: what was measured, what is asked of it, what is left under the chosen school."""

    upload: Upload
    loads: tuple[Load, ...]
    asked: Working
    left_mbps: float | None


class StreamReport(Frozen):
    """A stream: where it goes, what it weighs, and the bitrate its picture deserves (Mb/s)."""

    stream: str
    address: str | None
    has_key: bool
    load: Load
    suggested: Working
    low_mbps: float
    high_mbps: float


def uplink_report(case: Case, id: str) -> UplinkReport:
    """An uplink under the chosen school of headroom."""
    upload, demand, each = case.once(uploads)[id], case.once(demands)[id], case.once(loads)
    allowed = upload.allowed
    return UplinkReport(
        upload=upload,
        loads=tuple(each[s.id] for s in demand.streams),
        asked=demand.total,
        left_mbps=None if allowed is None else round(allowed.value - demand.total.value, 2),
    )


def stream_report(case: Case, stream: Stream) -> StreamReport:
    """A stream's address, its load and the bitrate its picture deserves."""
    fit_ = suggested_bitrate(stream.format, stream.codec, case.plan.show.content, case.figures)
    return StreamReport(
        stream=stream.id,
        address=typed_address(case, stream),
        has_key=bool(stream.key),
        load=case.once(loads)[stream.id],
        suggested=fit_.suggested,
        low_mbps=fit_.low,
        high_mbps=fit_.high,
    )
