"""How traffic leaves a site: by which socket, router and uplink, and to which zone of a service."""

from humble_relay.core.egress import service_zones

CHECKS = service_zones.CHECKS
