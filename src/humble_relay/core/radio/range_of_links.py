"""Whether a wireless link is within the range that its maker quotes, what is in its way counted."""

from collections.abc import Sequence
from typing import NamedTuple

from humble_relay.core.judging.answer import (
    HOLDS,
    Choice,
    Numbers,
    Thing,
    Verdict,
    Want,
    Words,
    doubtful,
    fails,
    holds,
    wants,
)
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check, trial_stands
from humble_relay.core.judging.phrases import said_day
from humble_relay.core.judging.things import RADIOS
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.places.distances import distance_m, length_of, span_between, walls_between
from humble_relay.core.places.spans import length_unknown, where_it_is_said
from humble_relay.core.plan import Device, Link, Radio, Stream
from humble_relay.core.radio.walls import Loss, as_far_as_m, lost


class InTheAir(NamedTuple):
    """A way through the air: what is lost on it beside the distance, and the range that is quoted for the open, in m."""

    loss: Loss
    quoted_m: float

    def clear(self, distance_m: float) -> bool:
        """Whether it is within range whatever its walls turn out to be."""
        return as_far_as_m(distance_m, self.loss.most_db) <= self.quoted_m


def through_the_air(
    case: Case, a: str | None, b: str | None, boxes: Sequence[Device], walls: int
) -> InTheAir:
    """The air between two places for two boxes. What was noted of the way between stands over a number of walls."""
    span = span_between(case, a, b)
    loss = lost(span.between) if span and span.between else lost((), walls)
    return InTheAir(loss, min((d.range_m for d in boxes if d.range_m), default=case.figures["radio-range"]))


@check(
    "radio-too-far", RADIOS, "signal", "Is it within the range that its maker quotes for open air, its walls counted?",
    "the maker's data; ITU-R P.525, P.2040-1 (from memory)", "gear", tried=True,
)  # fmt: skip
def radio_too_far(case: Case, radio: Radio) -> Verdict:
    """Whether the distance (m), as far as its walls make it, is within the quoted range.

    A wall that nobody described may be of plasterboard or of concrete: where that decides, it is not known. An end that
    stands indoors has one, unless something was noted of the way.
    """
    ends = [case.device_of(r) for r in (radio.from_port, radio.to_port)]
    walls = radio.walls or walls_between(case, ends[0].place, ends[1].place)
    loss, reach = through_the_air(case, ends[0].place, ends[1].place, ends, walls)
    hopeless = reach * case.figures["radio-hopeless"]
    distance = _bridged_m(case, radio)
    if distance is None:
        return length_unknown(case, radio)
    least, most = (as_far_as_m(distance, db) for db in (loss.least_db, loss.most_db))
    if most > reach and least <= hopeless and not loss.described:
        return _what_is_it(case, radio, ends)
    worth = least if least > hopeless else most
    numbers = Numbers(round(worth, 1), reach, hopeless, "m")

    def say() -> Words:
        walls = f", and what is in its way makes that worth {number(worth)} m" if most > distance else ""
        quoted = [Step(name=d.name, value=d.range_m, unit="m", source=d.model) for d in ends if d.range_m]
        steps = (
            Step(name="Distance", value=distance, unit="m"),
            Step(name="Lost in what is in the way", value=round(loss.least_db, 1), unit="dB", how=f"{number(loss.least_db)} to {number(loss.most_db)} dB", source="ITU-R P.2040-1, from memory"),
            Step(name="Worth in the open", value=round(worth, 1), unit="m", how="distance × 10^(dB ÷ 20)", source="ITU-R P.525"),
            *(quoted or (case.figures.step("radio-range"),)),
            case.figures.step("radio-hopeless"),
        )  # fmt: skip
        return Words(
            f"{case.link_name(radio.id)} is {distance:g} m{walls}; {reach:g} m is quoted for open air.",
            "It holds while the place is empty, and breaks up when people and their phones come.",
            "Put the receiver where it sees the transmitter, such as a window, or lay a cable. Local rules decide the power allowed.",
            Working(name="Range in the open", value=reach, unit="m", steps=steps),
        )

    if most <= reach:
        return holds(numbers)
    return fails(say, numbers) if least > hopeless else doubtful(say, numbers)


def _bridged_m(case: Case, radio: Radio) -> float | None:
    """The distance that a radio link bridges, in metres: as planned, or that of its places where that is longer."""
    planned, apart = (
        length_of(case, radio),
        distance_m(case, *(case.device_of(r).place for r in (radio.from_port, radio.to_port))),
    )
    return planned if planned is None or apart is None else max(planned, apart)


def _what_is_it(case: Case, radio: Radio, ends: Sequence[Device]) -> Verdict:
    """Which wall decides: wanted of the way between the two places, or of the link where they have none."""
    a, b = (case.places.get(d.place or "") for d in ends)
    if a is None or b is None or a.id == b.id:
        asked = f"How many walls does {case.link_name(radio.id)} go through?"
        return wants(Want(Thing("link", radio.id), "walls", asked))
    thing, first = where_it_is_said(case, a.id, b.id)
    asked = f"What stands between {a.name} and {b.name}: walls of what, and how thick?"
    return wants(Want(thing, "between", asked, first=first))


IN_THE_AIR: SubjectKind[Link] = SubjectKind(
    "radio link, or stream by Wi-Fi",
    lambda case: (
        (Thing("link", x.id, "air"), x)
        for x in case.links.values()
        if x.kind == "radio" or (x.kind == "stream" and _by_wifi(case, x))
    ),
)


def _by_wifi(case: Case, stream: Stream) -> bool:
    """Whether an end of a stream is on its network by Wi-Fi, and by nothing else."""
    for id in (stream.from_device, stream.to_device):
        on = [p for p in case.devices[id].ports if p.network]
        if on and all("wifi" in p.types for p in on):
            return True
    return False


@check(
    "not-tried-in-the-air", IN_THE_AIR, "signal", "Was it tried in the place, with people and their phones there?",
    "common practice, no source", "tested", tried=True,
)  # fmt: skip
def not_tried_in_the_air(case: Case, link: Link) -> Verdict:
    """Whether it was tested where it will stand. Who else is in the air no plan tells: a crowd's phones change it."""
    tried = case.fact("link", link.id, "works")
    if tried is None or not trial_stands(case, tried.at):
        again = (
            f" (it was on {said_day(tried.at.astimezone(case.plan.show.clock))}, for an earlier show)"
            if tried
            else ""
        )
        asked = f"Did {case.link_name(link.id)} work when it was tried in the place, with people and their phones there{again}?"
        return wants(Want(Thing("link", link.id), "works", asked, choices=WORKED))
    if tried.value is True:
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{case.link_name(link.id)} did not work when it was tried on {said_day(tried.at.astimezone(case.plan.show.clock))}.",
            "It will not on the day either, when more people are there.",
            "Stand where both ends see each other, choose another channel, or lay a cable. Local rules decide the power and channels allowed.",
        ),
        compared=(tried.at,),
    )


WORKED = (Choice(value=True, words="it worked"), Choice(value=False, words="it did not"))
CHECKS = (radio_too_far, not_tried_in_the_air)
