"""Cables: what each must carry, how far it carries it, and what it plugs into."""

from humble_relay.core.signal.cabling import port_speeds, runs

CHECKS = (*runs.CHECKS, *port_speeds.CHECKS)
