"""The show itself: the order of the day, what to bring, and the papers."""

from humble_relay.core.show import naming, order, packing

CHECKS = (*order.CHECKS, *packing.CHECKS, *naming.CHECKS)
