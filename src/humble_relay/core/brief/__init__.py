"""The brief: when the show is, and what its devices are called."""

from humble_relay.core.brief import device_names, times

CHECKS = (
    *times.CHECKS,
    *device_names.CHECKS,
)
