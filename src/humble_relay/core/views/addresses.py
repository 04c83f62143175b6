"""What the Addresses stage draws: each network as a ruler, and where each stream is sent."""

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.network.stream_addresses import typed_address
from humble_relay.core.views.address_strip import Strip, strips


class StreamAddress(Frozen):
    """Where a stream goes, as it will be typed, and whether its key is there."""

    stream: str
    address: str | None
    has_key: bool


class AddressesView(Frozen):
    """Strips and streams, in the plan's order."""

    strips: tuple[Strip, ...]
    streams: tuple[StreamAddress, ...]


def addresses_view(case: Case) -> AddressesView:
    """What the Addresses stage draws."""
    streams = (
        StreamAddress(stream=s.id, address=typed_address(case, s), has_key=bool(s.key)) for s in case.streams
    )
    return AddressesView(strips=strips(case), streams=tuple(streams))
