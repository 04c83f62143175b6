"""The signal path: what arrives where, over which cables, into which ports; new ways for it; and its map."""

from humble_relay.core.signal import cabling, flow, ports

CHECKS = (*flow.CHECKS, *cabling.CHECKS, *ports.CHECKS)
