"""The command bar before a stranger: two hundred and fifty lines as technicians type them, on two plans of different names and on none."""

import re
from functools import cache
from pathlib import Path

import pytest

from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Plan, Show
from humble_relay.core.plan.edits.draft import EditRefused, apply
from humble_relay.core.plan.survey import Survey
from humble_relay.core.views.command_bar import read_command
from humble_relay.core.views.commands.go_to import PAGES
from humble_relay.core.views.commands.line_meaning import Alternative
from humble_relay.demo import demo_plan
from humble_relay.examples import example_plan
from tests.build import NOW

LINES = [
    tuple(part.strip() for part in f"{row} ".split(" | ", 2))
    for row in (Path(__file__).parent / "typed_lines.txt").read_text().splitlines()
    if row and not row.startswith("#")
]
OTHER_NAMES = {"Boathouse": "Chapel", "Slipway": "Porch", "Production computer": "Mixing computer", "Alder": "Dogwood", "Birch": "Elder", "Show network": "House network"}  # fmt: skip


@cache
def case(of: str) -> Case:
    """The demo; an example under other names; or a plan that has nothing in it yet."""
    if of == "empty":
        return Case(Plan(show=Show(name="Lantern evening", zone="Europe/London")), Survey(), NOW)
    found = demo_plan() if of == "regatta" else example_plan("network-cameras")
    text = found.plan.model_dump_json()
    for name, other in OTHER_NAMES.items() if of != "regatta" else ():
        text = text.replace(f'"{name}', f'"{other}').replace(f" {name}", f" {other}")
    return Case(type(found.plan).model_validate_json(text), found.survey, NOW)


def told(found: list[Alternative]) -> str:
    return "\n".join(a.title for a in found[:3])


def test_of_two_hundred_lines_most_are_understood_and_the_rest_answered() -> None:
    meant = [(of, line, wanted) for of, line, wanted in LINES if wanted]
    missed = [
        (of, line, told(found))
        for of, line, wanted in meant
        if not re.search(wanted, told(found := read_command(case(of), line)))
    ]
    assert len(LINES) >= 250 and len(LINES) - len(missed) >= 0.85 * len(LINES), missed
    for of, line, _ in LINES:  # and none is met with silence
        assert read_command(case(of), line), line


@pytest.mark.parametrize(
    "line",
    [
        f"boathouse fibre {'9' * 30} up", f"add place {'x' * 120}", f"alder {'9' * 400} mb", "forward 99999 to net loft decoder", "start 40 Feb", "rename alder ",
        "add phone as backup at nowhere", "add 99999 cameras", "((((", "alder key", "move to", "remove", "print \x00", "é" * 200, "1080p999", "slipway to slipway 40 m",
    ],
)  # fmt: skip
def test_what_no_plan_can_hold_is_answered_and_breaks_nothing(line: str) -> None:
    assert all(a.title for a in read_command(case("regatta"), line))


@pytest.mark.parametrize(("of", "line"), [(of, line) for of, line, _ in LINES])
def test_what_is_offered_can_be_made(of: str, line: str) -> None:
    """Each of the first answers is made on the plan: it is taken, or refused with a reason, and says what it would do."""
    for found in read_command(case(of), line)[:4]:
        assert found.title and (found.edits or found.go or found.do or found.pick or found.measured or "Nothing" in found.title or "nothing" in found.title)  # fmt: skip
        if found.edits:
            try:
                assert (
                    apply(case(of).plan, found.edits) != case(of).intended
                    or "→" in found.title
                    or ":" in found.title
                )
            except EditRefused as why:
                assert str(why)


def test_every_page_that_a_line_leads_to_is_a_page_of_its_stage() -> None:
    stages = Path(__file__).parents[3] / "frontend" / "src" / "stages"
    for title, stage, page, _ in PAGES:
        drawn = "".join(f.read_text() for f in (stages / stage).glob("*.tsx"))
        assert not page or f'id: "{page}"' in drawn, title
