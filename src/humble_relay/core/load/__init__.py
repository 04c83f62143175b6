"""What a stream weighs, and what that adds up to on an uplink, a cable, and the air."""

from humble_relay.core.load import cable_load, multicast, wifi_load

CHECKS = (
    *cable_load.CHECKS,
    *wifi_load.CHECKS,
    *multicast.CHECKS,
)
