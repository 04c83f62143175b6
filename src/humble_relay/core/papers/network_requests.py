"""Requests to those who run a site's network: which box goes where, by what, when, and what else would do."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.addressing.hosts import host_of
from humble_relay.core.egress.outbound import in_the_cloud, stays, uplink_out
from humble_relay.core.endpoints.calls import asked_port
from humble_relay.core.endpoints.stream_urls import typed_address
from humble_relay.core.judging.case import Case
from humble_relay.core.lan.sockets import picture_sockets
from humble_relay.core.plan import Device, Protocol, Stream
from humble_relay.core.show.go_live_order import order

_OVER: dict[Protocol, str] = {
    "srt": "UDP",
    "web": "UDP and TCP",
    "ndi": "TCP and UDP",
    "paired": "TCP and UDP",
}
"""What a protocol runs over; others over TCP (RFC 7826 for RTSP, the published protocols for RTMP and SRT; WebRTC's
transports, RFC 8835)."""


class PortRequest(NamedTuple):
    """One thing asked for: a box, the way its traffic goes, and what happens where it is refused."""

    device: Device
    address: str
    inward: bool
    ports: str
    to: str
    why: str
    if_refused: str


def port_requests(case: Case) -> Iterator[PortRequest]:
    """What must be let through at each site whose network others run, a stream at a time: outward for what sends to the
    outside, inward, forwarded to an address that stays, for what is called from there."""
    for stream in case.streams:
        if stays(case, stream) and stream.protocol != "web":
            continue
        sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
        for device, other, inward in ((sender, taker, False), (taker, sender, True)):
            site = case.site_of(device)
            if site is None or site.run_by == "us" or in_the_cloud(device):
                continue
            out = uplink_out(case, device, stream)
            if out and case.uplinks[out].kind == "mobile":
                continue  # it goes by mobile data, past their network
            called = inward and stream.protocol != "web"
            yield PortRequest(
                device=device,
                address=next((p.address for p in picture_sockets(device) if p.address), "")
                or "by DHCP: to be reserved",
                inward=called,
                ports=_ports(case, stream),
                to=device.name if called else _where_to(case, stream, other),
                why=stream.name,
                if_refused=_otherwise(stream, called),
            )


_WITHOUT_NETWORK = ("rig:", "stand:", "copy-off:")
"""Tasks that need no network yet, or no more."""


def request_window(case: Case) -> str:
    """From when until when it is asked for, in the show's own time: from the quarter of an hour in which the first device is set to when the
    last stream is stopped."""
    day = [t.at for t in order(case) if t.at and t.phase != "ahead" and not t.id.startswith(_WITHOUT_NETWORK)]
    if not day:
        return "the day and hours of the show, once they are known"
    first, last = min(day), max(day)
    first = first.replace(minute=first.minute // 15 * 15, second=0, microsecond=0)
    return f"{first:%a} {first.day} {first:%b %Y, %H:%M} to {last:%H:%M}" if first.date() == last.date() else (
        f"{first:%a} {first.day} {first:%b %Y, %H:%M} to {last:%a} {last.day} {last:%b, %H:%M}"
    )  # fmt: skip


def _ports(case: Case, stream: Stream) -> str:
    over = _OVER.get(stream.protocol, "TCP")
    if stream.protocol == "web":
        return "TCP 443 to the service, and UDP for the picture"
    port = asked_port(stream.protocol, typed_address(case, stream) or "")
    return f"{over} {port}" if port else f"{over}, port still to be said"


def _where_to(case: Case, stream: Stream, other: Device) -> str:
    return host_of(typed_address(case, stream) or "") or other.name


def _otherwise(stream: Stream, inward: bool) -> str:
    if inward:
        return "both ends call a relay on the internet instead"
    if stream.protocol == "web":
        return "the guest uses mobile data"
    if stream.protocol == "rtmps":
        return "another line: TCP 443 is what web pages need too"
    return "RTMPS to TCP 443 where the other side takes it, or another line"
