"""The plan file: a plan and its survey as one JSON document, with a published JSON Schema."""

import json
from typing import Any, Literal

from pydantic import ValidationError

from humble_relay.core.edits import plain_reason
from humble_relay.core.frozen import Frozen
from humble_relay.core.plan import Plan, without_keys
from humble_relay.core.survey import Survey

VERSION = 1
LARGEST_BYTES = 5_000_000


class PlanFile(Frozen):
    """What a plan file holds."""

    format: Literal["humble-relay-plan"] = "humble-relay-plan"
    version: Literal[1] = 1
    plan: Plan
    survey: Survey = Survey()


class UnreadableFile(ValueError):
    """A file that cannot be read; the message says why and what to do."""


def write_plan(plan: Plan, survey: Survey, keys: bool = False) -> str:
    """The plan file as text; stream keys are left out unless asked for."""
    kept = PlanFile(plan=plan if keys else without_keys(plan), survey=survey)
    return kept.model_dump_json(indent=2) + "\n"


def read_plan(data: bytes | str) -> PlanFile:
    """The plan file read. Raises UnreadableFile with a sentence that says what to change."""
    if len(data) > LARGEST_BYTES:
        raise UnreadableFile(
            f"The file is {len(data) / 1e6:.0f} MB; a plan file is at most {LARGEST_BYTES / 1e6:.0f} MB."
        )
    try:
        doc = json.loads(data)
    except (ValueError, RecursionError) as error:
        raise UnreadableFile(f"This is not JSON: {error}. Choose a file exported as a plan.") from None
    if not isinstance(doc, dict) or doc.get("format") != "humble-relay-plan":
        raise UnreadableFile('This is JSON but not a plan: it does not say "format": "humble-relay-plan".')
    version = doc.get("version")
    if isinstance(version, int) and version > VERSION:
        raise UnreadableFile(
            f"This plan was written by a newer version (file version {version}, this one reads {VERSION}). Update Humble Relay."
        )
    try:
        found = PlanFile.model_validate(doc)
    except ValidationError as error:
        raise UnreadableFile(f"The plan cannot be used as it stands. {plain_reason(error)}.") from None
    uplinks = {u.id for u in found.plan.uplinks}
    for m in found.survey.measurements:
        if m.uplink not in uplinks:
            raise UnreadableFile(f"A measurement points at uplink {m.uplink}, which the plan does not have.")
    return found


def schema() -> dict[str, Any]:
    """The JSON Schema of the plan file (draft 2020-12)."""
    found = PlanFile.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Humble Relay plan", **found}
