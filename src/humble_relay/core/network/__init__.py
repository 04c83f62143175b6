"""Networks: subnets, addresses, the ways out of a site, and the addresses of streams."""

from humble_relay.core.network import (
    addresses,
    browser_links,
    cut_off,
    far_streams,
    local_streams,
    masks,
    moving,
    names_on_servers,
    small_streams,
    source_groups,
    srt_settings,
    stream_addresses,
    ways_out,
    wiring,
    zones,
)
from humble_relay.core.network.reach import exposure, let_through, ruled_lines, spare_lines

CHECKS = (
    *addresses.CHECKS, *stream_addresses.CHECKS, *ways_out.CHECKS, *local_streams.CHECKS, *far_streams.CHECKS, *wiring.CHECKS,
    *browser_links.CHECKS, *cut_off.CHECKS, *moving.CHECKS, *let_through.CHECKS, *srt_settings.CHECKS,
    *exposure.CHECKS, *spare_lines.CHECKS, *ruled_lines.CHECKS, *masks.CHECKS, *names_on_servers.CHECKS, *small_streams.CHECKS,
    *source_groups.CHECKS, *zones.CHECKS,
)  # fmt: skip
