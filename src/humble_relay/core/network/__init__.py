"""Networks: subnets, addresses, the ways out of a site, and the addresses of streams."""

from humble_relay.core.network import (
    addresses,
    cut_off,
    far_streams,
    local_streams,
    moving,
    outbound,
    stream_addresses,
    ways_out,
    wiring,
)

CHECKS = (
    *addresses.CHECKS, *stream_addresses.CHECKS, *ways_out.CHECKS, *local_streams.CHECKS, *far_streams.CHECKS, *wiring.CHECKS,
    *outbound.CHECKS, *cut_off.CHECKS, *moving.CHECKS,
)  # fmt: skip
