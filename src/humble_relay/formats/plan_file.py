"""The plan file: a plan and its survey as one JSON document, with a published JSON Schema."""

from typing import Any, Literal

from pydantic import ValidationError

from humble_relay.core.frozen import Frozen
from humble_relay.core.hidden_text import HIDDEN
from humble_relay.core.plan import Plan
from humble_relay.core.plan.edits.draft import plain_reason
from humble_relay.core.plan.secrets import sealed, withheld
from humble_relay.core.plan.survey import Survey, numbered
from humble_relay.core.plan.upgrades import FORM, upgraded
from humble_relay.formats.json_text import read_json

LARGEST_BYTES = 50_000_000
"""The largest plan (12 MB as it is kept, up to twice that as it is written) with the largest survey (24 MB)."""


class PlanFile(Frozen):
    """What a plan file holds."""

    format: Literal["humble-relay-plan"] = "humble-relay-plan"
    version: Literal[12] = 12
    plan: Plan
    survey: Survey = Survey()


class UnreadableFile(ValueError):
    """A file that cannot be read; the message says why and what to do."""


def write_plan(plan: Plan, survey: Survey, keys: bool = False) -> str:
    """The plan file as text, a measurement a line; keys and passwords are left out unless asked for."""
    plan_text = (plan if keys else withheld(plan)).model_dump_json(indent=1)
    measurements = [m if keys else sealed(m, lambda _: HIDDEN) for m in survey.measurements]
    facts = [f if keys else sealed(f, lambda _: HIDDEN) for f in survey.facts]
    lines, more = (
        ",\n".join(f"  {x.model_dump_json(exclude_defaults=True)}" for x in found)
        for found in (measurements, facts)
    )
    return (
        f'{{\n"format": "humble-relay-plan",\n"version": {FORM},\n"plan": {plan_text},\n'
        f'"survey": {{"measurements": [\n{lines}\n], "facts": [\n{more}\n]}}\n}}\n'
    )


def read_plan(data: bytes | str) -> PlanFile:
    """The plan file read, of this version's form or an older one. Raises UnreadableFile with what to change.

    A measurement of an uplink that the plan no longer has is kept.
    """
    if len(data) > LARGEST_BYTES:
        raise UnreadableFile(
            f"The file is {len(data) / 1e6:.0f} MB; a plan file is at most {LARGEST_BYTES / 1e6:.0f} MB."
        )
    doc = read_document(data, "humble-relay-plan", "a plan", UnreadableFile)
    form = doc["version"]
    if form < FORM:
        doc = {**doc, "version": FORM, "plan": upgraded("plan", doc.get("plan", {}), form)}
        if isinstance(survey := doc.get("survey"), dict) and isinstance(survey.get("measurements"), list):
            measurements = [upgraded("measurement", m, form) for m in survey["measurements"]]
            doc["survey"] = {**survey, "measurements": measurements}
            if isinstance(survey.get("facts"), list):
                doc["survey"]["facts"] = [upgraded("fact", f, form) for f in survey["facts"]]
    try:
        found = PlanFile.model_validate(doc)
    except ValidationError as error:
        raise UnreadableFile(f"The plan cannot be used as it stands. {plain_reason(error)}.") from None
    whole = Survey.model_construct(
        measurements=numbered(found.survey.measurements), facts=numbered(found.survey.facts, letter="f")
    )
    return found.model_copy(update={"survey": whole})


def read_document(
    data: bytes | str, format: str, noun: str, refusal: type[ValueError], newest: int = FORM
) -> dict[str, Any]:
    """A JSON document that says its format and its form, up to the newest there is. Raises the refusal with what to do."""
    try:
        doc = read_json(data)
    except ValueError as error:
        raise refusal(
            f"This is not JSON, or more than can be read: {error}. Choose a file exported as {noun}."
        ) from None
    if not isinstance(doc, dict) or doc.get("format") != format:
        raise refusal(f'This is JSON but not {noun}: it does not say "format": "{format}".')
    form = doc.setdefault("version", 1)
    if not isinstance(form, int) or isinstance(form, bool) or form < 1:
        raise refusal(f'The file does not say which version of its form it has: "version": 1 to {newest}.')
    if form > newest:
        raise refusal(
            f"This is {noun} written by a newer version (file version {form}, this one reads up to {newest}). Update Humble Relay."
        )
    return doc


def schema() -> dict[str, Any]:
    """The JSON Schema of the plan file (draft 2020-12)."""
    found = PlanFile.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Humble Relay plan", **found}
