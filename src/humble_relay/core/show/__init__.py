"""The day of the show: the go-live order, what to bring, and what must arrive."""

from humble_relay.core.show import go_live_order, pull_list

CHECKS = (
    *go_live_order.CHECKS,
    *pull_list.CHECKS,
)
