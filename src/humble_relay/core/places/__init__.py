"""Places: how far apart they are, what lies between, and whether a cable can go there."""

from humble_relay.core.places import spans

CHECKS = spans.CHECKS
