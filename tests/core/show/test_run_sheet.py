"""The run sheet: what comes before what, how long it takes by practice, what is done by what was seen, and the way out where it is late."""

from datetime import UTC, datetime, timedelta

import pytest

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judging.case import Case
from humble_relay.core.log.entries import (
    AnyEntry,
    SeenEntry,
    SetupSeen,
    TaskEntry,
    TaskMark,
    Withdrawal,
    WithdrawalEntry,
)
from humble_relay.core.plan import Stream
from humble_relay.core.plan.edits import SetFigure, added
from humble_relay.core.plan.survey import Survey
from humble_relay.core.setup.day import day_of
from humble_relay.core.setup.seen_pictures import seen_pictures
from humble_relay.core.show.day_jobs import walk_of
from humble_relay.core.show.go_live_order import Task, order
from humble_relay.core.show.minutes_in_log import logged_minutes
from humble_relay.core.show.time_to_spare import time_to_spare
from humble_relay.core.views.setup_view import setup_view
from humble_relay.demo import demo_plan
from humble_relay.examples import example_plan, examples
from tests.build import hd, put, small_show

STARTS = datetime(2026, 9, 19, 18, 30, tzinfo=UTC)


def demo() -> Case:
    return Case(demo_plan().plan, Survey(), STARTS).after([put("show", None, "judge_at", None)])


def tasks_of(case: Case) -> dict[str, Task]:
    return {t.id: t for t in order(case)}


def test_what_must_come_before_does_in_every_show_and_nobody_is_late_by_plan() -> None:
    # Network sources before they are looked for; a relay's preview before its destinations; preview before publishing; off in reverse,
    # decoders and network cameras too; then copied off (common practice, no source).
    for show in (*examples(), "demo"):
        case = demo() if show == "demo" else Case(example_plan(show).plan, Survey(), STARTS)
        at = {id: t.minutes for id, t in tasks_of(case).items()}
        for id, task in tasks_of(case).items():
            for before in task.after:
                assert at[before] + tasks_of(case)[before].takes <= at[id] + 1e-9, (show, before, id)
            assert task.latest is None or at[id] <= task.latest + 1e-9
        for stream in case.streams:
            taker = case.devices[stream.to_device]
            if taker.ingest:
                assert at[f"start-feed:{stream.id}"] < at[f"preview:{stream.id}"]
                assert at.get(f"publish:{stream.id}", 0) > at[f"preview:{stream.id}"]
                for on in case.streams_from.get(taker.id, ()):
                    assert at[f"preview:{stream.id}"] < at[f"start-feed:{on.id}"]
                assert at[f"stop-feed:{stream.id}"] > at.get(f"end-platform:{stream.id}", 0) >= 0
            else:
                assert at[f"join:{stream.id}"] < at.get(f"bring-up:{taker.id}", 0)
                assert at[f"stop-stream:{stream.id}"] > 0
        for id in at:
            if id.startswith("stop-recording:"):
                assert at[id] < at[id.replace("stop-recording", "copy-off")]


def test_minutes_are_those_of_practice_and_the_plan_may_set_others() -> None:
    # A metre of cable in 6 s, a camera 10 min, an address 3, a profile 5, a sound line 8, 60 m a minute on foot (common practice, no source).
    found = tasks_of(demo())
    assert found["stand:weir-cam"].takes == 10
    assert found["rig:boathouse:weir-tower"].takes == pytest.approx(15.4)  # 154 m
    assert found["set:switcher"].takes == 1 + 2 + 1 + 5 * 1 + 2 * 1 + 8 + 1
    slow = tasks_of(
        demo().after([SetFigure(figure="lay-speed", value=5), SetFigure(figure="people", value=1)])
    )
    assert slow["rig:boathouse:weir-tower"].takes == pytest.approx(30.8)
    assert min(t.minutes for t in slow.values() if t.phase == "set up") < min(t.minutes for t in found.values() if t.phase == "set up") * 1.6  # fmt: skip
    # What had another name when it was ticked is ticked still.
    ticked = Case(demo_plan().plan, Survey(done=("check-encoder:boathouse-encoder",)), STARTS)
    assert tasks_of(ticked)["set:boathouse-encoder"].done


