"""What was worked out of a case is there for the next question about it, and one who gave up takes nothing with him."""

from datetime import timedelta

import pytest

from humble_relay.core.catalogue.stock import Stock
from humble_relay.core.judgement import answers, findings
from humble_relay.core.patience import Stopped, patient
from humble_relay.core.plan.edits.draft import apply
from humble_relay.web.cases import MOST, RecentCases
from tests.build import NOW, STEADY, put, small_show


def gone() -> None:
    raise Stopped("Nobody waits for this any more.")


def test_the_same_question_is_worked_out_once_and_another_anew() -> None:
    recent, plan = RecentCases(), small_show()
    case = recent.of(plan, STEADY, Stock(), NOW, patient)
    found = answers(case)
    again = recent.of(small_show(), STEADY, Stock(), NOW, patient)  # equal, and not the same object
    assert again is case and answers(again) is found
    longer = apply(plan, [put("link", "run", "length_m", 140)])
    other = recent.of(longer, STEADY, Stock(), NOW, patient)
    assert other is not case and "cable-too-long" in {f.rule for f in findings(other)}
    assert recent.of(plan, STEADY, Stock(), NOW + timedelta(minutes=1), patient) is not case
    for n in range(MOST):
        recent.of(apply(plan, [put("link", "run", "length_m", n + 1)]), STEADY, Stock(), NOW, patient)
    assert recent.of(plan, STEADY, Stock(), NOW, patient) is not case  # only the last few are kept


def test_who_gives_up_spoils_nothing_for_who_asks_next() -> None:
    recent, plan = RecentCases(), small_show()
    with pytest.raises(Stopped):
        answers(recent.of(plan, STEADY, Stock(), NOW, gone))
    case = recent.of(plan, STEADY, Stock(), NOW, patient)
    assert findings(case) == findings(RecentCases().of(plan, STEADY, Stock(), NOW, patient))
    # And what is first asked for much later stops with who asks for it then.
    with pytest.raises(Stopped):
        recent.of(plan, STEADY, Stock(), NOW, gone).once(lambda c: c.pulse())
