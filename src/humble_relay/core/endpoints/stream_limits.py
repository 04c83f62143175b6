"""Whether each stream stays within what its platform and its encoder can do."""

from humble_relay.core.judging.answer import (
    HOLDS,
    DependsOn,
    Numbers,
    Thing,
    Verdict,
    Words,
    fails,
    waits,
    within,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import PUSHES, STREAMS
from humble_relay.core.plan import Device, Encoding, Ingest, Stream


def _words(wrong: str) -> Words:
    return Words(wrong, "The connection is refused, or taken and never shown.", "Send what both ends can do.")


def _platform(case: Case, stream: Stream) -> tuple[str, Ingest]:
    device = case.devices[stream.to_device]
    assert device.ingest
    return device.name, device.ingest


@check(
    "platform-bitrate",
    PUSHES,
    "bandwidth",
    "Does the platform take this bitrate?",
    "the platform's data",
    "gear",
)
def platform_bitrate(case: Case, stream: Stream) -> Verdict:
    """Whether the video bitrate (Mb/s) is at most what the platform takes; without a limit any is."""
    name, takes = _platform(case, stream)
    if takes.max_mbps is None:
        return HOLDS
    numbers = Numbers(stream.video_mbps, takes.max_mbps, takes.max_mbps, "Mb/s")
    return within(
        numbers,
        lambda: _words(
            f"{name} takes {takes.max_mbps:g} Mb/s; {stream.name} sends {stream.video_mbps:g} Mb/s."
        ),
    )


@check(
    "platform-format",
    PUSHES,
    "bandwidth",
    "Does the platform take this picture?",
    "the platform's data",
    "gear",
)
def platform_format(case: Case, stream: Stream) -> Verdict:
    """Whether the raster, frame rate and scan are among those the platform takes."""
    name, takes = _platform(case, stream)
    reason = takes.accepts.refusal(stream.format)
    return fails(lambda: _words(f"{name} {reason} ({stream.name}).")) if reason else HOLDS


@check(
    "platform-protocol",
    PUSHES,
    "bandwidth",
    "Does the platform take this protocol?",
    "the platform's data",
    "gear",
)
def platform_protocol(case: Case, stream: Stream) -> Verdict:
    """Whether the platform's ingest speaks the stream's protocol."""
    name, takes = _platform(case, stream)
    if stream.protocol in takes.protocols:
        return HOLDS
    spoken = ", ".join(takes.protocols).upper()
    return fails(lambda: _words(f"{name} takes {spoken}; {stream.name} is {stream.protocol.upper()}."))


USUAL_KEYFRAME_S = 2.0
"""Between two keyframes (common practice, no source)."""


@check(
    "platform-keyframe",
    PUSHES,
    "bandwidth",
    "Does a keyframe come as often as the platform asks?",
    "the platform's data",
    "gear",
)
def platform_keyframe(case: Case, stream: Stream) -> Verdict:
    """Whether the time between two keyframes (s) is at most what the platform takes; a viewer who tunes in waits for one."""
    name, takes = _platform(case, stream)
    every = stream.keyframe_s or USUAL_KEYFRAME_S
    if takes.keyframe_s is None or every <= takes.keyframe_s:
        return HOLDS
    most = takes.keyframe_s
    return within(
        Numbers(every, most, 2 * most, "s"),
        lambda: _words(
            f"{name} asks for a keyframe interval of {most:g} s; {stream.name} has one of {every:g} s."
        ),
    )


@check(
    "platform-codec", PUSHES, "bandwidth", "Does the platform take this codec?", "the platform's data", "gear"
)
def platform_codec(case: Case, stream: Stream) -> Verdict:
    """Whether the platform takes the stream's codec."""
    name, takes = _platform(case, stream)
    if stream.codec in takes.codecs:
        return HOLDS
    return fails(lambda: _words(f"{name} takes {', '.join(takes.codecs)}; {stream.name} is {stream.codec}."))


@check(
    "encoder-sends",
    STREAMS,
    "gear",
    "Does the box send streams of this protocol?",
    "the maker's data",
    "gear",
)
def encoder_sends(case: Case, stream: Stream) -> Verdict:
    """Whether the sender is an encoder at all, and speaks the stream's protocol."""
    device = case.devices[stream.from_device]
    can = device.encoding
    if can is None:
        return fails(lambda: _words(f"{device.name} does not send streams; {stream.name} starts there."))
    if stream.protocol in can.protocols:
        return HOLDS
    spoken = ", ".join(can.protocols).upper()
    return fails(lambda: _words(f"{device.name} sends {spoken}, not {stream.protocol.upper()}."))


@check("encoder-codec", STREAMS, "gear", "Does the box encode this codec?", "the maker's data", "gear")
def encoder_codec(case: Case, stream: Stream) -> Verdict:
    """Whether the sender encodes the stream's codec."""
    device = case.devices[stream.from_device]
    can = device.encoding
    if can is None:
        return waits(DependsOn(encoder_sends, Thing("link", stream.id)))
    if stream.codec in can.codecs:
        return HOLDS
    codecs = ", ".join(can.codecs)
    return fails(lambda: _words(f"{device.name} encodes {codecs}, not {stream.codec}."))


@check("encoder-bitrate", STREAMS, "gear", "Does the box encode this bitrate?", "the maker's data", "gear")
def encoder_bitrate(case: Case, stream: Stream) -> Verdict:
    """Whether the video bitrate (Mb/s) is at most what the sender encodes."""
    device = case.devices[stream.from_device]
    can = device.encoding
    if can is None:
        return waits(DependsOn(encoder_sends, Thing("link", stream.id)))
    most = can.max_mbps
    return within(
        Numbers(stream.video_mbps, most, most, "Mb/s"),
        lambda: _words(
            f"{device.name} encodes up to {most:g} Mb/s; {stream.name} asks {stream.video_mbps:g} Mb/s."
        ),
    )


SENDERS: SubjectKind[tuple[Device, Encoding, list[Stream]]] = SubjectKind(
    "box that sends streams",
    lambda case: (
        (Thing("device", id), (case.devices[id], can, streams))
        for id, streams in case.streams_from.items()
        if streams and (can := case.devices[id].encoding)
    ),
)


@check(
    "encoder-destinations", SENDERS, "gear", "Does it send to so many at once?", "the maker's data", "gear"
)
def encoder_destinations(_: Case, what: tuple[Device, Encoding, list[Stream]]) -> Verdict:
    """Whether a box has as many destinations at once as streams leave it."""
    device, can, streams = what
    asked = len(streams) + sum(s.backup for s in streams)
    return within(
        Numbers(asked, can.destinations, can.destinations, "streams"),
        lambda: _words(
            f"{device.name} sends to {can.destinations} at once; the plan asks for {asked}, backup ingests included."
        ),
    )


CHECKS = (
    platform_bitrate, platform_format, platform_protocol, platform_codec, platform_keyframe,
    encoder_sends, encoder_codec, encoder_bitrate, encoder_destinations,
)  # fmt: skip
