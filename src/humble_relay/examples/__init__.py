"""Reference shows, one of each kind of job, as plan files: each with a line on what it shows, and a broken twin."""

import json
from functools import cache
from importlib.resources import files
from typing import Any

from pydantic import TypeAdapter

from humble_relay.core.frozen import Frozen, Slug
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.edits.draft import apply
from humble_relay.formats.plan_file import PlanFile, read_plan


class BrokenTwin(Frozen):
    """What is changed of a reference show so that it fails: in words, as edits, and the finding that must come."""

    title: str
    edits: tuple[Edit, ...]
    finds: str


class Example(Frozen):
    """A reference show: what it shows, what it still waits for (empty: nothing), and its broken twin."""

    id: Slug
    title: str
    shows: str
    waits_for: str
    twin: BrokenTwin


@cache
def examples() -> dict[str, Example]:
    """Every reference show, by id."""
    entries: list[dict[str, Any]] = json.loads(_read("index.json"))
    found = TypeAdapter(list[Example]).validate_python(entries)
    return {e.id: e for e in found}


def example_plan(id: str, broken: bool = False) -> PlanFile:
    """The plan and survey of a reference show, or of its broken twin. Raises KeyError for no such show."""
    example = examples()[id]
    found = read_plan(_read(f"{id}.json"))
    if not broken:
        return found
    plan = apply(found.plan, example.twin.edits)
    show = plan.show.model_copy(update={"name": f"{plan.show.name}, with a fault"})
    return found.model_copy(update={"plan": plan.model_copy(update={"show": show})})


def _read(name: str) -> str:
    return files("humble_relay.examples").joinpath(name).read_text(encoding="utf-8")
