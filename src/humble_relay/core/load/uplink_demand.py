"""What the plan asks of every uplink, and what is left of it."""

from typing import NamedTuple

from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.working import Step, Working
from humble_relay.core.load.stream_load import loads
from humble_relay.core.plan import Stream
from humble_relay.core.reach.stream_uplinks import streams_by_uplink


class Demand(NamedTuple):
    """All that leaves by one uplink: its streams, and their sum in Mb/s."""

    streams: list[Stream]
    total: Working
    peak_mbps: float
    """The same where every bitrate that varies is at its most."""


@analysis
def demands(case: Case) -> dict[str, Demand]:
    """What the plan asks of every uplink, by uplink."""
    each, found = loads(case), {}
    for id, streams in streams_by_uplink(case).items():
        steps = tuple(
            Step(
                name=s.name,
                value=each[s.id].total.value,
                unit="Mb/s",
                how="video, audio, container, transport",
            )
            for s in streams
        )
        total = sum(each[s.id].total.value for s in streams)
        peak = sum(each[s.id].peak_mbps for s in streams)
        found[id] = Demand(
            streams,
            Working(name="Asked of the line", value=round(total, 3), unit="Mb/s", steps=steps),
            round(peak, 3),
        )
    return found


def left_over(demand: Demand, allowed: Working) -> Working:
    """The sum that a verdict rests on: what is asked, beside what is there, in Mb/s."""
    left = allowed.value - demand.total.value
    return Working(
        name="Left over",
        value=round(left, 2),
        unit="Mb/s",
        steps=(
            *allowed.steps,
            Step(name=allowed.name, value=allowed.value, unit="Mb/s"),
            *demand.total.steps,
            Step(
                name="Left over",
                value=round(left, 2),
                unit="Mb/s",
                how=f"{allowed.value:g} − {demand.total.value:g}",
            ),
        ),
    )
