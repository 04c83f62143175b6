"""The reference shows: each is sound, proves what it says it proves, and its broken twin is found out."""

import pytest

from humble_relay.core.judgement import findings, proven
from humble_relay.core.judging.case import Case
from humble_relay.core.plan.survey import Survey
from humble_relay.examples import example_plan, examples
from tests.build import NOW

KINDS_OF_JOB = 18


def test_there_is_one_for_each_kind_of_job() -> None:
    assert len(examples()) == KINDS_OF_JOB
    assert sum(not e.waits_for for e in examples().values()) >= 14


@pytest.mark.parametrize("id", examples())
def test_a_reference_show_proves_itself_and_its_broken_twin_does_not(id: str) -> None:
    example, found = examples()[id], example_plan(id)
    case = Case(found.plan, found.survey, NOW)
    assert [f.id for f in findings(case) if f.severity == "stops"] == [] and proven(case).wanted == ()
    assert [f.id for f in findings(case) if f.severity == "risks" and not f.accepted] == []
    states = {p.state for p in proven(case).proofs}
    assert states == {"proven"} or (example.waits_for and states <= {"proven", "not asked yet"}), states
    unsurveyed = proven(Case(found.plan, Survey(), NOW))
    assert 1 <= len(unsurveyed.wanted) <= 15
    twin = example_plan(id, broken=True)
    stops = {f.id for f in findings(Case(twin.plan, twin.survey, NOW)) if f.severity == "stops"}
    assert example.twin.finds in stops
