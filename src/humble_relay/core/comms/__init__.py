"""Who sees and hears whom beside the program, and whether what carries it can."""

from humble_relay.core.comms import comms_links, who_hears

CHECKS = (*comms_links.CHECKS, *who_hears.CHECKS)
