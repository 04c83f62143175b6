"""What the Addresses stage draws: each network as a ruler, and where each stream is sent."""

from humble_relay.core.endpoints.endpoint_settings import SideLine, settings_of_each_side
from humble_relay.core.endpoints.stream_urls import typed_address
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.views.address_strip import Strip, strips
from humble_relay.core.views.giving import Giving, giving
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
    """Strips and streams, in the plan's order."""

    strips: tuple[Strip, ...]
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
            sides=settings_of_each_side(case, s),
        )
        for s in case.streams
    )
    return AddressesView(
        strips=strips(case),
        streams=tuple(streams),
        questions=tuple(heading for heading, _ in COLUMNS),
        reach=reach_of_streams(case),
        open_ports=opened_to_the_world(case),
        giving=giving(case),
    )
