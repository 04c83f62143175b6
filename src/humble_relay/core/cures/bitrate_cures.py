"""What may mend a line that is asked for too much, and streams that one of their ends cannot do."""

import math
from collections.abc import Iterator

from humble_relay.core.bonding.simulation import buffer_ms
from humble_relay.core.cures.cure import Cure, Cures, set_link, stream_of
from humble_relay.core.cures.reach_cures import by_rule
from humble_relay.core.egress.outbound import router_out
from humble_relay.core.endpoints.stream_limits import (
    platform_bitrate,
    platform_codec,
    platform_format,
    platform_keyframe,
    platform_protocol,
)
from humble_relay.core.judging.answer import Thing
from humble_relay.core.judging.case import Case
from humble_relay.core.load.multicast import TO_GROUPS, multicast_floods
from humble_relay.core.load.stream_load import load, loads
from humble_relay.core.load.uplink_demand import Demand, demands
from humble_relay.core.picture.bitrate import suggested_bitrate
from humble_relay.core.picture.shrinks import SHRINKS
from humble_relay.core.plan import Ingest, Stream
from humble_relay.core.plan.edits import Edit, SetField
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.transport.lossy_paths import crossing
from humble_relay.core.transport.srt_latency import SRT_CROSSING, srt_latency
from humble_relay.core.transport.srt_retransmission import latency_for
from humble_relay.core.transport.tcp_loss import tcp_under_loss
from humble_relay.core.transport.unrepaired_loss import loss_not_mended
from humble_relay.core.uplinks.bond_loss import BONDS, bond_held_too_short, bond_one_gone, bond_shares_fate
from humble_relay.core.upload.headroom import uploads
from humble_relay.core.upload.upload_fit import (
    bitrate_unsuited,
    headroom_used,
    upload_bad_hour,
    upload_too_small,
)

_STEP_MBPS = 0.5


def _within_school(case: Case, thing: Thing) -> Iterator[Cure]:
    allowed = uploads(case)[thing.id].allowed
    if allowed:
        yield from _fitting(case, demands(case)[thing.id], allowed.value)


def _within_line(case: Case, thing: Thing) -> Iterator[Cure]:
    """As the headroom rule has it, or where that leaves no picture, as the low end of the hours has it; or one of its streams by
    another line."""
    found = [*_within_school(case, thing)]
    yield from found or _within_bad_hour(case, thing)
    yield from _by_another_line(case, thing)


def _by_another_line(case: Case, thing: Thing) -> Iterator[Cure]:
    """A stream by another line of its router, that carries it besides what goes by it already: the lightest that is enough."""
    line = uploads(case)[thing.id]
    over = demands(case)[thing.id].total.value - (line.allowed.value if line.allowed else 0.0)
    each = loads(case)
    enough = [s for s in demands(case)[thing.id].streams if each[s.id].total.value >= over > 0]
    for stream in sorted(enough, key=lambda s: each[s.id].total.value)[:1]:
        router = router_out(case, case.devices[stream.from_device])
        for other in router.uplinks if router else ():
            allowed = uploads(case)[other].allowed
            asked = demands(case)[other].total.value + each[stream.id].total.value
            if router and other != thing.id and allowed and asked <= allowed.value:
                yield from by_rule(case, router, stream, other)


def _within_bad_hour(case: Case, thing: Thing) -> Iterator[Cure]:
    varying = [s for s in demands(case)[thing.id].streams if s.peak_mbps and s.peak_mbps > s.video_mbps]
    if varying:
        yield Cure(
            title="Hold the bitrate",
            how="Constant, not variable: nothing goes above what is planned.",
            needs="the encoder's setting",
            edits=tuple(set_link(s.id, "peak_mbps", None) for s in varying),
        )
    lows = [h.low_mbps or 0.0 for h in uploads(case)[thing.id].measured]
    if lows:
        yield from _fitting(case, demands(case)[thing.id], min(lows))


def _within_school_or_elsewhere(case: Case, thing: Thing) -> Iterator[Cure]:
    yield from _within_school(case, thing)
    yield from _by_another_line(case, thing)


def _suited(case: Case, thing: Thing) -> Iterator[Cure]:
    stream = stream_of(case, thing)
    fit = suggested_bitrate(stream.format, stream.codec, case.plan.show.content, case.figures)
    smaller = _picture_for(case, stream) if stream.video_mbps < fit.low else None
    if smaller:
        yield Cure(title=f"Send {smaller.label} at this bitrate", edits=(_set_format(stream, smaller),))
    value = fit.suggested.value
    yield Cure(title=f"Send {value:g} Mb/s", edits=(set_link(stream.id, "video_mbps", value),))


def _taken(case: Case, thing: Thing) -> tuple[Stream, Ingest]:
    stream = stream_of(case, thing)
    takes = case.devices[stream.to_device].ingest
    assert takes
    return stream, takes


