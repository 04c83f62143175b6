"""What a run of cable must carry, and how far it carries it."""

import math
from dataclasses import replace
from typing import NamedTuple

from humble_relay.core.catalogue.cables import CABLE_WORDS, FITS, ONE_WAY, stock_lay
from humble_relay.core.judging.answer import (
    HOLDS,
    USUAL,
    DependsOn,
    Numbers,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    fails,
    holds,
    waits,
    wants,
    within,
)
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.things import CABLE_ENDS, JOINS, LINKS
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.picture.serial import serial_rate
from humble_relay.core.places.distances import length_of
from humble_relay.core.places.spans import length_unknown
from humble_relay.core.plan import Cable, CableKind, Link, Radio
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.signal.cabling.cable_reach import cable_reach, possible
from humble_relay.core.signal.flow.propagation import flow
from humble_relay.core.signal.ports.formats import format_refused


class Run(NamedTuple):
    """One cable judged: the format on it, what it must carry in Gb/s, and its reach in metres.

    `reach` is how far it carries whatever it may have to, and `at_most_m` how far it carries the least of that: they are
    the same where its picture is known, or nothing is put on it yet and the show's own picture is meant for it.
    """

    cable: Cable
    format: VideoFormat | None
    rate: Working | None
    reach: Working
    at_most_m: float


@analysis
def runs(case: Case) -> list[Run]:
    """Every cable of the plan with its format, rate and reach. What nothing is put on yet is to carry the show's."""
    on_port, found = flow(case).on_port, []
    for cable in case.cables:
        signal = on_port.get(cable.from_port) or on_port.get(cable.to_port)
        arrives, fmt = signal and signal.format, signal.format if signal else case.plan.show.format
        rate = serial_rate(arrives) if arrives and cable.cable in ("coax", "fibre") else None
        if cable.cable in ONE_WAY:
            found.append(_lead(cable, arrives))
            continue
        formats = (fmt,) if fmt else possible(case.ports[cable.from_port].max_gbps)
        each = [cable_reach(cable.cable, of, case.figures, cable.repeaters, cable.joints) for of in formats]
        shortest = min(each, key=lambda reach: reach.value)
        found.append(Run(cable, arrives, rate, shortest, max(reach.value for reach in each)))
    return found


def _lead(cable: Cable, arrives: VideoFormat | None) -> Run:
    """A lead with electronics in its plugs carries as far as its maker promises, and is one piece."""
    step = Step(
        name="Promised length", value=cable.rated_m or 0, unit="m", source="its maker, as set in this plan"
    )
    reach = Working(
        name=f"Reach of this {CABLE_WORDS[cable.cable]} lead",
        value=cable.rated_m or 0,
        unit="m",
        steps=(step,),
    )
    return Run(cable, arrives, None, reach, cable.rated_m or 0)


RUNS: SubjectKind[Run] = SubjectKind(
    "cable", lambda case: ((Thing("link", run.cable.id), run) for run in runs(case))
)


@check(
    "cable-too-long", RUNS, "signal",
    "Does this kind of cable carry its picture over this length?",
    "ISO/IEC 11801, TIA-568 (Ethernet); SMPTE ST 424 and common practice (coax, HDMI); from memory", "practice", tried=True,
)  # fmt: skip
def cable_too_long(case: Case, run: Run) -> Verdict:
    """Whether the cable's length (m) is within what its kind carries at the rate on it."""
    cable, reach = run.cable, run.reach
    if cable.cable in ONE_WAY and cable.rated_m is None:
        asked = f"How long does the maker promise this {CABLE_WORDS[cable.cable]} lead for, with {run.format.label if run.format else 'its picture'}?"
        return wants(Want(Thing("link", cable.id), "rated_m", asked, "m"))
    beyond = case.figures.step(f"{cable.cable}-hopeless")
    hopeless = run.at_most_m * (beyond.value or 1)
    length = length_of(case, cable)
    if length is None:
        return length_unknown(case, cable)
    through = _beyond_injector(case, cable) if cable.cable == "ethernet" else None
    if through is not None and (beyond_m := length_of(case, through)):
        length += beyond_m
    if reach.value < length <= hopeless and reach.value < run.at_most_m:
        return _picture_not_known(case, cable)

    def say() -> Words:
        carries = "it carries" if length > hopeless else "relied on is"
        along = (
            f", with {case.link_name(through.id)} behind the injector, which starts no new run,"
            if through
            else ""
        )
        return Words(
            f"{case.link_name(cable.id)}{along} is {length:g} m of {CABLE_WORDS[cable.cable]}; {carries} {number(reach.value)} m.",
            "The picture drops out, sparkles or never appears, often only once the cable is warm or moved.",
            "Use a kind of cable that carries this far, bring the two ends closer, or re-route it: radio and network video are among the ways.",
            replace(reach, steps=(*reach.steps, beyond)),
        )

    return within(Numbers(length, reach.value, hopeless, "m"), say)


