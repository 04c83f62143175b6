"""By which line of its site a stream leaves, and by which it comes in to another."""

from humble_relay.core.egress.outbound import (
    in_the_cloud,
    joined,
    on_the_internet,
    router_out,
    stays,
    uplink_out,
)
from humble_relay.core.endpoints.calls import OutsideHost, call_of, called, destination
from humble_relay.core.judging.case import Case, analysis, analysis_of_each
from humble_relay.core.plan import Device, Stream


def uplink_crossed(case: Case, stream: Stream) -> str | None:
    """The uplink the stream leaves its sender's site by: the one that its router sends it by, or that the sender is called at.

    A stream between two devices of one site stays there, and leaves by none; nor does one to another site that a router of ours
    joins.
    """
    if case.links.get(stream.id) is stream:
        return _leaves_by(case, stream.id)
    return _line(case, stream, case.devices[stream.from_device])


@analysis_of_each
def _leaves_by(case: Case, stream: str) -> str | None:
    link = case.links[stream]
    assert isinstance(link, Stream)
    return _line(case, link, case.devices[link.from_device])


def downlink_crossed(case: Case, stream: Stream) -> str | None:
    """The uplink by which the stream comes in to a box of ours from elsewhere; None where it ends at a service."""
    taker = case.devices[stream.to_device]
    return None if on_the_internet(taker) else _line(case, stream, taker)


def line_crossed(case: Case, stream: Stream) -> str | None:
    """The line of ours that a stream crosses first: the one it leaves by, or from a service the one it comes in by."""
    served = in_the_cloud(case.devices[stream.from_device])
    return downlink_crossed(case, stream) if served else uplink_crossed(case, stream)


@analysis
def streams_by_uplink(case: Case) -> dict[str, list[Stream]]:
    """For every uplink, the streams that leave by it."""
    found: dict[str, list[Stream]] = {id: [] for id in case.uplinks}
    for stream in case.streams:
        uplink = uplink_crossed(case, stream)
        if uplink:
            found[uplink].append(stream)
    return found


def _line(case: Case, stream: Stream, end: Device) -> str | None:
    """The line of one end. A call that came in by one of a router's lines is answered by that (common practice)."""
    if stays(case, stream) or joined(case, stream):
        return None
    out, router = uplink_out(case, end, stream), router_out(case, end)
    if router is None or len(router.uplinks) < 2 or stream.protocol == "web":
        return out
    call = call_of(case, stream) if case.links.get(stream.id) is stream else called(case, stream)
    to = destination(case, call) if call.listener.id == end.id else None
    return to.line if isinstance(to, OutsideHost) and to.line in router.uplinks else out
