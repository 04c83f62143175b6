"""Uplinks that change on the night: failover, policy routes, modems that drop, mobile data that runs out."""

from humble_relay.core.uplinks import (
    bond_loss,
    failover,
    failover_reach,
    mobile_data,
    policy_routes,
    shared_fate,
)

CHECKS = (
    *bond_loss.CHECKS,
    *mobile_data.CHECKS,
    *failover.CHECKS,
    *failover_reach.CHECKS,
    *policy_routes.CHECKS,
    *shared_fate.CHECKS,
)
