"""What the Addresses stage draws: each network as a ruler, and where each stream is sent."""

from humble_relay.core.endpoints.endpoint_settings import SideLine, settings_of_each_side
from humble_relay.core.endpoints.stream_urls import typed_address
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.views.address_strip import Strip, strips
from humble_relay.core.views.trace_views import (
    COLUMNS,
    OpenLine,
    StreamReach,
    opened_to_the_world,
    reach_of_streams,
)


class StreamAddress(Frozen):
    """Where a stream goes, as it will be typed, and whether its key is there."""

    stream: str
    address: str | None
    has_key: bool
    has_stream_id: bool
    sides: tuple[SideLine, ...]
    """What each side types or sets."""


class AddressesView(Frozen):
    """Networks as rulers, in the plan's order."""

    strips: tuple[Strip, ...]


class TypedAddressesView(Frozen):
    """Where each stream is sent, in the plan's order."""

    streams: tuple[StreamAddress, ...]


class CallsView(Frozen):
    """How each stream gets through, in the plan's order, and what is exposed."""

    questions: tuple[str, ...]
    """The headings of each stream's answers."""
    reach: tuple[StreamReach, ...]
    open_ports: tuple[OpenLine, ...]


def addresses_view(case: Case) -> AddressesView:
    """What the Addresses stage draws above: its networks."""
    return AddressesView(strips=strips(case))


def typed_addresses_view(case: Case) -> TypedAddressesView:
    """What is typed for each stream."""
    streams = (
        StreamAddress(
            stream=s.id,
            address=typed_address(case, s),
            has_key=bool(s.key),
            has_stream_id=bool(s.stream_id),
            sides=settings_of_each_side(case, s),
        )
        for s in case.streams
    )
    return TypedAddressesView(streams=tuple(streams))


def calls_view(case: Case) -> CallsView:
    """Each stream's call, followed."""
    return CallsView(
        questions=tuple(heading for heading, _ in COLUMNS),
        reach=reach_of_streams(case),
        open_ports=opened_to_the_world(case),
    )
