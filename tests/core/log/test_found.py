"""What was found stands over what was planned, by one rule: an answer in the log does what the same edit would do."""

import random
from datetime import timedelta
from typing import Any

import pytest

from humble_relay.core.judgement import findings, proven
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.found import typed_over
from humble_relay.core.judging.wanted import Wanted
from humble_relay.core.log.entries import AnyEntry, FactEntry, LineEntry, LogLine, Withdrawal, WithdrawalEntry
from humble_relay.core.log.fold import carried_log, folded, log_of
from humble_relay.core.plan import Cable, Plan
from humble_relay.core.plan.survey import Fact
from humble_relay.examples import example_plan, examples
from tests.build import NOW, STEADY, case_of, edit_of, put, small_show
from tests.soak import part

VALUES: dict[str, Any] = {"number": 12.0, "text": "192.168.20.77"}


def value_for(want: Wanted) -> Any:
    return want.choices[0].value if want.typed == "choice" else VALUES[want.typed]


def stripped(plan: Plan) -> Plan:
    """The plan with much of what somebody has to find out forgotten."""
    made = {
        "links": tuple(
            x.model_copy(update={"length_m": None} if isinstance(x, Cable) else {}) for x in plan.links
        ),
        "networks": tuple(
            x.model_copy(update={"guest_isolation": None, "range": None}) for x in plan.networks
        ),
        "devices": tuple(d.model_copy(update={"power": None, "delay_ms": None}) for d in plan.devices),
        "uplinks": tuple(u.model_copy(update={"others_mbps": None}) for u in plan.uplinks),
        "spans": (),
    }
    return plan.model_copy(update=made)


def asked() -> list[tuple[str, Case, Wanted]]:
    """Every fact that is wanted of the reference shows, as they are and with much forgotten."""
    found = []
    for id in part(sorted(examples()), 3):
        show = example_plan(id)
        for plan in (show.plan, stripped(show.plan)):
            case = Case(plan, show.survey, NOW)
            found += [(id, case, w) for w in proven(case).wanted if w.facts]
    return found


ASKED = asked()


@pytest.mark.parametrize(("name", "case", "want"), ASKED, ids=[f"{n}: {w.id}" for n, _, w in ASKED])
def test_what_is_wanted_is_answered_in_the_log_as_by_an_edit(name: str, case: Case, want: Wanted) -> None:
    value = value_for(want)
    edits = [
        edit_of(e.model_dump() | ({"value": value} if getattr(e, "value", "") is None else {}))
        for e in want.edits
    ]
    facts = tuple(
        Fact(
            at=NOW - timedelta(hours=1),
            noun=f.noun,
            thing=f.thing,
            part=f.part,
            quantity=f.quantity,
            value=value,
            unit=f.unit,
        )
        for f in want.facts
    )
    by_edit = case.after(edits)
    by_log = Case(
        case.intended, case.survey.model_copy(update={"facts": (*case.survey.facts, *facts)}), NOW, case.stock
    )
    assert [(w.id, w.things) for w in proven(by_log).wanted] == [
        (w.id, w.things) for w in proven(by_edit).wanted
    ]
    assert proven(by_log).wanted != proven(case).wanted
    assert {f.id for f in findings(by_log)} == {f.id for f in findings(by_edit)}
    assert by_log.intended == case.intended  # what was planned is as it was


def length(id: str, metres: float, minutes: float = 0, **more: Any) -> FactEntry:
    at = NOW + timedelta(minutes=minutes)
    return FactEntry(
        id=id, at=at, body=Fact(at=at, noun="link", thing="run", quantity="length_m", value=metres), **more
    )


def run_length(log: list[AnyEntry]) -> float | None:
    return next(x.length_m for x in case_of(small_show(), folded(log)).plan.links if x.id == "run")  # type: ignore[union-attr]


def test_the_newest_found_counts_and_of_two_at_one_time_the_later_in_the_log() -> None:
    assert run_length([length("a", 70), length("b", 60, -5)]) == 70
    assert run_length([length("a", 70), length("b", 60)]) == 60
    gone = WithdrawalEntry(id="c", body=Withdrawal(of="b"))
    assert run_length([length("a", 70), length("b", 60), gone]) == 70
    back = WithdrawalEntry(id="d", body=Withdrawal(of="b", withdrawn=False))
    assert run_length([length("a", 70), length("b", 60), gone, back]) == 60
    corrected = [length("a", 70), length("b", 60, -5, corrects="a"), length("c", 55, -5, corrects="b")]
    assert run_length(corrected) == 55 and [f.id for f in folded(corrected).facts] == ["a"]
    line = LineEntry(id="e", body=LogLine(text="wind gets up"))
    assert folded([*corrected, line]) == folded(corrected)  # lines are judged by nowhere


def test_what_is_typed_over_a_found_value_corrects_it_and_emptied_it_is_as_planned() -> None:
    log: list[AnyEntry] = [*log_of(STEADY), length("a", 70)]
    case = case_of(small_show(), folded(log))
    edits = [put("link", "run", "length_m", 64), put("show", None, "notes", "x")]
    over, of_plan = typed_over(folded(log), edits, NOW)
    assert [e.kind for e in over] == ["fact"] and of_plan == (edits[1],) and run_length([*log, *over]) == 64
    after = case.after(edits)
    length_of = lambda plan: next(x.length_m for x in plan.links if x.id == "run")  # noqa: E731
    assert (length_of(after.plan), length_of(after.intended)) == (64, 40)  # what was planned is as it was
    emptied = typed_over(folded(log), [put("link", "run", "length_m", None)], NOW)
    assert emptied.edits == () and run_length([*log, *emptied.entries]) == 40
    trial = FactEntry(
        id="t", at=NOW, body=Fact(at=NOW, noun="link", thing="run", quantity="works", value=True)
    )
    again = carried_log(
        [*log, *over, trial, LineEntry(id="e", body=LogLine(text="over"))], lambda f: f"{f.thing} worked"
    )
    assert folded(again).facts[0].value == 64 and [e.kind for e in again][-2:] == ["fact", "line"]
    assert [e.body.text for e in again if isinstance(e, LineEntry)] == [
        "run worked"
    ]  # a trial settles nothing in another show


@pytest.mark.parametrize(("noun", "thing", "quantity", "value"), [
    ("device", "encoder", "place", "ghost"), ("stream", "feed", "key", "x"), ("link", "feed", "key", "tide-table"),
    ("device", "camera", "id", "other"), ("network", "lan", "site", "ghost"), ("link", "run", "from_port", "ghost/x"),
    ("device", "camera", "kind", "router"), ("link", "run", "length_m", "long"), ("place", "slipway", "site", "x"),
])  # fmt: skip
def test_what_is_no_finding_is_kept_and_laid_over_nothing(
    noun: str, thing: str, quantity: str, value: Any
) -> None:
    """No fact sets a reference, a secret, what a thing is, or what its field does not take."""
    if noun == "stream":
        noun = "link"
    fact = Fact.model_validate(
        {"at": NOW, "noun": noun, "thing": thing, "quantity": quantity, "value": value}
    )
    case = case_of(small_show(), STEADY.model_copy(update={"facts": (fact,)}))
    assert case.found == case.intended


def test_a_log_in_any_order_of_arrival_comes_to_the_same_facts() -> None:
    """Two phones out of reach: what was found later counts, whichever of them is back first."""
    entries = [length(f"p{n}", 40 + n, n) for n in range(8)]
    for seed in range(20):
        arrived = random.Random(seed).sample(entries, len(entries))
        assert run_length(list(arrived)) == 47