def _largest_taken(case: Case, thing: Thing) -> Iterator[Cure]:
    stream, takes = _taken(case, thing)
    if takes.max_mbps is not None:
        yield Cure(
            title=f"Send {takes.max_mbps:g} Mb/s", edits=(set_link(stream.id, "video_mbps", takes.max_mbps),)
        )


def _nearest_taken(case: Case, thing: Thing) -> Iterator[Cure]:
    stream, takes = _taken(case, thing)
    nearest = takes.accepts.nearest(stream.format)
    if nearest:
        yield Cure(title=f"Send {nearest.label}", edits=(_set_format(stream, nearest),))


def _protocol_taken(case: Case, thing: Thing) -> Iterator[Cure]:
    stream, takes = _taken(case, thing)
    for protocol in takes.protocols:
        yield Cure(title=f"Send {protocol.upper()}", edits=(set_link(stream.id, "protocol", protocol),))


def _codec_taken(case: Case, thing: Thing) -> Iterator[Cure]:
    stream, takes = _taken(case, thing)
    for codec in takes.codecs:
        yield Cure(title=f"Send {codec}", edits=(set_link(stream.id, "codec", codec),))


def _longer(case: Case, thing: Thing) -> Iterator[Cure]:
    """The least latency at which no more breaks are left than are planned for."""
    what = next(w for about, w in SRT_CROSSING.each(case) if about == thing)
    if what.path is None:
        return
    path = what.path if what.path.loss_pct else what.path._replace(loss_pct=1.0)
    latency = latency_for(path, case.figures["srt-breaks"])
    if math.isfinite(latency):
        yield Cure(
            title=f"Wait {latency:g} ms",
            how=f"{latency - what.latency_ms(case):g} ms later than now, at both ends.",
            edits=(set_link(thing.id, "latency_ms", latency),),
        )


def _held_longer(case: Case, thing: Thing) -> Iterator[Cure]:
    """A buffer that the slowest line's packets come within, and come again."""
    bond = next(w for about, w in BONDS.each(case) if about == thing)
    needed = buffer_ms(bond.parts or ())
    if needed is not None:
        value = math.ceil(needed / 50) * 50
        edit = SetField(noun="uplink", id=thing.id, field="holds_ms", value=value)
        yield Cure(title=f"Hold packets {value} ms", needs="the gateway's setting", edits=(edit,))


def _within_what_is_left(case: Case, thing: Thing) -> Iterator[Cure]:
    """No more than the bond carries without its best line."""
    bond = next(w for about, w in BONDS.each(case) if about == thing)
    if bond.evenings:
        left = (*bond.evenings.without_one, *bond.evenings.without_a_carrier)
        yield from _fitting(case, demands(case)[thing.id], min(each.low_mbps for each in left))


def _only_who_asked(case: Case, thing: Thing) -> Iterator[Cure]:
    """Switches that know who listens, or no groups at all."""
    snoops = SetField(noun="network", id=thing.id, field="snoops", value=True)
    yield Cure(title="Switch snooping on", how="IGMP snooping on every switch of the network, and one querier.", needs="switches that can", edits=(snoops,))  # fmt: skip
    what = next(w for about, w in TO_GROUPS.each(case) if about == thing)
    yield Cure(
        title="Send to single boxes", needs="a sender that can, once for each taker",
        edits=tuple(set_link(s.id, "multicast", False) for s in what.streams),
    )  # fmt: skip


def _keyframes_taken(case: Case, thing: Thing) -> Iterator[Cure]:
    stream = stream_of(case, thing)
    ingest = case.devices[stream.to_device].ingest
    if ingest and ingest.keyframe_s:
        yield Cure(title=f"Keyframe interval {ingest.keyframe_s:g} s", needs="the encoder's setting", edits=(set_link(stream.id, "keyframe_s", ingest.keyframe_s),))  # fmt: skip


def _by_srt(case: Case, thing: Thing) -> Iterator[Cure]:
    """The same picture by SRT, at the latency that retransmits the loss that was seen, where both ends speak it."""
    stream = stream_of(case, thing)
    sender, ingest = case.devices[stream.from_device], case.devices[stream.to_device].ingest
    if (
        not ingest
        or "srt" not in ingest.protocols
        or not sender.encoding
        or "srt" not in sender.encoding.protocols
    ):
        return
    by_srt = stream.model_copy(update={"protocol": "srt", "address": "", "caller": None})
    way = crossing(case, by_srt, load(by_srt, case.figures).total.value)
    latency = latency_for(way.path, case.figures["srt-breaks"]) if way and way.path else math.inf
    if math.isfinite(latency):
        yield Cure(
            title=f"Send SRT, waiting {latency:g} ms",
            how="What is lost is sent again in time, and nothing slows down for it.",
            needs="the address and passphrase of its SRT entrance",
            edits=(set_link(stream.id, "protocol", "srt"), set_link(stream.id, "address", ""), set_link(stream.id, "latency_ms", latency)),
        )  # fmt: skip