def _beyond_injector(case: Case, cable: Cable) -> Cable | None:
    """The cable on the other side of the injector that a network cable leads into: one channel with it, for an injector starts no new
    100 m (IEEE 802.3 clause 33). None where there is none, or where the plan has that other cable first: one of the two answers for both."""
    for ref in (cable.from_port, cable.to_port):
        box = case.device_of(ref)
        if box.kind != "injector":
            continue
        others = (case.join_at.get(f"{box.id}/{p.id}") for p in box.ports if f"{box.id}/{p.id}" != ref)
        other = next((x for x in others if isinstance(x, Cable)), None)
        if other and case.cables.index(other) > case.cables.index(cable):
            return other
    return None


def _picture_not_known(case: Case, cable: Cable) -> Verdict:
    """It depends on what is sent, and the maker of the picture has not said; or on the brief, if nothing is sent yet."""
    taker, _, port = cable.to_port.partition("/")
    if port in flow(case).arriving[taker]:
        return waits(DependsOn(format_refused, Thing("device", taker, port)))
    return wants(
        Want(
            Thing("show", "show"),
            "format",
            "Which picture is the show in: raster, frame rate and scan?",
            choices=USUAL,
        )
    )


@check(
    "connector-mismatch", CABLE_ENDS, "signal", "Does the cable go into this port?", "the connectors' standards", "standard"
)  # fmt: skip
def connector_mismatch(case: Case, what: tuple[Cable, str]) -> Verdict:
    """Whether the end of a cable is the connector that the port is, or is told to be."""
    cable, ref = what
    port = case.ports[ref]
    if FITS[cable.cable] in ((port.assigned,) if port.assigned else port.types):
        return HOLDS

    def say() -> Words:
        has = " or ".join(t.upper() if t != "ethernet" else "Ethernet" for t in port.types)
        return Words(
            f"{case.port_name(ref)} is {has}; {_cable_words(cable.cable)} does not go in.",
            "The cable cannot be plugged in. Nobody has the right one in a bag at eight in the evening.",
            "Use another port, another cable, or a converter between them.",
        )

    return fails(say)


@check(
    "cable-against-the-signal", JOINS, "signal", "Does it run from an output to an input?", "common practice, no source"
)  # fmt: skip
def cable_against_the_signal(case: Case, cable: Cable | Radio) -> Verdict:
    """Whether a cable or radio link begins at an output and ends at an input; a port that is both may be either."""
    ends = case.ports[cable.from_port].way, case.ports[cable.to_port].way
    if ends[0] != "in" and ends[1] != "out":
        return HOLDS
    return fails(
        lambda: Words(
            f"{case.link_name(cable.id)} runs from {'an input' if ends[0] == 'in' else 'an output'} to {'an output' if ends[1] == 'out' else 'an input'}.",
            "No signal flows: two ends listen, or two ends send.",
            "Join an output to an input.",
        )
    )


def _cable_words(kind: CableKind) -> str:
    article = "an" if kind in ("hdmi", "ethernet", "audio", "coax") else "a"
    return f"{article} {CABLE_WORDS[kind]} cable"


