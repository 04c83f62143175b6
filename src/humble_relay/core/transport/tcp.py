"""What one connection of TCP settles at under loss, by how its sender takes loss."""

import math

MSS = 1448
"""Payload of a full segment with timestamps over IPv4, in bytes (RFC 9293, RFC 7323)."""
_BETA, _C = 0.7, 0.4
"""Of CUBIC (RFC 9438 §4.6, §5)."""


def mathis_mbps(rtt_ms: float, loss_pct: float, segment: int = 1460) -> float:
    """MSS ÷ (RTT × √(2p ÷ 3)), in Mb/s: what a sender that halves at each loss settles at (Mathis et al. 1997).

    >>> round(mathis_mbps(80, 1), 2), round(mathis_mbps(80, 1, MSS), 2)
    (1.79, 1.77)
    """
    return segment * 8 / (rtt_ms / 1000 * math.sqrt(2 * loss_pct / 100 / 3)) / 1e6


def reno_mbps(rtt_ms: float, loss_pct: float, segment: int = MSS) -> float:
    """The same with the waits after a timeout, in Mb/s (RFC 5348 §3.1, b = 1, t_RTO = 4 RTT).

    >>> round(reno_mbps(80, 1), 2)
    1.63
    """
    p, rtt = loss_pct / 100, rtt_ms / 1000
    waits = 4 * rtt * 3 * math.sqrt(3 * p / 8) * p * (1 + 32 * p**2)
    return segment * 8 / (rtt * math.sqrt(2 * p / 3) + waits) / 1e6


def cubic_mbps(rtt_ms: float, loss_pct: float, segment: int = MSS) -> float:
    """What CUBIC settles at, in Mb/s: its own window where that is larger, else as Reno does (RFC 9438 §4.3, §5.1).

    >>> round(cubic_mbps(80, 1), 2), round(cubic_mbps(200, 0.01), 2)
    (1.63, 18.25)
    """
    p, rtt = loss_pct / 100, rtt_ms / 1000
    window = (_C * (3 + _BETA) / (4 * (1 - _BETA))) ** 0.25 * (rtt / p) ** 0.75
    return float(max(window * segment * 8 / rtt / 1e6, reno_mbps(rtt_ms, loss_pct, segment)))
