"""How a show is published: twins, what is near a fault and none, and what is asked."""
# fmt: off

from typing import Any

import pytest

from humble_relay.core.judgement import findings, proven
from humble_relay.core.plan.edits import Edit, SetFigure
from tests.build import case_of, put, small_show
from tests.core.twins import Twin, hold, named
from tests.shows import SHOWS


def published(**how: Any) -> list[Edit]:
    return [put("device", "alder", "ingest.publication", how)]


TWINS = [
    Twin("plain", published(event="instant", links_out=True), "link-leads-nowhere:alder:publication stops", "the stream makes a post of its own", "Attach it to an event"),
    Twin("plain", published(starts="by-itself", privacy="public"), "live-unseen:alder:publication risks", "as soon as picture comes", "Have it go live by hand"),
    Twin("plain", published(event="scheduled", stops_on_drop=True), "stops-by-itself:alder:publication risks", "ends the show by itself", "Switch auto-stop off"),
    Twin("plain", published(approval="asked", approval_h=200), "approval-open:alder:publication risks", "It takes 200 h there, and the show starts in 130 h"),
    # Two hours of show, and the feed 30 min before it.
    Twin("plain", published(cap_h=1.9), "longer-than-taken:alder:publication stops", "takes streams of 1.9 h; the show and the feed before it are 2.5 h"),
    Twin("plain", published(cap_h=2.2), "longer-than-taken:alder:publication risks", "takes streams of 2.2 h"),
]
GOOD: dict[str, list[Edit]] = {
    "an event made ahead": published(event="scheduled", links_out=True),
    "a page that stays, whatever drops": published(event="persistent", links_out=True, stops_on_drop=True),
    "a post, and nobody has a link": published(event="instant", links_out=False),
    "private until it was looked at": published(starts="by-itself", privacy="private"),
    "approval given": published(approval="given", approval_h=24),
    "a stream of two and a half hours": published(cap_h=2.5),
    "an hour is enough where it begins with the show": [*published(cap_h=2), SetFigure(figure="feed-lead", value=0)],
    "nothing said": published(),
}


@pytest.mark.parametrize("twin", TWINS, ids=named(TWINS))
def test_its_broken_twin_has_these_findings_and_no_others_and_is_cured_as_it_says(twin: Twin) -> None:
    hold(twin)


@pytest.mark.parametrize("name", GOOD)
def test_what_is_near_a_fault_and_none_is_left_alone(name: str) -> None:
    assert not findings(case_of(small_show(*SHOWS["plain"], *GOOD[name])))


def test_what_decides_whether_a_link_leads_to_the_stream_is_asked() -> None:
    for said, asked in (({"links_out": True}, "attached to"), ({"event": "instant"}, "sent to anybody")):
        case = case_of(small_show(*SHOWS["plain"], *published(**said)))
        assert [w.question for w in proven(case).wanted if asked in w.question], said
