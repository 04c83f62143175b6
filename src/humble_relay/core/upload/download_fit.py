"""Whether the line of a site carries down what comes in by it: from other sites, and from services."""

from collections import defaultdict
from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.judging.answer import Numbers, Thing, Verdict, Want, Words, holds, wants, within
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.load.stream_load import loads
from humble_relay.core.measurements.forecast import quantile
from humble_relay.core.measurements.weighed import Weighed
from humble_relay.core.measurements.weighting import evidence
from humble_relay.core.plan import Stream
from humble_relay.core.reach.stream_uplinks import downlink_crossed
from humble_relay.core.upload.headroom import FEW, LOW_PERCENT, uploads


class DownlinkUse(NamedTuple):
    """A stream that comes in by a line, and all that does."""

    stream: Stream
    line: str
    all: tuple[Stream, ...]


@analysis
def downlink_streams(case: Case) -> dict[str, tuple[Stream, ...]]:
    """For each line by which anything comes in, the streams that do."""
    found: dict[str, list[Stream]] = defaultdict(list)
    for stream in case.streams:
        if line := downlink_crossed(case, stream):
            found[line].append(stream)
    return {line: tuple(streams) for line, streams in found.items()}


def _each(case: Case) -> Iterator[tuple[Thing, DownlinkUse]]:
    for line, streams in downlink_streams(case).items():
        for stream in streams:
            yield Thing("link", stream.id, "down"), DownlinkUse(stream, line, streams)


COMING_IN: SubjectKind[DownlinkUse] = SubjectKind("stream that comes in by a line", _each)


@check(
    "line-down-too-small", COMING_IN, "bandwidth", "Does the line that it comes in by carry it down?",
    "common practice, no source", "measured",
)  # fmt: skip
def line_down_too_small(case: Case, what: DownlinkUse) -> Verdict:
    """Whether all that comes in by a line (Mb/s) fits what it was measured to carry down: its low end, and no more than its best.
    Where only the upload was measured that is relied on: lines carry no less down than up (common practice)."""
    line, name = what.line, case.uplinks[what.line].name
    each = loads(case)
    asked = sum(each[s.id].total.value for s in what.all)
    seen = evidence(case)[line]
    shown = {id(m): m for at in seen.at_hour.values() for m in at.measurements if m.down_mbps is not None}
    downs = [m.down_mbps or 0.0 for m in (*shown.values(),) or seen.every if m.down_mbps is not None]
    if not downs:
        up = uploads(case)[line]
        low_up = min((h.low_mbps or 0.0 for h in up.measured), default=0.0)
        if asked <= low_up:
            return holds(Numbers(round(asked, 2), round(low_up, 2), low_up, "Mb/s"), evidence="practice")
        question = (
            f"How much does {name} carry down at the hours of the show? {number(asked)} Mb/s come in by it."
        )
        return wants(Want(Thing("uplink", line), "measurements", question, "Mb/s"))
    low = quantile(Weighed(tuple(downs), (1.0,) * len(downs)), LOW_PERCENT if len(downs) >= FEW else 0.0)

    def say() -> Words:
        steps = (
            *(Step(name=s.name, value=round(each[s.id].total.value, 2), unit="Mb/s") for s in what.all),
            Step(name="Carries down", value=round(low, 2), unit="Mb/s", how=f"low end of {len(downs)} measurements, the best {max(downs):g}", source="the survey"),
        )  # fmt: skip
        others = ", ".join(s.name for s in what.all if s != what.stream)
        return Words(
            f"{what.stream.name}{f' with {others}' if others else ''} brings {number(asked)} Mb/s in by {name}, which was measured to carry {number(low)} Mb/s down.",
            "The picture that is fetched or sent there breaks up, though its sender has room to spare.",
            "Send less, or take it by another line.",
            Working(name="Asked of the line, down", value=round(asked, 2), unit="Mb/s", steps=steps),
        )

    return within(Numbers(round(asked, 2), round(low, 2), max(downs), "Mb/s"), say)


CHECKS = (line_down_too_small,)
