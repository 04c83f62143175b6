"""Sound shows of eighteen kinds of job, varied, and each of them broken in every way it can be: no false alarm, and no silence.

500 shows under `make soak`, 36 in `make test`, two of each job.
"""

import random
from collections import Counter

import pytest

from humble_relay.core.cures.deciders import ELSE
from humble_relay.core.cures.trial import remedies
from humble_relay.core.hidden_text import salted
from humble_relay.core.judgement import answers, findings
from humble_relay.core.judging.case import Case
from humble_relay.core.plan.secrets import sealed
from tests import soak
from tests.breaks import BREAKS, broken
from tests.jobs import JOBS
from tests.slips import SLIPS
from tests.soak import of_many
from tests.variants import VARIANTS, sound

SHOWS = of_many(24, 500)


PUT = salted(b"regatta")


def as_kept(case: Case) -> Case:
    """The case as it is judged for a page or a command: its secrets are marks."""
    return case.with_plan(sealed(case.intended, PUT))


def stops(case: Case) -> list[str]:
    return [f.id for f in findings(case) if f.severity == "stops"]


def worst_on(case: Case, on: set[str]) -> str:
    """The worst that is said of any of the things: `stops`, `risks`, `not known`, or nothing."""
    said = {f.severity for f in findings(case) if f.severity != "note" and on & set(f.id.split(":")[1:])}
    if said:
        return "stops" if "stops" in said else "risks"
    return (
        "not known"
        if any(a.state == "not known" and on & set(a.thing[1:]) for a in answers(case).every)
        else ""
    )


@pytest.mark.no_cover
@pytest.mark.parametrize("job", range(len(JOBS)), ids=lambda n: JOBS[n].__name__)
def test_nothing_is_wrong_with_a_sound_show_and_every_break_is_found_where_it_is(job: int) -> None:
    tried: Counter[str] = Counter()
    for seed in range(job, SHOWS, len(JOBS)):
        show = sound(seed)
        kept = as_kept(show.case)
        late = (
            {"sources-apart"} if show.job in ("j6", "j12") else set()
        )  # RTSP and a paired link beside a cable: a doubt
        assert {f.rule for f in findings(kept) if f.severity != "note"} <= late, seed
        assert {a.check for a in answers(kept).every if a.state != "holds"} <= late, seed
        for name in BREAKS:
            done = broken(show.case.intended, name, seed)
            if done is None:
                continue
            tried[name] += 1
            found = stops(as_kept(show.case.after(done.edits)))
            assert any(done.on & set(id.split(":")[1:]) for id in found), (seed, name, done.on, found)
        for name, slip in SLIPS.items():
            drawn = list(slip(show.case.plan))
            if not drawn:
                continue
            tried[name] += 1
            one = random.Random(seed).choice(drawn)
            worst = worst_on(as_kept(show.case.after(one.edits)), one.on)
            assert worst == "stops" or (worst and one.least != "stops"), (seed, name, one.on, worst)
    assert len(tried) >= 40, tried


@pytest.mark.no_cover
@soak.further
def test_every_way_of_breaking_can_be_done_to_some_show() -> None:
    assert len(BREAKS) >= 50 and len(SLIPS) >= 35
    shows = [sound(seed) for seed in range(90)]
    assert [name for name in BREAKS if not any(broken(show.case.plan, name, 0) for show in shows)] == []
    assert [
        name for name, slip in SLIPS.items() if not any(list(slip(show.case.plan)) for show in shows)
    ] == []
    assert {v.__name__ for v in VARIANTS} == {v for show in shows for v in show.variants}


@soak.further
@pytest.mark.no_cover
@pytest.mark.parametrize("name", BREAKS)
def test_what_stops_the_show_has_a_fix_or_it_is_said_who_decides(name: str) -> None:
    """Of each way to break a show, on the first show that it can be done to; a fix ends its finding and brings no other that stops."""
    drawn = ((show, broken(show.case.intended, name, seed)) for seed in range(90) for show in [sound(seed)])
    show, done = next((show, done) for show, done in drawn if done)
    case = as_kept(show.case.after(done.edits))
    for finding in (f for f in findings(case) if f.severity == "stops"):
        found = remedies(case, finding.id)
        assert found.cures or found.decides != ELSE, (finding.id, finding.wrong)
        assert all(finding.id in {f.id for f in tried.gone} for tried in found.cures)
