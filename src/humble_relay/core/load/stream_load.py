"""What a stream puts on the line: picture, sound, container and transport, named separately."""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.working import Figures, Step, Working
from humble_relay.core.plan import Protocol, Stream
from humble_relay.core.plan.video import Rate, frames_per_second
from humble_relay.core.reach.stream_uplinks import uplink_crossed

AAC_FRAMES_PER_S = 48_000 / 1024
"""One AAC frame is 1024 samples (ISO/IEC 14496-3)."""
TCP_SEGMENT, TCP_HEADERS = 1460, 20 + 20
"""Payload and header bytes of a full TCP segment over IPv4 (RFC 9293, RFC 791, RFC 879)."""
TLS_RECORD, TLS_HEADERS = 16_384, 5 + 1 + 16
"""Largest TLS 1.3 record, its header, content type and tag (RFC 8446 §5.2)."""
TS_PACKET, TS_HEADER = 188, 4
"""MPEG transport stream packet and its header (ISO/IEC 13818-1)."""
PES_OF_SOUND = 2930
"""How many bytes of sound a muxer puts under one PES header (ffmpeg's default; others less)."""
SRT_PAYLOAD, SRT_HEADERS = 7 * TS_PACKET, 16 + 8 + 20
"""SRT live payload, and SRT + UDP + IPv4 headers (draft-sharabayko-srt, RFC 768, RFC 791)."""

RTP_PAYLOAD, RTP_HEADERS = 1500 - 40, 12 + 8 + 20
"""Payload of an RTP packet that fills a 1500 B packet, and RTP + UDP + IPv4 headers (RFC 3550, RFC 768, RFC 791)."""


@dataclass(frozen=True, slots=True)
class Load:
    """A stream's share of an uplink; all in Mb/s. `total` carries the sum, `peak_mbps` the same where its video reaches its
    most."""

    stream: str
    name: str
    uplink: str | None
    video_mbps: float
    audio_mbps: float
    container_mbps: float
    transport_mbps: float
    total: Working
    peak_mbps: float


def once_a_group(streams: Iterable[Stream]) -> list[Stream]:
    """The streams, those that one device sends to a multicast group once, however many listen (RFC 1112)."""
    found: dict[object, Stream] = {}
    for s in streams:
        group = (s.from_device, s.protocol, s.format, s.codec, s.video_mbps, s.address)
        found.setdefault(group if s.multicast else s.id, s)
    return list(found.values())


@analysis
def loads(case: Case) -> dict[str, Load]:
    """The load of every stream, by stream."""
    return {s.id: load(s, case.figures, uplink_crossed(case, s)) for s in case.streams}


def load(stream: Stream, figures: Figures, uplink: str | None = None) -> Load:
    """What the stream asks of the upload in Mb/s, counted up to the IP packet.

    SRT sends 1316 B of payload in a packet of 1360 B (draft-sharabayko-srt, RFC 768, RFC 791):

    >>> fmt = {"width": 1920, "height": 1080, "rate": "50"}
    >>> ends = {"from_device": "a", "to_device": "b"}
    >>> srt = Stream.model_validate({"id": "s", "name": "S", **ends, "protocol": "srt", "format": fmt, "video_mbps": 6})
    >>> whole = load(srt, Figures({}))
    >>> round(whole.transport_mbps / (whole.total.value - whole.transport_mbps), 4) == round(44 / 1316, 4)
    True
    """
    video, peak = stream.video_mbps, stream.peak_mbps
    chunk = figures["rtmp-chunk"]

    def at(mbps: float) -> _Counted:
        return _counted(stream.protocol, stream.format.rate, mbps, stream.audio_kbps, chunk, stream.backup)

    audio, container, transport, total, steps = at(video)
    most = at(peak).total if peak and peak > video else total
    working = Working(name=f"{stream.name} on the line", value=round(total, 3), unit="Mb/s", steps=steps)
    return Load(
        stream=stream.id,
        name=stream.name,
        uplink=uplink,
        video_mbps=video,
        audio_mbps=audio,
        container_mbps=round(container, 4),
        transport_mbps=round(transport, 4),
        total=working,
        peak_mbps=round(most, 3),
    )


class _Counted(NamedTuple):
    """A stream's parts and its sum, in Mb/s, and the sum's lines."""

    audio: float
    container: float
    transport: float
    total: float
    steps: tuple[Step, ...]


