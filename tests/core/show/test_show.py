"""The order of the day, and what the stages say of themselves."""

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judging.case import Case
from humble_relay.core.papers.network_requests import port_requests, request_window
from humble_relay.core.papers.paper_tables import papers
from humble_relay.core.plan.edits import Remove, added
from humble_relay.core.plan.edits.draft import apply
from humble_relay.demo import demo_plan
from tests.build import NOW, STEADY, case_of, put, report_of, rules_of, small_show
from tests.jobs import Drawing, j16
from tests.shows import SHOWS, wire

NEW_ACCOUNT = put("device", "alder", "ingest.new_account", True)
SOON = put("show", None, "judge_at", "2026-09-19T09:00:00+00:00")


def test_lead_times_count_back_from_the_start_and_can_be_ticked_off() -> None:
    plan = small_show(NEW_ACCOUNT, put("site", "creek", "run_by", "venue"))
    tasks = {t.id: t for t in report_of(plan).order}
    # Common practice, no source: up to 24 h for a first live stream; days for a network department.
    assert tasks["open-account:alder"].minutes == -24 * 60
    assert tasks["ask-network:creek"].minutes == -(72 + 24) * 60
    assert "lead-time-missed" not in rules_of(plan)
    late = apply(plan, [SOON])
    missed = [f for f in report_of(late).findings if f.rule == "lead-time-missed"]
    assert len(missed) == 2
    ticked = STEADY.model_copy(update={"done": ("open-account:alder", "ask-network:creek")})
    assert "lead-time-missed" not in {f.rule for f in report_of(late, ticked).findings}


def test_the_order_feeds_before_it_looks_before_it_publishes_and_ends_in_reverse() -> None:
    order = [t.id for t in report_of(small_show()).order]
    steps = [
        "power-on",
        "start-feed:feed",
        "preview:feed",
        "publish:feed",
        "start",
        "over",
        "end-platform:feed",
        "stop-feed:feed",
    ]
    assert [s for s in order if s in steps] == steps


def test_a_show_without_a_platform_has_an_order_too() -> None:
    screen = [*SHOWS["networked"], *SHOWS["paired"], added(from_library("recorder", "card", "boathouse", "Card")),
              wire("switcher/clean", "card/sdi", "coax", 2), Remove(noun="device", id="alder")]  # fmt: skip
    order = [t.id for t in report_of(small_show(*screen)).order]
    steps = [
        "power-on",
        "bring-up:switcher",  # what it sends is started once it is up
        "join:feed-2",
        "see:screen",
        "see:card",
        "start",
        "over",
        "stop-stream:feed-2",
        "stop-recording:card",
    ]
    assert [s for s in order if s in steps] == steps and not [s for s in order if "publish" in s]


def test_every_stage_says_its_worst() -> None:
    states = {s.stage: s for s in report_of(small_show(put("link", "feed", "key", None))).stages}
    assert states["addresses"].worst == "stops" and states["addresses"].findings == 1
    assert states["signal"].worst is None and states["signal"].state == "begun"


def test_a_stage_whose_questions_want_a_fact_does_not_say_that_nothing_is_against_it() -> None:
    unsaid = {s.stage: s for s in report_of(small_show(put("device", "alder", "ingest.host", ""))).stages}
    assert [s.stage for s in unsaid.values() if s.not_known] == ["addresses"] and unsaid[
        "addresses"
    ].worst is None


def test_times_are_shown_on_the_clock_of_the_shows_own_zone() -> None:
    """19:30 UTC in September is 20:30 in London and 04:30 of the next day in Tokyo (IANA tz database)."""
    tasks = lambda zone: {t.id: t.at for t in report_of(small_show(put("show", None, "zone", zone))).order}  # noqa: E731
    assert [f"{tasks(z)['start']:%d %H:%M}" for z in ("", "Europe/London", "Asia/Tokyo")] == [
        "19 19:30",
        "19 20:30",
        "20 04:30",
    ]
    # The day before the clocks go back (25 October 2026, 02:00 in London) is 24 h before, at another hour of the clock.
    late = small_show(
        put("show", None, "zone", "Europe/London"),
        put("show", None, "starts_at", "2026-10-25T20:00:00+00:00"),
    )
    rehearse = next(t.at for t in report_of(late).order if t.id == "rehearse")
    assert rehearse and f"{rehearse:%d %H:%M %z}" == "24 21:00 +0100"


def test_publishing_is_never_planned_after_the_start_however_many_destinations_there_are() -> None:
    plan = small_show()
    push = plan.links[-1]
    many = plan.model_copy(
        update={"links": (*plan.links, *(push.model_copy(update={"id": f"p{n}"}) for n in range(40)))}
    )
    times = {
        phase: [t.minutes for t in report_of(many).order if t.id.startswith(phase)]
        for phase in ("start-feed", "preview", "publish")
    }
    assert [len(v) for v in times.values()] == [41, 41, 41]
    assert max(times["start-feed"]) <= min(times["preview"]) and max(times["preview"]) < min(times["publish"])
    assert -22 < min(times["publish"]) < -20 < max(times["publish"]) < 0  # 41 minutes of two people
    few = report_of(
        plan.model_copy(update={"links": (*plan.links, push.model_copy(update={"id": "p"}))})
    ).order
    assert [t.minutes for t in few if t.id.startswith("publish")] == [-5, -4]


def test_every_box_is_on_the_pull_list_whether_it_has_a_model_or_not() -> None:
    plan = small_show(put("device", "encoder", "model", ""))
    pull = next(t for t in papers(case_of(plan)) if t.id == "pull")
    assert {(row[0], row[1]) for row in pull.rows} >= {
        ("1", "Encoder"),
        ("1", "Teasel Field camera"),
        ("1", "SDI coax cable, 50 m"),
    }
    assert not any("Alder" in row[1] for row in pull.rows)


def test_the_request_names_each_box_its_way_and_what_else_would_do() -> None:
    """Outward for whoever sends, inward and forwarded for whoever is called from elsewhere; TCP for RTMPS, UDP for SRT
    (the published protocols); nothing of a network that is ours, nor of what goes by mobile data."""
    demo = demo_plan()
    case = Case(demo.plan, demo.survey, NOW)
    asked = [(r.device.id, r.inward, r.ports) for r in port_requests(case)]
    assert (
        asked[0][1:] == (False, "TCP 443")
        and ("slipway-phone", False, "TCP 443 to the service, and UDP for the picture") in asked
    )
    assert request_window(case) == "Sat 19 Sep 2026, 16:30 to 22:06"
    ours = case.after([put("site", next(iter(case.sites)), "run_by", "us")])
    assert not list(port_requests(ours))
    mobile = case.after([put("uplink", next(iter(case.uplinks)), "kind", "mobile")])
    assert not list(port_requests(mobile))
    drawing = Drawing(1)
    j16(drawing)
    drawing.edits.append(put("site", "town", "run_by", "venue"))
    (called,) = port_requests(drawing.case())
    assert (called.device.id, called.inward, called.ports, called.if_refused) == (
        "decoder", True, "UDP 9000", "both ends call a relay on the internet instead")  # fmt: skip
