"""What a connection that takes loss for congestion can carry over a line with that loss and round trip."""

import math
from collections.abc import Iterator
from statistics import median
from typing import NamedTuple

from humble_relay.core.capacity.load import TCP_SEGMENT, loads
from humble_relay.core.judging.answer import Numbers, Thing, Verdict, Words, within
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import Asked, check
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.network.ways_out import way_out
from humble_relay.core.plan import Stream


class LossyPush(NamedTuple):
    """A push over TCP by a line on which loss was seen: middle round trip in ms and middle loss in percent."""

    stream: Stream
    line: str
    rtt_ms: float
    loss_pct: float


def tcp_limit_mbps(rtt_ms: float, loss_pct: float, segment_bytes: int = TCP_SEGMENT) -> float:
    """The rate in Mb/s that such a connection settles at: MSS / (RTT · √(2p/3)), for small p (Mathis et al., 1997).

    >>> round(tcp_limit_mbps(80, 1), 2)
    1.79
    """
    return segment_bytes * 8 / (rtt_ms / 1000 * math.sqrt(2 * loss_pct / 100 / 3)) / 1e6


def _lossy(case: Case) -> Iterator[tuple[Thing, LossyPush]]:
    for stream in case.streams:
        line = way_out(case, stream) if stream.protocol in ("rtmp", "rtmps") else None
        found = [m for m in case.survey.of(line) if m.rtt_ms and m.loss_pct is not None] if line else []
        if line and found:
            rtt, loss = median(m.rtt_ms or 0 for m in found), median(m.loss_pct or 0 for m in found)
            if loss > 0:
                yield Thing("link", stream.id), LossyPush(stream, case.uplinks[line].name, rtt, loss)


LOSSY_PUSHES: Asked[LossyPush] = Asked("push over TCP by a line on which loss was seen", _lossy)


@check(
    "tcp-under-loss", LOSSY_PUSHES, "bandwidth", "Does TCP carry it over a line with this loss and round trip?",
    "Mathis et al. 1997; RFC 5348 §3.1; RFC 9438", "measured", tried=True,
)  # fmt: skip
def tcp_under_loss(case: Case, push: LossyPush) -> Verdict:
    """Whether a push (Mb/s) is within what a sender of the usual kind settles at. Beyond it, it is doubtful only: some
    senders do not take loss for congestion, and what an encoder runs is seldom known."""
    limit, asked = tcp_limit_mbps(push.rtt_ms, push.loss_pct), case.once(loads)[push.stream.id].total.value

    def say() -> Words:
        steps = (
            Step(name="Segment", value=TCP_SEGMENT, unit="B", source="RFC 9293, RFC 879"),
            Step(name="Round trip", value=push.rtt_ms, unit="ms", how="median", source="the survey"),
            Step(name="Loss", value=push.loss_pct, unit="%", how="median", source="the survey"),
            Step(name="Settles at", value=round(limit, 2), unit="Mb/s", how="MSS ÷ (RTT × √(2p ÷ 3))", source="Mathis et al. 1997"),
        )  # fmt: skip
        return Words(
            f"{push.stream.name} asks {number(asked)} Mb/s of {push.line}, where {push.loss_pct:g} % of the packets are lost and come back after {push.rtt_ms:g} ms: TCP settles at about {number(limit)} Mb/s there.",
            "The speed test with its many connections looks fine; the one push stalls and catches up, again and again.",
            "Send by SRT, find where the packets are lost, or use another line. A push of one connection, measured, outranks this sum.",
            Working(name="TCP under loss", value=round(limit, 2), unit="Mb/s", steps=steps),
        )

    return within(Numbers(asked, limit, math.inf, "Mb/s"), say)


CHECKS = (tcp_under_loss,)