def test_time_to_spare_counts_what_is_left_and_says_the_way_out() -> None:
    case = demo()
    nothing = day_of(case, [], STARTS)
    early = time_to_spare(case, nothing, STARTS - timedelta(hours=48))
    assert early.says == "Begin by Sat 19 Sep 2026, 16:17"
    first = -min(b.at for b in early.when.values())
    some = time_to_spare(case, nothing, STARTS - timedelta(minutes=first + 12.5))
    assert some.says == "12 min to spare" and some.spare_min == pytest.approx(12.5)
    short = time_to_spare(case, nothing, STARTS - timedelta(minutes=first - 7))
    assert short.spare_min == pytest.approx(-7)
    assert short.says.startswith("7 min short: drop ") and short.says.endswith(", or start at 19:40")
    dropped = short.says.removeprefix("7 min short: drop ").partition(",")[0]
    assert dropped in [d.name for d in case.devices.values() if d.kind in ("camera", "phone", "computer")]
    much = time_to_spare(case, nothing, STARTS - timedelta(minutes=first - 60))
    assert much.says == "60 min short: start at 20:30"
    # A picture that is seen shows that all before it is laid, put up and started.
    view = setup_view(case, [], STARTS)
    row = next(p for p in view.pictures if p.id == "switcher/in-2")
    log = [SeenEntry(id="e1", at=STARTS, body=SetupSeen(device="switcher", steps=row.proves, picture=True))]
    done = time_to_spare(case, day_of(case, log, STARTS), STARTS).done
    assert {"stand:weir-cam", "rig:boathouse:weir-tower"} <= done
    assert not {"stand:slipway-cam", "bring-up:switcher", "set:switcher"} & done
    every = [
        *(SeenEntry(id=f"d{n}", at=STARTS, body=SetupSeen(device=d.id, steps=d.ask)) for n, d in enumerate(view.devices) if d.ask),
        *(SeenEntry(id=f"p{n}", at=STARTS, body=SetupSeen(device=p.device, steps=p.proves, picture=True)) for n, p in enumerate(view.pictures)),
    ]  # fmt: skip
    left = time_to_spare(case, day_of(case, every, STARTS), STARTS - timedelta(minutes=20))
    assert {id.split(":")[0] for id in left.when} <= {
        "power-on",
        "pull-the-cable",
        "publish",
        "rig",
        "stand",
        "start-feed",
    }
    assert len(seen_pictures(case)) == len(view.pictures)


def test_a_show_with_no_start_and_one_with_nothing_in_it_say_so() -> None:
    case = demo().after([put("show", None, "ends_at", None), put("show", None, "starts_at", None)])
    assert (
        time_to_spare(case, day_of(case, [], STARTS), STARTS).says == "When the show starts is not known yet."
    )
    assert setup_view(case, [], STARTS).spare == "When the show starts is not known yet."


def test_two_mixers_that_feed_each_other_have_an_order_too() -> None:
    # Two cities, a feed each way; and the far picture looped back on purpose.
    mixers = [added(from_library(model, f"{id}{of}", "boathouse", f"{id}{of}".capitalize())) for id in ("near", "far") for model, of in (("computer-mix", ""), ("camera-ndi", "-cam"))]  # fmt: skip
    feeds = [added(Stream(id=f"{a}-{b}", name=f"{a} to {b}", from_device=a, to_device=b, protocol="srt", format=hd(), video_mbps=6, input="net-2" if "-cam" in a else "net-1")) for a, b in (("near", "far"), ("far", "near"), ("near-cam", "near"), ("far-cam", "far"))]  # fmt: skip
    case = Case(small_show(*mixers, *feeds), Survey(), STARTS)
    tasks = tasks_of(case)
    assert {"bring-up:near", "bring-up:far", "join:near-far", "join:far-near"} <= tasks.keys()
    for id, task in tasks.items():
        assert all(tasks[b].minutes + tasks[b].takes <= task.minutes + 1e-9 for b in task.after), id
    assert setup_view(case, [], STARTS).of > 0


def test_minutes_are_proposed_as_the_log_shows_them_less_the_walk() -> None:
    """Ticks of one person in a row, timed by hand; what another ticked between, and what is too far off, says nothing."""
    case, at, log = demo(), STARTS, list[AnyEntry]()
    walk = walk_of(case)
    cameras = [d for d in case.devices.values() if d.kind == "camera"][:4]
    for n, camera in enumerate(cameras):
        before = cameras[n - 1].place if n else camera.place
        at += timedelta(minutes=21 + walk(before or "", camera.place or ""))
        log.append(TaskEntry(id=f"t{n}", at=at, role="rigger", body=TaskMark(task=f"stand:{camera.id}")))
        log.append(
            TaskEntry(id=f"o{n}", at=at - timedelta(minutes=2), role="other", body=TaskMark(task="start"))
        )
    proposed = logged_minutes(case, log)
    assert [(p.figure, p.planned, p.logged, p.times) for p in proposed] == [("camera-minutes", 10, 21, 3)]
    assert case.after(proposed[0].edits).figures["camera-minutes"] == 21
    assert not logged_minutes(case, log[:4])  # two are too few
    late = log[-2].model_copy(update={"at": at + timedelta(hours=2)})
    assert not logged_minutes(case, [*log[:-2], late])  # somebody did something else
    assert not logged_minutes(case, [*log, WithdrawalEntry(id="w", at=at, body=Withdrawal(of="t3"))])
