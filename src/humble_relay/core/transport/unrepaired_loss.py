"""Whether loss spoils a stream whose protocol has no retransmission, or one of its own."""

import math
from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.judging.answer import (
    Numbers,
    Say,
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
from humble_relay.core.plan import Protocol, Stream
from humble_relay.core.reach.stream_uplinks import uplink_crossed
from humble_relay.core.transport.lossy_paths import Crossing, crossing
from humble_relay.core.transport.tcp import mathis_mbps
from humble_relay.core.transport.tcp_loss import probes_needed, seen_on

BROWSERS_BEAR_PCT = 2.0
"""The loss (%) up to which a browser's sender goes on raising its bitrate, and beyond which it does not; beyond 10 it lowers it
(draft-ietf-rmcat-gcc §6)."""
_HOW: dict[Protocol, str] = {
    "paired": "nobody says how its makers mend that",
    "ndi": "it goes over a connection that waits for what is lost",
    "rtsp": "taken over UDP nothing of that comes again",
    "web": "browsers ask for what is lost, and send less",
}


class PlainStream(NamedTuple):
    """A stream, its way over the internet, and what one connection of TCP was measured to carry of it in Mb/s."""

    stream: Stream
    way: Crossing
    one_mbps: float | None


def _crossing(case: Case) -> Iterator[tuple[Thing, PlainStream]]:
    for stream in case.streams:
        if stream.protocol not in _HOW:
            continue
        way = crossing(case, stream, loads(case)[stream.id].total.value)
        if way and not (
            stream.protocol == "paired" and case.uplinks[way.line].parts
        ):  # its gateway mends that
            *_, up, down = seen_on(case)[way.line]
            yield (
                Thing("link", stream.id, "loss"),
                PlainStream(stream, way, up if uplink_crossed(case, stream) else down),
            )


CROSSING: SubjectKind[PlainStream] = SubjectKind(
    "stream over the internet by other than SRT or RTMP", _crossing
)


@check(
    "loss-not-mended", CROSSING, "bandwidth", "Does it bear what the line loses?",
    "Mathis et al. 1997; draft-ietf-rmcat-gcc §6; RFC 7826 §14", "measured", tried=True,
)  # fmt: skip
def loss_not_mended(case: Case, what: PlainStream) -> Verdict:
    """Whether a stream bears the loss (%) and the round trip (ms) of its way at its worse. A browser's does up to 2 %, and until a loss was seen it is taken to:
    it counts what is lost itself and sends less (common practice). Of others it is
    sure only where one connection of TCP does, as measured or by the sum: whatever they run over, or can be taken over, does no worse than
    that for long. Beyond, it is a doubt that seeing it work ends; RTSP may run over UDP, where any loss is one."""
    stream, line = what.stream, case.uplinks[what.way.line]
    asked, path, web = loads(case)[stream.id].total.value, what.way.path, stream.protocol == "web"
    thing = Thing("uplink", line.id)
    if not web and what.one_mbps is not None and what.one_mbps >= asked:
        return holds(Numbers(asked, round(what.one_mbps, 2), math.inf, "Mb/s"), _over_tcp(stream))
    if web and (path is None or path.loss_pct == 0):
        return holds(evidence="practice")
    if path is None:
        return wants(Want(thing, "measurements", f"What are the round trip and the loss of {line.name}? {stream.name} goes by it."))  # fmt: skip
    limit = mathis_mbps(path.rtt_ms, path.loss_pct) if path.loss_pct else math.inf

    def say() -> Words:
        does = (
            "its picture gets worse for as long as that lasts"
            if web
            else f"TCP would settle at about {number(limit)} Mb/s there"
        )
        steps = (
            Step(name="Round trip", value=path.rtt_ms, unit="ms", source="the survey"),
            Step(name="Loss", value=path.loss_pct, unit="%", source="the survey"),
            *(
                (Step(name="A browser raises its bitrate up to", value=BROWSERS_BEAR_PCT, unit="%", source="draft-ietf-rmcat-gcc §6"),)
                if web
                else (Step(name="TCP settles at", value=round(limit, 2), unit="Mb/s", how="MSS ÷ (RTT × √(2p ÷ 3))", source="Mathis et al. 1997"),)
            ),
        )  # fmt: skip
        return Words(
            f"{stream.name} asks {number(asked)} Mb/s of {line.name}, where {path.loss_pct:.3g} % are lost at a round-trip time of {path.rtt_ms:g} ms: {_HOW[stream.protocol]}, and {does}.",
            "Blocks, freezes, or a picture that comes and goes with the line, though the bitrate fits it.",
            "Ask for it over TCP, and see whether it holds." if stream.protocol == "rtsp" else "See it work over this line at the hour of the show, send SRT where both ends can, or use another line.",
            Working(name="Loss on the way", value=path.loss_pct, unit="%", steps=steps),
        )  # fmt: skip

    if path.loss_pct == 0:
        needed = probes_needed(asked, path.rtt_ms)
        if what.way.probes >= needed:
            return holds(Numbers(what.way.probes, needed, needed, "packets", at_least=True))
        counted = f"So far {what.way.probes} were counted."
        return wants(Want(thing, "measurements", f"Is nothing lost on {line.name} over at least {needed} packets? {counted}"))  # fmt: skip
    if web:
        return within(Numbers(path.loss_pct, BROWSERS_BEAR_PCT, math.inf, "%"), say)
    numbers = Numbers(asked, limit, math.inf, "Mb/s")
    return doubtful(say, numbers) if stream.protocol == "rtsp" else within(numbers, say)


def _over_tcp(stream: Stream) -> Say | None:
    if stream.protocol != "rtsp":
        return None
    return lambda: Words(
        f"{stream.name} fits what one connection of TCP carries; over UDP nothing that is lost comes again.",
        "Blocks and smears that the camera's own page does not show.",
        "Set the receiver to RTSP over TCP (interleaved).",
    )


CHECKS = (loss_not_mended,)
