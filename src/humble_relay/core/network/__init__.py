"""Networks: subnets, addresses, the ways out of a site, and the addresses of streams."""

from humble_relay.core.network import addresses, stream_addresses, ways_out

CHECKS = (*addresses.CHECKS, *stream_addresses.CHECKS, *ways_out.CHECKS)
