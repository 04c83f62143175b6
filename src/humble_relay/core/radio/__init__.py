"""Wireless video: how far it reaches, and what walls take of that."""

from humble_relay.core.radio import range_of_links

CHECKS = range_of_links.CHECKS
