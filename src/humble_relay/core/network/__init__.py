"""Addresses, networks, and the addresses streams are sent to."""
