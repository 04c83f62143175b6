"""Power: what feeds each box."""

from humble_relay.core.power import over_ethernet

CHECKS = over_ethernet.CHECKS
