"""Sound shows of eighteen kinds of job, and each of them broken in every way it can be: no false alarm, and no silence.

300 shows under `make soak` 36 in `make test`, two of each job.
"""

from collections import Counter

import pytest

from humble_relay.core.judgement import answers, findings
from humble_relay.core.judging.case import Case
from tests.breaks import BREAKS, broken
from tests.jobs import JOBS, sound
from tests.soak import of_many

SHOWS = of_many(36, 300)


def stops(case: Case) -> list[str]:
    return [f.id for f in findings(case) if f.severity == "stops"]


@pytest.mark.no_cover
@pytest.mark.parametrize("job", range(len(JOBS)), ids=lambda n: JOBS[n].__name__)
def test_nothing_is_wrong_with_a_sound_show_and_every_break_is_found_where_it_is(job: int) -> None:
    tried: Counter[str] = Counter()
    for seed in range(job, SHOWS, len(JOBS)):
        show = sound(seed)
        late = (
            {"sources-apart"} if show.job in ("j6", "j12") else set()
        )  # RTSP and a paired link beside a cable: a doubt
        assert {f.rule for f in findings(show.case) if f.severity != "note"} <= late, seed
        assert {a.check for a in answers(show.case).every if a.state != "holds"} <= late, seed
        for name in BREAKS:
            done = broken(show.case.plan, name, seed)
            if done is None:
                continue
            tried[name] += 1
            found = stops(show.case.after(done.edits))
            assert any(done.on & set(id.split(":")[1:]) for id in found), (seed, name, done.on, found)
    assert len(tried) >= 20, tried


@pytest.mark.no_cover
def test_every_way_of_breaking_can_be_done_to_some_show() -> None:
    assert len(BREAKS) >= 50
    plans = [sound(seed).case.plan for seed in range(36)]
    assert [name for name in BREAKS if not any(broken(plan, name, 0) for plan in plans)] == []