@lru_cache(maxsize=1024)
def _counted(
    protocol: Protocol, rate: Rate, video: float, audio_kbps: float, chunk: float, twice: bool
) -> _Counted:
    """What such a stream puts on the line, with an RTMP chunk of so many bytes."""
    audio = audio_kbps / 1000
    container, how, source = _container(protocol, rate, video, audio_kbps, chunk)
    inner = video + audio + container
    transport, steps = _transport(protocol, inner)
    total = inner + transport
    if twice:
        again = Step(
            name="Once more to the backup ingest",
            value=round(total, 4),
            unit="Mb/s",
            source="set in this plan",
        )
        steps, total = [*steps, again], 2 * total
    lines = (
        Step(name="Video", value=video, unit="Mb/s", source="set in this plan"),
        Step(name="Audio", value=audio, unit="Mb/s", source="set in this plan"),
        Step(name="Container", value=round(container, 4), unit="Mb/s", how=how, source=source),
        *steps,
        Step(
            name="Sum",
            value=round(total, 3),
            unit="Mb/s",
            how="counted up to the IP packet, as the line carries it",
        ),
    )
    return _Counted(audio, container, transport, total, lines)


def _container(
    protocol: Protocol, rate: Rate, video: float, audio_kbps: float, chunk: float
) -> tuple[float, str, str]:
    """Container overhead in Mb/s, how it came, and its source."""
    if protocol not in ("srt", "rtmp", "rtmps", "hls"):
        return 0.0, "RTP carries the frames as they are", "RFC 3550"
    fps = float(frames_per_second(rate))
    audio_fps = AAC_FRAMES_PER_S if audio_kbps else 0
    if protocol in ("srt", "hls"):
        # A PES header of 14 B a frame of video, or some frames of sound; the TS header on every 184 B; the last packet of each
        # filled up, by half of it on average; and tables ten times a second.
        begun = fps + min(audio_fps, audio_kbps * 125 / PES_OF_SOUND)
        raw = video * 1e6 + audio_kbps * 1e3 + begun * 14 * 8
        filled = begun * (TS_PACKET - TS_HEADER) / 2 * 8
        extra = (
            (raw + filled) * TS_HEADER / (TS_PACKET - TS_HEADER)
            + begun * 14 * 8
            + filled
            + 2 * 10 * TS_PACKET * 8
        )
        how = "4 B in 188, 14 B a frame and its last packet filled up, tables 10 times a second"
        return extra / 1e6, how, "ISO/IEC 13818-1"
    frame = video * 1e6 / 8 / fps
    video_headers = 12 + 5 + max(0, math.ceil((frame + 5) / chunk) - 1)
    extra = (fps * video_headers + audio_fps * (12 + 2)) * 8
    return (
        extra / 1e6,
        f"{video_headers} B a video frame ({fps:g}/s), 14 B an audio frame ({audio_fps:.4g}/s)",
        "RTMP 1.0 §5.3, FLV 10.1 annex E",
    )


def _transport(protocol: Protocol, inner: float) -> tuple[float, list[Step]]:
    """Transport overhead in Mb/s over `inner` Mb/s, and its lines of the sum."""
    if protocol == "srt":
        extra = inner * SRT_HEADERS / SRT_PAYLOAD
        how = f"{SRT_HEADERS} B on {SRT_PAYLOAD} B"
        source = "draft-sharabayko-srt, RFC 768, RFC 791"
        return extra, [
            Step(name="SRT, UDP and IP headers", value=round(extra, 4), unit="Mb/s", how=how, source=source)
        ]
    if protocol not in ("rtmp", "rtmps", "hls"):
        extra = inner * RTP_HEADERS / RTP_PAYLOAD
        how = f"{RTP_HEADERS} B on {RTP_PAYLOAD} B"
        source = "RFC 3550, RFC 768, RFC 791; assumed for links that do not publish theirs"
        return extra, [
            Step(name="RTP, UDP and IP headers", value=round(extra, 4), unit="Mb/s", how=how, source=source)
        ]
    steps = []
    tls = inner * TLS_HEADERS / TLS_RECORD if protocol in ("rtmps", "hls") else 0.0
    if tls:
        how = f"{TLS_HEADERS} B a record of {TLS_RECORD} B"
        steps.append(
            Step(name="TLS records", value=round(tls, 4), unit="Mb/s", how=how, source="RFC 8446 §5.2")
        )
    tcp = (inner + tls) * TCP_HEADERS / TCP_SEGMENT
    how = f"{TCP_HEADERS} B on {TCP_SEGMENT} B"
    source = "RFC 9293, RFC 791"
    steps.append(Step(name="TCP and IP headers", value=round(tcp, 4), unit="Mb/s", how=how, source=source))
    return tls + tcp, steps
