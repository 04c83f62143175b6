"""Addressing: subnets, hosts, masks, the address plan, and what is wrong with an address."""

from humble_relay.core.addressing import address_faults, leases, masks

CHECKS = (
    *address_faults.CHECKS,
    *masks.CHECKS,
    *leases.CHECKS,
)
