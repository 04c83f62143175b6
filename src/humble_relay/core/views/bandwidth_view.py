"""What the Bandwidth stage draws: each uplink with its required bitrate, each stream with what it weighs."""

from collections.abc import Iterator
from math import isfinite

from humble_relay.core.allocation.compare import Comparison, comparisons
from humble_relay.core.bonding.bonded_uplinks import minutes_of, parts_of, whole_show
from humble_relay.core.bonding.simulation import buffer_ms
from humble_relay.core.brief.on_air import on_air
from humble_relay.core.egress.outbound import router_out, stays
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.working import Working
from humble_relay.core.load.stream_load import Load, loads
from humble_relay.core.load.uplink_demand import demands
from humble_relay.core.measurements.weighting import show_hours
from humble_relay.core.picture.bitrate import suggested_bitrate
from humble_relay.core.plan import HeadroomRule, Stream
from humble_relay.core.transport.srt_latency import SRT_CROSSING, LossyStream
from humble_relay.core.transport.srt_retransmission import (
    LEAST_MS,
    attempts,
    breaks_per_hour,
    bridged_ms,
    latency_for,
)
from humble_relay.core.uplinks.bond_loss import left_words
from humble_relay.core.upload.headroom import Upload, uploads
from humble_relay.core.upload.probability import (
    sentence_on,
)


class SchoolMark(Frozen):
    """How much one school lets the line carry, others' share included (Mb/s), and whether the load fits."""

    school: HeadroomRule
    name: str
    mbps: float
    fits: bool


class LeftView(Frozen):
    """What is left at its low end (Mb/s) when some lines are gone, and whether what is asked fits that."""

    gone: str
    low_mbps: float
    fits: bool


class PartView(Frozen):
    """One line of a bond: its middle upload at the hour when it carries least, its share, what is left without it (Mb/s), and
    the data that goes by it in the show (GB)."""

    uplink: str
    name: str
    carrier: str
    middle_mbps: float
    share: float
    without_mbps: float
    data_gb: float | None
    rtt_ms: float | None


class BondView(Frozen):
    """A bonded line: its parts, the low end, middle and high end of their total over the show, and what is left when two, or a
    carrier, are gone (Mb/s)."""

    parts: tuple[PartView, ...]
    low_mbps: float
    middle_mbps: float
    high_mbps: float
    left: tuple[LeftView, ...]
    buffer_ms: float | None
    """How long packets must be held to be put in order."""
    holds_ms: float | None


class UplinkView(Frozen):
    """One uplink: what was measured, its load, what is free under the headroom rule."""

    upload: Upload
    needed_mbps: float
    """Its whole load, others' share included."""
    too_low: tuple[bool, ...]
    """Of each measurement, whether it was less than that."""
    schools: tuple[SchoolMark, ...]
    loads: tuple[Load, ...]
    asked: Working
    left_mbps: float | None
    sentence: str
    """What to send by it, how sure that is, and what to measure next; empty where nothing is sent by it."""
    bond: BondView | None


class LeftUnrepaired(Frozen):
    """What one latency of SRT leaves lost: how often a lost packet comes again in time, and the breaks an hour; whether it is the
    one that is set, and the least that holds."""

    latency_ms: float
    comes_again: int
    breaks_per_hour: float
    bridged_ms: float
    """The longest outage that nobody sees."""
    now: bool
    least: bool


class LineName(Frozen):
    """A line that a stream can be sent by."""

    uplink: str
    name: str


class StreamView(Frozen):
    """A stream: what it weighs, and the bitrate its picture deserves (Mb/s)."""

    stream: str
    load: Load
    suggested: Working
    low_mbps: float
    high_mbps: float
    lossy: str
    """Of an SRT stream: the loss and round trip that it is judged by, in words; empty where they are not known, or it is none."""
    unrepaired: tuple[LeftUnrepaired, ...]
    lines: tuple[LineName, ...]
    """The uplinks of its sender's router, and the one that a policy route sends it by."""


class BandwidthView(Frozen):
    """Uplinks, in the plan's order."""

    uplinks: tuple[UplinkView, ...]


class BitratesView(Frozen):
    """Streams, in the plan's order."""

    streams: tuple[StreamView, ...]


class ComparisonsView(Frozen):
    """What there is to compare."""

    comparisons: tuple[Comparison, ...]
    """Pushed to each against once to a relay."""


