"""Simulated lines: what each carries, loses and delays, and what becomes of it in the evening."""

from typing import NamedTuple

from humble_relay.core.transport.tcp import cubic_mbps


class SimulatedLine(NamedTuple):
    """A line as it would be met: Mb/s up when quiet, round trip in ms, loss in percent, by which hours of the day (24 h
    clock) how much of it is left, and Mb/s down."""

    id: str
    name: str
    up_mbps: float
    rtt_ms: float
    loss_pct: float
    left: dict[int, float]
    down_mbps: float = 40.0

    def carries_mbps(self, hour: int) -> float:
        """What one connection carries at an hour: the line's share then, or what TCP settles at under its loss."""
        share = self.up_mbps * self.left.get(hour, 1.0)
        return min(share, cubic_mbps(self.rtt_ms, self.loss_pct)) if self.loss_pct else share


LINES = (
    SimulatedLine("fibre", "A venue's fibre, with a café from 19 to 21 h", 60, 20, 0.0, {18: 0.9, 19: 0.45, 20: 0.35, 21: 0.85}),
    SimulatedLine("steady", "A steady line", 25, 15, 0.0, {}),
    SimulatedLine("mobile", "A phone's mobile data, crowded in the evening", 14, 55, 0.1, {18: 0.8, 19: 0.6, 20: 0.5, 21: 0.5, 22: 0.8}),
    SimulatedLine("lossy", "A long line that loses one packet in a hundred", 50, 80, 1.0, {}),
)  # fmt: skip
"""The lines that ship with it: made up, to learn the measuring on."""


def line_called(id: str) -> SimulatedLine:
    """The simulated line of that name. Raises KeyError for none."""
    return {line.id: line for line in LINES}[id]
