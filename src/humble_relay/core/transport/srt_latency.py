"""Whether the latency of an SRT stream is enough to retransmit what its uplink loses."""

import math
from collections.abc import Iterator
from typing import NamedTuple

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
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.load.stream_load import loads
from humble_relay.core.plan import Stream
from humble_relay.core.transport.lossy_paths import BAD_PERCENT, crossing
from humble_relay.core.transport.srt_retransmission import (
    OVERHEAD_PCT,
    LossyPath,
    attempts,
    bearable_loss_pct,
    breaks_per_hour,
    bridged_ms,
    latency_for,
    residual,
    sent_again_pct,
)


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
        if stream.protocol == "srt" and (way := crossing(case, stream, loads(case)[stream.id].total.value)):
            yield Thing("link", stream.id, "latency"), LossyStream(stream, *way)


SRT_CROSSING: SubjectKind[LossyStream] = SubjectKind("SRT stream that crosses a line", _leaving)


@check(
    "srt-latency", SRT_CROSSING, "bandwidth", "Does its latency leave time to send again what the line loses?",
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
            Step(name="Bridges an outage of", value=round(bridged_ms(path, latency)), unit="ms", how="the latency less a round trip: a longer one is seen", source="draft-sharabayko-srt §4.8; libsrt"),
            Step(name="Sent again", value=round(sent_again_pct(path), 1), unit="%", how=f"of the stream; a sender may send {OVERHEAD_PCT:g} % more", source="libsrt API, SRTO_OHEADBW"),
            Step(name="Holds with a latency of", value=better if math.isfinite(better) else 0, unit="ms", how="the least, three round trips or more" if math.isfinite(better) else "none does"),
        )  # fmt: skip
        lossy = f"{path.loss_pct:g} % lost, RTT {path.rtt_ms:g} ms"
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
