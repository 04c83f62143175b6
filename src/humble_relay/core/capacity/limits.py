"""Whether each stream stays within what its platform and its encoder can do."""

from collections.abc import Iterator

from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Fault, Fix, rule
from humble_relay.core.plan import Stream
from humble_relay.core.plan.edits import SetField


@rule("platform-limit", "bandwidth")
def platform_limit(case: Case) -> Iterator[Fault]:
    """Streams the platform refuses: bitrate, raster or rate, protocol, codec."""
    for stream in case.streams:
        platform = case.devices[stream.to_device]
        takes = platform.ingest
        if takes is None:
            continue
        if takes.max_mbps is not None and stream.video_mbps > takes.max_mbps:
            yield _fault(
                stream,
                "bitrate",
                f"{platform.name} takes {takes.max_mbps:g} Mb/s; {stream.name} sends {stream.video_mbps:g} Mb/s.",
                Fix(
                    title=f"Send {takes.max_mbps:g} Mb/s", edits=(_set(stream, "video_mbps", takes.max_mbps),)
                ),
            )
        if reason := takes.accepts.refusal(stream.format):
            nearest = takes.accepts.nearest(stream.format)
            fix = (
                Fix(
                    title=f"Send {nearest.label}",
                    edits=(_set(stream, "format", nearest.model_dump(mode="json")),),
                )
                if nearest
                else None
            )
            yield _fault(stream, "format", f"{platform.name} {reason} ({stream.name}).", fix)
        if stream.protocol not in takes.protocols:
            fix = Fix(
                title=f"Send {takes.protocols[0].upper()}",
                edits=(_set(stream, "protocol", takes.protocols[0]),),
            )
            yield _fault(
                stream,
                "protocol",
                f"{platform.name} takes {', '.join(takes.protocols).upper()}; {stream.name} is {stream.protocol.upper()}.",
                fix,
            )
        if stream.codec not in takes.codecs:
            fix = Fix(title=f"Send {takes.codecs[0]}", edits=(_set(stream, "codec", takes.codecs[0]),))
            yield _fault(
                stream,
                "codec",
                f"{platform.name} takes {', '.join(takes.codecs)}; {stream.name} is {stream.codec}.",
                fix,
            )


@rule("encoder-limit", "gear")
def encoder_limit(case: Case) -> Iterator[Fault]:
    """Streams asked of a box that cannot send them."""
    for id, streams in case.streams_from.items():
        device = case.devices[id]
        can = device.encoding
        for stream in streams:
            wrong = None
            if can is None:
                wrong = f"{device.name} does not send streams; {stream.name} starts there."
            elif stream.protocol not in can.protocols:
                wrong = (
                    f"{device.name} sends {', '.join(can.protocols).upper()}, not {stream.protocol.upper()}."
                )
            elif stream.codec not in can.codecs:
                wrong = f"{device.name} encodes {', '.join(can.codecs)}, not {stream.codec}."
            elif stream.video_mbps > can.max_mbps:
                wrong = f"{device.name} encodes up to {can.max_mbps:g} Mb/s; {stream.name} asks {stream.video_mbps:g} Mb/s."
            if wrong:
                yield _fault(stream, "encoder", wrong, None)
        if can and len(streams) > can.destinations:
            yield _fault(
                streams[-1],
                "destinations",
                f"{device.name} sends to {can.destinations} at once; the plan asks for {len(streams)}.",
                None,
            )


def _set(stream: Stream, field: str, value: object) -> SetField:
    return SetField.model_validate({"noun": "link", "id": stream.id, "field": field, "value": value})


def _fault(stream: Stream, part: str, wrong: str, fix: Fix | None) -> Fault:
    return Fault(
        severity="stops",
        noun="link",
        subject=stream.id,
        part=part,
        wrong=wrong,
        means="The connection is refused, or taken and never shown.",
        do="Send what both ends can do.",
        fixes=(fix,) if fix else (),
    )
