"""Networks: subnets, addresses, the ways out of a site, and the addresses of streams."""

from humble_relay.core.network import addresses, local_streams, stream_addresses, ways_out

CHECKS = (*addresses.CHECKS, *stream_addresses.CHECKS, *ways_out.CHECKS, *local_streams.CHECKS)
