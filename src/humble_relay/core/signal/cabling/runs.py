"""What a run of cable must carry, and how far it carries it."""

from collections.abc import Iterator
from typing import NamedTuple

from humble_relay.core.catalogue.cables import CABLE_WORDS, FITS, stock_lay
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.finding import Fault, Fix, rule
from humble_relay.core.judging.working import Working, number
from humble_relay.core.picture.serial import serial_rate
from humble_relay.core.plan import Cable, CableKind
from humble_relay.core.plan.edits import SetField
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.signal.cabling.reach import cable_reach
from humble_relay.core.signal.cabling.replug import ways_to_replug
from humble_relay.core.signal.flow.propagation import formats


class Run(NamedTuple):
    """One cable judged: the format on it, what it must carry in Gb/s, and its reach in metres."""

    cable: Cable
    format: VideoFormat | None
    rate: Working | None
    reach: Working


def runs(case: Case) -> list[Run]:
    """Every cable of the plan with its format, rate and reach."""
    on_port = case.once(formats)
    found = []
    for cable in case.cables:
        fmt = on_port.get(cable.from_port) or on_port.get(cable.to_port)
        rate = serial_rate(fmt) if fmt and cable.cable in ("coax", "fibre") else None
        found.append(
            Run(cable, fmt, rate, cable_reach(cable.cable, fmt, case.figures, cable.repeaters, cable.joints))
        )
    return found


@rule("cable-too-long", "signal")
def cable_too_long(case: Case) -> Iterator[Fault]:
    """Cables longer than their kind carries at the rate they must carry."""
    for run in case.once(runs):
        cable = run.cable
        if cable.length_m <= run.reach.value:
            continue
        fixes = []
        for way in ways_to_replug(case, cable):
            reach = cable_reach(way.cable, run.format, case.figures)
            if reach.value >= cable.length_m:
                title = f"{way.title}: carries {number(reach.value)} m{_added(way.delay_ms)}"
                fixes.append(Fix(title=title, needs=way.needs, edits=way.edits))
        yield Fault(
            severity="stops",
            noun="link",
            subject=cable.id,
            wrong=f"{case.link_name(cable.id)} is {cable.length_m:g} m of {CABLE_WORDS[cable.cable]}; it carries {number(run.reach.value)} m.",
            means="The picture drops out, sparkles or never appears, often only once the cable is warm or moved.",
            do="Use a kind of cable that carries this far, bring the two ends closer, or re-route it: radio and network video are among the ways.",
            working=run.reach,
            fixes=tuple(fixes),
        )


@rule("connector-mismatch", "signal")
def connector_mismatch(case: Case) -> Iterator[Fault]:
    """Cables whose ends do not go into the ports they are planned for."""
    for cable in case.cables:
        fits = {FITS[cable.cable]}
        for ref in (cable.from_port, cable.to_port):
            port = case.ports[ref]
            if fits & ({port.assigned} if port.assigned else set(port.types)):
                continue
            has = " or ".join(t.upper() if t != "ethernet" else "Ethernet" for t in port.types)
            yield Fault(
                severity="stops",
                noun="link",
                subject=cable.id,
                part=ref.replace("/", "-"),
                wrong=f"{case.port_name(ref)} is {has}; {_cable_words(cable.cable)} does not go in.",
                means="The cable cannot be plugged in. Nobody has the right one in a bag at eight in the evening.",
                do="Use another port, another cable, or a converter between them.",
                fixes=tuple(
                    Fix(title=way.title, needs=way.needs, edits=way.edits)
                    for way in ways_to_replug(case, cable)
                ),
            )


@rule("cable-against-the-signal", "signal")
def cable_against_the_signal(case: Case) -> Iterator[Fault]:
    """Cables from an input, or into an output."""
    for cable in case.cables:
        ends = case.ports[cable.from_port].way, case.ports[cable.to_port].way
        if ends[0] == "in" or ends[1] == "out":
            yield Fault(
                severity="stops",
                noun="link",
                subject=cable.id,
                wrong=f"{case.link_name(cable.id)} runs from {'an input' if ends[0] == 'in' else 'an output'} to {'an output' if ends[1] == 'out' else 'an input'}.",
                means="No signal flows: two ends listen, or two ends send.",
                do="Join an output to an input.",
            )


def _cable_words(kind: CableKind) -> str:
    article = "an" if kind in ("hdmi", "ethernet", "audio", "coax") else "a"
    return f"{article} {CABLE_WORDS[kind]} cable"


def _added(delay_ms: float) -> str:
    return f", adds {delay_ms:g} ms" if delay_ms else ""


@rule("run-broken", "signal")
def run_broken(case: Case) -> Iterator[Fault]:
    """Links marked as broken: what hung on them is dark."""
    for link in case.links.values():
        if not link.broken:
            continue
        mended = SetField(noun="link", id=link.id, field="broken", value=False)
        yield Fault(
            severity="stops",
            noun="link",
            subject=link.id,
            wrong=f"{case.link_name(link.id)} is marked as broken.",
            means="Nothing arrives over it, and all that hangs on it is dark.",
            do="Re-route it, or mend it and take the mark off.",
            fixes=(Fix(title="It is mended", edits=(mended,)),),
        )


@rule("couplers-in-the-run", "signal")
def couplers_in_the_run(case: Case) -> Iterator[Fault]:
    """Runs longer than the longest stock cable that are planned as one piece."""
    for cable in case.cables:
        needed = max(0, stock_lay(cable.cable, cable.length_m).joints - cable.repeaters)
        if cable.cable == "ethernet" or cable.joints >= needed:
            continue
        yield Fault(
            severity="note",
            noun="link",
            subject=cable.id,
            wrong=f"{case.link_name(cable.id)} is {cable.length_m:g} m in one piece; stock cables need {needed} coupler{'s' if needed > 1 else ''}.",
            means="The couplers are not on the pull list, and each takes some of the reach.",
            do="Count the couplers, or bring a cable of that length.",
            fixes=(
                Fix(
                    title=f"Count {needed} coupler{'s' if needed > 1 else ''}",
                    needs=f"{needed} coupler{'s' if needed > 1 else ''}",
                    edits=(SetField(noun="link", id=cable.id, field="joints", value=needed),),
                ),
            ),
        )
