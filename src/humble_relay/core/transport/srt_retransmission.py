"""SRT's retransmission: how often a lost packet can be asked for again within the latency, and the residual loss.

A gap is noticed with the next packet, asked for at once, and filled a round trip later. Where that is lost too, it is asked
for again by the loss reports that go out every half round trip, 20 ms at least, and sent again no sooner than a round trip
after the last time: so about once in one and a half round trips, until the packet's moment has come
(draft-sharabayko-srt §4.8.2; the one and a half as libsrt 1.5 does it, held against it: at 4 round trips it has three). Losses are independent, or come in bursts (Gilbert 1960: a good and a bad state, each left at random).
"""

from math import floor
from typing import NamedTuple

PAYLOAD = 1316
"""Bytes of payload in a live packet (draft-sharabayko-srt)."""
OVERHEAD_PCT = 25.0
"""What a sender may send besides, for what must be sent again, in percent of the stream (libsrt API, SRTO_OHEADBW)."""
LEAST_REPORT_MS = 20.0
"""Between two loss reports, at least (libsrt, from memory)."""
LEAST_MS = 120.0
"""The latency that both ends come with (libsrt API, SRTO_LATENCY)."""


class LossyPath(NamedTuple):
    """The way of a stream: round trip in ms, loss in percent, the mean length of a burst in packets, its rate in Mb/s, and how many of
    the reports that go back are lost, in percent. A loss that was measured over round trips has those in it already."""

    rtt_ms: float
    loss_pct: float
    burst: float
    mbps: float
    back_pct: float = 0.0

    @property
    def packets_per_s(self) -> float:
        """Packets a second."""
        return self.mbps * 1e6 / (PAYLOAD * 8)


def attempts(path: LossyPath, latency_ms: float) -> int:
    """How often a lost packet comes again in time.

    >>> path = LossyPath(80, 1, 1, 6)
    >>> attempts(path, 120), attempts(path, 240), attempts(path, 330), attempts(path, 60)
    (1, 2, 3, 0)
    """
    left = latency_ms - path.rtt_ms
    return 1 + floor(left / _again_ms(path) + 1e-9) if left >= 0 else 0


def _again_ms(path: LossyPath) -> float:
    return path.rtt_ms + _report_ms(path)


def _report_ms(path: LossyPath) -> float:
    return max(path.rtt_ms / 2, LEAST_REPORT_MS)


def bridged_ms(path: LossyPath, latency_ms: float) -> float:
    """The longest outage in ms after which everything still comes in time: what is missing is asked for when the first packet after it
    arrives, and is there a round trip later (draft-sharabayko-srt §4.8; held against libsrt).

    >>> bridged_ms(LossyPath(80, 1, 1, 6), 480), bridged_ms(LossyPath(80, 1, 1, 6), 60)
    (400, 0.0)
    """
    return max(0.0, latency_ms - path.rtt_ms)


def residual(path: LossyPath, latency_ms: float) -> float:
    """The share of packets that are never there in time, 0 to 1. Independent losses: p to the power of 1 + attempts. Where a report is
    lost, the next one asks, half a round trip later: an attempt less, if there is no time for it.

    >>> round(residual(LossyPath(80, 1, 1, 6), 330), 10)
    1e-08
    """
    p = path.loss_pct / 100
    if p <= 0:
        return 0.0
    again = _lost_again(path, p)
    whole, late = attempts(path, latency_ms), attempts(path, latency_ms - _report_ms(path))
    heard = (1 - path.back_pct / 100) ** whole
    return float(p * (heard * again**whole + (1 - heard) * again**late))


def _lost_again(path: LossyPath, p: float) -> float:
    """The chance that what comes a round trip after a loss is lost too: in a burst the bad state may still last."""
    if path.burst <= 1 or p >= 1:
        return p
    leave = 1 / path.burst
    enter = min(1.0, p * leave / (1 - p))
    steps = path.packets_per_s * path.rtt_ms / 1000
    return float(p + (1 - p) * max(0.0, 1 - leave - enter) ** steps)


def breaks_per_hour(path: LossyPath, latency_ms: float) -> float:
    """How often in an hour something stays lost, a burst counted once."""
    return residual(path, latency_ms) * path.packets_per_s * 3600 / max(1.0, path.burst)


def latency_for(path: LossyPath, breaks: float) -> float:
    """The smallest latency in ms, in steps of 10, at which no more than so many breaks an hour remain; at least three round
    trips and what both ends come with (draft-sharabayko-srt; common practice). Infinite where none does.

    >>> latency_for(LossyPath(80, 1, 1, 6), 6)
    240.0
    """
    first = path.rtt_ms
    for again in range(60):
        latency = max(LEAST_MS, 3 * path.rtt_ms, first + again * _again_ms(path))
        latency = float(-(-latency // 10) * 10)
        if breaks_per_hour(path, latency) <= breaks:
            return latency
    return float("inf")


def bearable_loss_pct(path: LossyPath, latency_ms: float, breaks: float) -> float:
    """The loss in percent at which just so many breaks an hour are left, independent losses: (breaks ÷ packets) to the power of
    1 ÷ (1 + attempts).

    >>> round(bearable_loss_pct(LossyPath(80, 0, 1, 6), 240, 6), 2)
    1.43
    """
    share = min(1.0, max(breaks, 0.01) / (path.packets_per_s * 3600))
    return float(100 * share ** (1 / (1 + attempts(path, latency_ms))))


def sent_again_pct(path: LossyPath) -> float:
    """What is sent again, in percent of the stream: each time it is lost, p + p² + …"""
    p = min(path.loss_pct / 100, 0.99)
    return 100 * p / (1 - p)
