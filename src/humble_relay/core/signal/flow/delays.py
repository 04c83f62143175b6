"""What each part of a way adds to the delay, in ms."""

from humble_relay.core.judging.case import Case
from humble_relay.core.plan import ENDS, Device, Link, Protocol, Stream


def delay_figure(protocol: Protocol) -> str:
    """The catalogue figure for what a protocol adds between two boxes."""
    return f"{'rtmp' if protocol == 'rtmps' else protocol}-delay"


def protocol_delay_ms(case: Case, protocol: Protocol, taker: Device) -> float:
    """What a stream adds by its protocol, in ms. What a platform does with it after is its own."""
    return 0.0 if taker.ingest else case.figures[delay_figure(protocol)]


def link_delay_ms(case: Case, link: Link) -> float:
    """What the link itself adds, in ms: a stream by its protocol, a cable or radio link nothing."""
    return (
        protocol_delay_ms(case, link.protocol, case.devices[link.to_device])
        if isinstance(link, Stream)
        else 0.0
    )


def box_delay_ms(device: Device) -> float:
    """What a box adds on the way, in ms; nothing where the picture ends."""
    return 0.0 if device.kind in ENDS else device.delay_ms or 0.0
