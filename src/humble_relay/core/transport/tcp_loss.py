"""Whether a push over TCP gets through a line with its loss and round trip."""

import math
from collections.abc import Iterator
from statistics import median
from typing import NamedTuple

from humble_relay.core.judging.answer import Numbers, Thing, Verdict, Want, Words, holds, wants, within
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.load.stream_load import TCP_SEGMENT, loads
from humble_relay.core.plan import Stream
from humble_relay.core.reach.stream_uplinks import line_crossed, uplink_crossed
from humble_relay.core.transport.tcp import cubic_mbps, mathis_mbps, reno_mbps


class LossyPush(NamedTuple):
    """A stream over TCP, the line it crosses, and what was seen on it: the middle round trip in ms and loss in percent,
    over how many packets, and what one connection carries in its direction in Mb/s (the middle); None where nobody measured it."""

    stream: Stream
    line: str
    rtt_ms: float | None
    loss_pct: float | None
    probes: int
    one_mbps: float | None


MODEL_BEARS_PCT = 5.0
"""The loss that a sender which goes by a model of the line bears, in percent: BBR carried 37.7 of 50 Mb/s at 1 % (measured), and
is said to keep on to some 15 % (from memory); the lower is relied on."""


def _lossy(case: Case) -> Iterator[tuple[Thing, LossyPush]]:
    for stream in case.streams:
        line = line_crossed(case, stream) if stream.protocol in ("rtmp", "rtmps", "hls") else None
        if line:
            rtt, loss, probes, up, down = seen_on(case)[line]
            yield (
                Thing("link", stream.id),
                LossyPush(stream, line, rtt, loss, probes, up if uplink_crossed(case, stream) else down),
            )


@analysis
def seen_on(case: Case) -> dict[str, tuple[float | None, float | None, int, float | None, float | None]]:
    """For every line its round trip, loss, the packets the loss was counted over, and what one connection carried up and down."""
    found: dict[str, tuple[float | None, float | None, int, float | None, float | None]] = {}
    for line in case.uplinks:
        of = case.measured[line]
        rtts, losses = [m.rtt_ms for m in of if m.rtt_ms], [m for m in of if m.loss_pct is not None]
        alone = [m.up_mbps for m in of if m.connections == 1]
        down = [m.down_mbps for m in of if m.connections == 1 and m.down_mbps]
        found[line] = (
            median(rtts) if rtts else None,
            median(m.loss_pct or 0 for m in losses) if losses else None,
            sum(m.probes or 0 for m in losses),
            median(alone) if alone else None,
            median(down) if down else None,
        )
    return found


def probes_needed(rate_mbps: float, rtt_ms: float) -> int:
    """How many packets must come back, and none be lost, to bound the loss (95 %) by what a push of that rate bears: none
    lost of n bounds it by 3/n (rule of three).

    >>> probes_needed(6, 80)
    3378
    """
    bearable = 1.5 * (TCP_SEGMENT * 8 / (rtt_ms / 1000 * rate_mbps * 1e6)) ** 2
    return math.ceil(3 / bearable)


TCP_PUSHES: SubjectKind[LossyPush] = SubjectKind("stream over TCP that crosses a line", _lossy)


@check(
    "tcp-under-loss", TCP_PUSHES, "bandwidth", "Does one connection of TCP carry it over this line?",
    "Mathis et al. 1997; RFC 5348 §3.1; RFC 9438", "measured", tried=True,
)  # fmt: skip
def tcp_under_loss(case: Case, push: LossyPush) -> Verdict:
    """Whether a push (Mb/s) is within what one connection carried, where that was measured; else within what a sender of
    the usual kind settles at under the loss that was seen (Reno's sum, which is the lower at long round trips). Beyond that it is doubtful: some senders do not take loss for a jam,
    and what an encoder runs is seldom known. One that does is hopeless beyond twice the sum; one that goes by a model of the
    line carries it up to the loss that such senders were seen to bear. No loss seen over too few packets proves nothing."""
    asked, line = loads(case)[push.stream.id].total.value, case.uplinks[push.line].name
    if push.one_mbps is not None and push.one_mbps >= asked:
        return holds(Numbers(asked, round(push.one_mbps, 2), math.inf, "Mb/s"))
    if push.rtt_ms is None or push.loss_pct is None:
        how = f"What does one connection carry over {line}, or what are its round trip and loss?"
        return wants(Want(Thing("uplink", push.line), "measurements", how))
    if push.loss_pct == 0:
        needed = probes_needed(asked, push.rtt_ms)
        if push.probes >= needed:
            return holds(Numbers(push.probes, needed, needed, "packets", at_least=True))
        how = f"Is nothing lost on {line} over at least {needed} packets, or what does one connection carry? So far {push.probes} were counted."
        return wants(Want(Thing("uplink", push.line), "measurements", how))
    sends = case.devices[push.stream.from_device].encoding
    by = sends.congestion if sends else None
    if by == "model" and push.loss_pct <= MODEL_BEARS_PCT:
        return holds(Numbers(push.loss_pct, MODEL_BEARS_PCT, 2 * MODEL_BEARS_PCT, "%"), evidence="gear")
    rtt, loss, limit = push.rtt_ms, push.loss_pct, mathis_mbps(push.rtt_ms, push.loss_pct)
    most = max(limit, cubic_mbps(rtt, loss))  # of the two loss-based ones, whichever it is

    def say() -> Words:
        steps = (
            Step(name="Segment", value=TCP_SEGMENT, unit="B", source="RFC 9293, RFC 879"),
            Step(name="Round trip", value=rtt, unit="ms", how="median", source="the survey"),
            Step(name="Loss", value=push.loss_pct, unit="%", how="median", source="the survey"),
            Step(name="Settles at", value=round(limit, 2), unit="Mb/s", how="MSS ÷ (RTT × √(2p ÷ 3))", source="Mathis et al. 1997"),
            Step(name="With the waits after timeouts", value=round(reno_mbps(rtt, loss), 2), unit="Mb/s", how="as Reno does", source="RFC 5348 §3.1"),
            Step(name="CUBIC", value=round(cubic_mbps(rtt, loss), 2), unit="Mb/s", source="RFC 9438 §5.1"),
        )  # fmt: skip
        return Words(
            f"{push.stream.name} asks {number(asked)} Mb/s of {line}, where {push.loss_pct:g} % of the packets are lost at a round-trip time of {rtt:g} ms: TCP settles at about {number(limit)}{f' to {number(most)}' if most > 1.05 * limit else ''} Mb/s there.",
            "The speed test with its many connections looks fine; the one push stalls and catches up, again and again.",
            "Send by SRT, find where the packets are lost, or use another line. A push of one connection, measured, outranks this sum.",
            Working(name="TCP under loss", value=round(limit, 2), unit="Mb/s", steps=steps),
        )

    return within(Numbers(asked, limit, 2 * most if by == "loss" else math.inf, "Mb/s"), say)


CHECKS = (tcp_under_loss,)
