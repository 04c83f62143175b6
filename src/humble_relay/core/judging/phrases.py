"""How a list, a moment, and what could not be worked out are said: one form of each, everywhere."""

from collections.abc import Iterable
from datetime import date, datetime


def listed(words: Iterable[str]) -> str:
    """The words as a list.

    >>> listed(["Alder"]), listed(["Alder", "Birch"]), listed(["Alder", "Birch", "Cedar"])
    ('Alder', 'Alder and Birch', 'Alder, Birch and Cedar')
    """
    *before, last = list(words) or [""]
    return " and ".join(filter(None, (", ".join(before), last)))


def counted(count: int, what: str) -> str:
    """A number of things, in words that agree with it.

    >>> counted(1, "network switch"), counted(3, "camera")
    ('1 network switch', '3 cameras')
    """
    return f"{count} {what if count == 1 else what + ('es' if what.endswith(('s', 'ch')) else 's')}"


def said_day(day: date) -> str:
    """A day, or the day of a moment, as it is said.

    >>> said_day(date(2026, 9, 5))
    'Sat 5 Sep 2026'
    """
    return f"{day:%a} {day.day} {day:%b %Y}"


def said_moment(at: datetime) -> str:
    """A moment on the clock it is given in.

    >>> said_moment(datetime(2026, 9, 19, 19, 30))
    'Sat 19 Sep 2026, 19:30'
    """
    return f"{said_day(at)}, {at:%H:%M}"


def not_worked_out(question: str) -> str:
    """What is said of a question whose check broke."""
    return f"The program could not work this out: {question[:1].lower()}{question[1:]}"
