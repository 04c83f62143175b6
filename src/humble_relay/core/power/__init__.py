"""Power: what feeds each box."""

from humble_relay.core.power import feeds, over_ethernet

CHECKS = (*over_ethernet.CHECKS, *feeds.CHECKS)
"""Whether a box that lives on its network cable gets power over it, whether its switch can feed them all, and what feeds
the others."""
