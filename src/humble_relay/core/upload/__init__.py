"""Whether the uplink carries what is sent: headroom rules, probability, and the download beside it."""

from humble_relay.core.upload import download_fit, upload_fit

CHECKS = (
    *upload_fit.CHECKS,
    *download_fit.CHECKS,
)
