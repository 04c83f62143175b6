"""What boxes take and give: inputs, assignments, formats, protocols, firmware, and who gets a picture at all."""

from humble_relay.core.signal.ports import (
    aim_delivery,
    assignment,
    coverage,
    decoding,
    formats,
    loops,
    operator_view,
    streaming,
)

CHECKS = (
    *coverage.CHECKS,
    *aim_delivery.CHECKS,
    *loops.CHECKS,
    *assignment.CHECKS,
    *formats.CHECKS,
    *streaming.CHECKS,
    *decoding.CHECKS,
    *operator_view.CHECKS,
)
