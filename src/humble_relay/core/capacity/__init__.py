"""Carrying capacity: what streams weigh, what was measured, and whether one fits the other."""

from humble_relay.core.capacity import (
    air_load,
    bond_fate,
    coming_in,
    failover,
    fit,
    limits,
    local_load,
    mobile_lines,
    multicast,
    plain_loss,
    srt_latency,
    transport,
)

CHECKS = (
    *fit.CHECKS, *limits.CHECKS, *transport.CHECKS, *srt_latency.CHECKS, *bond_fate.CHECKS, *mobile_lines.CHECKS,
    *failover.CHECKS, *local_load.CHECKS, *air_load.CHECKS, *multicast.CHECKS, *coming_in.CHECKS, *plain_loss.CHECKS,
)  # fmt: skip
