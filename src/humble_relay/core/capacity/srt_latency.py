"""Whether the latency of an SRT stream makes good of what its line loses."""

import math
from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.capacity.evening import Weighed, quantile
from humble_relay.core.capacity.evidence import evidence
from humble_relay.core.capacity.load import loads
from humble_relay.core.capacity.srt_repair import (
    OVERHEAD_PCT,
    LossyPath,
    attempts,
    bearable_loss_pct,
    breaks_per_hour,
    latency_for,
    residual,
    sent_again_pct,
)
from humble_relay.core.judging.answer import (
    Numbers,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    holds,
    wants,
    within,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import Asked, check
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.network.ways_out import line_out, on_the_internet, way_out
from humble_relay.core.plan import Stream
from humble_relay.core.plan.survey import Measurement

BAD_PERCENT = 90.0
"""A measurement is judged by that so many percent of them are no worse than."""


class LossyStream(NamedTuple):
    """An SRT stream, its line, the path of it at its worse (None where loss or round trip are not known), and over how many
    packets nothing was lost."""

    stream: Stream
    line: str
    path: LossyPath | None
    probes: int

    def latency_ms(self, case: Case) -> float:
        """What both ends wait, in ms: what is set, or what they come with."""
        return self.stream.latency_ms if self.stream.latency_ms is not None else case.figures["srt-delay"]


def _leaving(case: Case) -> Iterator[tuple[Thing, LossyStream]]:
    for stream in case.streams:
        line = way_out(case, stream) if stream.protocol == "srt" else None
        if line:
            yield Thing("link", stream.id, "latency"), _on(case, stream, line)


def _on(case: Case, stream: Stream, line: str) -> LossyStream:
    """The path at its worse by the sender's line, and by the taker's too where that was measured: losses and round trips of
    both are added up, which is more than they come to where both were measured to the same place."""
    mbps = case.once(loads)[stream.id].total.value
    near, probes = _worse(case, line, mbps)
    taker = case.devices[stream.to_device]
    far_line = line_out(case, taker, stream) if not on_the_internet(taker) else None
    far = _worse(case, far_line, mbps)[0] if far_line and far_line != line else None
    if near and far:
        lost = 100 * (1 - (1 - near.loss_pct / 100) * (1 - far.loss_pct / 100))
        near = near._replace(rtt_ms=near.rtt_ms + far.rtt_ms, loss_pct=lost, burst=max(near.burst, far.burst))
    return LossyStream(stream, line, near, probes)


def path_of(case: Case, stream: Stream) -> LossyPath | None:
    """The path that a stream would have by its line, at its worse; None where loss or round trip are not known."""
    line = way_out(case, stream)
    return _worse(case, line, stream.video_mbps * 1.05)[0] if line else None


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


SRT_LEAVING: Asked[LossyStream] = Asked("SRT stream that leaves by a line", _leaving)


@check(
    "srt-latency", SRT_LEAVING, "bandwidth", "Does its latency leave time to send again what the line loses?",
    "draft-sharabayko-srt §4.8; Gilbert 1960; held against libsrt", "measured", tried=True,
)  # fmt: skip
def srt_latency(case: Case, what: LossyStream) -> Verdict:
    """Whether the breaks that are left (an hour) are no more than are planned for, at the loss and round trip that the line has
    at its worse. What is lost comes again only where the latency is longer than a round trip."""
    latency, path, name = what.latency_ms(case), what.path, case.uplinks[what.line].name
    relied, hopeless = case.figures["srt-breaks"], case.figures["srt-breaks-hopeless"]
    thing = Thing("uplink", what.line)
    if path is None:
        return wants(Want(thing, "measurements", f"What are the round trip and the loss of {name}? {what.stream.name} waits {latency:g} ms for what is lost."))  # fmt: skip
    better = latency_for(path if path.loss_pct else path._replace(loss_pct=1.0), relied)

    def say() -> Words:
        again = attempts(path, latency)
        left = breaks_per_hour(path, latency)
        steps = (
            Step(name="Round trip", value=path.rtt_ms, unit="ms", how=f"{BAD_PERCENT:g} % of the measurements are no worse", source="the survey"),
            Step(name="Loss", value=path.loss_pct, unit="%", how="the same", source="the survey"),
            *((Step(name="Lost in a row", value=path.burst, unit="packets", source="the survey"),) if path.burst > 1 else ()),
            Step(name="Packets", value=round(path.packets_per_s), unit="a second", how="1316 B each", source="draft-sharabayko-srt"),
            Step(name="Comes again", value=again, unit="times", how=f"in {latency:g} ms: after a round trip, then each one and a half", source="draft-sharabayko-srt §4.8.2; libsrt"),
            Step(name="Stays lost", value=float(f"{100 * residual(path, latency):.3g}"), unit="%", how="p to the power of 1 + that, for independent losses", source="arithmetic"),
            Step(name="Sent again", value=round(sent_again_pct(path), 1), unit="%", how=f"of the stream; a sender may send {OVERHEAD_PCT:g} % more", source="libsrt API, SRTO_OHEADBW"),
            Step(name="Holds with a latency of", value=better if math.isfinite(better) else 0, unit="ms", how="the least, three round trips or more" if math.isfinite(better) else "none does"),
        )  # fmt: skip
        lossy = f"{path.loss_pct:g} % lost, back after {path.rtt_ms:g} ms"
        wrong = (
            f"{what.stream.name} waits {latency:g} ms, and what is lost on {name} comes again after {path.rtt_ms:g} ms: too late."
            if not again
            else f"{what.stream.name} waits {latency:g} ms on {name} ({lossy}): about {number(left)} breaks an hour are left."
        )
        do = (
            f"Set a latency of {better:g} ms at both ends; the larger counts."
            if math.isfinite(better)
            else "Use another line, or find where the packets are lost."
        )
        return Words(wrong, "Blocks and short freezes, again and again, though the bitrate fits the line.", do,
                     Working(name="Breaks an hour", value=round(left, 1), unit="an hour", steps=steps))  # fmt: skip

    if path.loss_pct == 0:
        if attempts(path, latency) == 0:
            return doubtful(say, Numbers(latency, path.rtt_ms, 0, "ms", at_least=True))
        needed = math.ceil(3 / (bearable_loss_pct(path, latency, relied) / 100))
        if what.probes >= needed:
            return holds(Numbers(what.probes, needed, needed, "packets", at_least=True))
        asked = (
            f"Is nothing lost on {name} over at least {needed} packets? So far {what.probes} were counted."
        )
        return wants(Want(thing, "measurements", asked))
    if sent_again_pct(path) > OVERHEAD_PCT:
        return doubtful(say, Numbers(round(sent_again_pct(path), 1), OVERHEAD_PCT, math.inf, "%"))
    return within(Numbers(round(breaks_per_hour(path, latency), 2), relied, hopeless, "an hour"), say)


CHECKS = (srt_latency,)
