"""The local network: sockets, wiring, and which cables a stream runs over."""

from humble_relay.core.lan import wiring

CHECKS = (*wiring.CHECKS,)