CURES: Cures = {
    tcp_under_loss: _by_srt,
    loss_not_mended: _by_srt,
    platform_keyframe: _keyframes_taken,
    multicast_floods: _only_who_asked,
    srt_latency: _longer,
    bond_held_too_short: _held_longer,
    bond_one_gone: _within_what_is_left,
    bond_shares_fate: _within_what_is_left,
    upload_too_small: _within_line,
    upload_bad_hour: _within_bad_hour,
    headroom_used: _within_school_or_elsewhere,
    bitrate_unsuited: _suited,
    platform_bitrate: _largest_taken,
    platform_format: _nearest_taken,
    platform_protocol: _protocol_taken,
    platform_codec: _codec_taken,
}


def _picture_for(case: Case, stream: Stream) -> VideoFormat | None:
    """The largest smaller picture that the stream's bitrate is enough for."""
    for shrink in SHRINKS:
        fmt = shrink(stream.format)
        fit = fmt and suggested_bitrate(fmt, stream.codec, case.plan.show.content, case.figures)
        if fit and stream.video_mbps >= fit.low:
            return fmt
    return None


def _fitting(case: Case, demand: Demand, allowed: float) -> Iterator[Cure]:
    """Bitrates that fit at the same picture, then smaller pictures that fit at theirs."""
    tried = []
    for shrink in (lambda f: f, *SHRINKS):
        formats = [shrink(s.format) or s.format for s in demand.streams]
        rates = None if formats in tried else _sharing(case, demand, allowed, formats)
        tried.append(formats)
        if rates is None:
            continue
        shrunk = [
            (s, f, mbps)
            for s, f, mbps in zip(demand.streams, formats, rates, strict=True)
            if mbps < s.video_mbps
        ]
        pairs = [(s, mbps) for s, _, mbps in shrunk]
        summary = ", ".join(f"{s.name} {s.video_mbps:g} → {mbps:g} Mb/s" for s, mbps in pairs)
        edits: list[Edit] = [_set_format(s, f) for s, f, _ in shrunk if f != s.format]
        labels = ", ".join(dict.fromkeys(f.label for _, f, _ in shrunk))
        title = f"Smaller picture: {labels}, {summary}" if edits else f"Lower the bitrate: {summary}"
        edits += [SetField(noun="link", id=s.id, field="video_mbps", value=mbps) for s, mbps in pairs]
        yield Cure(title=title, edits=tuple(edits))


def _sharing(case: Case, demand: Demand, allowed: float, formats: list[VideoFormat]) -> list[float] | None:
    """Each stream's video bitrate in Mb/s when all shrink alike into `allowed`, but for those that are small already and
    stay as they are; None when that is too little for the others' pictures."""
    pairs = list(zip(demand.streams, formats, strict=True))
    loads = {s.id: load(s, case.figures).total.value for s in demand.streams}
    kept: dict[str, float] = {}
    while len(kept) < len(pairs):
        left = allowed - sum(loads[id] for id in kept)
        free = sum(loads[s.id] for s, _ in pairs if s.id not in kept)
        share = min(1, left / free)
        rates = {s.id: _shrunk(case, s, fmt, loads[s.id] * share) for s, fmt in pairs if s.id not in kept}
        small = {id for id, mbps in rates.items() if mbps is None and loads[id] < max(loads.values()) / 2}
        if share <= 0 or (not small and None in rates.values()):
            return None
        if not small:
            return [kept[s.id] if s.id in kept else rates[s.id] or s.video_mbps for s, _ in pairs]
        kept |= {s.id: s.video_mbps for s, _ in pairs if s.id in small}
    return None


def _shrunk(case: Case, stream: Stream, fmt: VideoFormat, most: float) -> float | None:
    """The stream's largest video bitrate in Mb/s, no more than now, that loads a line with at most so much; None where that
    is too little for the picture."""
    fit = suggested_bitrate(fmt, stream.codec, case.plan.show.content, case.figures)
    mbps = math.floor(min(stream.video_mbps, most, fit.high) / _STEP_MBPS) * _STEP_MBPS
    while mbps >= fit.low:
        smaller = stream.model_copy(update={"video_mbps": mbps, "format": fmt})
        if load(smaller, case.figures).total.value <= most:
            return mbps
        mbps -= _STEP_MBPS
    return None


def _set_format(stream: Stream, fmt: VideoFormat) -> SetField:
    return SetField(noun="link", id=stream.id, field="format", value=fmt.model_dump(mode="json"))
