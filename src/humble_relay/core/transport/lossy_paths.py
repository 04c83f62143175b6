"""The way of a stream over the internet: by which of our lines, and how lossy it is at its worse."""

from typing import NamedTuple

from humble_relay.core.judging.case import Case
from humble_relay.core.measurements.forecast import quantile
from humble_relay.core.measurements.weighed import Weighed
from humble_relay.core.measurements.weighting import evidence
from humble_relay.core.plan import Stream
from humble_relay.core.plan.survey import Measurement
from humble_relay.core.reach.stream_uplinks import downlink_crossed, line_crossed
from humble_relay.core.transport.srt_retransmission import LossyPath

BAD_PERCENT = 90.0
"""A measurement is judged by that so many percent of them are no worse than."""


class Crossing(NamedTuple):
    """The line of ours that a stream crosses first, its path at its worse (None where loss or round trip are not known), and over
    how many packets the loss was counted."""

    line: str
    path: LossyPath | None
    probes: int


def crossing(case: Case, stream: Stream, mbps: float) -> Crossing | None:
    """The way of a stream of so many Mb/s, by the sender's uplink, and by the receiver's too where that was measured: losses and round
    trips of both are added up, which is more than they come to where both were measured to the same place."""
    line = line_crossed(case, stream)
    if line is None:
        return None
    near, probes = _worse(case, line, mbps)
    far_line = downlink_crossed(case, stream)
    far = _worse(case, far_line, mbps)[0] if far_line and far_line != line else None
    if near and far:
        lost = 100 * (1 - (1 - near.loss_pct / 100) * (1 - far.loss_pct / 100))
        near = near._replace(rtt_ms=near.rtt_ms + far.rtt_ms, loss_pct=lost, burst=max(near.burst, far.burst))
    return Crossing(line, near, probes)


def _worse(case: Case, line: str, mbps: float) -> tuple[LossyPath | None, int]:
    """Of the measurements of a line with a loss and a round trip, those at the show's hours where there are any, the one that so
    many are no worse than; and how many packets they counted."""
    seen = [evidence(case)[each] for each in case.uplinks[line].parts or (line,)]
    shown = [m for of in seen for at in of.at_hour.values() for m in at.measurements if _tells(m)]
    found = list({id(m): m for m in shown}.values()) or [m for of in seen for m in of.every if _tells(m)]
    if not found:
        return None, 0
    paths = sorted((_path(m, mbps) for m in found), key=lambda p: (p.loss_pct * p.rtt_ms, p.rtt_ms))
    ranks = Weighed(tuple(float(n) for n in range(len(paths))), (1.0,) * len(paths))
    return paths[round(quantile(ranks, BAD_PERCENT))], sum(m.probes or 0 for m in found)


def _tells(m: Measurement) -> bool:
    return m.loss_pct is not None and bool(m.rtt_ms)


def _path(m: Measurement, mbps: float) -> LossyPath:
    return LossyPath(m.rtt_ms or 1.0, m.loss_pct or 0.0, m.burst or 1.0, mbps)
