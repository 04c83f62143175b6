"""The plan file: a plan and its log as one JSON document, with a published JSON Schema."""

from collections.abc import Sequence
from functools import cached_property
from itertools import count
from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, model_validator

from humble_relay.core.frozen import Frozen
from humble_relay.core.hidden_text import HIDDEN
from humble_relay.core.log.entries import MOST_ENTRIES, AnyEntry, Entry
from humble_relay.core.log.fold import folded, log_of
from humble_relay.core.plan import Plan
from humble_relay.core.plan.edits.draft import plain_reason
from humble_relay.core.plan.secrets import sealed_text, telling_keys, withheld
from humble_relay.core.plan.survey import Survey
from humble_relay.core.plan.upgrades import FORM, What, form_13, upgraded
from humble_relay.formats.json_text import read_json

LARGEST_BYTES = 50_000_000
"""The largest plan (12 MB as it is kept, up to twice that as it is written) with the largest survey (24 MB)."""


class PlanFile(Frozen):
    """What a plan file holds."""

    format: Literal["humble-relay-plan"] = "humble-relay-plan"
    version: Literal[15] = 15
    plan: Plan
    log: Annotated[tuple[Entry, ...], Field(max_length=MOST_ENTRIES, fail_fast=True)] = ()

    @model_validator(mode="after")
    def _each_once(self) -> "PlanFile":
        if len({e.id for e in self.log}) < len(self.log):
            raise ValueError("two entries of the log have the same id: give one another")
        return self

    @cached_property
    def survey(self) -> Survey:
        """What the log comes to."""
        return folded(self.log)


class UnreadableFile(ValueError):
    """A file that cannot be read; the message says why and what to do."""


def write_plan(plan: Plan, found: Survey | Sequence[AnyEntry], keys: bool = False) -> str:
    """The plan file as text, an entry of its log a line; keys and passwords are left out unless asked for."""
    plan_text = (plan if keys else withheld(plan)).model_dump_json(indent=1)
    log = log_of(found) if isinstance(found, Survey) else found
    known = telling_keys(plan)
    lines = ",\n".join(_line(e if keys else sealed_text(e, lambda _: HIDDEN, known)) for e in log)
    return (
        f'{{\n"format": "humble-relay-plan",\n"version": {FORM},\n"plan": {plan_text},\n'
        f'"log": [\n{lines}\n]\n}}\n'
    )


def _line(entry: AnyEntry) -> str:
    """An entry, its kind first; its place in the log of this folder is of no other."""
    rest = entry.model_dump_json(exclude={"sequence", "kind"}, exclude_defaults=True)
    return f'{{"kind": "{entry.kind}", {rest[1:]}'


def read_plan(data: bytes | str) -> PlanFile:
    """The plan file read, of this version's form or an older one. Raises UnreadableFile with what to change.

    An entry of a thing that the plan no longer has is kept.
    """
    if len(data) > LARGEST_BYTES:
        raise UnreadableFile(
            f"The file is {len(data) / 1e6:.0f} MB; a plan file is at most {LARGEST_BYTES / 1e6:.0f} MB."
        )
    doc = read_document(data, "humble-relay-plan", "a plan", UnreadableFile)
    form = doc["version"]
    if form < FORM:
        doc = _in_todays_form(doc, form)
    try:
        return PlanFile.model_validate(doc)
    except ValidationError as error:
        raise UnreadableFile(f"The plan cannot be used as it stands. {plain_reason(error)}.") from None


_FOUND: tuple[What, What] = ("measurement", "fact")
_LOGGED = 13
"""The first form in which a plan file has a log."""


def _in_todays_form(doc: dict[str, Any], form: int) -> dict[str, Any]:
    plan, rest = doc.get("plan", {}), {k: v for k, v in doc.items() if k != "survey"}
    if form < _LOGGED:
        plan, survey = upgraded("plan", plan, form, to=_LOGGED - 1), doc.get("survey", {})
        if not isinstance(survey, dict):
            return {
                **rest,
                "version": FORM,
                "plan": plan,
                "survey": survey,
            }  # for validation to say what is wrong
        measurements, facts = (
            _numbered([upgraded(what, m, form, to=_LOGGED - 1) for m in _listed(survey.get(f"{what}s"))], what[0])
            for what in _FOUND
        )  # fmt: skip
        rest["log"] = [*form_13.log(plan if isinstance(plan, dict) else {}, measurements, facts)]
        form = _LOGGED - 1
    log = rest.get("log")
    if isinstance(log, list):
        rest["log"] = [upgraded("entry", e, max(form, _LOGGED)) for e in log]
    return {**rest, "version": FORM, "plan": upgraded("plan", plan, form)}


def _listed(found: Any) -> list[Any]:
    """A list as it is; what is none, for validation to say what is wrong with it."""
    return found if isinstance(found, list) else [] if found is None else [found]


def _numbered(found: list[Any], letter: str) -> list[Any]:
    """The measurements or facts of an older file, those without an id named `m1`, `m2` and so on, passing over ids in use."""
    taken = {str(m.get("id")) for m in found if isinstance(m, dict)}
    free = (f"{letter}{n}" for n in count(1) if f"{letter}{n}" not in taken)
    return [m if not isinstance(m, dict) or m.get("id") else {**m, "id": next(free)} for m in found]


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