def bandwidth_view(case: Case) -> BandwidthView:
    """What the Bandwidth stage draws."""
    return BandwidthView(uplinks=tuple(_uplink(case, id) for id in case.uplinks))


def bitrates_view(case: Case) -> BitratesView:
    """What each stream weighs."""
    return BitratesView(streams=tuple(_stream(case, stream) for stream in case.streams))


def comparisons_view(case: Case) -> ComparisonsView:
    """Pushing to each platform, against pushing once."""
    return ComparisonsView(comparisons=comparisons(case))


def _uplink(case: Case, id: str) -> UplinkView:
    upload, demand, each = uploads(case)[id], demands(case)[id], loads(case)
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
        sentence=sentence_on(case, id),
        bond=_bond(case, id),
    )


def _bond(case: Case, id: str) -> BondView | None:
    line, asked = case.uplinks[id], demands(case)[id].total.value
    parts = parts_of(case, line, show_hours(on_air(case))) if line.parts else None
    found = whole_show(case, line) if parts else None
    if parts is None or found is None:
        return None
    seconds = minutes_of(case) * 60
    sent = asked / case.figures["bond-efficiency"]
    return BondView(
        parts=tuple(
            PartView(
                uplink=part.id,
                name=case.uplinks[part.id].name,
                carrier=case.uplinks[part.id].carrier,
                middle_mbps=round(part.middle_mbps, 1),
                share=round(share, 3),
                without_mbps=round(without.low_mbps, 1),
                data_gb=round(sent * share * seconds / 8 / 1000, 1) if asked else None,
                rtt_ms=part.rtt_ms,
            )
            for part, share, without in zip(parts, found.shares, found.without_one, strict=True)
        ),
        low_mbps=round(found.at(10), 1),
        middle_mbps=round(found.at(50), 1),
        high_mbps=round(found.at(90), 1),
        left=tuple(
            LeftView(
                gone=left_words(case, left), low_mbps=round(left.low_mbps, 1), fits=asked <= left.low_mbps
            )
            for left in dict.fromkeys((*found.without_one, *found.without_two, *found.without_a_carrier))
        ),
        buffer_ms=buffer_ms(parts),
        holds_ms=line.holds_ms,
    )


def _stream(case: Case, stream: Stream) -> StreamView:
    fit_ = suggested_bitrate(stream.format, stream.codec, case.plan.show.content, case.figures)
    what = _srt_streams(case).get(stream.id)
    path = what.path if what else None
    return StreamView(
        stream=stream.id,
        load=loads(case)[stream.id],
        suggested=fit_.suggested,
        low_mbps=fit_.low,
        high_mbps=fit_.high,
        lossy=f"{path.loss_pct:.3g} % lost, RTT {path.rtt_ms:g} ms" if path else "",
        unrepaired=tuple(_unrepaired(case, what)) if what and path and path.loss_pct else (),
        lines=tuple(LineName(uplink=id, name=case.uplinks[id].name) for id in _lines(case, stream)),
    )


def _lines(case: Case, stream: Stream) -> tuple[str, ...]:
    router = router_out(case, case.devices[stream.from_device])
    named = (stream.line,) if stream.line else ()
    return () if stays(case, stream) else tuple(dict.fromkeys((*(router.uplinks if router else ()), *named)))


@analysis
def _srt_streams(case: Case) -> dict[str, LossyStream]:
    return {what.stream.id: what for _, what in SRT_CROSSING.each(case)}


def _unrepaired(case: Case, what: LossyStream) -> Iterator[LeftUnrepaired]:
    """The latencies that are usual (one to four round trips, and what both ends come with), the one set, and the least that
    holds."""
    assert what.path
    path, now = what.path, what.latency_ms(case)
    least = latency_for(path, case.figures["srt-breaks"])
    usual = {LEAST_MS, now, *(round(n * path.rtt_ms) for n in (1, 2, 3, 4))}
    for latency in sorted(usual | ({least} if isfinite(least) else set())):
        yield LeftUnrepaired(
            latency_ms=latency,
            comes_again=attempts(path, latency),
            breaks_per_hour=float(f"{breaks_per_hour(path, latency):.3g}"),
            bridged_ms=round(bridged_ms(path, latency)),
            now=latency == now,
            least=latency == least,
        )
