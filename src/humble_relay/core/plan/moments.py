"""Moments as they are typed: day before month, the month in words or figures, on the clock of the show."""

import re
from datetime import date, datetime, time, tzinfo

_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_DAY = r"(?:(?P<iso>\d{4}-\d{1,2}-\d{1,2})|(?P<day>\d{1,2})[\s./-]+(?P<month>[a-z]{3,9}|\d{1,2})[\s./-]*(?P<year>\d{4})?)"
_TIME = r"(?P<hour>\d{1,2})[:.](?P<minute>\d{2})(?::\d{2})?"
_TYPED = re.compile(rf"(?:[a-z]{{2,9}}day,?\s+)?{_DAY}?[\s,t]*(?:{_TIME})?", re.IGNORECASE)


def typed_moment(text: str, clock: tzinfo | None, beside: date | None = None) -> datetime:
    """The moment that was typed, such as `19 Sep 2026, 19:30`. A day without a year is of the year of `beside`, a time
    alone of that day, a day alone its midnight. Raises ValueError in words.

    >>> from zoneinfo import ZoneInfo
    >>> typed_moment("19 September 2026 19:30", ZoneInfo("Europe/London")).isoformat()
    '2026-09-19T19:30:00+01:00'
    >>> typed_moment("22.15", ZoneInfo("Europe/London"), date(2026, 9, 19)).isoformat()
    '2026-09-19T22:15:00+01:00'
    """
    plain = text.strip().encode(errors="replace").decode()
    try:
        given = datetime.fromisoformat(plain)
        if given.tzinfo:
            return given
    except ValueError:
        pass
    found = re.fullmatch(rf"(?P<iso>)(?P<day>){_TIME}", plain) or _TYPED.fullmatch(plain)
    if right := in_24_hours(plain):
        raise ValueError(f"times are of 24 hours: write {right}")
    if not plain or not found:
        raise ValueError(f"“{plain[:40]}” is no moment: write it as 19 Sep 2026, 19:30")
    if clock is None:
        raise ValueError("say which time zone the show is in first, such as Europe/London")
    day = _day(plain, found, beside)
    try:
        at = time(int(found["hour"] or 0), int(found["minute"] or 0))
    except ValueError:
        raise ValueError(f"there is no time {found['hour']}:{found['minute']}: write it as 19:30") from None
    moment = datetime.combine(day, at, clock)
    there = datetime.fromtimestamp(moment.timestamp(), clock)
    if (there.hour, there.minute) != (at.hour, at.minute):
        raise ValueError(f"the clocks go forward that night: there is no {at:%H:%M} on {day.day} {day:%b %Y}")
    return moment


def in_24_hours(text: str) -> str:
    """A time of twelve hours at the end of a text as it is written here; empty where there is none.

    >>> in_24_hours("19 Sep 2026 7.30 pm"), in_24_hours("12am"), in_24_hours("19:30")
    ('19:30', '00:00', '')
    """
    found = re.search(r"(?<!\d)(\d{1,2})(?:[:.](\d\d))? ?([ap])\.?m\.?$", text.strip(), re.IGNORECASE)
    if not found or not 1 <= int(found.group(1)) <= 12:
        return ""
    hour = int(found.group(1)) % 12 + 12 * (found.group(3).lower() == "p")
    return f"{hour:02}:{found.group(2) or '00'}"


def typed_day(text: str) -> date:
    """The day that was typed, such as `30 Sep 2026`. Raises ValueError in words."""
    plain = text.strip().encode(errors="replace").decode()
    found = re.fullmatch(_DAY, plain, re.IGNORECASE)
    if not found:
        raise ValueError(f"“{plain[:40]}” is no day: write it as 30 Sep 2026")
    return _day(plain, found, None)


def _day(text: str, found: "re.Match[str]", beside: date | None) -> date:
    if not found["iso"] and not found["day"]:
        if beside is None:
            raise ValueError(f"“{text[:40]}” names no day: write it as 19 Sep 2026, 19:30")
        return beside
    if found["iso"]:
        year, month, day = (int(n) for n in found["iso"].split("-"))
    else:
        if not found["year"] and beside is None:
            raise ValueError(f"“{text[:40]}” names no year: write it as 19 Sep 2026, 19:30")
        year, day, month = (
            int(found["year"] or (beside or date.min).year),
            int(found["day"]),
            _month(found["month"]),
        )
    try:
        return date(year, month, day)
    except ValueError:
        raise ValueError(f"there is no day {text[:40]}") from None


def _month(text: str) -> int:
    if text.isdigit():
        return int(text)
    if text[:3].lower() not in _MONTHS:
        raise ValueError(f"there is no month called {text}")
    return _MONTHS.index(text[:3].lower()) + 1
