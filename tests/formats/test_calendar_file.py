"""The run sheet as iCalendar, read by another library than the one that writes it."""

from datetime import UTC, datetime, timedelta

import vobject

from humble_relay.core.judging.case import Case
from humble_relay.core.plan.survey import Survey
from humble_relay.core.show.go_live_order import order
from humble_relay.demo import demo_plan
from humble_relay.formats.calendar_file import write_calendar
from tests.build import put


def test_another_library_reads_every_task_at_its_moment_in_its_place() -> None:
    case = Case(demo_plan().plan, Survey(), datetime(2026, 9, 14, tzinfo=UTC))
    read = vobject.readOne(write_calendar(case, "regatta").decode())  # RFC 5545
    events = {e.uid.value: e for e in read.vevent_list}
    assert len(events) == len(read.vevent_list)
    tasks = [t for t in order(case) if t.phase != "show"]
    assert {f"{t.id}@regatta" for t in tasks} < events.keys()
    for task in tasks:
        event = events[f"{task.id}@regatta"]
        assert task.at and abs(event.dtstart.value - task.at) < timedelta(seconds=1)
        assert event.summary.value == task.what
        assert event.duration.value == max(timedelta(minutes=task.takes), timedelta(minutes=1))
    assert events["stand:weir-cam@regatta"].location.value == "Weir Tower"
    show = events["show-0@regatta"]
    assert (show.dtstart.value, show.duration.value) == (
        datetime(2026, 9, 19, 18, 30, tzinfo=UTC),
        timedelta(hours=2, minutes=30),
    )
    odd = case.after([put("device", "weir-cam", "name", "Weir; 50 m, \\north\\ ünder")])
    again = vobject.readOne(write_calendar(odd, "regatta").decode())
    assert any("Weir; 50 m, \\north\\ ünder" in e.summary.value for e in again.vevent_list)
    unset = case.after([put("show", None, "ends_at", None), put("show", None, "starts_at", None)])
    assert not hasattr(vobject.readOne(write_calendar(unset, "regatta").decode()), "vevent")
