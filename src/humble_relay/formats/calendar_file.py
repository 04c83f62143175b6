"""The run sheet as iCalendar (RFC 5545): the show, its rehearsals, and every task at its moment."""

from datetime import UTC, datetime, timedelta

from icalendar import Calendar, Event

from humble_relay.core.judging.case import Case
from humble_relay.core.show.go_live_order import Task, order

_SHORTEST = timedelta(minutes=1)


def write_calendar(case: Case, plan: str) -> bytes:
    """The calendar of a plan; empty of a show whose start nobody knows. Times are in UTC: every calendar shows them on its own clock.

    What a task is called stays as it is over time (its UID), so that a calendar that reads the file again moves it, and has it once.
    """
    show = case.plan.show
    calendar = Calendar()
    calendar.add("prodid", "-//Humble Relay//run sheet//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", show.name)
    for n, (starts, ends) in enumerate(show.days):
        calendar.add_component(_event(case, f"show-{n}@{plan}", starts, (ends or starts) - starts, show.name))
    for n, session in enumerate(s for s in show.sessions if s.kind == "rehearsal"):
        length = session.ends_at - session.starts_at
        calendar.add_component(
            _event(case, f"rehearsal-{n}@{plan}", session.starts_at, length, f"{show.name}: rehearsal")
        )
    for task in order(case):
        if task.at is not None and task.phase != "show" and not task.id.startswith("rehearse:"):
            calendar.add_component(_of_task(case, plan, task, task.at))
    written: bytes = calendar.to_ical()
    return written


def _of_task(case: Case, plan: str, task: Task, at: datetime) -> Event:
    event = _event(case, f"{task.id}@{plan}", at, timedelta(minutes=task.takes), task.what)
    if place := case.places.get(task.place):
        event.add("location", place.name)
    event.add("description", "\n".join(filter(None, (task.why, f"Then to be seen: {task.seen}" if task.seen else ""))))  # fmt: skip
    event.add("categories", [task.phase])
    return event


def _event(case: Case, uid: str, starts: datetime, length: timedelta, summary: str) -> Event:
    event = Event()
    event.add("uid", uid)
    event.add("dtstamp", case.as_of.astimezone(UTC))
    event.add("dtstart", starts.astimezone(UTC).replace(microsecond=0))
    event.add("duration", max(length, _SHORTEST))
    event.add("summary", summary)
    return event
