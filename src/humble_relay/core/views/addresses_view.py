"""What the Addresses stage draws: each network as a ruler, and where each stream is sent."""

from collections.abc import Iterator

from humble_relay.core.endpoints.endpoint_settings import SideLine, settings_of_each_side
from humble_relay.core.endpoints.stream_urls import typed_address
from humble_relay.core.endpoints.substreams import has_two_paths
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Kind
from humble_relay.core.views.address_strip import Strip, strips
from humble_relay.core.views.giving import Giving, giving
from humble_relay.core.views.trace_views import (
    COLUMNS,
    OpenLine,
    StreamReach,
    opened_to_the_world,
    reach_of_streams,
)

PASSES_PACKETS: tuple[Kind, ...] = ("router", "network-switch", "injector")


class StreamAddress(Frozen):
    """Where a stream goes, as it will be typed, and whether its key is there."""

    stream: str
    address: str | None
    has_key: bool
    has_stream_id: bool
    two_paths: bool
    """Whether its device has a main stream and a substream, each with a path of its own."""
    sides: tuple[SideLine, ...]
    """What each side types or sets."""


class SocketLine(Frozen):
    """A network socket that has an address of its own, or should: the box's and its own name, and what stands where
    the address is to be typed."""

    port: str
    device: str
    device_name: str
    port_name: str
    network: str
    addressing: str
    address: str
    hint: str
    address_v6: str
    hardware_address: str
    mask_bits: int | None
    default_route: bool | None
    serves_dhcp: bool | None
    admitted: bool | None
    lets_in: bool | None
    clock_set: bool | None


class AddressesView(Frozen):
    """Strips, sockets and streams, in the plan's order."""

    strips: tuple[Strip, ...]
    sockets: tuple[SocketLine, ...]
    streams: tuple[StreamAddress, ...]
    questions: tuple[str, ...]
    """The headings of each stream's answers."""
    reach: tuple[StreamReach, ...]
    open_ports: tuple[OpenLine, ...]
    giving: Giving


def addresses_view(case: Case) -> AddressesView:
    """What the Addresses stage draws."""
    streams = (
        StreamAddress(
            stream=s.id,
            address=typed_address(case, s),
            has_key=bool(s.key),
            has_stream_id=bool(s.stream_id),
            two_paths=has_two_paths(case, s),
            sides=settings_of_each_side(case, s),
        )
        for s in case.streams
    )
    return AddressesView(
        strips=strips(case),
        sockets=tuple(_sockets(case)),
        streams=tuple(streams),
        questions=tuple(heading for heading, _ in COLUMNS),
        reach=reach_of_streams(case),
        open_ports=opened_to_the_world(case),
        giving=giving(case),
    )


def _sockets(case: Case) -> Iterator[SocketLine]:
    """Every network socket but those of boxes that only pass packets on, unless one was given an address."""
    for device in case.devices.values():
        for port in device.ports:
            if not {"ethernet", "wifi"} & set(port.types):
                continue
            plugged = device.kind == "network-switch" and f"{device.id}/{port.id}" in case.join_at
            if plugged or port.network or device.kind not in PASSES_PACKETS:
                yield SocketLine(
                    port=f"{device.id}/{port.id}",
                    device=device.id,
                    device_name=device.name,
                    port_name=port.name,
                    network=port.network or "",
                    addressing=port.addressing,
                    address=port.address,
                    hint="from DHCP" if port.addressing == "dhcp" else "needed",
                    address_v6=port.interface.address_v6 if port.interface else "",
                    hardware_address=port.interface.hardware_address if port.interface else "",
                    mask_bits=port.interface.mask_bits if port.interface else None,
                    default_route=port.interface.default_route if port.interface else None,
                    serves_dhcp=port.interface.serves_dhcp if port.interface else None,
                    admitted=port.interface.admitted if port.interface else None,
                    lets_in=device.lets_in,
                    clock_set=device.clock_set,
                )
