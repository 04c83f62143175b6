"""Carrying capacity: what streams weigh, what was measured, and whether one fits the other."""

from humble_relay.core.capacity import air_load, fit, limits, local_load, transport

CHECKS = (*fit.CHECKS, *limits.CHECKS, *transport.CHECKS, *local_load.CHECKS, *air_load.CHECKS)
