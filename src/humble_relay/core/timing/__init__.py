"""Timing: what may be cut together, by the delay that each way adds."""

from humble_relay.core.timing import together

CHECKS = together.CHECKS