@check("run-broken", LINKS, "signal", "Is it intact?", "as marked")
def run_broken(case: Case, link: Link) -> Verdict:
    """Whether the link is free of the mark that it is broken."""
    if not link.broken:
        return HOLDS
    return fails(
        lambda: Words(
            f"{case.link_name(link.id)} is marked as broken.",
            "Nothing arrives over it, and all that hangs on it is dark.",
            "Re-route it, or mend it and take the mark off.",
        )
    )


def couplers_lacking(cable: Cable, length_m: float) -> int:
    """How many couplers the run needs to be made of stock cables, that many metres long; 0 where as many are counted, or it needs none.

    >>> run = Cable(id="run", from_port="camera/sdi", to_port="encoder/sdi", cable="coax")
    >>> couplers_lacking(run, 120), couplers_lacking(run.model_copy(update={"joints": 1}), 120)
    (1, 0)
    """
    needed = max(0, stock_lay(cable.cable, length_m).joints - cable.repeaters)
    return 0 if cable.joints >= needed else needed


JOINED: SubjectKind[Cable] = SubjectKind(
    "cable that couplers may join",
    lambda case: ((Thing("link", c.id), c) for c in case.cables if c.cable != "ethernet"),
)


@check(
    "couplers-in-the-run", JOINED, "signal",
    "Is there a stock cable of this length, or are its couplers counted?", "common practice, no source", "practice",
)  # fmt: skip
def couplers_in_the_run(case: Case, cable: Cable) -> Verdict:
    """Whether a run longer than the longest stock cable counts the couplers it is joined with; an active or optical lead
    is one piece, and a coupler in it is nothing that anybody promises."""
    if cable.cable in ONE_WAY and cable.joints:
        return doubtful(
            lambda: Words(
                f"{case.link_name(cable.id)} is joined {cable.joints} times; its plugs hold electronics that a coupler does not feed.",
                "The picture flickers or never comes, though each half works alone.",
                "Bring one lead of the whole length.",
            ),
            compared=(
                cable.cable,
                cable.joints,
            ),
        )
    length = length_of(case, cable)
    if length is None:
        return waits(
            *(length_unknown(case, cable).waits or [DependsOn(cable_too_long, Thing("link", cable.id))])
        )
    needed = couplers_lacking(cable, length)
    if not needed:
        return HOLDS
    return holds(
        remark=lambda: Words(
            f"{case.link_name(cable.id)} is {length:g} m in one piece; stock cables need {needed} coupler{'s' if needed > 1 else ''}.",
            "The couplers are not on the pull list, and each takes some of the reach.",
            "Count the couplers, or bring a cable of that length.",
        )
    )


COPPER_CHANNELS: SubjectKind[Cable] = SubjectKind(
    "Ethernet cable", lambda case: ((Thing("link", c.id), c) for c in case.cables if c.cable == "ethernet")
)


@check(
    "too-many-connections", COPPER_CHANNELS, "signal", "Are there at most four connections in its channel?",
    "TIA-568, ISO/IEC 11801", "standard", tried=True,
)  # fmt: skip
def too_many_connections(case: Case, cable: Cable) -> Verdict:
    """Whether a copper channel has as few connections as its standard promises for: a coupler is one, and starts no
    new 100 m. More may work, and nobody promises it."""
    most = case.figures["channel-connections"]
    numbers = Numbers(cable.joints, most, math.inf, "connections")
    return within(
        numbers,
        lambda: Words(
            f"{case.link_name(cable.id)} is joined {cable.joints} times; a channel is promised with {most:g} connections.",
            "Each reflects a little: the link falls back to a slower rate, or drops frames when it is warm.",
            "Lay it in fewer pieces, or put a network switch between them.",
        ),
    )


CHECKS = (
    too_many_connections,
    cable_too_long, connector_mismatch, cable_against_the_signal, run_broken, couplers_in_the_run,
)  # fmt: skip
