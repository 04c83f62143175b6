"""What a run of cable must carry, and how far it carries it."""

import math
from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.findings import Fault, Fix, rule
from humble_relay.core.index import PlanIndex
from humble_relay.core.picture.serial import SDI_RATES, pixel_clock_hz, serial_rate
from humble_relay.core.plan import Cable, CableKind, Connector
from humble_relay.core.signal.follow import formats
from humble_relay.core.signal.replug import ways_to_replug
from humble_relay.core.video import VideoFormat
from humble_relay.core.working import Figures, Step, Working, number

FITS: dict[CableKind, set[Connector]] = {
    "hdmi": {"hdmi"},
    "coax": {"sdi"},
    "ethernet": {"ethernet"},
    "usb2": {"usb"},
    "usb3": {"usb"},
    "fibre": {"fibre"},
    "audio": {"audio"},
}
"""The connectors each kind of cable ends in."""


class Run(NamedTuple):
    """One cable judged: the format on it, what it must carry in Gb/s, and its reach in metres."""

    cable: Cable
    format: VideoFormat | None
    rate: Working | None
    reach: Working


def runs(plan: PlanIndex) -> list[Run]:
    """Every cable of the plan with its format, rate and reach."""
    on_port = plan.once(formats)
    found = []
    for cable in plan.cables:
        fmt = on_port.get(cable.from_port) or on_port.get(cable.to_port)
        rate = serial_rate(fmt) if fmt and cable.cable in ("coax", "fibre") else None
        found.append(Run(cable, fmt, rate, cable_reach(cable.cable, fmt, plan.figures)))
    return found


def cable_reach(kind: CableKind, fmt: VideoFormat | None, figures: Figures) -> Working:
    """How far a kind of cable carries a format, in metres.

    Loss in dB grows with √frequency and receivers allow a fixed loss at half the clock, so copper
    reach goes with 1/√rate (SMPTE ST 424; the law from memory). HDMI is never promised more than
    the trade's figure; network, USB, audio and optical runs do not depend on the picture.
    """
    base = figures.step(f"{'coax' if kind == 'coax' else kind}-reach")
    reach, steps = figures[f"{kind}-reach"], [base]
    if kind == "coax":
        rate = serial_rate(fmt) if fmt else None
        actual = rate.value if rate else float(SDI_RATES[2][0]) / 1e9
        reach *= math.sqrt(2.97 / actual)
        steps += (
            list(rate.steps[-1:])
            if rate
            else [Step(name="Format not known: 3G assumed", value=2.97, unit="Gb/s")]
        )
        steps.append(_by_root(base.value or 0, 2.97, actual, reach))
    elif kind == "hdmi" and fmt and (clock := pixel_clock_hz(fmt)):
        actual = max(148.5, float(clock) / 1e6)
        reach *= math.sqrt(148.5 / actual)
        steps.append(
            Step(name=f"Pixel clock of {fmt.label}", value=float(clock) / 1e6, unit="MHz", source="CTA-861")
        )
        if actual > 148.5:
            steps.append(_by_root(base.value or 0, 148.5, actual, reach))
    return Working(name=f"Reach of {kind} cable", value=round(reach, 1), unit="m", steps=tuple(steps))


def _by_root(base: float, reference: float, actual: float, reach: float) -> Step:
    how = f"{base:g} × √({reference:g} ÷ {actual:.4g})"
    return Step(
        name="Reach goes with 1/√rate", value=reach, unit="m", how=how, source="SMPTE ST 424; from memory"
    )


@rule("cable-too-long", "signal")
def cable_too_long(plan: PlanIndex) -> Iterator[Fault]:
    """Cables longer than their kind carries at the rate they must carry."""
    for run in plan.once(runs):
        cable = run.cable
        if cable.length_m <= run.reach.value:
            continue
        fixes = []
        for way in ways_to_replug(plan, cable):
            reach = cable_reach(way.cable, run.format, plan.figures)
            if reach.value >= cable.length_m:
                fixes.append(
                    Fix(
                        title=f"{way.title}: carries {number(reach.value)} m",
                        needs=way.needs,
                        edits=way.edits,
                    )
                )
        yield Fault(
            severity="stops",
            noun="link",
            subject=cable.id,
            wrong=f"{plan.link_name(cable.id)} is {cable.length_m:g} m of {cable.cable}; it carries {number(run.reach.value)} m.",
            means="The picture drops out, sparkles or never appears, often only once the cable is warm or moved.",
            do="Use a kind of cable that carries this far, or bring the two ends closer.",
            working=run.reach,
            fixes=tuple(fixes),
        )


@rule("connector-mismatch", "signal")
def connector_mismatch(plan: PlanIndex) -> Iterator[Fault]:
    """Cables whose ends do not go into the ports they are planned for."""
    for cable in plan.cables:
        fits = FITS[cable.cable]
        for ref in (cable.from_port, cable.to_port):
            port = plan.ports[ref]
            if fits & ({port.assigned} if port.assigned else set(port.types)):
                continue
            has = " or ".join(t.upper() if t != "ethernet" else "Ethernet" for t in port.types)
            yield Fault(
                severity="stops",
                noun="link",
                subject=cable.id,
                part=ref.replace("/", "-"),
                wrong=f"{plan.port_name(ref)} is {has}; {_cable_words(cable.cable)} does not go in.",
                means="The cable cannot be plugged in. Nobody has the right one in a bag at eight in the evening.",
                do="Use another port, another cable, or a converter between them.",
                fixes=tuple(
                    Fix(title=way.title, needs=way.needs, edits=way.edits)
                    for way in ways_to_replug(plan, cable)
                ),
            )


@rule("cable-against-the-signal", "signal")
def cable_against_the_signal(plan: PlanIndex) -> Iterator[Fault]:
    """Cables from an input, or into an output."""
    for cable in plan.cables:
        ends = plan.ports[cable.from_port].way, plan.ports[cable.to_port].way
        if ends[0] == "in" or ends[1] == "out":
            yield Fault(
                severity="stops",
                noun="link",
                subject=cable.id,
                wrong=f"{plan.link_name(cable.id)} runs from {'an input' if ends[0] == 'in' else 'an output'} to {'an output' if ends[1] == 'out' else 'an input'}.",
                means="No signal flows: two ends listen, or two ends send.",
                do="Join an output to an input.",
            )


def _cable_words(kind: CableKind) -> str:
    return {
        "hdmi": "an HDMI cable",
        "coax": "SDI coax",
        "ethernet": "an Ethernet cable",
        "audio": "an audio cable",
    }.get(kind, f"a {kind} cable")
