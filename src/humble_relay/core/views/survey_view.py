"""What the Survey draws: each line with what was measured on it, and how far that is to be trusted; and the facts that were found."""

from datetime import datetime

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import trial_stands
from humble_relay.core.judging.working import number
from humble_relay.core.plan.edits.field_words import field_words
from humble_relay.core.plan.survey import Fact
from humble_relay.core.upload.headroom import Upload, uploads
from humble_relay.core.upload.probability import NextMeasurement, next_measurement
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.core.views.more_uplinks import more_uplinks


class FoundFact(Frozen):
    """A fact that was found: of what, what it says, when, by whom and under what conditions."""

    id: str
    of: str
    says: str
    at: datetime
    by: str
    conditions: str
    counts: bool
    """False where it was taken back, or is too old a test to say something of this show."""
    taken_back: bool


class SurveyView(Frozen):
    """Every line, in the plan's order."""

    uploads: tuple[Upload, ...]
    next: dict[str, NextMeasurement]
    """By line, the further measurement that would tell most."""
    found: tuple[FoundFact, ...]
    """Every fact, the newest first."""
    more: tuple[Alternative, ...]
    """Uplinks that could be added, by mobile data."""


def survey_view(case: Case) -> SurveyView:
    """What the Survey draws."""
    wanted = {id: next_measurement(case, id) for id in case.uplinks}
    facts = sorted(case.whole_survey.facts, key=lambda f: f.at, reverse=True)
    return SurveyView(
        uploads=tuple(uploads(case).values()),
        next={id: what for id, what in wanted.items() if what},
        found=tuple(_found(case, fact) for fact in facts if fact.id),
        more=more_uplinks(case),
    )


def _found(case: Case, fact: Fact) -> FoundFact:
    struck = fact.id in case.whole_survey.withdrawn
    old = fact.quantity == "works" and not trial_stands(case, fact.at)
    return FoundFact(
        id=fact.id or "",
        of=fact_subject(case, fact),
        says=fact_in_words(fact),
        at=fact.at.astimezone(case.plan.show.clock),
        by=fact.by,
        conditions=fact.conditions,
        counts=not struck and not old,
        taken_back=struck,
    )


def fact_subject(case: Case, fact: Fact) -> str:
    """What a fact is of, in words: the thing, and the port or the other place where it is of one."""
    name = thing_name(case, fact.noun, fact.thing)
    if not fact.part:
        return name
    if fact.noun == "place":
        return f"{name} to {thing_name(case, 'place', fact.part)}"
    return (
        case.port_name(f"{fact.thing}/{fact.part}")
        if f"{fact.thing}/{fact.part}" in case.ports
        else f"{name}, {fact.part}"
    )


def thing_name(case: Case, noun: str, thing: str) -> str:
    """The thing of that id in words; its id where the plan has it no more."""
    if noun == "link":
        return case.link_name(thing)
    known = {
        "device": case.devices,
        "uplink": case.uplinks,
        "network": case.networks,
        "place": case.places,
        "site": case.sites,
    }.get(noun, {})
    return getattr(known.get(thing), "name", thing)  # type: ignore[attr-defined]


def fact_in_words(fact: Fact) -> str:
    """What a fact says, with its unit."""
    if fact.quantity == "works":
        return "worked when it was tried" if fact.value is True else "did not work when it was tried"
    value = (
        number(fact.value)
        if isinstance(fact.value, float)
        else "yes"
        if fact.value is True
        else "no"
        if fact.value is False
        else str(fact.value)
    )
    return f"{field_words(fact.quantity.rpartition('.')[2])[0]} {value} {fact.unit}".strip()
