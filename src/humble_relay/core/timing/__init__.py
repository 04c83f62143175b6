"""Timing: what may be cut together, what comes too late for what it is for, and whether sound meets its picture."""

from humble_relay.core.timing import lateness, lip_sync, together

CHECKS = (*together.CHECKS, *lateness.CHECKS, *lip_sync.CHECKS)
"""Whether the sources that meet at one mixer are as late as each other, whether what was asked for comes soon enough, and
whether a desk's line meets the picture."""
