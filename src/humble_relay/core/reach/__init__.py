"""Whether a call gets through: connection traces, NAT, firewalls, exposed ports."""

from humble_relay.core.reach import (
    address_stability,
    browser_sides,
    cable_continuity,
    exposure,
    firewalls,
    intersite_streams,
    leaving_streams,
    local_streams,
)

CHECKS = (
    *leaving_streams.CHECKS,
    *local_streams.CHECKS,
    *intersite_streams.CHECKS,
    *cable_continuity.CHECKS,
    *address_stability.CHECKS,
    *firewalls.CHECKS,
    *browser_sides.CHECKS,
    *exposure.CHECKS,
)
